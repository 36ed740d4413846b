import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import {
  ApiError,
  api,
  type Case,
  type Drift,
  type DriftPlan,
  type Food,
  take,
} from "~/api/client";
import { today } from "~/shared/days";
import { AddFood } from "~/shared/foods/AddFood";
import { number, sentence, spelled, told, unitText } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { newKey } from "~/shared/newKey";
import { OwnerMessage } from "~/shared/OwnerMessage";
import { Loading, Problem } from "~/shared/states";
import { useFirstFocus } from "~/shared/useFirstFocus";
import { Button, TextInput } from "~/ui";
import { Select } from "~/ui/Select";

/** "asked": nobody said yet how the line is fed. */
type How = "planned" | "asked" | "left-out" | "amount" | "swapped" | "extra";

/** A line as it is fed. line: of the plan, null beside it. */
interface Row {
  key: string;
  line: number | null;
  how: How;
  amount: string;
  food: Food | null;
  /** null: nobody said yet whether it is cooked. */
  preparation: string | null;
}

const AS_WEIGHED = "as-weighed";
const HOWS = [
  { id: "planned", label: "as the plan says" },
  { id: "left-out", label: "left out" },
  { id: "amount", label: "another amount" },
  { id: "swapped", label: "another food" },
];

/** What is really fed, by what the owner says was changed. */
export function WhatIsFed({ current }: { current: Case }) {
  const [open, setOpen] = useState(false);
  const key = useRef<HTMLButtonElement>(null);
  const closed = useRef(false);
  useEffect(() => {
    if (!open && closed.current) key.current?.focus();
    closed.current = open;
  }, [open]);
  const plan = useQuery({
    queryKey: keyOf("drift", current.id),
    queryFn: () => take(api.GET("/api/cases/{id}/drift", { params: { path: { id: current.id } } })),
    enabled: open,
    retry: false,
  });
  return (
    <section aria-label="What is really fed" className="mt-6">
      <h3 className="font-semibold">What is really fed</h3>
      {!open ? (
        <p>
          <span className="text-soft">
            Left out, swapped, more or less of it, something beside it: what that does is told
            beside the plan.{" "}
          </span>
          <button ref={key} type="button" className="underline" onClick={() => setOpen(true)}>
            Say what was changed
          </button>
        </p>
      ) : plan.isPending ? (
        <Loading what="the plan" />
      ) : plan.data ? (
        <Changes current={current} plan={plan.data} onClose={() => setOpen(false)} />
      ) : (
        <Problem what="the plan" error={plan.error} retry={() => plan.refetch()} />
      )}
    </section>
  );
}

