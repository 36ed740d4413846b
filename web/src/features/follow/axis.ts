import { dateOf, dayNumber } from "~/shared/days";

/** Days on the one axis that all lanes of a timeline share. */

export const WIDE = 1080;
export const LEFT = 150;
export const RIGHT = 92;

export interface Axis {
  first: number;
  last: number;
  /** Pixels of a day. */
  wide: number;
  x: (date: string) => number;
}

/** An axis over dates, the first and the last within. */
export function axisOf(dates: readonly string[]): Axis {
  const all = dates.map(dayNumber);
  const first = Math.min(...all);
  const last = Math.max(...all, first + 13);
  const wide = (WIDE - LEFT - RIGHT) / (last - first + 1);
  return { first, last, wide, x: (date) => LEFT + (dayNumber(date) - first + 0.5) * wide };
}

/** The first of each month on an axis; of each week where it is short. */
export function ticksOf(axis: Axis): string[] {
  const found = [];
  const monthly = axis.last - axis.first > 70;
  for (let n = axis.first; n <= axis.last; n += 1) {
    const date = dateOf(n);
    const monday = (n + 3) % 7 === 0;
    if (monthly ? date.endsWith("-01") : monday) found.push(date);
  }
  return found;
}

/** Figures to draw lines at, three or so. */
export function steps(low: number, high: number): number[] {
  const raw = (high - low) / 3;
  if (!(raw > 0)) return [low];
  const size = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((n) => n * size).find((n) => n >= raw) ?? raw;
  const found = [];
  for (let at = Math.ceil(low / step) * step; at <= high; at += step)
    found.push(Number(at.toFixed(6)));
  return found;
}
