import type { ReactNode } from "react";
import type { Follow, FollowEntry, Trend, Trial } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { bodyFigure, bodyWeight, day, number } from "~/shared/format";
import { type Axis, LEFT, RIGHT, steps, WIDE } from "./axis";
import { phaseWords } from "./trialWords";

/** A strip of a timeline: what it is, and what is drawn in it from y = 0 on. */
export interface Lane {
  name: string;
  under: string[];
  high: number;
  draw: ReactNode;
}

const END = WIDE - RIGHT;

function Rail({ y, label, dashes = "" }: { y: number; label: string; dashes?: string }) {
  return (
    <g>
      <line x1={LEFT} x2={END} y1={y} y2={y} stroke="var(--ink)" strokeDasharray={dashes} />
      <text x={END + 6} y={y + 4} className="fill-soft text-axis">
        {label}
      </text>
    </g>
  );
}

function Scale({
  at,
  y,
  text,
}: {
  at: readonly number[];
  y: (n: number) => number;
  text: (n: number) => string;
}) {
  return (
    <>
      {at.map((n) => (
        <text key={n} x={LEFT - 6} y={y(n) + 4} textAnchor="end" className="fill-soft text-axis">
          {text(n)}
        </text>
      ))}
    </>
  );
}

const FILL: Record<string, string> = {
  baseline: "var(--wood-4)",
  "change-over": "url(#lane-stripes)",
  trial: "var(--wood-1)",
  provocation: "url(#lane-hatch)",
  confirming: "var(--wood-2)",
  ready: "var(--wood-4)",
  item: "url(#lane-hatch)",
  washout: "var(--wood-2)",
};

/** Phases of a trial as one band. */
export function phasesLane(axis: Axis, trials: readonly Trial[], now: string): Lane {
  const spans = trials.flatMap((t) => t.now.spans).filter((s) => (s.end ?? now) > s.start);
  return {
    name: "Phases",
    under: [],
    high: 40,
    draw: spans.map((span) => {
      const from = axis.x(span.start) - axis.wide / 2;
      const wide = axis.x(span.end ?? now) - axis.wide / 2 - from;
      const words = phaseWords(span.phase, span.food);
      return (
        <g key={span.start + span.phase}>
          <rect
            x={from}
            y={18}
            width={wide}
            height={20}
            fill={FILL[span.phase]}
            stroke="var(--wood-edge)"
          >
            <title>
              {words}, from {day(span.start)}
            </title>
          </rect>
          {wide > words.length * 5.6 && (
            <text x={from + 2} y={13} className="fill-ink text-axis">
              {words}
            </text>
          )}
        </g>
      );
    }),
  };
}

/** What happened: versions, sign-offs, batches, slips, foods that were swapped, flares. Null where nothing did. */
export function marksLane(axis: Axis, found: Follow): Lane | null {
  const slips = found.trials.flatMap((t) =>
    t.now.exposures.map((date) => ({ date, words: "a slip" })),
  );
  const swaps = counted(found.entries).flatMap((e) =>
    e.entry.changed ? [{ date: e.entry.date, words: `changed: ${e.entry.changed}` }] : [],
  );
  const flares = found.trials.flatMap((t) => t.made).filter((m) => m.move.kind === "flare");
  const crossed = [...slips, ...swaps];
  const { marks } = found;
  if (marks.length + crossed.length + flares.length === 0) return null;
  const kinds = [
    ...(marks.some((m) => m.kind === "issued") ? ["square: issued"] : []),
    ...(marks.some((m) => m.kind === "signed") ? ["tick: signed"] : []),
    ...(marks.some((m) => m.kind === "batch") ? ["ring: cooked"] : []),
    ...(crossed.length > 0 ? ["cross: slip, swap"] : []),
    ...(flares.length > 0 ? ["triangle: flare"] : []),
  ];
  return {
    name: "Events",
    under: [kinds.slice(0, 2).join(", "), kinds.slice(2).join(", ")],
    high: 34,
    draw: (
      <>
        <line x1={LEFT} x2={END} y1={12} y2={12} stroke="var(--line)" />
        {marks.map((mark) =>
          mark.kind === "issued" ? (
            <rect
              key={mark.words}
              x={axis.x(mark.date) - 5}
              y={7}
              width={10}
              height={10}
              fill="var(--ink)"
            >
              <title>
                {day(mark.date)}: issued, {mark.words}
              </title>
            </rect>
          ) : mark.kind === "signed" ? (
            // Under the line: it is mostly issued on the same day.
            <path
              key={mark.words}
              d={`M${axis.x(mark.date) - 5} 25l3 4l7 -8`}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={2}
            >
              <title>
                {day(mark.date)}: {mark.words}
              </title>
            </path>
          ) : (
            <circle
              key={mark.words}
              cx={axis.x(mark.date)}
              cy={12}
              r={5}
              fill="var(--paper)"
              stroke="var(--ink)"
              strokeWidth={1.5}
            >
              <title>
                {day(mark.date)}: {mark.words}
              </title>
            </circle>
          ),
        )}
        {crossed.map((s) => (
          <path
            key={s.date + s.words}
            d={`M${axis.x(s.date) - 4} 8l8 8m0 -8l-8 8`}
            stroke="var(--madder)"
            strokeWidth={2}
          >
            <title>
              {day(s.date)}: {s.words}
            </title>
          </path>
        ))}
        {flares.map((m) => (
          <path key={m.move.date} d={`M${axis.x(m.move.date)} 6l6 11h-12z`} fill="var(--madder)">
            <title>
              {day(m.move.date)}: a flare, {m.grounds.join("; ")}
            </title>
          </path>
        ))}
      </>
    ),
  };
}

