import { useState } from "react";
import type { Analysis } from "~/api/client";
import { money, number, percent, spelled } from "~/shared/format";
import { Toggle } from "~/ui/Toggle";
import type { BenchLine } from "./editor";

type Show = "share" | "amount";

/** What each line brings of each nutrient, what it costs, and what would be lost without it. */
export function MatrixView({
  analysis,
  lines,
  selected,
  onSelect,
  highlight,
}: {
  analysis: Analysis;
  lines: BenchLine[];
  selected: string | null;
  onSelect: (key: string) => void;
  highlight: number | null;
}) {
  const [show, setShow] = useState<Show>("share");
  const columns = analysis.nutrients
    .map((n, i) => ({ n, i }))
    .filter(({ n }) => n.board && n.status !== "no limit");
  const short = new Map(analysis.nutrients.map((n) => [n.key, n.short]));
  const priced = analysis.cost.lines.some((c) => c !== null);
  return (
    <div className="flex h-full flex-col gap-1">
      <Toggle
        label="What the cells show"
        value={show}
        onChange={setShow}
        options={[
          { id: "share", label: "Share" },
          { id: "amount", label: "Amount" },
        ]}
      />
      <div className="min-h-0 flex-1 overflow-auto">
        <table className="text-data">
          <thead className="sticky top-0 z-10 bg-paper">
            <tr className="border-line border-b align-bottom text-soft">
              <th className="sticky left-0 min-w-52 bg-paper text-left font-normal">Ingredient</th>
              <th className="px-2 text-right font-normal">kcal</th>
              {priced && <th className="px-2 text-right font-normal">cost</th>}
              <th className="min-w-44 px-2 text-left font-normal">without it</th>
              {columns.map(({ n }) => (
                <th key={n.key} className="px-1.5 text-right font-normal">
                  <button
                    type="button"
                    className={`hover:underline ${n.key === selected ? "font-bold text-ink" : ""}`}
                    onClick={() => onSelect(n.key)}
                  >
                    {spelled(n.short)}
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {analysis.contributions.map((row, r) => {
              const position = analysis.positions?.[r] ?? r;
              const line = analysis.recipe.lines[r];
              const without = analysis.without[r];
              return (
                <tr
                  key={lines[position]?.key ?? position}
                  className={`border-line border-b ${highlight === position ? "bg-verdigris-pale" : ""}`}
                >
                  <td className="sticky left-0 max-w-52 truncate bg-paper">{line?.name}</td>
                  <td className="px-2 text-right">{number(line?.kcal)}</td>
                  {priced && <td className="px-2 text-right">{money(analysis.cost.lines[r])}</td>}
                  <td className="max-w-56 truncate px-2" title={loss(without, short)}>
                    {loss(without, short)}
                  </td>
                  {columns.map(({ n, i }) => {
                    const value = row[i];
                    const share = n.total ? (value ?? 0) / n.total : 0;
                    return (
                      <td
                        key={n.key}
                        className="whitespace-nowrap px-1.5 text-right"
                        style={{
                          background: `color-mix(in srgb, var(--oak) ${Math.round(Math.min(share, 1) * 55)}%, transparent)`,
                        }}
                      >
                        {value === null || value === undefined ? (
                          <span className="border-ink border-b border-dashed" title="no value">
                            ?
                          </span>
                        ) : show === "share" ? (
                          percent(share)
                        ) : (
                          number(value, n.decimals)
                        )}
                      </td>
                    );
                  })}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function loss(
  without: { lost: string[]; mended: string[] } | undefined,
  short: Map<string, string>,
): string {
  if (!without) return "";
  const names = (keys: string[]) => keys.map((k) => short.get(k) ?? k).join(", ");
  const parts = [];
  if (without.lost.length) parts.push(`loses ${names(without.lost)}`);
  if (without.mended.length) parts.push(`mends ${names(without.mended)}`);
  return parts.join("; ") || "nothing changes";
}
