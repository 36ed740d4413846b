import type { WeightPlan as Plan } from "~/api/client";
import { bodyWeight, day, number } from "~/shared/format";
import { Trace } from "~/shared/trace/Trace";

/** A weight that was seen. */
export interface Seen {
  on: string;
  kg: number;
}

const HEIGHT = 190;
const TOP = 14;
const BOTTOM = 150;
const DAY_MS = 86_400_000;
/** How far back weights are drawn, in weeks: longer ago says little of today. */
const BACK = 26;
const WEEK = 7;
/** How many of the days ahead are told in words. */
const TOLD = 4;

const weeksFrom = (begins: string, on: string) =>
  (Date.parse(`${on}T00:00Z`) - Date.parse(`${begins}T00:00Z`)) / DAY_MS / WEEK;

/** The way to the ideal weight: where the dog was, what is expected, and how slow or fast it may be. */
export function WeightPlan({
  plan,
  ideal,
  seen,
}: {
  plan: Plan;
  ideal: { low_kg: number; high_kg: number } | null;
  seen: readonly Seen[];
}) {
  const losing = (plan.weights_kg[0] ?? 0) > plan.target_kg;
  return (
    <section aria-label="Weight plan">
      <h2>Weight plan to {bodyWeight(plan.target_kg)}</h2>
      <p>
        Start at <b>{number(plan.start_kcal)} kcal a day</b>, never below {number(plan.floor_kcal)}{" "}
        kcal. At {number(plan.pct_per_week, 1)} % a week it takes about {plan.weeks} weeks, until
        about {day(plan.expected)}.
      </p>
      <Way plan={plan} ideal={ideal} seen={seen} />
      <p className="max-w-2xl text-data text-soft">
        On the scales every {plan.weigh_every_days} days. A weight outside the pale field{" "}
        {losing ? "falls" : "rises"} by less than {number(plan.slow_pct, 1)} % or more than{" "}
        {number(plan.fast_pct, 1)} % a week: change the amount; the vet is asked before less than
        the floor is fed.
      </p>
      {plan.weighings.length > 0 && (
        <table aria-label="On the scales" className="mt-1 text-data">
          <thead className="text-soft">
            <tr>
              <th className="pr-4 text-left font-normal">on</th>
              <th className="pr-4 text-right font-normal">expected</th>
              <th className="pr-4 text-right font-normal">at the slowest</th>
              <th className="text-right font-normal">at the fastest</th>
            </tr>
          </thead>
          <tbody>
            {plan.weighings.slice(0, TOLD).map((w) => (
              <tr key={w.on} className="border-line border-t">
                <th className="pr-4 text-left font-normal">{day(w.on)}</th>
                <td className="pr-4 text-right font-semibold">{bodyWeight(w.kg)}</td>
                <td className="pr-4 text-right">{bodyWeight(w.slow_kg)}</td>
                <td className="text-right">{bodyWeight(w.fast_kg)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="mt-2 text-data text-soft">
        When an adult is fed less than 95 kcal per kg^0.75, or with the condition “Overweight” in
        the targets, nutrient floors are held per kg^0.75, so that eating less does not starve the
        dog of nutrients.
      </p>
      <Trace steps={plan.steps} />
    </section>
  );
}

/** The drawing: weights seen up to today, the expected line in its field, the rail it leads to. */
function Way({
  plan,
  ideal,
  seen,
}: {
  plan: Plan;
  ideal: { low_kg: number; high_kg: number } | null;
  seen: readonly Seen[];
}) {
  const before = seen
    .map((s) => ({ ...s, week: weeksFrom(plan.begins, s.on) }))
    .filter((s) => s.week >= -BACK && s.week <= plan.weeks)
    .toSorted((a, b) => a.week - b.week);
  const from = Math.min(-1, ...before.map((s) => s.week));
  const all = [
    ...plan.weights_kg,
    ...plan.slow_kg,
    ...plan.fast_kg,
    ...before.map((s) => s.kg),
    ...(ideal ? [ideal.low_kg, ideal.high_kg] : []),
  ];
  const least = Math.min(...all);
  const most = Math.max(...all);
  const x = (week: number) => ((week - from) / (plan.weeks - from)) * 100;
  const y = (kg: number) => TOP + ((most - kg) / Math.max(most - least, 0.1)) * (BOTTOM - TOP);
  const line = (of: readonly number[]) => of.map((kg, week) => `${x(week)},${y(kg)}`);
  const field = [...line(plan.slow_kg), ...line(plan.fast_kg).toReversed()].join(" ");
  const begin = plan.weights_kg[0] ?? 0;
  const at = (share: number) => `${share}%`;
  return (
    <figure className="my-2 grid max-w-2xl grid-cols-[4rem_minmax(0,1fr)]">
      <div className="relative text-axis" style={{ height: HEIGHT }} aria-hidden="true">
        <span className="-translate-y-1/2 absolute right-2" style={{ top: y(begin) }}>
          {bodyWeight(begin)}
        </span>
        <span
          className="-translate-y-1/2 absolute right-2 font-semibold"
          style={{ top: y(plan.target_kg) }}
        >
          {bodyWeight(plan.target_kg)}
        </span>
      </div>
      <svg
        className="w-full overflow-visible"
        style={{ height: HEIGHT }}
        role="img"
        aria-label={`From ${bodyWeight(begin)} to ${bodyWeight(plan.target_kg)} in ${plan.weeks} weeks; ${before.length || "no"} weights seen before`}
      >
        {ideal && (
          <rect
            x="0"
            width="100%"
            y={y(ideal.high_kg)}
            height={y(ideal.low_kg) - y(ideal.high_kg)}
            className="fill-oak-pale"
          />
        )}
        <svg
          width="100%"
          height={HEIGHT}
          viewBox={`0 0 100 ${HEIGHT}`}
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          <polygon points={field} className="fill-verdigris-pale" />
          <polyline
            points={line(plan.weights_kg).join(" ")}
            fill="none"
            className="stroke-2 stroke-oak-deep"
            vectorEffect="non-scaling-stroke"
          />
          {before.length > 0 && (
            <polyline
              points={before.map((s) => `${x(s.week)},${y(s.kg)}`).join(" ")}
              fill="none"
              className="stroke-ink"
              vectorEffect="non-scaling-stroke"
            />
          )}
        </svg>
        <line
          x1="0"
          x2="100%"
          y1={y(plan.target_kg)}
          y2={y(plan.target_kg)}
          className="stroke-[3] stroke-oak"
        />
        <line x1={at(x(0))} x2={at(x(0))} y1="0" y2={BOTTOM + 8} className="stroke-soft" />
        {before.map((s) => (
          <circle
            key={`${s.on} ${s.kg}`}
            cx={at(x(s.week))}
            cy={y(s.kg)}
            r="3.5"
            className="fill-ink"
          >
            <title>{`${day(s.on)}: ${bodyWeight(s.kg)}`}</title>
          </circle>
        ))}
        {plan.weighings.map((w) => {
          const share = at(x(weeksFrom(plan.begins, w.on)));
          return (
            <line
              key={w.on}
              x1={share}
              x2={share}
              y1={BOTTOM + 2}
              y2={BOTTOM + 8}
              className="stroke-soft"
            />
          );
        })}
        <text x={at(x(0))} y={HEIGHT - 18} textAnchor="middle" className="fill-ink text-axis">
          today
        </text>
        <text x="100%" y={HEIGHT - 18} textAnchor="end" className="fill-ink text-axis">
          {day(plan.expected)}
        </text>
        {ideal && (
          <text x="6" y={y(ideal.low_kg) - 6} className="fill-ink text-axis">
            ideal, {bodyWeight(ideal.low_kg)} to {bodyWeight(ideal.high_kg)}
          </text>
        )}
      </svg>
    </figure>
  );
}
