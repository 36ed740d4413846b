import type { MergedLimit, Targets } from "~/api/client";
import { figureText, spelled, unitText } from "~/shared/format";

export type Limit = MergedLimit;
export type Origin = MergedLimit["origin"][number];
export type Conflict = Targets["conflicts"][number];

/** An end that is being moved, before it is kept. */
export interface Draft {
  key: string;
  bound: "min" | "max";
  value: number | null;
}

/** The end whose box has the focus, how often it was asked for, and a figure to begin with. */
export interface End {
  bound: "min" | "max";
  asked: number;
  value?: number;
}

/** The lowest of what may not be passed, as it is set. */
export function topOf(limit: Limit): number | null {
  const tops = [limit.max, limit.safe_limit].filter((x) => x != null) as number[];
  return tops.length ? Math.min(...tops) : null;
}

/** Spoken for a row: "Copper: least 2.34, most 1.2 mg per 1000 kcal, two limits cannot both hold". */
export function spoken(limit: Limit, open: boolean, narrow: boolean): string {
  const least = figureText(limit.min);
  const most = figureText(topOf(limit));
  const unit = limit.unit === "ratio" ? "" : ` ${unitText(limit.unit)} per 1000 kcal`;
  const parts = [least ? `least ${least}` : "no least", most ? `most ${most}` : "no most"];
  const more = open ? ", two limits cannot both hold" : narrow ? ", a narrow window" : "";
  return `${spelled(limit.name)}: ${parts.join(", ")}${unit}${more}`;
}
