import type { Analysis } from "~/api/client";
import { number, sentence, told } from "~/shared/format";

/** On which method the energy stands, and what the others say of the same recipe. */
export function FoodEnergy({ found }: { found: NonNullable<Analysis["food_energy"]> }) {
  return (
    <section aria-label="Energy of the food">
      <h3 className="mb-1 font-semibold">Energy of the food</h3>
      <p>
        <b>{found.name}</b>
        {found.is_default && ", the default"}
      </p>
      <p className="text-soft">
        {told(sentence(found.words))} ({found.source})
      </p>
      <table className="mt-1 w-full">
        <thead>
          <tr className="text-soft">
            <th className="text-left font-normal">by other methods</th>
            <th className="whitespace-nowrap text-right font-normal">kcal a day</th>
            <th className="pl-2 text-right font-normal">differs</th>
          </tr>
        </thead>
        <tbody>
          {found.others.map((o) => (
            <tr key={o.id} className="border-line border-b align-top">
              <td>{o.name}</td>
              <td className="text-right">{number(o.kcal_per_day, 0)}</td>
              <td className="whitespace-nowrap pl-2 text-right">{differs(o.difference)}</td>
            </tr>
          ))}
          {found.whole && (
            <tr className="align-top">
              <td>Predictive equation over the whole bowl</td>
              <td className="text-right">{number(found.whole.kcal_per_day, 0)}</td>
              <td className="whitespace-nowrap pl-2 text-right">
                {differs(found.whole.difference)}
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {[found.whole?.why, ...found.notes].filter(Boolean).map((words) => (
        <p key={words} className="mt-1 text-soft">
          {sentence(words ?? "")}.
        </p>
      ))}
    </section>
  );
}

function differs(share: number): string {
  const pct = Math.round(share * 100);
  return pct === 0 ? "same" : `${pct > 0 ? "+" : "−"}${Math.abs(pct)} %`;
}
