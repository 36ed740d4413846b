import { useState } from "react";
import type { Analysis, Nutrient } from "~/api/client";
import { number, percent, spelled } from "~/shared/format";
import { Toggle } from "~/ui/Toggle";
import type { BenchLine } from "./editor";

type Show = "near" | "all";

/** What each line brings of each nutrient as a grid: a tile fills to the line's share, as a board does; a lid over it
 * says that the limit is not held without the line. Near a bound, or all of them. */
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
  const [show, setShow] = useState<Show>("near");
  const [looked, setLooked] = useState<{ row: number; key: string } | null>(null);
  const judged = analysis.nutrients
    .map((n, i) => ({ n, i }))
    .filter(({ n }) => n.board && n.status !== "no limit");
  const near = judged.filter(({ n }) => n.near);
  const columns = show === "near" ? near : judged;
  const short = new Map(analysis.nutrients.map((n) => [n.key, n.short]));
  const told = looked && cellWords(analysis, looked.row, looked.key);
  return (
    <div className="flex h-full flex-col gap-1">
      <div className="flex flex-wrap items-center gap-x-4">
        <Toggle
          label="Which nutrients are shown"
          value={show}
          onChange={setShow}
          options={[
            { id: "near", label: `Near a bound, ${near.length}` },
            { id: "all", label: `All ${judged.length}` },
          ]}
        />
        <p className="min-w-0 flex-1 text-data" aria-hidden="true">
          {told ?? (
            <span className="text-soft">
              A tile fills to the line’s share. The lid: without the line the limit is not held.
              “?”: no value.
            </span>
          )}
        </p>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {columns.length === 0 ? (
          <p className="text-soft">Nothing stands near a bound.</p>
        ) : (
          <table className="table-fixed text-axis">
            <thead className="sticky top-0 z-10 bg-paper">
              <tr className="align-bottom">
                <th className="sticky left-0 w-44 bg-paper text-left font-normal text-data text-soft">
                  Ingredient
                </th>
                {columns.map(({ n }, c) => (
                  <th key={n.key} className={`${width(show)} ${gap(columns, c)} p-0 font-normal`}>
                    <button
                      type="button"
                      className={`h-20 rotate-180 whitespace-nowrap pt-1 text-left [writing-mode:vertical-rl] hover:underline ${n.key === selected ? "font-bold text-ink" : n.breaks ? "font-semibold text-madder" : "text-soft"}`}
                      onClick={() => onSelect(n.key)}
                    >
                      {spelled(n.short)}
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody onMouseLeave={() => setLooked(null)}>
              {analysis.contributions.map((row, r) => {
                const position = analysis.positions?.[r] ?? r;
                const without = analysis.without[r];
                const name = analysis.recipe.lines[r]?.name;
                return (
                  <tr
                    key={lines[position]?.key ?? position}
                    className={`border-line border-b ${highlight === position ? "bg-verdigris-pale" : ""}`}
                  >
                    <th
                      scope="row"
                      className="sticky left-0 truncate bg-paper text-left font-normal text-data"
                    >
                      {name}
                      <span className="sr-only">. Without it: {loss(without, short)}.</span>
                    </th>
                    {columns.map(({ n, i }, c) => (
                      <td
                        key={n.key}
                        className={`p-0 ${gap(columns, c)}`}
                        onMouseEnter={() => setLooked({ row: r, key: n.key })}
                      >
                        <Tile
                          value={row[i]}
                          of={n.total}
                          needed={without?.lost.includes(n.key) ?? false}
                          figures={show === "near"}
                        />
                      </td>
                    ))}
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
      </div>
    </div>
  );
}

const width = (show: Show) => (show === "near" ? "w-8" : "w-[21px]");

/** Groups stand apart, as they do on the wall. */
function gap(columns: { n: Nutrient }[], c: number): string {
  return c > 0 && columns[c]?.n.group !== columns[c - 1]?.n.group ? "pl-2" : "";
}

function Tile({
  value,
  of,
  needed,
  figures,
}: {
  value: number | null | undefined;
  of: number;
  needed: boolean;
  figures: boolean;
}) {
  const known = value !== null && value !== undefined;
  const share = known && of > 0 ? Math.min(value / of, 1) : 0;
  return (
    <div
      className={`relative mr-px h-[22px] ${known ? "bg-groove" : "border border-ink border-dashed"} ${needed ? "border-madder border-t-[3px]" : ""}`}
    >
      <div
        className="absolute inset-x-0 bottom-0 bg-oak-pale"
        style={{ height: `${share * 100}%` }}
      />
      <span
        className={`absolute inset-0 grid place-items-center ${figures || !known ? "" : "sr-only"}`}
      >
        {known ? (share >= 0.005 ? Math.round(share * 100) : "") : "?"}
      </span>
    </div>
  );
}

/** A cell in words: what the line brings, and its share. */
function cellWords(analysis: Analysis, row: number, key: string): string {
  const i = analysis.nutrients.findIndex((n) => n.key === key);
  const nutrient = analysis.nutrients[i];
  const line = analysis.recipe.lines[row];
  const value = analysis.contributions[row]?.[i];
  if (!nutrient || !line) return "";
  const name = spelled(nutrient.name);
  if (value === null || value === undefined) return `${line.name}: no value of ${name}`;
  const share = nutrient.total > 0 ? value / nutrient.total : 0;
  const needed = analysis.without[row]?.lost.includes(key)
    ? "; without it the limit is not held"
    : "";
  return `${line.name}: ${number(value, nutrient.decimals)} ${nutrient.unit} of ${name}, ${percent(share)}${needed}`;
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
