import { type KeyboardEvent, type RefObject, useLayoutEffect, useRef, useState } from "react";
import type { Intake } from "~/api/client";
import { told } from "~/shared/format";
import { useSaving } from "~/shared/record/fields";
import { BodyCondition } from "./BodyCondition";
import { ANCHORS, aboveOf, EAR, FAR, sideOf, waistOf } from "./drawing";
import { MARK_WORDS, type Mark, Peg, PegShape } from "./Peg";

type Station = Intake["stations"][number];
export type StationLine = Station["lines"][number];

const LEFT = ["who", "skin", "head", "mouth", "glands", "heart"];
const RIGHT = ["back", "gut", "bladder", "legs", "weight"];
const UNDER = ["medicines", "bowl", "kitchen", "people"];

/** The interview around the dog: every answer at its place, what is open as rings on the dog. */
export function DogIndex({
  stations,
  asked,
  choose,
}: {
  stations: readonly Station[];
  /** The field that is asked or looked at now. */
  asked: string | undefined;
  choose: (line: StationLine) => void;
}) {
  const saving = useSaving();
  const score = (saving.value("dog.body_condition") as number | null) ?? null;
  const around = useRef<HTMLElement>(null);
  const pins = usePins(around, stations);
  const drawn = score ?? 5;
  const of = (places: readonly string[]) =>
    places.flatMap((place) => stations.filter((s) => s.place === place));
  // One Tab stop for all lines.
  const first = of([...LEFT, ...RIGHT, ...UNDER])[0]?.place;
  const list = (places: readonly string[], side: "left" | "right" | "under") =>
    of(places).map((s) => (
      <StationList
        key={s.place}
        station={s}
        side={side}
        stop={s.place === first}
        asked={asked}
        choose={choose}
      />
    ));
  return (
    <section
      aria-label="What is known of the dog"
      onKeyDown={(event) => walk(event, around.current)}
      ref={around}
      className="relative"
    >
      <div className="grid gap-x-4 gap-y-3 wide:grid-cols-[minmax(0,1fr)_28rem_minmax(0,1fr)]">
        <div className="order-2 flex flex-col gap-3 wide:order-1">{list(LEFT, "left")}</div>
        <div className="order-1 flex flex-col items-center wide:order-2">
          <svg
            viewBox="14 56 432 276"
            className="w-full max-w-md"
            data-view="side"
            aria-hidden="true"
          >
            <path d="M20 327.5H440" stroke="var(--line)" strokeWidth="1.5" />
            <path d={FAR} fill="var(--groove)" stroke="var(--soft)" strokeWidth="1.4" />
            <path
              d={sideOf(drawn)}
              fill="var(--wood-4)"
              stroke="var(--ink)"
              strokeWidth="2"
              strokeLinejoin="round"
            />
            <path d={EAR} fill="var(--wood-2)" stroke="var(--ink)" strokeWidth="2" />
            <circle cx="90" cy="101" r="3.2" fill="var(--ink)" />
            <path d="M30 113C30 108 37 106 42 108C42 115 36 119 31 118Z" fill="var(--ink)" />
            <path
              d="M40 130C52 134 66 134 78 129M186 104C178 128 174 160 178 186M226 112C219 144 222 178 232 198M248 112C241 144 243 174 254 196M270 112C264 142 266 170 276 190M330 196C343 178 350 156 346 132"
              fill="none"
              stroke="var(--soft)"
              strokeDasharray="2 4"
            />
          </svg>
          <svg
            viewBox="0 0 430 100"
            className="w-full max-w-md"
            data-view="above"
            aria-hidden="true"
          >
            <path
              d={aboveOf(drawn)}
              fill="var(--wood-4)"
              stroke="var(--ink)"
              strokeWidth="2"
              strokeLinejoin="round"
            />
            <path d="M17 50H417" stroke="var(--wood-4)" strokeWidth="3" />
            <path d="M98 50H330" stroke="var(--soft)" strokeDasharray="2 4" />
            <path
              d="M62 31C72 18 90 14 98 20C100 26 88 32 78 32ZM62 69C72 82 90 86 98 80C100 74 88 68 78 68Z"
              fill="var(--wood-2)"
              stroke="var(--ink)"
              strokeWidth="1.6"
            />
            <path
              d={`${waistOf(3)}${waistOf(8)}`}
              fill="none"
              stroke="var(--ink)"
              strokeDasharray="2 3"
            />
          </svg>
          <BodyCondition value={score} onChange={(to) => saving.set("dog.body_condition", to)} />
        </div>
        <div className="order-3 flex flex-col gap-3">{list(RIGHT, "right")}</div>
      </div>
      <div className="mt-3 grid gap-3 border-ink border-t-2 pt-2 mid:grid-cols-2 wide:grid-cols-4">
        {list(UNDER, "under")}
      </div>
      <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden="true">
        {pins.map((p) => (
          <path
            key={p.place}
            d={p.elbow}
            fill="none"
            stroke="var(--edge)"
            className="max-wide:hidden"
          />
        ))}
        {pins.map((p) => (
          <g key={p.place} transform={`translate(${p.x},${p.y})`}>
            <PegShape mark={p.mark} asked={p.fields.includes(asked ?? "")} />
          </g>
        ))}
      </svg>
    </section>
  );
}

