import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type Case, type Conflict, type MergedLimit, type Targets, take } from "~/api/client";
import { decimal, number, sentence } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { useCase } from "~/shared/useCase";
import { Button, Field, Loading, Problem, Select, TextInput } from "~/ui";

/** The merged targets: conditions, conflicts to decide, every limit with its origins. */
export default function TargetsPage() {
  const current = useCase();
  const targets = useQuery({
    queryKey: keyOf("targets", current.id, current.version),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/targets", { params: { path: { id: current.id } } })),
  });
  if (targets.isPending) return <Loading what="the targets" />;
  if (targets.isError) return <Problem error={targets.error} retry={() => targets.refetch()} />;
  const { limits, conflicts, conditions, sign_off, under_standard, kcal_per_day, name } =
    targets.data;
  const { medicines } = targets.data;
  const open = conflicts.filter((c) => !c.decided);
  return (
    <main className="flex flex-col gap-6 overflow-auto p-6">
      <section>
        <h2 className="text-lg">Conditions</h2>
        <ConditionsEditor current={current} />
        {conditions.map((c) => (
          <article key={c.id} className="mt-3 max-w-3xl border-oak border-l-[3px] pl-3">
            <h3 className="font-semibold">
              {c.name}, {c.stage}
            </h3>
            {c.words.red_flags && (
              <p>
                <b className="text-madder">See the vet at once:</b> {c.words.red_flags}.
              </p>
            )}
            {c.words.see_vet_first && (
              <p>
                <b>See the vet first:</b> {c.words.see_vet_first}.
              </p>
            )}
            {c.words.keep && <p>Do not restrict: {c.words.keep}.</p>}
            {c.words.prefer && <p>Prefer: {c.words.prefer}.</p>}
            {c.words.avoid && <p>Avoid: {c.words.avoid}.</p>}
            {c.words.duration && <p>Length: {c.words.duration}.</p>}
            <p className="text-[13px] text-soft">
              Recheck after {c.recheck_days} days. Vet's sign-off: {c.sign_off}. {c.source}.
            </p>
          </article>
        ))}
      </section>
      {medicines.length > 0 && <Medicines found={medicines} />}
      {conflicts.length > 0 && (
        <section aria-label="Conflicts">
          <h2 className="text-lg">
            {open.length ? "Limits that cannot all hold" : "Conflicts, decided"}
          </h2>
          {conflicts.map((conflict) => (
            <ConflictCard key={conflict.key} conflict={conflict} current={current} />
          ))}
        </section>
      )}
      {(sign_off.length > 0 || under_standard.length > 0) && (
        <p className="max-w-3xl border-madder border-l-[3px] pl-3">
          <b>The attending vet must sign this off</b>
          {sign_off.length > 0 && <> for {sign_off.join("; ")}</>}
          {under_standard.length > 0 && (
            <> because limits go under the standard's minimum: {under_standard.join(", ")}</>
          )}
          .
        </p>
      )}
      <section>
        <div className="flex items-baseline gap-4">
          <h2 className="text-lg">Requirement set</h2>
          <span className="text-soft">
            {name}; at {number(kcal_per_day)} kcal a day
          </span>
          <a className="ml-auto underline" href={`/api/cases/${current.id}/targets/export`}>
            CSV
          </a>
        </div>
        <table className="w-full">
          <thead>
            <tr className="border-line border-b text-[13px] text-soft">
              <th className="text-left font-normal">Nutrient</th>
              <th className="text-right font-normal">min /1000 kcal</th>
              <th className="text-right font-normal">recommended</th>
              <th className="text-right font-normal">max</th>
              <th className="text-right font-normal">safe limit</th>
              <th className="pl-2 text-left font-normal">unit</th>
              <th className="text-right font-normal">min a day</th>
              <th className="text-right font-normal">max a day</th>
              <th className="pl-4 text-left font-normal">Set by</th>
            </tr>
          </thead>
          <tbody>
            {limits.map((limit) => (
              <tr key={limit.key} className="border-line border-b align-top">
                <td className="py-0.5">{limit.name}</td>
                <td className="text-right">{figure(limit.min)}</td>
                <td className="text-right">{figure(limit.recommended)}</td>
                <td className="text-right">{figure(limit.max)}</td>
                <td className="text-right">{figure(limit.safe_limit)}</td>
                <td className="pl-2 text-soft">{limit.unit}</td>
                <td className="text-right">{figure(limit.min_per_day)}</td>
                <td className="text-right">{figure(limit.max_per_day)}</td>
                <td className="pl-4">
                  <details>
                    <summary className="cursor-pointer text-[13px]">
                      {[
                        ...new Set(
                          limit.origin.filter((o) => !o.overridden_by).map((o) => o.source),
                        ),
                      ].join("; ")}
                    </summary>
                    <ul className="text-[12px] text-soft">
                      <li>
                        <Adjust limit={limit} current={current} />
                      </li>
                      {limit.origin.map((o) => (
                        <li key={`${o.which} ${o.source} ${o.printed}`}>
                          {o.which}: {o.printed}, {o.source}. {o.citation}; confidence{" "}
                          {o.confidence}
                          {o.checked ? "" : "; not yet checked against the publication"}. {o.note}
                        </li>
                      ))}
                    </ul>
                  </details>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </main>
  );
}

function figure(value: number | null): string {
  if (value === null) return "";
  const size = Math.abs(value);
  return number(value, size >= 100 ? 0 : size >= 10 ? 1 : size >= 1 ? 2 : 3);
}

function useRefresh(current: Case) {
  const client = useQueryClient();
  return async () => {
    await client.invalidateQueries({ queryKey: keyOf("case", current.id) });
    void forget(client, "case");
  };
}

function ConditionsEditor({ current }: { current: Case }) {
  const refresh = useRefresh(current);
  const all = useQuery({
    queryKey: keyOf("conditions"),
    queryFn: () => take(api.GET("/api/conditions")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const save = useMutation({
    mutationFn: (conditions: Partial<Case["conditions"][number]>[]) =>
      take(
        api.PATCH("/api/cases/{id}", {
          params: { path: { id: current.id } },
          body: { changes: [{ path: "conditions", value: conditions, was: current.conditions }] },
        }),
      ),
    onSuccess: refresh,
  });
  const mine = (current.conditions ?? []).map((c) => ({ ...c, stage: c.stage ?? "" }));
  const known = all.data ?? [];
  return (
    <div className="flex max-w-3xl flex-col gap-1">
      {mine.map((condition) => {
        const facts = known.find((c) => c.id === condition.id);
        return (
          <div key={condition.id} className="flex items-center gap-2">
            <span className="w-72">{condition.name}</span>
            {facts && facts.stages.length > 1 && (
              <Select
                label={`Stage of ${condition.name}`}
                value={condition.stage}
                onChange={(stage) =>
                  save.mutate(mine.map((c) => (c.id === condition.id ? { ...c, stage } : c)))
                }
                options={facts.stages.map((s) => ({ id: s.id, label: s.name }))}
                className="w-72"
              />
            )}
            <Button
              kind="quiet"
              onClick={() => save.mutate(mine.filter((c) => c.id !== condition.id))}
            >
              Remove
            </Button>
          </div>
        );
      })}
      {mine.length === 0 && <p className="text-soft">None: the standard's own limits hold.</p>}
      <Select
        label="Add a condition"
        value=""
        onChange={(id) => {
          const facts = known.find((c) => c.id === id);
          if (facts)
            save.mutate([...mine, { id, name: facts.name, stage: facts.stages[0]?.id ?? "" }]);
        }}
        options={[
          { id: "add", label: "Add a condition" },
          ...known
            .filter((c) => !mine.some((m) => m.id === c.id))
            .map((c) => ({ id: c.id, label: c.name })),
        ]}
        placeholder="Add a condition"
        className="w-72"
      />
      {save.error && (
        <p role="alert" className="text-madder">
          {save.error.message}
        </p>
      )}
    </div>
  );
}

/** Tighten or loosen one limit with a reason, or take that back. */
function Adjust({ limit, current }: { limit: MergedLimit; current: Case }) {
  const refresh = useRefresh(current);
  const [bound, setBound] = useState<"min" | "max">("min");
  const [value, setValue] = useState("");
  const [reason, setReason] = useState("");
  const decided = limit.origin.filter((o) => o.decision);
  const send = useMutation({
    mutationFn: (undo: boolean) =>
      take(
        api.POST("/api/cases/{id}/targets", {
          params: { path: { id: current.id } },
          body: {
            key: limit.key,
            bound,
            value: value.trim() === "" ? null : decimal(value),
            by: "the consultant",
            reason,
            undo,
          },
        }),
      ),
    onSuccess: refresh,
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        send.mutate(false);
      }}
      className="my-1 flex flex-wrap items-center gap-2 text-ink"
    >
      <Select
        label={`Bound of ${limit.name}`}
        value={bound}
        onChange={setBound}
        options={[
          { id: "min", label: "minimum" },
          { id: "max", label: "maximum" },
        ]}
      />
      <TextInput
        aria-label={`New bound of ${limit.name} per 1000 kcal`}
        placeholder={`${limit.unit}/1000 kcal`}
        value={value}
        onChange={(e) => setValue(e.target.value)}
        className="w-28 text-right"
      />
      <TextInput
        aria-label={`Reason for ${limit.name}`}
        placeholder="reason"
        required
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        className="w-44"
      />
      <Button type="submit">Set</Button>
      {decided.length > 0 && (
        <Button kind="quiet" onClick={() => send.mutate(true)}>
          Take back
        </Button>
      )}
      {send.error && (
        <span role="alert" className="text-madder">
          {send.error.message}
        </span>
      )}
    </form>
  );
}

function ConflictCard({ conflict, current }: { conflict: Conflict; current: Case }) {
  const refresh = useRefresh(current);
  const [option, setOption] = useState<string | null>(null);
  const [by, setBy] = useState("");
  const [reason, setReason] = useState("");
  const send = useMutation({
    mutationFn: (body: {
      key: string;
      bound: "min" | "max";
      value?: number;
      by?: string;
      reason?: string;
      undo?: boolean;
    }) => take(api.POST("/api/cases/{id}/targets", { params: { path: { id: current.id } }, body })),
    onSuccess: refresh,
  });
  const chosen = conflict.options.find((o) => o.id === option);
  function submit(event: FormEvent) {
    event.preventDefault();
    if (chosen)
      send.mutate({ key: conflict.key, bound: chosen.bound, value: chosen.value, by, reason });
  }
  return (
    <article className="mt-2 max-w-3xl border-madder border-l-[3px] pl-3">
      <h3 className="font-semibold">{conflict.name}</h3>
      <p>{conflict.words}</p>
      {conflict.decided ? (
        <p>
          Decided by <b>{conflict.decided.by}</b>: {conflict.decided.reason}{" "}
          <Button
            kind="quiet"
            onClick={() => {
              for (const o of conflict.options)
                send.mutate({ key: conflict.key, bound: o.bound, undo: true });
            }}
          >
            Take it back
          </Button>
        </p>
      ) : (
        <form onSubmit={submit} className="flex flex-col gap-2">
          <fieldset className="flex flex-col gap-1">
            <legend className="sr-only">Which gives way</legend>
            {conflict.options.map((o) => (
              <label key={o.id} className="flex gap-2">
                <input
                  type="radio"
                  name={`conflict-${conflict.key}`}
                  checked={option === o.id}
                  onChange={() => setOption(o.id)}
                  className="accent-verdigris"
                />
                <span>
                  {o.text} <span className="text-soft">For the {o.whose} to decide.</span>
                </span>
              </label>
            ))}
          </fieldset>
          <div className="flex flex-wrap items-end gap-3">
            <Field id={`by-${conflict.key}`} label="Decided by">
              <TextInput
                id={`by-${conflict.key}`}
                required
                value={by}
                onChange={(e) => setBy(e.target.value)}
              />
            </Field>
            <Field id={`reason-${conflict.key}`} label="Reason">
              <TextInput
                id={`reason-${conflict.key}`}
                required
                value={reason}
                onChange={(e) => setReason(e.target.value)}
                className="w-80"
              />
            </Field>
            <Button type="submit" disabled={!chosen || send.isPending}>
              Decide
            </Button>
          </div>
        </form>
      )}
      {send.error && (
        <p role="alert" className="text-madder">
          {send.error.message}
        </p>
      )}
    </article>
  );
}

/** What the recorded medicines and the food may do to each other. */
function Medicines({ found }: { found: Targets["medicines"] }) {
  return (
    <section aria-label="Medicines and food">
      <h2 className="text-lg">Medicines and food</h2>
      <ul className="flex max-w-4xl flex-col gap-1">
        {found.map((m) => (
          <li
            key={m.named + m.what}
            className={`border-l-[3px] pl-2 ${m.level === "block" ? "border-madder" : m.level === "warn" ? "border-oak" : "border-line"}`}
          >
            <b>{m.named}.</b> {sentence(m.what)}. {sentence(m.do)}.{" "}
            <span className="text-[13px] text-soft">
              {m.why}. {m.source}; confidence {m.confidence}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-[13px] text-soft">
        Medicines stay as the attending vet set them; ask the vet before the diet changes.
      </p>
    </section>
  );
}
