import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Case, type Targets, take } from "~/api/client";
import { number, sentence, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { ConditionsEditor } from "~/shared/record/ConditionsEditor";
import { EnergyOffers } from "~/shared/record/EnergyOffers";
import { CaseFields, CaseSaved, useSaving } from "~/shared/record/fields";
import { StaleWhile } from "~/shared/saving/StaleWhile";
import { Loading, Problem, Stale } from "~/shared/states";
import { useAsked } from "~/shared/useAsked";
import { useCase } from "~/shared/useCase";
import { useLasting } from "~/shared/useLasting";
import { useMedia, WIDE } from "~/shared/useMedia";
import { Term } from "~/shared/words/Term";
import { Page } from "~/ui/Page";
import { Ladder } from "./Ladder";
import type { Draft, End } from "./limits";
import { Rails } from "./Rails";

/** The merged targets: conditions, every window on one rail, conflicts where they are. */
export default function TargetsPage() {
  const current = useCase();
  return (
    <CaseFields current={current}>
      <MergedTargets key={current.id} current={current} />
    </CaseFields>
  );
}

function MergedTargets({ current }: { current: Case }) {
  const targets = useQuery({
    queryKey: keyOf("targets", current.id, current.version),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/targets", { params: { path: { id: current.id } } })),
    placeholderData: (before) => before,
  });
  const behind = useLasting(targets.isPlaceholderData, 400);
  if (targets.isPending) return <Loading what="the targets" />;
  if (!targets.data)
    return <Problem what="the targets" error={targets.error} retry={() => targets.refetch()} />;
  return <Windows current={current} targets={targets.data} behind={behind} />;
}

/** The windows, and beside them the one that is chosen or what the conditions say. */
function Windows({
  current,
  targets,
  behind,
}: {
  current: Case;
  targets: Targets;
  /** They are being worked out anew. */
  behind: boolean;
}) {
  const saving = useSaving();
  const wide = useMedia(WIDE);
  const { limits, conflicts, narrow, stage_asks, basis, kcal_per_day, name } = targets;
  // What has to be decided is shown first.
  const [picked, setPicked] = useState(() => conflicts.find((c) => !c.decided)?.key ?? null);
  const [draft, setDraft] = useState<Draft | null>(null);
  const [end, setEnd] = useState<End | null>(null);
  const limit = limits.find((x) => x.key === picked);
  const choose = (next: string | null) => {
    setPicked(next);
    setEnd(null);
  };
  useAsked((asked) => {
    if (asked.do === "window") choose(asked.key);
    if (asked.do !== "limit") return;
    setPicked(asked.key);
    setEnd((was) => ({ bound: asked.bound, value: asked.value, asked: (was?.asked ?? 0) + 1 }));
  });
  const ladder = limit && (
    <Ladder
      key={limit.key}
      limit={limit}
      conflict={conflicts.find((c) => c.key === limit.key)}
      narrow={narrow.find((w) => w.key === limit.key)?.words}
      current={current}
      end={end}
      onDraft={setDraft}
      onClose={() => choose(null)}
    />
  );
  return (
    <Page className="flex min-w-0 flex-1 flex-col wide:min-h-0 wide:flex-row">
      <div className="min-w-0 flex-1 px-4 py-3 wide:overflow-auto">
        <div className="mb-2 flex flex-wrap items-baseline gap-x-4">
          <h2>
            <Term id="requirement-set">Requirement set</Term>
          </h2>
          <span className="text-soft">
            {name}; at {number(kcal_per_day)} kcal a day
          </span>
          <a className="ml-auto underline" href={`/api/cases/${current.id}/targets/export`}>
            CSV
          </a>
          <CaseSaved />
        </div>
        <StaleWhile saving={saving}>
          <SignOff targets={targets} />
          {stage_asks.length > 0 && (
            <p className="mb-2 max-w-3xl border-madder stile">
              <b>The life stage is not settled.</b> Give {stage_asks.join(" and ")}: until then the
              strictest of each bound is held.
            </p>
          )}
          <Stale why={behind ? "for what was stored before: the new ones are on their way" : ""}>
            <Rails
              limits={limits}
              conflicts={conflicts}
              narrow={narrow.map((w) => w.key)}
              chosen={limit?.key ?? null}
              onChoose={choose}
              onEnd={(bound) => setEnd((was) => ({ bound, asked: (was?.asked ?? 0) + 1 }))}
              draft={draft}
              under={!wide && ladder && <div className="px-2 py-3">{ladder}</div>}
            />
          </Stale>
          {basis && <p className="max-w-3xl py-1 text-label text-soft">{told(basis.words)}</p>}
          <Beside limits={targets.beside} />
        </StaleWhile>
      </div>
      <aside
        aria-label={limit && wide ? "One window" : "Conditions"}
        className="flex flex-col gap-4 border-line px-4 py-3 max-wide:order-first max-wide:border-b wide:w-[22rem] wide:shrink-0 wide:overflow-auto wide:border-l"
      >
        {wide && ladder ? (
          ladder
        ) : (
          <Conditions current={current} targets={targets} saving={saving} />
        )}
      </aside>
    </Page>
  );
}

/** The conditions with what they say, and what the medicines meet. */
function Conditions({
  current,
  targets,
  saving,
}: {
  current: Case;
  targets: Targets;
  saving: ReturnType<typeof useSaving>;
}) {
  const { conditions, medicines } = targets;
  return (
    <>
      <section>
        <h2 className="mb-1">Conditions</h2>
        <ConditionsEditor />
        <EnergyOffers current={current} />
      </section>
      <StaleWhile saving={saving}>
        <div className="flex flex-col gap-4">
          <section aria-label="What the conditions say">
            {conditions.map((c) => (
              <article key={c.id} className="mt-1 border-oak stile">
                <h3 className="font-semibold">
                  {c.name}, {c.stage}
                </h3>
                {c.words.red_flags && (
                  <p>
                    <b className="text-madder">See the vet at once:</b> {told(c.words.red_flags)}.
                  </p>
                )}
                {c.words.see_vet_first && (
                  <p>
                    <b>See the vet first:</b> {told(c.words.see_vet_first)}.
                  </p>
                )}
                {c.words.do && <p>Do: {told(c.words.do)}.</p>}
                {c.words.keep && <p>Do not restrict: {told(c.words.keep)}.</p>}
                {c.words.prefer && <p>Prefer: {told(c.words.prefer)}.</p>}
                {c.words.avoid && <p>Avoid: {told(c.words.avoid)}.</p>}
                {c.words.duration && <p>Length: {told(c.words.duration)}.</p>}
                <p className="text-data text-soft">
                  Recheck after {c.recheck_days} days. Vet's sign-off: {c.sign_off}. {c.source}.
                </p>
              </article>
            ))}
          </section>
          {medicines.length > 0 && <Medicines found={medicines} />}
        </div>
      </StaleWhile>
    </>
  );
}

/** What of the targets needs the vet's word. */
function SignOff({ targets }: { targets: Targets }) {
  const { sign_off, under_standard } = targets;
  if (sign_off.length === 0 && under_standard.length === 0) return null;
  return (
    <p className="mb-2 max-w-3xl border-madder stile">
      <b>The attending vet must sign this off</b>
      {sign_off.length > 0 && <> for {sign_off.join("; ")}</>}
      {under_standard.length > 0 && (
        <> because limits go under the standard's minimum: {under_standard.join(", ")}</>
      )}
      .
    </p>
  );
}

/** Safe limits that stand in no column: on added amounts, a day's doses, and what needs none. */
function Beside({ limits }: { limits: Targets["beside"] }) {
  const words: Record<string, string> = {
    added: "from supplements",
    "added-soluble": "from soluble phosphates",
    "total-if-added": "in all, once some is added",
    total: "in all",
  };
  const roles: Record<string, string> = {
    ceiling: "never above",
    caution: "with care above",
    acute: "never in a day above",
    legal: "by law, where it is added, at most",
    none: "",
  };
  return (
    <details className="max-w-5xl">
      <summary className="cursor-pointer font-semibold font-title text-part">
        Beside them: what supplements may add, a day's doses, and what needs no limit
      </summary>
      <ul className="mt-1 flex flex-col gap-0.5 text-data">
        {limits.map((x) => (
          <li key={x.key + x.role + x.printed + x.counts}>
            <b>{x.name}</b>: {roles[x.role]} {x.printed}
            {x.role !== "none" && ` ${words[x.counts]}`}
            {x.effect && x.effect !== "none" && ` (${x.effect})`}.{" "}
            <span className="text-soft">
              {x.source}; confidence {x.confidence}
              {x.note && `. ${sentence(x.note)}`}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** What the recorded medicines and the food may do to each other. */
function Medicines({ found }: { found: Targets["medicines"] }) {
  return (
    <section aria-label="Medicines and food">
      <h2 className="mb-1">Medicines and food</h2>
      <ul className="flex max-w-4xl flex-col gap-1">
        {found.map((m) => (
          <li
            key={m.named + m.what}
            className={`stile ${m.level === "block" ? "border-madder" : m.level === "warn" ? "border-oak" : "border-line"}`}
          >
            <b>{m.named}.</b> {told(`${sentence(m.what)}. ${m.do}`)}{" "}
            <span className="text-data text-soft">
              {sentence(told(m.why))}. {m.source}; confidence {m.confidence}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-data text-soft">
        Medicines stay as the attending vet set them; ask the vet before the diet changes.
      </p>
    </section>
  );
}
