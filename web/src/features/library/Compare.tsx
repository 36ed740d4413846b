import { useQueries, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Densities, Profile } from "~/api/client";
import { number, spelled, unitText } from "~/shared/format";
import { densityQuery, profileQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { Dialog } from "~/ui";
import { Select } from "~/ui/Select";
import { Toggle } from "~/ui/Toggle";
import { FOOD_BASES, type FoodBasis } from "./ProfilePanel";

/** A bar reaches to so many times what is asked. */
const MOST = 3;

/** One nutrient of two foods. shares: how far each bar reaches, 0 to 1, null where it is not known; rail: where what is
 * asked lies, null where nothing is. */
interface MirrorRow {
  key: string;
  name: string;
  unit: string;
  decimals: number;
  values: [number | null, number | null];
  shares: [number | null, number | null];
  over: [boolean, boolean];
  rail: number | null;
  gap: boolean;
  /** The gap is a ceiling: less is better. */
  less: boolean;
}

/** Two of up to four foods as mirrored boards; beside a dog, its gaps first and what is asked as a rail. */
export function Compare({
  foodIds,
  recipe,
  onClose,
}: {
  foodIds: string[];
  recipe: number | null;
  onClose: () => void;
}) {
  const [basis, setBasis] = useState<FoodBasis>("per_1000_kcal");
  const [sides, setSides] = useState<[string, string]>([foodIds[0] ?? "", foodIds[1] ?? ""]);
  const profiles = useQueries({ queries: foodIds.map(profileQuery) });
  const densities = useQuery({
    ...densityQuery(recipe ?? 0, foodIds),
    enabled: recipe !== null,
  });
  const failed = profiles.find((p) => p.error)?.error ?? densities.error;
  const foods = profiles.flatMap((p) => (p.data ? [p.data] : []));
  const ready = foods.length === foodIds.length && (recipe === null || densities.data);
  const rows = !ready
    ? []
    : densities.data
      ? besideDog(densities.data, sides)
      : byValues(foods, sides, basis);
  const names = foods.map((f) => ({ id: f.id, label: spelled(f.name) }));
  return (
    <Dialog open onClose={onClose} title="Foods beside each other" wide>
      {failed && <Problem error={failed} />}
      {!ready && !failed && <Loading what="the foods" />}
      {ready && (
        <>
          <div className="flex flex-wrap items-center gap-3">
            {densities.data ? (
              <p className="text-data text-soft">
                In 1000 kcal of each. Gaps of {densities.data.dog} first; the line is what is asked,
                dashed is not known, red is too much by itself. What is given in doses is shown for
                what it is.
              </p>
            ) : (
              <Toggle
                label="Basis of the comparison"
                value={basis}
                onChange={setBasis}
                options={FOOD_BASES}
              />
            )}
          </div>
          <table className="mt-3 w-full table-fixed">
            <colgroup>
              <col className="w-14 mid:w-20" />
              <col />
              <col className="w-24 mid:w-40" />
              <col />
              <col className="w-14 mid:w-20" />
            </colgroup>
            <thead>
              <tr className="border-ink border-b-2 align-bottom">
                <th colSpan={2} className="pr-3 pb-1 text-right font-normal">
                  <Side side={0} sides={sides} names={names} onChange={setSides} />
                </th>
                <th className="font-normal text-data text-soft">Nutrient</th>
                <th colSpan={2} className="pb-1 pl-3 text-left font-normal">
                  <Side side={1} sides={sides} names={names} onChange={setSides} />
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.key} className="border-line border-b">
                  <Figure row={row} side={0} />
                  <Bar row={row} side={0} />
                  <td
                    className={`px-1 text-center leading-tight ${row.gap ? "font-semibold" : ""}`}
                  >
                    {spelled(row.name)}{" "}
                    <span className="font-normal text-label text-soft">{unitText(row.unit)}</span>
                    {row.gap && <span className="sr-only">, a gap</span>}
                  </td>
                  <Bar row={row} side={1} />
                  <Figure row={row} side={1} />
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </Dialog>
  );
}

/** The food of a side; with more than two it can be another. */
function Side({
  side,
  sides,
  names,
  onChange,
}: {
  side: 0 | 1;
  sides: [string, string];
  names: { id: string; label: string }[];
  onChange: (sides: [string, string]) => void;
}) {
  const mine = sides[side];
  if (names.length < 3) return <b>{names.find((n) => n.id === mine)?.label}</b>;
  return (
    <Select
      label={side === 0 ? "Food on the left" : "Food on the right"}
      value={mine}
      onChange={(id) => {
        const other = sides[1 - side] ?? "";
        // What stands on the other side changes places.
        const there = id === other ? mine : other;
        onChange(side === 0 ? [id, there] : [there, id]);
      }}
      options={names}
    />
  );
}

function Figure({ row, side }: { row: MirrorRow; side: 0 | 1 }) {
  const value = row.values[side];
  const other = row.values[1 - side] ?? null;
  // Of a gap: what closes more of it.
  const more =
    row.gap && value !== null && (other === null || (row.less ? value < other : value > other));
  return (
    <td
      className={`whitespace-nowrap ${side === 0 ? "text-left" : "text-right"} ${more ? "font-bold" : ""}`}
    >
      {value === null ? (
        <span className="text-data text-soft">unknown</span>
      ) : (
        number(value, row.decimals)
      )}
      {row.over[side] && <span className="sr-only">, more than the most</span>}
    </td>
  );
}

/** A board that lies down, filled from the middle of the table outwards. */
function Bar({ row, side }: { row: MirrorRow; side: 0 | 1 }) {
  const share = row.shares[side];
  const width = (share ?? 0) * 100;
  const from = (x: number, w: number) => (side === 0 ? 100 - x - w : x);
  return (
    <td className="px-0.5">
      <svg
        viewBox="0 0 100 10"
        preserveAspectRatio="none"
        aria-hidden="true"
        className="h-3.5 w-full"
      >
        <rect width="100" height="10" className="fill-groove" />
        {share === null ? (
          <rect
            x="0.5"
            y="0.5"
            width="99"
            height="9"
            className="fill-none stroke-ink"
            strokeWidth="1"
            strokeDasharray="3 2"
            vectorEffect="non-scaling-stroke"
          />
        ) : (
          <rect
            x={from(0, width)}
            width={width}
            height="10"
            className={row.gap || row.rail === null ? "fill-oak-deep" : "fill-oak-pale"}
          />
        )}
        {row.over[side] && <rect x={from(94, 6)} width="6" height="10" className="fill-madder" />}
        {row.rail !== null && (
          <line
            x1={from(row.rail * 100, 0)}
            x2={from(row.rail * 100, 0)}
            y1="0"
            y2="10"
            className="stroke-2 stroke-ink"
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
    </td>
  );
}

function besideDog({ yards, foods }: Densities, sides: [string, string]): MirrorRow[] {
  const pair = sides.map((id) => foods.find((f) => f.food === id));
  return yards.map((yard, i) => {
    const [left, right] = pair.map((food) => food?.amounts[i]);
    const share = (times: number | null | undefined) =>
      times == null ? null : Math.min(times, MOST) / MOST;
    return {
      key: yard.key,
      name: yard.name,
      unit: yard.unit,
      decimals: yard.decimals,
      values: [left?.value ?? null, right?.value ?? null],
      shares: [share(left?.times), share(right?.times)],
      over: [left?.over ?? false, right?.over ?? false],
      rail: 1 / MOST,
      gap: yard.gap !== null,
      less: yard.gap === "ceiling",
    };
  });
}

/** Without a dog nothing is asked: each row is scaled by the larger of the two. */
function byValues(foods: Profile[], sides: [string, string], basis: FoodBasis): MirrorRow[] {
  const pair = sides.map((id) => foods.find((f) => f.id === id));
  return (foods[0]?.values ?? []).map((row, i) => {
    const [left = null, right = null] = pair.map((food) => food?.values[i]?.[basis] ?? null);
    const most = Math.max(left ?? 0, right ?? 0);
    const share = (value: number | null) => (value === null ? null : most > 0 ? value / most : 0);
    return {
      key: row.key,
      name: row.name,
      unit: row.unit,
      decimals: row.decimals,
      values: [left, right],
      shares: [share(left), share(right)],
      over: [false, false],
      rail: null,
      gap: false,
      less: false,
    };
  });
}
