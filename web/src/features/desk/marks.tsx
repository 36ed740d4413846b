import type { DeskThing } from "~/api/client";
import { dayNumber } from "~/shared/days";
import { day } from "~/shared/format";

const BEFORE = 6;
const AFTER = 14;
const DAYS = BEFORE + AFTER + 1;
const STEP = 13;
export const STRIP_WIDE = DAYS * STEP;
const HIGH = 30;

type Kind = DeskThing["kind"];

/** A shape for each kind of thing, round (0, 0): told by its outline, not by its colour. */
const SHAPES: Record<Kind, string> = {
  symptom: "M0 -6L6 5H-6Z",
  weigh: "M-4 -4H4L6 5H-6Z",
  "vet-visit": "M-4 -6H4V6H-4Z",
  laboratory: "M-3 -6V3A3 3 0 0 0 3 3V-6",
  trial: "M-6 5H-2V1H2V-3H6",
  cook: "M-6 -3H6V2A3 3 0 0 1 3 5H-3A3 3 0 0 1 -6 2Z",
  amount: "M-6 0H6M-6 -4V4M6 -4V4",
  signature: "M-6 0H5M1 -4L6 0L1 4",
  issue: "M-5 -5H5V5H-5Z",
  draft: "M-5 5L3 -5L6 -3L-2 6Z",
  reopen: "M-5 4A6 6 0 1 1 5 4M5 4V-1M5 4H0",
  data: "M-6 5V-1H-2V5M-2 5V-6H2V5M2 5V1H6V5",
  "plan-age": "M0 -6A6 6 0 1 0 0.01 -6M0 -3V0L3 2",
  swapped: "M-5 -5L5 5M5 -5L-5 5",
  sheet: "M-5 -6H5V6H-5ZM-2 -2H2M-2 2H2",
};
const OPEN: readonly Kind[] = [
  "laboratory",
  "trial",
  "amount",
  "signature",
  "plan-age",
  "swapped",
  "reopen",
  "data",
  "sheet",
];

export const KINDS: Record<Kind, string> = {
  symptom: "symptom",
  weigh: "weigh",
  "vet-visit": "vet",
  laboratory: "laboratory",
  trial: "trial",
  cook: "cook",
  amount: "amount",
  signature: "signature",
  issue: "issue",
  draft: "draft",
  reopen: "plan in doubt",
  data: "new data",
  "plan-age": "old plan",
  swapped: "swapped food",
  sheet: "owner’s sheet",
};

export function Mark({ kind, late = false }: { kind: Kind; late?: boolean }) {
  const colour = late ? "var(--madder)" : "var(--ink)";
  const open = OPEN.includes(kind);
  return <path d={SHAPES[kind]} fill={open ? "none" : colour} stroke={colour} strokeWidth={1.6} />;
}

/** What is due of a dog round today: six days back, two weeks ahead; lateness is a length. */
export function Fortnight({ things, today }: { things: readonly DeskThing[]; today: string }) {
  const now = dayNumber(today);
  const x = (date: string) =>
    (Math.min(AFTER, Math.max(-BEFORE, dayNumber(date) - now)) + BEFORE + 0.5) * STEP;
  const words = things.map((t) => `${day(t.shown_on)}: ${t.what}`).join("; ");
  return (
    <svg
      role="img"
      aria-label={words}
      width={STRIP_WIDE}
      height={HIGH}
      viewBox={`0 0 ${STRIP_WIDE} ${HIGH}`}
      className="max-mid:hidden"
    >
      {Array.from({ length: DAYS }, (_, n) => (
        <circle key={n} cx={(n + 0.5) * STEP} cy={HIGH - 3} r={0.9} fill="var(--edge)" />
      ))}
      <line x1={x(today)} x2={x(today)} y1={0} y2={HIGH} stroke="var(--ink)" strokeWidth={2} />
      {things.map((thing) => {
        const late = thing.late_days > 0 && thing.shown_on <= today;
        return (
          <g key={thing.kind + (thing.recipe ?? "")}>
            {late && (
              <line
                x1={x(thing.on)}
                x2={x(today)}
                y1={HIGH / 2}
                y2={HIGH / 2}
                stroke="var(--madder)"
                strokeWidth={3}
              />
            )}
            <g transform={`translate(${x(late ? thing.on : thing.shown_on)} ${HIGH / 2})`}>
              <Mark kind={thing.kind} late={late} />
            </g>
          </g>
        );
      })}
    </svg>
  );
}
