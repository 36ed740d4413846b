import { useState } from "react";
import type { Follow } from "~/api/client";
import { dateOf, dayNumber, today } from "~/shared/days";
import { bodyWeight, day, number } from "~/shared/format";
import { Sideways } from "~/ui";
import { type Axis, axisOf, LEFT, RIGHT, ticksOf, WIDE } from "./axis";
import { labLane } from "./labLane";
import {
  counted,
  energyLane,
  itchLane,
  type Lane,
  marksLane,
  phasesLane,
  stoolLane,
  weightLane,
} from "./lanes";

const TOP = 8;
const GAP = 10;
/** So many tests are drawn; those out of their range come first. */
const MOST_TESTS = 5;

/** All that is known of a dog on one axis of days: phases, what happened, itch, stool, weight, energy. An arrow key reads
 * the day before or after. */
export function Timeline({ found, name }: { found: Follow; name: string }) {
  const now = today();
  const rows = counted(found.entries);
  const dates = [
    ...rows.map((e) => e.entry.date),
    ...found.trials.flatMap((t) => [t.plan.started, ...t.now.due.slice(-1).map((d) => d.date)]),
    ...found.marks.map((m) => m.date),
    ...found.series.flatMap((s) => s.points.map((p) => p.date)),
  ];
  const [on, setOn] = useState<string | null>(null);
  if (dates.length === 0) return null;
  const axis = axisOf([...dates, now]);
  const lanes: Lane[] = [];
  if (found.trials.length > 0) lanes.push(phasesLane(axis, found.trials, now));
  const marks = marksLane(axis, found);
  if (marks) lanes.push(marks);
  if (rows.some((e) => e.entry.itch != null)) lanes.push(itchLane(axis, found));
  if (rows.some((e) => e.entry.stool != null)) lanes.push(stoolLane(axis, found));
  const weight = found.trend && weightLane(axis, found.trend);
  if (weight) lanes.push(weight);
  const energy = energyLane(axis, found);
  if (energy) lanes.push(energy);
  for (const series of found.series.slice(0, MOST_TESTS)) lanes.push(labLane(axis, series));
  if (lanes.length === 0) return null;
  const tops: number[] = [];
  let foot = TOP - GAP;
  for (const lane of lanes) {
    tops.push(foot + GAP);
    foot += GAP + lane.high;
  }
  const shown = on ?? now;
  return (
    <section aria-label="Timeline" className="mt-3">
      <p aria-live="polite" className="flex min-h-6 flex-wrap items-baseline gap-x-4">
        <b className="font-semibold">{day(shown)}</b>
        <span>{wordsOf(found, shown)}</span>
      </p>
      <Sideways>
        <div
          role="slider"
          tabIndex={0}
          aria-label={`Day of ${name}`}
          aria-valuemin={axis.first}
          aria-valuemax={axis.last}
          aria-valuenow={dayNumber(shown)}
          aria-valuetext={`${day(shown)}: ${wordsOf(found, shown)}`}
          className="min-w-[52rem]"
          onKeyDown={(event) => {
            const by = STEPS[event.key];
            if (by === undefined) return;
            event.preventDefault();
            const to = dayNumber(shown) + by * (event.shiftKey ? 7 : 1);
            setOn(dateOf(Math.min(axis.last, Math.max(axis.first, to))));
          }}
        >
          <svg
            viewBox={`0 0 ${WIDE} ${foot + 26}`}
            role="img"
            aria-label={summary(found, axis)}
            className="w-full"
            onPointerMove={(event) => {
              const box = event.currentTarget.getBoundingClientRect();
              const x = ((event.clientX - box.left) / box.width) * WIDE;
              const n = Math.floor((x - LEFT) / axis.wide);
              if (n >= 0 && n <= axis.last - axis.first) setOn(dateOf(axis.first + n));
            }}
          >
            <Patterns />
            {lanes.map((lane, i) => (
              <g key={lane.name} transform={`translate(0 ${tops[i]})`}>
                <text x={0} y={14} className="fill-ink font-semibold text-data">
                  {lane.name}
                </text>
                {lane.under.map((words, n) => (
                  <text key={words} x={0} y={28 + n * 13} className="fill-soft text-axis">
                    {words}
                  </text>
                ))}
                {lane.draw}
              </g>
            ))}
            <Foot axis={axis} y={foot} />
            <line
              x1={axis.x(now)}
              x2={axis.x(now)}
              y1={TOP}
              y2={foot}
              stroke="var(--ink)"
              strokeWidth={2}
            />
            {on !== null && (
              <line
                x1={axis.x(on)}
                x2={axis.x(on)}
                y1={TOP}
                y2={foot}
                stroke="var(--verdigris)"
                strokeWidth={1.5}
              />
            )}
          </svg>
        </div>
      </Sideways>
    </section>
  );
}