function StationList({
  station,
  side,
  stop,
  asked,
  choose,
}: {
  station: Station;
  side: "left" | "right" | "under";
  stop: boolean;
  asked: string | undefined;
  choose: (line: StationLine) => void;
}) {
  const left = side === "left";
  return (
    <section data-station={station.place} className={left ? "wide:text-right" : ""}>
      <h3 className="font-title font-semibold">{station.name}</h3>
      <ul>
        {station.lines.map((line, i) => {
          const now = line.mark !== "known" && line.field === asked;
          return (
            <li key={`${line.field}-${i}`}>
              <button
                type="button"
                data-line=""
                tabIndex={stop && i === 0 ? 0 : -1}
                onClick={() => choose(line)}
                className={`flex max-w-full items-start gap-1.5 rounded-corner py-px text-left leading-tight hover:bg-groove pointer-coarse:min-h-11 pointer-coarse:items-center ${left ? "wide:ml-auto wide:flex-row-reverse wide:text-right" : ""} ${now ? "bg-verdigris-pale font-semibold" : ""} ${line.mark === "open" && !now ? "text-soft" : ""}`}
              >
                <Peg mark={line.mark} asked={now} />
                <span className="min-w-0 [overflow-wrap:anywhere]">
                  {told(line.words)}
                  <span className="sr-only">, {MARK_WORDS[line.mark]}</span>
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** One Tab stop for all lines: arrows go from line to line, Home and End to the first and the last. */
function walk(event: KeyboardEvent, around: HTMLElement | null) {
  const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, Home: -1e6, End: 1e6 };
  const step = steps[event.key];
  const lines = [...(around?.querySelectorAll<HTMLElement>("[data-line]") ?? [])];
  const at = lines.indexOf(event.target as HTMLElement);
  if (step === undefined || at < 0) return;
  event.preventDefault();
  lines[Math.min(Math.max(at + step, 0), lines.length - 1)]?.focus();
}

interface Pin {
  place: string;
  mark: Mark;
  fields: readonly string[];
  x: number;
  y: number;
  elbow: string;
}

/** Where the pegs lie on the drawing, and the elbow from each to the name of its place: measured, as what stands
 * beside the dog is as long as it is. */
function usePins(around: RefObject<HTMLElement | null>, stations: readonly Station[]) {
  const [pins, setPins] = useState<readonly Pin[]>([]);
  useLayoutEffect(() => {
    const box = around.current;
    if (!box) return;
    const measure = () => {
      const frame = box.getBoundingClientRect();
      const found = stations.flatMap((s): Pin[] => {
        const anchor = ANCHORS[s.place];
        const view = box.querySelector<SVGSVGElement>(
          `[data-view=${anchor?.above ? "above" : "side"}]`,
        );
        const head = box.querySelector(`[data-station=${s.place}] h3`)?.getBoundingClientRect();
        if (!anchor || !view || !head) return [];
        const drawn = view.getBoundingClientRect();
        const scale = drawn.width / view.viewBox.baseVal.width;
        const x = drawn.left - frame.left + (anchor.x - view.viewBox.baseVal.x) * scale;
        const y = drawn.top - frame.top + (anchor.y - view.viewBox.baseVal.y) * scale;
        const from = LEFT.includes(s.place) ? head.right + 6 : head.left - 6;
        const level = (head.top + head.bottom) / 2 - frame.top;
        const elbow = `M${from - frame.left} ${level}H${x}V${y}`;
        return [{ place: s.place, mark: s.mark, fields: openFields(s), x, y, elbow }];
      });
      setPins((old) => (JSON.stringify(old) === JSON.stringify(found) ? old : found));
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(box);
    return () => observer.disconnect();
  }, [around, stations]);
  return pins;
}

function openFields(station: Station): readonly string[] {
  return station.lines.filter((l) => l.mark === "open").map((l) => l.field);
}
