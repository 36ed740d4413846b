/** A plank that rises into the band of its weight, to be read at arm's length: the band stands always at the same
 * height, and what is over it is over the plank. */
export function Plank({
  value,
  target,
  low,
  high,
  told,
  under,
}: {
  value: number | null;
  target: number;
  low: number;
  high: number;
  told: string;
  under: string;
}) {
  // The target at three quarters of the height; the band never thinner than can be seen.
  const at = (grams: number) => Math.max(0, Math.min(1, (0.75 * grams) / (target || 1)));
  const half = Math.max(at(high) - at(target), 0.05);
  const top = 0.75 + half;
  const foot = 0.75 - half;
  const filled = value === null ? 0 : place(value, target, low, high, foot, top);
  const inside = value !== null && value >= low && value <= high;
  const percent = (share: number) => `${100 * share}%`;
  return (
    <div
      aria-hidden="true"
      className="relative h-full overflow-hidden border-line border-l bg-groove"
    >
      <div
        className="absolute inset-x-0 bg-sheet"
        style={{ bottom: percent(foot), height: percent(top - foot) }}
      />
      <div
        className="absolute inset-x-1.5 bottom-0"
        style={{ height: percent(filled), backgroundColor: "var(--wood-1)" }}
      />
      <div
        className={`absolute inset-x-0 bg-ink ${inside ? "h-1.5" : "h-[3px]"}`}
        style={{ bottom: "75%" }}
      />
      <div className="absolute inset-x-0 h-px bg-ink" style={{ bottom: percent(foot) }} />
      <div className="absolute inset-x-0 h-px bg-ink" style={{ bottom: percent(top) }} />
      <div className="absolute top-1.5 left-1 bg-groove px-0.5 font-semibold text-part leading-tight mid:left-3 mid:px-1.5 mid:text-page">
        {told}
        <span className="block font-normal text-axis mid:text-data">{under}</span>
      </div>
    </div>
  );
}

/** Where a weight stands: in its own part under, within or over the band, which is drawn larger than it is. */
function place(
  value: number,
  target: number,
  low: number,
  high: number,
  foot: number,
  top: number,
): number {
  if (value < low) return low > 0 ? (foot * Math.max(0, value)) / low : 0;
  if (value > high) return Math.min(1, top + ((1 - top) * (value - high)) / (target || 1));
  return high > low ? foot + ((top - foot) * (value - low)) / (high - low) : 0.75;
}
