import { PANELS } from "~/shared/wall/boards";
import { placeOf, TICKS } from "./scale";

/** A name, what is asked for at least, the rail, what there may be at most. */
export const ROW =
  "grid grid-cols-[minmax(0,5.25rem)_2.75rem_minmax(0,1fr)_2.75rem] items-center gap-x-2 px-1";

/** What stands in the first column of two. */
const FIRST = ["energy", "amino", "fats"];
export const isFirst = (group: string) => FIRST.includes(group);

const LABELS: Record<string, string> = {
  ...Object.fromEntries(PANELS.map((p) => [p.id, p.label])),
  ratios: "Ratios",
};
export const panelLabel = (group: string) => LABELS[group] ?? group;

/** A row of a list of rails. */
export interface Row {
  key: string;
  group: string;
}

/** The rows as they are drawn: panel by panel, those of the first column first, and within a panel as they come. */
export function byPanel<T extends Row>(rows: readonly T[]): readonly T[] {
  const groups = [...new Set(rows.map((x) => x.group))];
  const order = [...groups.filter(isFirst), ...groups.filter((g) => !isFirst(g))];
  return order.flatMap((group) => rows.filter((x) => x.group === group));
}

const clamped = (n: number, of: number) => Math.min(of - 1, Math.max(0, n));

/** The row a key leads to from one, of rows that stand panel by panel: up and down a row, sideways a panel. */
export function stepped(key: string, rows: readonly Row[], from: string): string | undefined {
  const groups = [...new Set(rows.map((x) => x.group))];
  const n = rows.findIndex((x) => x.key === from);
  const group = groups.indexOf(rows[n]?.group ?? "");
  const first = (of: number) =>
    rows.findIndex((x) => x.group === groups[clamped(of, groups.length)]);
  const to: Record<string, number> = {
    ArrowDown: n + 1,
    ArrowUp: n - 1,
    ArrowRight: first(group + 1),
    ArrowLeft: first(group - 1),
    Home: 0,
    End: rows.length - 1,
  };
  const next = to[key];
  return next === undefined ? undefined : rows[clamped(next, rows.length)]?.key;
}

/** What stands over the rails of a column. */
export function RailHead() {
  return (
    <div className={`${ROW} text-axis text-soft`} aria-hidden="true">
      <span className="col-start-2 text-right">least</span>
      <span className="relative h-4">
        {TICKS.map(([multiple, text]) => (
          <span
            key={text}
            className="-translate-x-1/2 absolute"
            style={{ left: `${placeOf(multiple) * 100}%` }}
          >
            {text}
          </span>
        ))}
      </span>
      <span>most</span>
    </div>
  );
}
