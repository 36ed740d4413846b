import { useQueries } from "@tanstack/react-query";
import { useState } from "react";
import { number, spelled, unitText } from "~/shared/format";
import { profileQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { Dialog } from "~/ui";
import { Toggle } from "~/ui/Toggle";
import { FOOD_BASES, type FoodBasis } from "./ProfilePanel";

/** Up to four foods side by side; the largest of each row is bold. */
export function Compare({ foodIds, onClose }: { foodIds: string[]; onClose: () => void }) {
  const [basis, setBasis] = useState<FoodBasis>("per_1000_kcal");
  const profiles = useQueries({ queries: foodIds.map(profileQuery) });
  const failed = profiles.find((p) => p.error)?.error;
  const foods = profiles.flatMap((p) => (p.data ? [p.data] : []));
  const first = foods[0];
  return (
    <Dialog open onClose={onClose} title="Foods side by side" wide>
      {failed && <Problem error={failed} />}
      {foods.length < foodIds.length && !failed && <Loading what="the foods" />}
      {first && foods.length === foodIds.length && (
        <>
          <Toggle
            label="Basis of the comparison"
            value={basis}
            onChange={setBasis}
            options={FOOD_BASES}
          />
          <table className="mt-3 w-full">
            <thead>
              <tr className="border-line border-b align-bottom">
                <th className="text-left font-normal text-soft">Nutrient</th>
                {foods.map((food) => (
                  <th key={food.id} className="w-36 pl-3 text-right font-semibold">
                    {spelled(food.name)}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {first.values.map((row, i) => {
                const values = foods.map((food) => food.values[i]?.[basis] ?? null);
                const most = Math.max(...values.map((v) => v ?? Number.NEGATIVE_INFINITY));
                return (
                  <tr key={row.key} className="border-line border-b">
                    <td>
                      {row.name} <span className="text-soft">{unitText(row.unit)}</span>
                    </td>
                    {values.map((value, j) => (
                      <td
                        key={foods[j]?.id}
                        className={`text-right ${value !== null && value === most && most > 0 ? "font-bold" : ""}`}
                      >
                        {value === null ? (
                          <span className="text-soft">unknown</span>
                        ) : (
                          number(value, row.decimals)
                        )}
                      </td>
                    ))}
                  </tr>
                );
              })}
            </tbody>
          </table>
        </>
      )}
    </Dialog>
  );
}
