import type { StandardsBeside } from "~/api/client";
import { figureText, number, spelled, unitText } from "~/shared/format";

export type Column = StandardsBeside["columns"][number];
export type Nutrient = StandardsBeside["nutrients"][number];
export type Window = Nutrient["windows"][number];

export const columnId = (of: { standard: string; stage: string }) => `${of.standard} ${of.stage}`;

/** The column a window belongs to. */
export function columnOf(columns: readonly Column[], window: Window): Column | undefined {
  return columns.find((c) => columnId(c) === columnId(window));
}

/** A printed figure with all its digits. */
export function printedText(value: number | null | undefined): string {
  return value == null ? "" : number(value, String(value).split(".")[1]?.length ?? 0);
}

/** The strictest ends over all columns. */
export function strictest(of: Nutrient): { least: number | null; most: number | null } {
  const most = of.windows.find((w) => w.strictest_most)?.most ?? null;
  return { least: of.rail ?? null, most };
}

/** Spoken for a row: "Calcium: least 1450, most 6250 mg per 1000 kcal over 4 columns, 1 of them read off". */
export function spokenRow(of: Nutrient): string {
  const { least, most } = strictest(of);
  const unit = of.unit === "ratio" ? "" : ` ${unitText(of.unit)} per 1000 kcal`;
  const ends = [
    least !== null && `least ${figureText(least)}`,
    most !== null && `most ${figureText(most)}`,
  ].filter(Boolean);
  const none = [least === null && "no least", most === null && "no most"].filter(Boolean);
  const read = of.windows.filter((w) => w.checked).length;
  return `${spelled(of.name)}: ${[`${ends.join(", ")}${unit}`, ...none].join(", ")} over ${of.windows.length} columns, ${read || "none"} of them read off`;
}

/** The row of a column that is read off next: the first after this one that was not, in the order they are drawn. */
export function nextUnread(
  nutrients: readonly Nutrient[],
  column: string,
  after: string,
): Nutrient | undefined {
  const open = (n: Nutrient) => n.windows.some((w) => columnId(w) === column && !w.checked);
  const at = nutrients.findIndex((n) => n.key === after);
  return nutrients.slice(at + 1).find(open) ?? nutrients.slice(0, Math.max(0, at)).find(open);
}
