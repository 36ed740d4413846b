import { useQuery } from "@tanstack/react-query";
import { api, type Case, type MergedLimit, type Targets, take } from "~/api/client";
import { number, sentence, spelled, told, unitText } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { ConditionsEditor } from "~/shared/record/ConditionsEditor";
import { EnergyOffers } from "~/shared/record/EnergyOffers";
import { CaseFields, CaseSaved, useSaving } from "~/shared/record/fields";
import { StaleWhile } from "~/shared/saving/StaleWhile";
import { Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { Term } from "~/shared/words/Term";
import { Sideways } from "~/ui";
import { Page } from "~/ui/Page";
import { ConflictCard, LimitForm } from "./decisions";

/** The merged targets: conditions, conflicts to decide, every limit with its origins. */
export default function TargetsPage() {
  const current = useCase();
  return (
    <CaseFields current={current}>
      <MergedTargets current={current} />
    </CaseFields>
  );
}

function MergedTargets({ current }: { current: Case }) {
  const saving = useSaving();
  const targets = useQuery({
    queryKey: keyOf("targets", current.id, current.version),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/targets", { params: { path: { id: current.id } } })),
  });
  if (targets.isPending) return <Loading what="the targets" />;
  if (!targets.data)
    return <Problem what="the targets" error={targets.error} retry={() => targets.refetch()} />;
  const { limits, conflicts, conditions, sign_off, under_standard, kcal_per_day, name } =
    targets.data;
  const { medicines, basis, narrow, stage_asks, beside } = targets.data;
  const open = conflicts.filter((c) => !c.decided);
  return (
    <Page className="flex flex-col gap-6 p-4 mid:p-6 wide:overflow-auto">
      <section>
        <div className="flex items-start justify-between">
          <h2>Conditions</h2>
          <CaseSaved />
        </div>
        <ConditionsEditor caseId={current.id} />
        <EnergyOffers current={current} />
      </section>
      <StaleWhile saving={saving}>
        <div className="flex flex-col gap-6">
          <section aria-label="What the conditions say">
            {conditions.map((c) => (
              <article key={c.id} className="mt-3 max-w-3xl border-oak stile">
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
          {conflicts.length > 0 && (
            <section aria-label="Conflicts">
              <h2>{open.length ? "Limits that cannot all hold" : "Conflicts, decided"}</h2>
              {conflicts.map((conflict) => (
                <ConflictCard key={conflict.key} conflict={conflict} current={current} />
              ))}
            </section>
          )}
          {(sign_off.length > 0 || under_standard.length > 0) && (
            <p className="max-w-3xl border-madder stile">
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
              <h2>
                <Term id="requirement-set">Requirement set</Term>
              </h2>
              <span className="text-soft">
                {name}; at {number(kcal_per_day)} kcal a day
              </span>
              <a className="ml-auto underline" href={`/api/cases/${current.id}/targets/export`}>
                CSV
              </a>
            </div>
            {stage_asks.length > 0 && (
              <p className="max-w-3xl border-madder stile">
                <b>The life stage is not settled.</b> Give {stage_asks.join(" and ")}: until then
                the strictest of each bound is held.
              </p>
            )}
            {basis && <p className="max-w-4xl py-1">{told(basis.words)}</p>}
            {narrow.map((window) => (
              <p key={window.key} className="max-w-4xl border-oak stile">
                <b>{spelled(window.name)}: a narrow window.</b> {told(sentence(window.words))}.
              </p>
            ))}
            <Sideways>
              <table className="w-full">
                <thead>
                  <tr className="border-line border-b text-data text-soft">
                    <th className="text-left font-normal">Nutrient</th>
                    <th className="pl-3 text-right font-normal">
                      <Term id="minimum">min</Term>, <Term id="per-1000">per 1000 kcal</Term>
                    </th>
                    <th className="pl-3 text-right font-normal">
                      <Term id="recommended">recommended</Term>
                    </th>
                    <th className="pl-3 text-right font-normal">
                      <Term id="maximum">max</Term>
                    </th>
                    <th className="pl-3 text-right font-normal">
                      <Term id="safe-limit">safe limit</Term>
                    </th>
                    <th className="pl-3 text-right font-normal">
                      <Term id="advised">advised</Term>
                    </th>
                    <th className="pl-2 text-left font-normal">unit</th>
                    <th className="pl-3 text-right font-normal">min a day</th>
                    <th className="pl-3 text-right font-normal">max a day</th>
                    <th className="pl-4 text-left font-normal">Set by</th>
                  </tr>
                </thead>
                <tbody>
                  {limits.map((limit) => (
                    <tr key={limit.key} className="border-line border-b align-top">
                      <td className="py-0.5">{limit.name}</td>
                      <td className="pl-3 text-right">{figure(limit.min)}</td>
                      <td className="pl-3 text-right">{figure(limit.recommended)}</td>
                      <td className="pl-3 text-right">{figure(limit.max)}</td>
                      <td className="pl-3 text-right">{figure(limit.safe_limit)}</td>
                      <td className="whitespace-nowrap pl-3 text-right">{advised(limit)}</td>
                      <td className="pl-2 text-soft">{unitText(limit.unit)}</td>
                      <td className="pl-3 text-right">{figure(limit.min_per_day)}</td>
                      <td className="pl-3 text-right">{figure(limit.max_per_day)}</td>
                      <td className="pl-4">
                        <details>
                          <summary className="cursor-pointer text-data">
                            {[
                              ...new Set(
                                limit.origin.filter((o) => !o.overridden_by).map((o) => o.source),
                              ),
                            ].join("; ")}
                          </summary>
                          <ul className="text-label text-soft">
                            <li>
                              <LimitForm limit={limit} current={current} />
                            </li>
                            {limit.rises.map((rise) => (
                              <li key={rise.source}>
                                {rise.strength === "advised" ? "advised to rise" : "rises"}:{" "}
                                {rise.words}. {rise.source}; confidence {rise.confidence}
                              </li>
                            ))}
                            {limit.origin.map((o) => (
                              <li key={`${o.which} ${o.source} ${o.printed}`}>
                                {o.strength === "advised" || o.strength === "caution"
                                  ? `${o.strength} ${o.which}`
                                  : o.which}
                                : {o.printed}, {o.source}
                                {o.overridden_by && ` (gives way to ${o.overridden_by})`}.{" "}
                                {o.citation}, confidence {o.confidence}
                                {o.checked ? "" : "; not yet checked against the publication"}.{" "}
                                {o.note}
                              </li>
                            ))}
                          </ul>
                        </details>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Sideways>
          </section>
          <Beside limits={beside} />
        </div>
      </StaleWhile>
    </Page>
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

function advised(limit: MergedLimit): string {
  const low = figure(limit.advised_min);
  const high = figure(limit.advised_max);
  if (low && high) return `${low} to ${high}`;
  return low ? `from ${low}` : high ? `to ${high}` : "";
}

function figure(value: number | null): string {
  if (value === null) return "";
  const size = Math.abs(value);
  return number(value, size >= 100 ? 0 : size >= 10 ? 1 : size >= 1 ? 2 : 3);
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
