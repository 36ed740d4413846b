export type Basis =
  | "per_1000_kcal"
  | "per_day"
  | "per_kg75"
  | "per_100g_dry_matter"
  | "per_100g_as_fed";

export const BASES: { id: Basis; label: string; unit: string }[] = [
  { id: "per_1000_kcal", label: "per 1000 kcal", unit: "/1000 kcal" },
  { id: "per_day", label: "per day", unit: "/day" },
  { id: "per_kg75", label: "per kg^0.75", unit: "/kg^0.75 a day" },
  { id: "per_100g_dry_matter", label: "dry matter", unit: "/100 g DM" },
  { id: "per_100g_as_fed", label: "as fed", unit: "/100 g as fed" },
];

/** A number with a fixed count of decimals and a narrow space that does not break between thousands. */
export function number(value: number | null | undefined, decimals = 0): string {
  if (value === null || value === undefined) return "–";
  return value
    .toLocaleString("en", { minimumFractionDigits: decimals, maximumFractionDigits: decimals })
    .replaceAll(",", "\u202f");
}

/** A unit as it is written: data say ug, people µg. */
export function unitText(unit: string): string {
  return unit.replace(/\bug\b/, "µg");
}

/** A ratio as it is told: one figure, or the bounds it lies between while a part is not known. */
export function ratioText(ratio: {
  value: number | null;
  least?: number | null;
  most?: number | null;
  share?: boolean;
}): string {
  const one = (x: number) => (ratio.share ? number(100 * x, 0) : number(x, 2));
  const end = ratio.share ? " %" : " : 1";
  if (ratio.value !== null) return one(ratio.value) + end;
  if (ratio.least == null) return "no ratio";
  return ratio.most == null
    ? `at least ${one(ratio.least)}${end}`
    : `${one(ratio.least)} to ${one(ratio.most)}${end}`;
}

export function percent(share: number | null | undefined): string {
  return share === null || share === undefined ? "–" : `${Math.round(share * 100)} %`;
}

export function ageText(months: number | null | undefined): string {
  if (months === null || months === undefined) return "age unknown";
  if (months < 24) return `${months} months`;
  return `${Math.floor(months / 12)} years`;
}

/** The same words with a capital: for what follows a full stop. */
export function sentence(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** A number as it is typed, with a point or a comma; NaN for anything else. */
export function decimal(text: string): number {
  return text.trim() === "" ? Number.NaN : Number(text.trim().replace(",", "."));
}

/** A number as it is typed, null for an empty box; NaN for anything else. */
export function figure(text: string): number | null {
  return text.trim() === "" ? null : decimal(text);
}

/** Nutrients and ratios of an analysis that are not met, the worst first: all of them, not only those
 * that stand on the wall. "Every limit is met" is said when there is none. */
export function offTarget<T extends { urgency: number }, R extends { urgency: number }>(analysis: {
  nutrients: readonly T[];
  ratios: readonly R[];
}): (T | R)[] {
  return [...analysis.nutrients, ...analysis.ratios]
    .filter((x) => x.urgency > 0)
    .sort((a, b) => b.urgency - a.urgency);
}