/** A day’s itch is a board that stands on its line. */
export function itchLane(axis: Axis, found: Follow): Lane {
  const high = 78;
  const y = (n: number) => high - (n / 10) * (high - 6);
  const course = found.trials[0]?.now.courses.find((c) => c.name === "itch");
  const wide = Math.max(1.5, Math.min(14, axis.wide * 0.7));
  return {
    name: "Itch",
    under: ["0 to 10"],
    high: high + 8,
    draw: (
      <>
        <Scale at={[0, 5, 10]} y={y} text={(n) => number(n)} />
        <line x1={LEFT} x2={END} y1={y(0)} y2={y(0)} stroke="var(--line)" />
        {counted(found.entries).map((row) =>
          row.entry.itch == null ? null : (
            <rect
              key={row.id}
              x={axis.x(row.entry.date) - wide / 2}
              y={y(row.entry.itch)}
              width={wide}
              height={Math.max(1, y(0) - y(row.entry.itch))}
              fill="var(--wood-1)"
            >
              <title>
                {day(row.entry.date)}: itch {number(row.entry.itch, row.entry.itch % 1 ? 1 : 0)}
              </title>
            </rect>
          ),
        )}
        {course?.wanted != null && (
          <Rail y={y(course.wanted)} label={`wanted ${number(course.wanted, 1)}`} dashes="3 3" />
        )}
      </>
    ),
  };
}

/** A day’s stool: a square while it is well, a triangle when it is soft. */
export function stoolLane(axis: Axis, found: Follow): Lane {
  const high = 54;
  const y = (n: number) => high - ((n - 1) / 6) * (high - 8) - 2;
  const size = Math.max(3, Math.min(8, axis.wide * 0.8));
  return {
    name: "Stool",
    under: ["1 dry to 7 water", "shaded: 2 and 3"],
    high: high + 8,
    draw: (
      <>
        <rect
          x={LEFT}
          y={y(3.5)}
          width={END - LEFT}
          height={y(1.5) - y(3.5)}
          fill="var(--groove)"
        />
        <Scale at={[1, 4, 7]} y={y} text={(n) => number(n)} />
        {counted(found.entries).map((row) => {
          const score = row.entry.stool;
          if (score == null) return null;
          const x = axis.x(row.entry.date);
          const words = `${day(row.entry.date)}: stool ${score}`;
          return score >= 5 ? (
            <path
              key={row.id}
              d={`M${x} ${y(score) - 5}l5 9h-10z`}
              fill={score >= 6 ? "var(--madder)" : "none"}
              stroke="var(--madder)"
              strokeWidth={1.5}
            >
              <title>{words}</title>
            </path>
          ) : (
            <rect
              key={row.id}
              x={x - size / 2}
              y={y(score) - size / 2}
              width={size}
              height={size}
              fill="var(--ink)"
            >
              <title>{words}</title>
            </rect>
          );
        })}
      </>
    ),
  };
}

