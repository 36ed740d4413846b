import type { LabSeries } from "~/api/client";
import { day, number, unitText } from "~/shared/format";
import { type Axis, RIGHT, WIDE } from "./axis";
import { decimalsOf } from "./Laboratory";
import type { Lane } from "./lanes";

const END = WIDE - RIGHT;

/** A laboratory test: each value with the range of its own report. */
export function labLane(axis: Axis, series: LabSeries): Lane {
  const high = 46;
  const figures = series.points.flatMap((p) => [p.value, p.low ?? p.value, p.high ?? p.value]);
  const least = Math.min(...figures);
  const most = Math.max(...figures);
  const y = (n: number) => high - 6 - ((n - least) / Math.max(most - least, 1e-9)) * (high - 16);
  const last = series.points.at(-1);
  return {
    name: series.name,
    under: [unitText(series.unit)],
    high: high + 4,
    draw: (
      <>
        {series.points.map((p, i) => {
          const x = axis.x(p.date);
          const top = p.high === null ? 2 : y(p.high);
          const foot = p.low === null ? high - 2 : y(p.low);
          return (
            <g key={`${p.date}-${i}`}>
              {p.stand !== "unknown" && (
                <rect
                  x={x - 7}
                  y={top}
                  width={14}
                  height={Math.max(1, foot - top)}
                  fill="var(--wood-4)"
                  stroke="var(--edge)"
                />
              )}
              <path
                d={SHAPES[p.stand](x, y(p.value))}
                fill={FILLS[p.stand]}
                stroke={STROKES[p.stand]}
                strokeWidth={1.5}
              >
                <title>
                  {day(p.date)}: {p.printed}
                  {p.range && `, its range ${p.range}`}
                </title>
              </path>
            </g>
          );
        })}
        <path
          d={series.points
            .map((p, i) => `${i ? "L" : "M"}${axis.x(p.date)} ${y(p.value)}`)
            .join("")}
          fill="none"
          stroke="var(--soft)"
        />
        {last && (
          <text
            x={END + 6}
            y={y(last.value) + 4}
            className={series.outside ? "fill-madder text-axis" : "fill-soft text-axis"}
          >
            {number(last.value, decimalsOf(last.value))} {unitText(series.unit)}
          </text>
        )}
      </>
    ),
  };
}

type Stand = LabSeries["points"][number]["stand"];

const dot = (x: number, y: number) => `M${x - 4} ${y}a4 4 0 1 0 8 0a4 4 0 1 0 -8 0`;
const SHAPES: Record<Stand, (x: number, y: number) => string> = {
  within: dot,
  unknown: dot,
  over: (x, y) => `M${x} ${y - 5}l5 9h-10z`,
  under: (x, y) => `M${x} ${y + 5}l5 -9h-10z`,
};
const FILLS: Record<Stand, string> = {
  within: "var(--ink)",
  unknown: "var(--paper)",
  over: "var(--madder)",
  under: "var(--madder)",
};
const STROKES: Record<Stand, string> = { ...FILLS, unknown: "var(--ink)" };