const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, Home: -10_000, End: 10_000 };

function Foot({ axis, y }: { axis: Axis; y: number }) {
  return (
    <g>
      <line x1={LEFT} x2={WIDE - RIGHT} y1={y} y2={y} stroke="var(--soft)" />
      {ticksOf(axis).map((date) => (
        <g key={date}>
          <line x1={axis.x(date)} x2={axis.x(date)} y1={y} y2={y + 5} stroke="var(--soft)" />
          <text x={axis.x(date)} y={y + 18} textAnchor="middle" className="fill-soft text-axis">
            {day(date)}
          </text>
        </g>
      ))}
    </g>
  );
}

function Patterns() {
  return (
    <defs>
      <pattern id="lane-stripes" width="5" height="8" patternUnits="userSpaceOnUse">
        <rect width="5" height="8" fill="var(--wood-4)" />
        <path d="M1 0V8" stroke="var(--wood-3)" strokeWidth="1.5" />
      </pattern>
      <pattern id="lane-hatch" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" fill="var(--wood-3)" />
        <path d="M-1 7L7 -1" stroke="var(--wood-4)" strokeWidth="1.5" />
      </pattern>
    </defs>
  );
}

/** What was put down of a day. */
function wordsOf(found: Follow, date: string): string {
  const rows = counted(found.entries).filter((e) => e.entry.date === date);
  const said = rows.flatMap(({ entry, fed_kcal }) => [
    ...(entry.weight_kg == null ? [] : [bodyWeight(entry.weight_kg)]),
    ...(entry.itch == null ? [] : [`itch ${number(entry.itch, entry.itch % 1 ? 1 : 0)}`]),
    ...(entry.stool == null ? [] : [`stool ${entry.stool}`]),
    ...(entry.vomiting ? [`vomited ${entry.vomiting} times`] : []),
    ...(fed_kcal === null ? [] : [`fed ${number(fed_kcal)} kcal`]),
    ...(entry.changed ? [`changed: ${entry.changed}`] : []),
    ...(entry.note ? [entry.note] : []),
  ]);
  const marks = found.marks.filter((m) => m.date === date).map((m) => m.words);
  return [...said, ...marks].join(", ") || "nothing was put down";
}

function summary(found: Follow, axis: Axis): string {
  const weights = found.trend?.weights ?? [];
  const first = weights[0];
  const last = weights.at(-1);
  const parts = [`From ${day(dateOf(axis.first))} to ${day(dateOf(axis.last))}.`];
  if (first && last)
    parts.push(
      `Weight: ${bodyWeight(first.weight_kg)} at first, ${bodyWeight(last.weight_kg)} at last, ${weights.length} weighings.`,
    );
  for (const course of found.trials[0]?.now.courses ?? [])
    parts.push(
      `${course.name === "itch" ? "Itch" : "Stool"}: ${number(course.baseline, 1)} at first, ${number(course.now, 1)} in the last week.`,
    );
  return parts.join(" ");
}
