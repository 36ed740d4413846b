/** The rail that all windows hang on: multiples of what is asked for, in doublings from a quarter to thirty-two. */
export const LEAST_DOUBLING = -2;
export const MOST_DOUBLING = 5;
/** A window that nothing asks for an amount in hangs from its ceiling, which stands here. */
const CEILING_ALONE = 16;

/** The ticks over the rails: the multiple, and how it is written. */
export const TICKS: readonly (readonly [number, string])[] = [
  [1, "rail"],
  [4, "4"],
  [16, "16×"],
];

/** Where a multiple of the rail lies, as a share of the width; what lies beyond is drawn at the edge. */
export function placeOf(multiple: number): number {
  if (multiple <= 0) return 0;
  const doubling = Math.log2(multiple);
  const share = (doubling - LEAST_DOUBLING) / (MOST_DOUBLING - LEAST_DOUBLING);
  return Math.min(1, Math.max(0, share));
}

export interface Hung {
  rail: number | null;
  max: number | null;
  safe_limit: number | null;
}

/** One multiple of a limit, in its unit: its rail, or what puts its ceiling where a ceiling alone stands; null when it
 * has neither. */
export function unitOf(limit: Hung): number | null {
  if (limit.rail) return limit.rail;
  const tops = [limit.max, limit.safe_limit].filter((x) => x != null && x > 0) as number[];
  return tops.length ? Math.min(...tops) / CEILING_ALONE : null;
}

/** A figure moved by a step: one in a hundred of it, or ten. */
export function moved(value: number, up: boolean, far: boolean): number {
  const step = far ? 0.1 : 0.01;
  return Number((value * (up ? 1 + step : 1 - step)).toPrecision(4));
}
