import type { Yard } from "~/api/client";
import { number, spelled, unitText } from "~/shared/format";

/** A board is filled up to so many times its bound; the rail stands at once. */
const MOST = 2;
const WIDTH = 12;
const HEIGHT = 18;
const RAIL = HEIGHT / MOST;

/** A board in short: how far a food's density fills it, the rail (or, over a ceiling, the cornice) at its bound. */
export function Board({
  times,
  ceiling,
  pale = false,
  over = false,
}: {
  times: number | null;
  /** The recipe is over here: what stays under helps. */
  ceiling: boolean;
  pale?: boolean;
  /** More than a ceiling by itself. */
  over?: boolean;
}) {
  const height = (Math.min(times ?? 0, MOST) / MOST) * HEIGHT;
  const helps = times !== null && (ceiling ? times < 1 : times > 1);
  return (
    <g>
      <rect width={WIDTH} height={HEIGHT} className="fill-groove" />
      {times === null ? (
        <rect
          x="0.5"
          y="0.5"
          width={WIDTH - 1}
          height={HEIGHT - 1}
          className="fill-none stroke-ink"
          strokeWidth="0.8"
          strokeDasharray="2 1.5"
          vectorEffect="non-scaling-stroke"
        />
      ) : (
        <rect
          y={HEIGHT - height}
          width={WIDTH}
          height={height}
          className={helps && !pale ? "fill-oak-deep" : "fill-oak-pale"}
        />
      )}
      <line
        x1="-1"
        x2={WIDTH + 1}
        y1={RAIL}
        y2={RAIL}
        className="stroke-ink"
        strokeWidth={ceiling ? 2 : 1.2}
        vectorEffect="non-scaling-stroke"
      />
      {(over || (ceiling && times !== null && times > 1)) && (
        <path d={`M 0 4 V 0 L 3 2 L 6 0 L 9 2 L ${WIDTH} 0 V 4 Z`} className="fill-madder" />
      )}
    </g>
  );
}

/** A food beside the gaps of a recipe, a board for each. */
export function Strip({
  gaps,
  times,
  step,
}: {
  gaps: readonly Yard[];
  times: readonly (number | null)[];
  /** Pixels from one board to the next. */
  step: number;
}) {
  return (
    <svg aria-hidden="true" width={gaps.length * step} height={HEIGHT} className="block">
      {gaps.map((gap, i) => (
        <g key={gap.key} transform={`translate(${i * step + (step - WIDTH) / 2}, 0)`}>
          <Board times={times[i] ?? null} ceiling={gap.gap === "ceiling"} />
        </g>
      ))}
    </svg>
  );
}

/** What a strip says, in words. */
export function closesWords(gaps: readonly Yard[], times: readonly (number | null)[]): string {
  const said = (want: (gap: Yard, t: number | null) => boolean) =>
    gaps.filter((gap, i) => want(gap, times[i] ?? null)).map((gap) => spelled(gap.name));
  const helps = said((gap, t) => t !== null && (gap.gap === "ceiling" ? t < 1 : t > 1));
  const unknown = said((_, t) => t === null);
  return [
    helps.length > 0 ? `helps with ${helps.join(", ")}` : "helps with none of the gaps",
    unknown.length > 0 ? `not known: ${unknown.join(", ")}` : "",
  ]
    .filter(Boolean)
    .join("; ");
}

/** A figure and what is asked: "28 mg of 20". */
export function beside(yard: Yard, value: number | null): string {
  if (value === null) return "not known";
  const bound = yard.gap === "ceiling" ? yard.ceiling : (yard.minimum ?? yard.ceiling);
  const most = bound !== null && bound !== yard.minimum;
  return `${number(value, yard.decimals)} ${unitText(yard.unit)}${bound === null ? "" : `, ${most ? "most" : "asked"} ${number(bound, yard.decimals)}`}`;
}
