import type { Analysis, Nutrient } from "../api/client";

export type Basis = "per_1000_kcal" | "per_day" | "per_100g_dry_matter";

export const BASES: { id: Basis; label: string; unit: string }[] = [
  { id: "per_1000_kcal", label: "1000 kcal", unit: "/1000 kcal" },
  { id: "per_day", label: "Day", unit: "/day" },
  { id: "per_100g_dry_matter", label: "DM", unit: "/100 g DM" },
];

/** A number with a fixed count of decimals and a thin space between thousands. */
export function number(value: number | null | undefined, decimals = 0): string {
  if (value === null || value === undefined) return "–";
  return value
    .toLocaleString("en", { minimumFractionDigits: decimals, maximumFractionDigits: decimals })
    .replaceAll(",", "\u2009");
}

export function percent(share: number | null | undefined): string {
  return share === null || share === undefined ? "–" : `${Math.round(share * 100)} %`;
}

/** What a figure per 1000 kcal is multiplied with to be read on a basis. */
export function basisFactor(analysis: Analysis, basis: Basis): number | null {
  const { kcal, covers_days, dry_matter_grams } = analysis.recipe;
  if (basis === "per_1000_kcal") return 1;
  if (kcal <= 0) return null;
  if (basis === "per_day") return kcal / 1000 / covers_days;
  return dry_matter_grams > 0 ? kcal / 10 / dry_matter_grams : null;
}

export function onBasis(nutrient: Nutrient, basis: Basis): number | null {
  return nutrient[basis];
}

export function ageText(months: number | null | undefined): string {
  if (months === null || months === undefined) return "age unknown";
  if (months < 24) return `${months} months`;
  return `${Math.floor(months / 12)} years`;
}

export const STATUS_WORDS: Record<Nutrient["status"], string> = {
  short: "short",
  unproven: "unproven",
  met: "met",
  over: "over",
  "no limit": "no limit",
};
