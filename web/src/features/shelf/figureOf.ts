import { number } from "~/shared/format";

/** An amount with three figures that count. */
export function figureOf(amount: number): string {
  if (amount === 0) return "0";
  const digits = 2 - Math.floor(Math.log10(Math.abs(amount)));
  return number(amount, Math.min(Math.max(digits, 0), 4));
}
