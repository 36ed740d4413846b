import type { BatchPlan } from "~/api/client";
import { foodWeight, number, spelled, told } from "~/shared/format";
import { Sideways } from "~/ui";

type Eater = BatchPlan["eaters"][number];
type Boxes = BatchPlan["portions"][number];

/** "27 of 160 g and one of 158 g". */
export function boxesText(of: Boxes): string {
  if (of.last_g === of.each_g) return `${of.boxes} of ${foodWeight(of.each_g)}`;
  const last = `one of ${foodWeight(of.last_g)}${of.part ? ", part of a meal" : ""}`;
  return of.boxes === 1 ? last : `${of.boxes - 1} of ${foodWeight(of.each_g)} and ${last}`;
}

/** Each dog's part of the pot, what is added for it alone, and what its day holds. */
export function Dogs({ plan }: { plan: BatchPlan }) {
  return (
    <Sideways>
      <table className="w-full border-collapse">
        <thead>
          <tr className="border-line border-b text-left text-data text-soft">
            <th className="font-normal">Dog</th>
            <th className="px-2 text-right font-normal">a meal</th>
            <th className="px-2 text-right font-normal">meals a day</th>
            <th className="px-2 text-right font-normal">kcal a day</th>
            <th className="px-2 font-normal">boxes</th>
            <th className="px-2 font-normal">in its bowl alone, a meal</th>
            <th className="pl-2 font-normal">its day</th>
          </tr>
        </thead>
        <tbody>
          {plan.eaters.map((eater, i) => (
            <tr key={eater.case} className="border-line border-b align-top">
              <td className="py-0.5 font-medium">{eater.name}</td>
              <td className="px-2 text-right tabular-nums">
                {foodWeight(eater.grams_per_meal)}
                <Volume of={plan.volumes[i]} />
              </td>
              <td className="px-2 text-right tabular-nums">{eater.meals_per_day}</td>
              <td className="px-2 text-right tabular-nums">
                {number(eater.kcal_per_day)}
                <span className="block text-data text-soft">of {number(eater.target_kcal)}</span>
              </td>
              <td className="px-2">{plan.portions[i] && boxesText(plan.portions[i])}</td>
              <td className="px-2">
                {eater.added.length === 0
                  ? "nothing"
                  : eater.added
                      .map((a) => `${spelled(a.name)} ${foodWeight(a.grams_per_meal ?? a.grams)}`)
                      .join(", ")}
                {eater.beside.length > 0 && (
                  <span className="block text-data text-soft">
                    beside it, a day:{" "}
                    {eater.beside
                      .map((b) => `${spelled(b.name)} ${foodWeight(b.grams)}`)
                      .join(", ")}
                  </span>
                )}
              </td>
              <td className="pl-2">
                <Verdict eater={eater} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Sideways>
  );
}

function Volume({ of }: { of: BatchPlan["volumes"][number] | undefined }) {
  if (!of) return null;
  return (
    <span className="block text-data text-soft">
      about {number(of.low)} to {number(of.high)} ml
    </span>
  );
}

function Verdict({ eater }: { eater: Eater }) {
  if (eater.must_not.length > 0)
    return (
      <span className="text-madder">
        <b className="font-semibold">must not have it:</b> {told(eater.must_not[0] ?? "")}
        {eater.must_not.length > 1 && `, and ${eater.must_not.length - 1} more`}
      </span>
    );
  if (eater.off.length === 0) return <>every limit is met</>;
  const said = eater.off.slice(0, 3).map((x) => `${x.name} ${x.status}`);
  return (
    <>
      {said.join(", ")}
      {eater.off.length > 3 && ` and ${eater.off.length - 3} more`}
    </>
  );
}
