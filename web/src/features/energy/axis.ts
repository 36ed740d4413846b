/** Round figures to write along a scale that ends at `most`: 1, 2 or 5 times a power of ten apart, at most `count`. */
export function ticks(most: number, count: number): number[] {
  if (!(most > 0) || count < 1) return [];
  const rough = most / count;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((n) => n * power).find((n) => n >= rough) ?? 10 * power;
  return Array.from({ length: Math.floor(most / step + 1e-9) }, (_, n) =>
    Number(((n + 1) * step).toPrecision(12)),
  );
}

/** A figure between 1 and the end of the scale, in whole kcal. */
export function onScale(kcal: number, most: number): number {
  return Math.round(Math.min(Math.floor(most), Math.max(1, kcal)));
}