function Changes({
  current,
  plan,
  onClose,
}: {
  current: Case;
  plan: DriftPlan;
  onClose: () => void;
}) {
  const [rows, setRows] = useState<readonly Row[]>(() =>
    plan.lines.map((_, line) => ({ ...BLANK, key: `line-${line}`, line })),
  );
  const extra = useRef<HTMLInputElement>(null);
  const box = useFirstFocus<HTMLDivElement>();
  const list = useRef<HTMLUListElement>(null);
  // Whose line the keys are at, of those that are fed as planned: one stop for the tab key, arrows between them.
  const [at, setAt] = useState("line-0");
  // Where the focus goes when a line opens, or closes, under it.
  const next = useRef<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it follows the lines.
  useEffect(() => {
    if (next.current === null) return;
    list.current?.querySelector<HTMLElement>(`[data-row="${next.current}"] button`)?.focus();
    next.current = null;
  }, [rows]);
  const planned = rows.filter((row) => row.how === "planned");
  const stop = planned.some((row) => row.key === at) ? at : planned[0]?.key;
  function walk(event: KeyboardEvent, key: string) {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const wanted = by && planned[planned.findIndex((row) => row.key === key) + by];
    if (!wanted) return;
    event.preventDefault();
    setAt(wanted.key);
    list.current?.querySelector<HTMLElement>(`[data-row="${wanted.key}"] button`)?.focus();
  }
  const changed = rows.filter((row) => row.how !== "planned");
  const items = changed.map((row) => ({
    how: row.how as Exclude<How, "planned" | "asked">,
    line: row.line,
    food: row.food?.id ?? "",
    amount: row.amount,
    preparation: row.preparation === AS_WEIGHED ? "" : (row.preparation ?? ""),
  }));
  const open = changed.find(
    (row) =>
      row.how === "asked" ||
      (row.how === "swapped" && !row.food) ||
      ((row.food?.methods.length ?? 0) > 0 && row.preparation === null),
  );
  const look = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases/{id}/drift", {
          params: { path: { id: current.id } },
          body: { items },
        }),
      ),
  });
  function set(key: string, part: Partial<Row>) {
    if (part.how === "planned" || part.how === "asked") next.current = key;
    setRows(rows.map((row) => (row.key === key ? { ...row, ...part } : row)));
    look.reset();
  }
  const field = look.error instanceof ApiError ? look.error.field : "";
  const wrong = changed[Number(/^items\[(\d+)\]/.exec(field)?.[1] ?? Number.NaN)]?.key;
  return (
    <div ref={box} className="mt-1">
      <p className="text-soft">
        {`“${plan.name}”${plan.number === null ? ", not issued" : `, version ${number(plan.number)}`}: amounts are of the whole recipe, for `}
        {number(plan.days, plan.days % 1 ? 1 : 0)} {plan.days === 1 ? "day" : "days"}. Choose the
        lines that are fed otherwise.
      </p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (changed.length > 0 && !open && !look.isPending) look.mutate();
        }}
      >
        <ul ref={list} aria-label="Lines of the plan" className="mt-1 border-line border-t">
          {rows.map((row) => (
            <li key={row.key} data-row={row.key} className="border-line border-b py-1">
              {row.how === "planned" && row.line !== null ? (
                <button
                  type="button"
                  tabIndex={row.key === stop ? 0 : -1}
                  className="w-full text-left hover:bg-groove"
                  onFocus={() => setAt(row.key)}
                  onKeyDown={(event) => walk(event, row.key)}
                  onClick={() => set(row.key, { ...BLANK, how: "asked" })}
                >
                  {spelled(plan.lines[row.line]?.name ?? "")}{" "}
                  <span className="text-soft">{plan.lines[row.line]?.quantity}</span>
                </button>
              ) : (
                <FedLine
                  row={row}
                  plan={plan}
                  caseId={current.id}
                  set={(part) => set(row.key, part)}
                  onGone={() => {
                    extra.current?.focus();
                    setRows(rows.filter((x) => x.key !== row.key));
                    look.reset();
                  }}
                />
              )}
              {wrong === row.key && look.error && (
                <p role="alert" className="text-data text-madder">
                  {told(sentence(look.error.message))}
                </p>
              )}
            </li>
          ))}
        </ul>
        <div className="mt-2 max-w-md">
          <AddFood
            inputRef={extra}
            caseId={current.id}
            label="Something beside it"
            placeholder="Something beside it, a day: “20 g cheese”"
            below
            onAdd={(food, quantity) => {
              setRows([
                ...rows,
                { ...BLANK, key: newKey(), line: null, how: "extra", food, amount: quantity },
              ]);
              look.reset();
            }}
          />
        </div>
        {look.error && wrong === undefined && (
          <p role="alert" className="mt-1 border-madder stile">
            {told(sentence(look.error.message))}.
          </p>
        )}
        <p className="mt-2 flex flex-wrap items-center gap-3">
          <Button
            kind="solid"
            type="submit"
            aria-disabled={changed.length === 0 || open !== undefined || look.isPending}
          >
            See what that does
          </Button>
          <Button kind="quiet" onClick={onClose}>
            Close
          </Button>
          {open && (
            <span className="text-data text-soft">
              {open.how === "asked"
                ? `Say how ${spelled(plan.lines[open.line ?? 0]?.name ?? "it")} is fed.`
                : open.how === "swapped" && !open.food
                  ? "Say which food went in instead."
                  : `Say how ${spelled(open.food?.name ?? "it")} is cooked.`}
            </span>
          )}
        </p>
      </form>
      {look.data && <Done current={current} of={look.data} />}
    </div>
  );
}

const BLANK: Omit<Row, "key" | "line"> = {
  how: "planned",
  amount: "",
  food: null,
  preparation: null,
};

function FedLine({
  row,
  plan,
  caseId,
  set,
  onGone,
}: {
  row: Row;
  plan: DriftPlan;
  caseId: number;
  set: (part: Partial<Row>) => void;
  onGone: () => void;
}) {
  const search = useRef<HTMLInputElement>(null);
  const line = row.line === null ? null : plan.lines[row.line];
  const name = line?.name ?? row.food?.name ?? "";
  const methods = row.food?.methods ?? [];
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <span className="min-w-40 flex-1">
        <b className="font-semibold">{spelled(name)}</b>{" "}
        <span className="text-soft">{line ? line.quantity : "beside it, a day"}</span>
      </span>
      {line && (
        <Select
          label={`How ${name} is fed`}
          value={row.how === "asked" ? "" : row.how}
          placeholder="How is it fed?"
          onChange={(how) => set({ ...BLANK, how: how as How })}
          className="h-8 w-44"
          options={HOWS}
        />
      )}
      {row.how === "swapped" &&
        (row.food ? (
          <span>
            {spelled(row.food.name)}{" "}
            <button
              type="button"
              className="underline"
              onClick={() => set({ food: null, preparation: null })}
            >
              another
            </button>
          </span>
        ) : (
          <div className="w-64">
            <AddFood
              inputRef={search}
              caseId={caseId}
              label={`What went in instead of ${name}`}
              placeholder="Which food instead"
              below
              onAdd={(food, quantity) => set({ food, amount: quantity })}
            />
          </div>
        ))}
      {methods.length > 0 && (
        <Select
          label={`How ${row.food?.name} is cooked`}
          placeholder="How is it cooked?"
          value={row.preparation ?? ""}
          onChange={(preparation) => set({ preparation })}
          className="h-8 w-44"
          options={[
            ...methods.map((m) => ({ id: m.id, label: m.label })),
            { id: AS_WEIGHED, label: "fed as it was weighed" },
          ]}
        />
      )}
      {(row.how === "amount" || row.how === "extra" || (row.how === "swapped" && row.food)) && (
        <TextInput
          aria-label={`Amount of ${row.food?.name ?? name}`}
          placeholder={row.how === "amount" ? "50 %, or 200 g" : "as much"}
          value={row.amount}
          onChange={(e) => set({ amount: e.target.value })}
          className="w-32"
        />
      )}
      {row.how === "extra" && (
        <button type="button" className="underline" onClick={onGone}>
          not this
        </button>
      )}
    </div>
  );
}

