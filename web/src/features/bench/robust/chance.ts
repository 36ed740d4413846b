import type { Robustness } from "~/api/client";
import { figureText, spelled, unitText } from "~/shared/format";

export type Chance = Robustness["chances"]["limits"][number];

const HELD = ["met", "off advice"];

/** Whether the recipe meets it by its tables: of what it does not, there is nothing to hold. */
export const byTable = (of: Chance) => HELD.includes(of.status);

/** A share in hundred; all of them only where it was all of them. */
export function ofHundred(share: number): number {
  if (share === 1) return 100;
  return Math.min(99, Math.round(share * 100));
}

/** "Zinc: holds in 92 of 100 batches, 99 of 100 weeks and 100 of 100 months". */
export function spokenChance(of: Chance): string {
  const name = spelled(of.name);
  if (!byTable(of)) return `${name}: ${of.status} by its tables`;
  const known = of.of_known ? ", counting what is known alone" : "";
  const day = of.day ? `; its ceiling on ${ofHundred(of.day.share)} of 100 single days` : "";
  return `${name}: holds in ${ofHundred(of.batch.share)} of 100 batches, ${ofHundred(of.week.share)} of 100 weeks, ${ofHundred(of.month.share)} of 100 months${day}${known}`;
}

/** The bounds in words: "at least 18, at most 500 mg". */
export function boundsText(of: Chance): string {
  const parts = [
    of.minimum == null ? "" : `at least ${figureText(of.minimum)}`,
    of.ceiling == null ? "" : `at most ${figureText(of.ceiling)}`,
  ].filter(Boolean);
  return `${parts.join(", ")}${of.unit === "ratio" ? "" : ` ${unitText(of.unit)}`}`;
}
