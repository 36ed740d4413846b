import type { Trend } from "~/api/client";
import { bodyFigure, bodyWeight, day, nearDay, number } from "~/shared/format";
import { Sideways } from "~/ui";

const WIDE = 720;
const HIGH = 240;
const LEFT = 44;
const FOOT = 26;

/** Weights against the path that is believed, with its band; what looks wrong is drawn open. Read in grey: the band is
 * between two lines, the path is thick. */
export function WeightPlot({ trend, ideal }: { trend: Trend; ideal: number | null }) {
  const { path, weights } = trend;
  const first = path[0];
  const last = path.at(-1);
  if (!first || !last || path.length < 2) return null;
  const start = at(first.date);
  const span = Math.max(at(last.date) - start, 1);
  const figures = [
    ...path.flatMap((p) => [p.low, p.high]),
    ...weights.map((w) => w.weight_kg),
    ...(ideal === null ? [] : [ideal]),
  ];
  const least = Math.min(...figures);
  const most = Math.max(...figures);
  const room = Math.max((most - least) * 0.08, 0.02 * most);
  const x = (date: string) => LEFT + ((at(date) - start) / span) * (WIDE - LEFT - 8);
  const y = (kg: number) =>
    HIGH - FOOT - ((kg - least + room) / (most - least + 2 * room)) * (HIGH - FOOT - 8);
  const line = (of: (p: (typeof path)[number]) => number) =>
    path.map((p, i) => `${i ? "L" : "M"}${x(p.date).toFixed(1)} ${y(of(p)).toFixed(1)}`).join("");
  const band = `${line((p) => p.high)}${[...path]
    .reverse()
    .map((p) => `L${x(p.date).toFixed(1)} ${y(p.low).toFixed(1)}`)
    .join("")}Z`;
  const words = `Weight from ${day(first.date)} to ${day(last.date)}: ${bodyWeight(first.weight_kg)} at first, ${bodyWeight(last.weight_kg)} now, ${number(weights.length)} weighings.`;
  return (
    <figure className="mt-4">
      <Sideways>
        <svg
          viewBox={`0 0 ${WIDE} ${HIGH}`}
          role="img"
          aria-label={words}
          className="w-full min-w-[34rem] max-w-4xl"
        >
          {ticks(least - room, most + room).map((kg) => (
            <g key={kg}>
              <line x1={LEFT} x2={WIDE - 8} y1={y(kg)} y2={y(kg)} stroke="var(--line)" />
              <text x={LEFT - 6} y={y(kg) + 4} textAnchor="end" className="fill-soft text-axis">
                {number(bodyFigure(kg), most - least < 1 ? 2 : 1)}
              </text>
            </g>
          ))}
          <path d={band} fill="var(--oak-pale)" stroke="none" />
          <path d={line((p) => p.low)} fill="none" stroke="var(--edge)" strokeDasharray="3 3" />
          <path d={line((p) => p.high)} fill="none" stroke="var(--edge)" strokeDasharray="3 3" />
          {ideal !== null && (
            <g>
              <line
                x1={LEFT}
                x2={WIDE - 8}
                y1={y(ideal)}
                y2={y(ideal)}
                stroke="var(--verdigris)"
                strokeDasharray="8 4"
              />
              <text x={WIDE - 10} y={y(ideal) - 4} textAnchor="end" className="fill-soft text-axis">
                ideal {bodyWeight(ideal)}
              </text>
            </g>
          )}
          <path
            d={line((p) => p.weight_kg)}
            fill="none"
            stroke="var(--oak-deep)"
            strokeWidth="2.5"
          />
          {weights.map((w, i) => (
            <circle
              key={`${w.date}-${i}`}
              cx={x(w.date)}
              cy={y(w.weight_kg)}
              r="4"
              fill={w.ask ? "var(--paper)" : "var(--ink)"}
              stroke={w.ask ? "var(--madder)" : "var(--ink)"}
              strokeWidth={w.ask ? 2 : 0}
            >
              <title>
                {day(w.date)}: {bodyWeight(w.weight_kg)}
                {w.ask && `; ${w.ask}`}
              </title>
            </circle>
          ))}
          {[first, path[Math.floor(path.length / 2)], last].map(
            (p, i) =>
              p && (
                <text
                  key={p.date}
                  x={x(p.date)}
                  y={HIGH - 8}
                  textAnchor={i === 0 ? "start" : i === 2 ? "end" : "middle"}
                  className="fill-soft text-axis"
                >
                  {nearDay(p.date)}
                </text>
              ),
          )}
        </svg>
      </Sideways>
      <figcaption className="text-data text-soft">
        Dots are weighings, open ones look wrong; the line is what it weighs by all of them, dashes
        hold it nine times in ten.
      </figcaption>
    </figure>
  );
}

function at(date: string): number {
  return Date.parse(`${date}T00:00:00Z`) / 86_400_000;
}

/** Weights to draw lines at, four or so. */
function ticks(low: number, high: number): number[] {
  const raw = (high - low) / 4;
  const size = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((n) => n * size).find((n) => n >= raw) ?? raw;
  const found = [];
  for (let kg = Math.ceil(low / step) * step; kg <= high; kg += step)
    found.push(Number(kg.toFixed(6)));
  return found;
}
