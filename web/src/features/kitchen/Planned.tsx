import type { BatchLine, BatchPlan, CookSource, Finding } from "~/api/client";
import { foodWeight, money, number, percent, spelled, told } from "~/shared/format";
import { Trace } from "~/shared/trace/Trace";
import { tonesOf } from "~/shared/wall/tones";
import { Sideways } from "~/ui";
import { Dogs } from "./Dogs";
import { Pots } from "./Pots";
import { WeighedLines } from "./WeighedLines";

/** A batch as it would be. */
export function Planned({ plan, source }: { plan: BatchPlan; source: CookSource }) {
  const lines = plan.lines.map((line) => ({ ...line, kcal: line.kcal }));
  const tones = tonesOf(source.tones, lines);
  const done = plan.finished;
  return (
    <div className="flex flex-col gap-4">
      <p>
        <b>
          {number(plan.days, plan.days % 1 ? 1 : 0)} {plan.days === 1 ? "day" : "days"}
        </b>
        , {number(plan.times, 2)} times the recipe. <b>{foodWeight(done.raw_g)}</b> go in, about{" "}
        <b>{foodWeight(done.grams)}</b> come out{" "}
        <span className="text-soft">
          ({foodWeight(done.low)} to {foodWeight(done.high)})
        </span>
        {done.kcal_per_gram !== null && (
          <>
            , <b>{number(done.kcal_per_gram, 2)}</b> kcal/g
          </>
        )}
        .{" "}
        {plan.cost > 0 && (
          <span>
            {money(plan.cost_per_day)} a day
            {plan.unpriced > 0 && (
              <span className="text-soft"> and {plan.unpriced} lines without a price</span>
            )}
            .
          </span>
        )}
      </p>
      <Told findings={plan.findings} />
      <Pots plan={plan} tones={tones} />
      <Sideways>
        <WeighedLines plan={plan} tones={tones} />
      </Sideways>
      <Dogs plan={plan} />
      <Moves plan={plan} />
      <details className="text-data">
        <summary className="cursor-pointer text-soft">How the finished weight comes about</summary>
        <p className="mt-1">
          Dry food takes up about {foodWeight(done.taken_up_g)} of water; {foodWeight(done.water_g)}{" "}
          stay beside that, of which about {foodWeight(done.evaporates_g)} boil away.
        </p>
        <Trace steps={done.steps} />
        <p className="text-soft">{plan.source}</p>
      </details>
    </div>
  );
}

const LOUD: Record<Finding["level"], string> = {
  block: "border-madder bg-madder-pale py-1 stile",
  decide: "border-ink stile",
  warn: "border-ink stile",
  note: "border-line stile text-soft",
};

/** What the cook must know, the gravest first. */
function Told({ findings }: { findings: readonly Finding[] }) {
  if (findings.length === 0) return null;
  return (
    <ul className="flex flex-col gap-1" aria-label="What to know first">
      {findings.map((f) => (
        <li key={`${f.what}${f.food}`} className={LOUD[f.level]}>
          <b className="font-semibold">{told(spelled(f.what))}</b>
          {f.why && `: ${told(f.why)}`}. {told(f.do)}
        </li>
      ))}
    </ul>
  );
}

/** Verdicts that weighing in steps changes. */
function Moves({ plan }: { plan: BatchPlan }) {
  const worst = Math.max(0, ...plan.lines.map(offOf));
  if (plan.moved.length > 0) return null;
  return (
    <p className="text-data text-soft">
      Weighed in the steps of these scales no verdict changes; the largest error of a weighing is{" "}
      {percent(worst)}.
    </p>
  );
}

function offOf(line: BatchLine): number {
  return line.tool === "none" || line.tool === "count" ? 0 : line.off;
}