/** Weights against what the plan means, and the path that is believed with its band. */
export function weightLane(axis: Axis, trend: Trend): Lane | null {
  const { path, weights, plan_path } = trend;
  if (path.length < 2) return null;
  const high = 118;
  const figures = [...path, ...plan_path].flatMap((p) => [p.low, p.high]);
  figures.push(...weights.map((w) => w.weight_kg));
  const least = Math.min(...figures);
  const most = Math.max(...figures);
  const y = (kg: number) => high - 4 - ((kg - least) / Math.max(most - least, 0.01)) * (high - 12);
  type Point = (typeof path)[number];
  const line = (points: readonly Point[], of: (p: Point) => number) =>
    points
      .map((p, i) => `${i ? "L" : "M"}${axis.x(p.date).toFixed(1)} ${y(of(p)).toFixed(1)}`)
      .join("");
  const band = (points: readonly Point[]) =>
    `${line(points, (p) => p.high)}${[...points]
      .reverse()
      .map((p) => `L${axis.x(p.date).toFixed(1)} ${y(p.low).toFixed(1)}`)
      .join("")}Z`;
  const meant = plan_path.at(-1);
  return {
    name: "Weight",
    under: [
      `${conventions().body}; shaded: the plan`,
      "line: by all weights",
      "open dot: looks wrong",
    ],
    high: high + 10,
    draw: (
      <>
        <Scale
          at={steps(least, most)}
          y={y}
          text={(kg) => number(bodyFigure(kg), most - least < 1 ? 2 : 1)}
        />
        {plan_path.length > 1 && <path d={band(plan_path)} fill="var(--groove)" />}
        {plan_path.length > 1 && (
          <path
            d={line(plan_path, (p) => p.weight_kg)}
            fill="none"
            stroke="var(--soft)"
            strokeDasharray="8 3"
          />
        )}
        {[(p: Point) => p.low, (p: Point) => p.high].map((of, i) => (
          <path
            key={i ? "high" : "low"}
            d={line(path, of)}
            fill="none"
            stroke="var(--edge)"
            strokeDasharray="2 3"
          />
        ))}
        <path
          d={line(path, (p) => p.weight_kg)}
          fill="none"
          stroke="var(--oak-deep)"
          strokeWidth={2.5}
        />
        {weights.map((w, i) => (
          <circle
            key={`${w.date}-${i}`}
            cx={axis.x(w.date)}
            cy={y(w.weight_kg)}
            r={4}
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
        {meant && (
          <text x={END + 6} y={y(meant.weight_kg) + 4} className="fill-soft text-axis">
            plan {bodyWeight(meant.weight_kg)}
          </text>
        )}
      </>
    ),
  };
}

/** kcal of each day that says so, against what the plan gives and what is learnt to hold the weight. */
export function energyLane(axis: Axis, found: Follow): Lane | null {
  const { trend, plan_kcal, plans } = found;
  const fed = counted(found.entries).filter((e) => e.fed_kcal !== null);
  const learnt = trend?.kcal_hold == null ? null : trend;
  if (plan_kcal === null || (fed.length === 0 && learnt === null)) return null;
  const high = 76;
  // Each plan from its day on; before the first was issued, as that one.
  const given = plans.length > 0 ? plans : [{ since: "", kcal: plan_kcal }];
  const figures = [...given.map((p) => p.kcal), ...fed.map((e) => e.fed_kcal ?? 0)];
  if (learnt) figures.push(learnt.low ?? plan_kcal, learnt.high ?? plan_kcal);
  const least = Math.min(...figures) * 0.98;
  const most = Math.max(...figures) * 1.02;
  const y = (kcal: number) => high - 4 - ((kcal - least) / (most - least)) * (high - 12);
  const wide = Math.max(4, Math.min(12, axis.wide * 0.8));
  return {
    name: "Energy",
    under: ["kcal a day; dashes: fed", "bracket: holds the weight"],
    high: high + 8,
    draw: (
      <>
        <Scale at={steps(least, most)} y={y} text={(kcal) => number(kcal)} />
        <path
          d={`${given
            .map((p, i) => (i === 0 ? `M${LEFT} ${y(p.kcal)}` : `H${axis.x(p.since)}V${y(p.kcal)}`))
            .join("")}H${END}`}
          fill="none"
          stroke="var(--soft)"
          strokeDasharray="8 3"
        />
        {given.map((p, i) => (
          <text
            key={p.since}
            x={(i === 0 ? LEFT : axis.x(p.since)) + 4}
            y={y(p.kcal) - 4}
            className="fill-soft text-axis"
          >
            {i === 0 ? `the plan, ${number(p.kcal)}` : number(p.kcal)}
          </text>
        ))}
        {fed.map((row) => (
          <path
            key={row.id}
            d={`M${axis.x(row.entry.date) - wide / 2} ${y(row.fed_kcal ?? 0)}h${wide}`}
            stroke="var(--ink)"
            strokeWidth={2.4}
          >
            <title>
              {day(row.entry.date)}: {number(row.fed_kcal)} kcal fed
            </title>
          </path>
        ))}
        {learnt && (
          <>
            <path
              d={`M${END - 6} ${y(learnt.high ?? 0)}h6V${y(learnt.low ?? 0)}h-6`}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={2}
            />
            <text
              x={END + 6}
              y={y(learnt.kcal_hold ?? 0) + 5}
              className="fill-ink font-semibold text-data"
            >
              {number(learnt.kcal_hold)}
            </text>
          </>
        )}
      </>
    ),
  };
}

/** What is not struck, the oldest first. */
export function counted(entries: readonly FollowEntry[]): FollowEntry[] {
  return entries.filter((e) => !e.struck).toReversed();
}
