import { useMemo } from "react";
import type { Analysis } from "~/api/client";
import { BASES, type Basis, number, percent } from "~/shared/format";

/** The wall's facts as a table, worst first; choosing a row chooses the board. */
export function TableView({
  analysis,
  after,
  basis,
  selected,
  onSelect,
}: {
  analysis: Analysis;
  after: Analysis | null;
  basis: Basis;
  selected: string | null;
  onSelect: (key: string) => void;
}) {
  const rows = useMemo(
    () =>
      analysis.nutrients
        .map((n, i) => ({ n, proposed: after?.nutrients[i] ?? null }))
        .filter(({ n }) => n.board)
        .sort((a, b) => b.n.urgency - a.n.urgency),
    [analysis, after],
  );
  const unit = BASES.find((b) => b.id === basis)?.unit;
  const second = analysis.second_name;
  const other = basis !== "per_1000_kcal";
  return (
    <div className="h-full overflow-auto">
      <table className="w-full">
        <thead className="sticky top-0 bg-paper">
          <tr className="border-line border-b text-[13px] text-soft">
            <th className="text-left font-normal">Nutrient</th>
            <th className="text-right font-normal">{unit}</th>
            {after && <th className="text-right font-normal">proposed</th>}
            {other && <th className="text-right font-normal">/1000 kcal</th>}
            <th className="text-right font-normal">min</th>
            <th className="text-right font-normal">recommended</th>
            <th className="text-right font-normal">max</th>
            <th className="text-right font-normal">safe limit</th>
            <th className="pl-3 text-left font-normal">state</th>
            {second && <th className="pl-3 text-left font-normal">{second}</th>}
            <th className="text-right font-normal">known</th>
            <th className="text-right font-normal">estimated</th>
            <th className="pl-3 text-left font-normal">set by</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ n, proposed }) => {
            const beside = analysis.second[n.key];
            const origin = n.set_by ?? n.origin[0];
            return (
              <tr
                key={n.key}
                className={`border-line border-b ${n.key === selected ? "bg-oak-pale/60" : ""}`}
              >
                <td>
                  <button
                    type="button"
                    className="text-left hover:underline"
                    onClick={() => onSelect(n.key)}
                  >
                    {n.name}
                  </button>
                </td>
                <td className="text-right">
                  {number(n[basis], n.decimals)} {n.unit}
                </td>
                {after && (
                  <td className="text-right">
                    {number(proposed?.[basis], n.decimals)}
                    {proposed && proposed.status !== n.status && (
                      <span className="text-soft"> {proposed.status}</span>
                    )}
                  </td>
                )}
                {other && <td className="text-right">{number(n.per_1000_kcal, n.decimals)}</td>}
                <td className="text-right">{number(n.min, n.decimals)}</td>
                <td className="text-right">{number(n.recommended, n.decimals)}</td>
                <td className="text-right">{number(n.max, n.decimals)}</td>
                <td className="text-right">{number(n.safe_limit, n.decimals)}</td>
                <td className={`pl-3 ${n.breaks ? "font-semibold text-madder" : ""}`}>
                  {n.status}
                </td>
                {second && <td className="pl-3">{beside?.status ?? "no limit"}</td>}
                <td className="text-right">{percent(n.known_share)}</td>
                <td className="text-right">{percent(n.estimated_share)}</td>
                <td
                  className="max-w-64 truncate pl-3 text-[13px] text-soft"
                  title={origin?.citation}
                >
                  {origin?.source}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