/** What it does: the verdict, each change, the limits, and what to tell the owner. */
function Done({ current, of }: { current: Case; of: Drift }) {
  const client = useQueryClient();
  const [writing, setWriting] = useState(false);
  const key = useRef(newKey());
  const keep = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases/{id}/follow-entries", {
          params: { path: { id: current.id } },
          body: {
            key: key.current,
            entry: {
              date: today(),
              kcal_fed: Math.round(of.kcal_fed),
              changed: of.effects
                .map((e) => e.what)
                .join("; ")
                .slice(0, 300),
            },
          },
        }),
      ),
    onSuccess: (seen) => {
      client.setQueryData(keyOf("follow", current.id), seen);
      void forget(client, "follow");
    },
  });
  const less = of.limits.filter((x) => x.worse);
  const better = of.limits.filter((x) => !x.worse);
  return (
    <section aria-label="What that does" className="mt-3">
      <p
        role="status"
        className={`${of.must_not.length || less.length ? "border-madder" : "border-ink"} stile`}
      >
        <b className="font-semibold">{told(of.words)}</b>
      </p>
      {of.must_not.map((words) => (
        <p key={words} className="mt-1 text-madder">
          {told(sentence(words))}.
        </p>
      ))}
      <ul aria-label="Each change by itself" className="mt-2 border-line border-t">
        {of.effects.map((e) => (
          <li key={e.what} className="border-line border-b py-1">
            <b className="font-semibold">{spelled(sentence(e.what))}</b>{" "}
            <span className="text-soft">
              {Math.abs(e.kcal) >= 0.5 &&
                `${e.kcal > 0 ? "+" : "−"}${number(Math.abs(e.kcal))} kcal a day; `}
              {e.limits.length > 0 ? told(e.limits.join(", ")) : "breaks no limit by itself"}.
            </span>
            {e.told.map((words) => (
              <div key={words} className="text-data text-soft">
                {told(sentence(words))}.
              </div>
            ))}
            <div>{spelled(e.do)}</div>
          </li>
        ))}
      </ul>
      {less.length > 0 && (
        <table className="mt-2 w-full max-w-2xl">
          <caption className="text-left text-soft">Holds less than the plan, per 1000 kcal</caption>
          <thead>
            <tr className="border-line border-b text-data text-soft">
              <th className="text-left font-normal">Nutrient</th>
              <th className="text-right font-normal">Planned</th>
              <th className="text-right font-normal">Fed</th>
              <th className="pl-4 text-left font-normal">Now</th>
            </tr>
          </thead>
          <tbody>
            {less.map((x) => (
              <tr key={x.key} className="border-line border-b">
                <td>{spelled(x.name)}</td>
                <td className="text-right">{number(x.before, x.decimals)}</td>
                <td className="text-right">
                  {number(x.after, x.decimals)} {unitText(x.unit)}
                </td>
                <td className="pl-4 text-madder">{x.status_after}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {better.length > 0 && (
        <p className="mt-1 text-data text-soft">
          Judged otherwise, and not worse: {better.map((x) => spelled(x.name)).join(", ")}.
        </p>
      )}
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <Button onClick={() => setWriting(!writing)} aria-expanded={writing}>
          What to say to {current.client.name}
        </Button>
        {keep.isSuccess ? (
          <span role="status">Put down for today.</span>
        ) : (
          <Button busy={keep.isPending} onClick={() => !keep.isPending && keep.mutate()}>
            Put it down for today
          </Button>
        )}
      </p>
      {keep.error && (
        <p role="alert" className="border-madder stile">
          Not put down: {told(keep.error.message)}.
        </p>
      )}
      {writing && (
        <div className="mt-2 max-w-2xl">
          <OwnerMessage
            email={current.client.email}
            subject={`What goes into ${current.dog.name}'s bowl`}
            message={of.message}
            onClose={() => setWriting(false)}
          />
        </div>
      )}
    </section>
  );
}
