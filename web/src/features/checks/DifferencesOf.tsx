import type { Differences } from "~/api/client";
import { foodWeight, number, spelled, told, unitText } from "~/shared/format";

/** At most so many nutrients are named; the others are counted. */
const MOST_NAMED = 8;

type Judged = Differences["nutrients"][number];

const differs = (a: number, b: number) =>
  Math.abs(a - b) > 1e-6 * Math.max(Math.abs(a), Math.abs(b));

/** What is different of two plans: the dog, the energy, the foods, and how nutrients are judged. */
export function DifferencesOf({
  of,
  before,
  after,
}: {
  of: Differences;
  /** What the two are called. */
  before: string;
  after: string;
}) {
  const verdicts = of.nutrients.filter((x) => x.status_before !== x.status_after);
  const others = of.nutrients.filter((x) => x.status_before === x.status_after);
  return (
    <div className="flex flex-col gap-1 text-data">
      {of.dog.map((words) => (
        <p key={words}>{told(words)}.</p>
      ))}
      {differs(of.target_before, of.target_after) && (
        <p>
          Energy target: {number(of.target_before)}, now {number(of.target_after)} kcal a day.
        </p>
      )}
      {of.lines.length > 0 && (
        <table className="w-full">
          <thead>
            <tr className="border-line border-b text-soft">
              <th className="text-left font-normal">a day</th>
              <th className="text-right font-normal">{before}</th>
              <th className="text-right font-normal">{after}</th>
            </tr>
          </thead>
          <tbody>
            {of.lines.map((x) => (
              <tr key={x.food + x.name} className="border-line border-b">
                <td>{spelled(x.name)}</td>
                <td className="text-right">{x.before_g === null ? "–" : foodWeight(x.before_g)}</td>
                <td className="text-right">{x.after_g === null ? "–" : foodWeight(x.after_g)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {verdicts.map((x) => (
        <p key={x.key}>
          <b>{spelled(x.name)}</b>: {x.status_before ?? "not judged"}, now{" "}
          {x.status_after ?? "not judged"} <Amounts of={x} />
        </p>
      ))}
      {verdicts.length === 0 &&
        others.slice(0, MOST_NAMED).map((x) => (
          <p key={x.key}>
            {spelled(x.name)} <Amounts of={x} />
          </p>
        ))}
      {(verdicts.length > 0 ? others.length : others.length - MOST_NAMED) > 0 && (
        <p className="text-soft">
          {verdicts.length > 0 ? others.length : others.length - MOST_NAMED} more amounts or limits
          differ, judged as before.
        </p>
      )}
      {of.found.map((words) => (
        <p key={words}>Told now: {told(words)}.</p>
      ))}
      {of.gone.map((words) => (
        <p key={words}>No longer told: {told(words)}.</p>
      ))}
    </div>
  );
}

function Amounts({ of }: { of: Judged }) {
  const unit = of.unit ? ` ${unitText(of.unit)}` : "";
  return (
    <span className="text-soft">
      {number(of.before, of.decimals)} → {number(of.after, of.decimals)}
      {unit}
      {of.unit && " per 1000 kcal"}
    </span>
  );
}
