/** Heights on the wall as shares of a board: the rail is the minimum, the cornice the maximum. */
export const RAIL = 0.5;
export const CORNICE = 0.88;
/** Above this ratio of maximum to minimum the part above the rail is logarithmic. */
const WIDE = 3;

/** Height of an amount, 0 to 1; null when there is nothing to measure it against. */
export function heightOf(
  value: number,
  min: number | null | undefined,
  max: number | null | undefined,
): number | null {
  if (min != null && min > 0) {
    if (value <= min) return (RAIL * value) / min;
    if (max == null) return RAIL + (CORNICE - RAIL) * (1 - min / value);
    if (value <= max) {
      const share =
        max / min > WIDE
          ? Math.log(value / min) / Math.log(max / min)
          : max > min
            ? (value - min) / (max - min)
            : 1;
      return RAIL + (CORNICE - RAIL) * share;
    }
    return overHeight(value, max);
  }
  if (max != null && max > 0) {
    return value <= max ? (CORNICE * value) / max : overHeight(value, max);
  }
  return null;
}

function overHeight(value: number, max: number): number {
  return CORNICE + (1 - CORNICE) * Math.min(1, 0.35 + 0.65 * Math.log2(value / max));
}

/** The amount that stands at a height, where one does: the other way round from heightOf. */
export function amountAt(
  height: number,
  min: number | null | undefined,
  max: number | null | undefined,
): number | null {
  const h = Math.max(0, Math.min(height, CORNICE));
  if (min != null && min > 0) {
    if (h <= RAIL) return (min * h) / RAIL;
    const share = (h - RAIL) / (CORNICE - RAIL);
    if (max == null) return min / Math.max(1 - share, LEAST_LEFT);
    if (max <= min) return max;
    return max / min > WIDE ? min * (max / min) ** share : min + (max - min) * share;
  }
  return max != null && max > 0 ? (max * h) / CORNICE : null;
}

/** Without a maximum a board never ends: from so near its top nothing is told apart. */
const LEAST_LEFT = 0.1;
