import { type KeyboardEvent, useRef } from "react";
import { spelled } from "~/shared/format";
import { CORNICE, heightOf, RAIL } from "~/shared/wall/scale";
import { byTable, type Chance, ofHundred, spokenChance } from "./chance";

const HEIGHT = 92;
const WIDTH = 26;
const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/** A board for every limit, its top sawn as the batches come out. */
export function SawnWall({
  limits,
  doubtful,
  chosen,
  onChoose,
}: {
  limits: readonly Chance[];
  doubtful: readonly string[];
  chosen: string | null;
  onChoose: (key: string) => void;
}) {
  const holder = useRef<HTMLUListElement>(null);
  // The weakest first; what is not met by the tables has nothing to hold, and stands last.
  const drawn = limits.toSorted(
    (a, b) => Number(byTable(b)) - Number(byTable(a)) || a.batch.share - b.batch.share,
  );
  const order = drawn.map((c) => c.key);
  const stop = chosen && order.includes(chosen) ? chosen : order[0];
  const press = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const next = order[Math.max(0, Math.min(order.length - 1, order.indexOf(stop ?? "") + step))];
    if (!next) return;
    onChoose(next);
    holder.current?.querySelector<HTMLElement>(`[data-sawn="${next}"]`)?.focus();
  };
  return (
    <ul ref={holder} onKeyDown={press} className="flex flex-wrap gap-x-1 gap-y-2">
      {drawn.map((c) => {
        const weak = doubtful.includes(c.key);
        const figure = byTable(c) ? `${ofHundred(c.batch.share)}` : "–";
        return (
          <li key={c.key}>
            <button
              type="button"
              data-sawn={c.key}
              aria-pressed={c.key === chosen}
              tabIndex={c.key === stop ? 0 : -1}
              onClick={() => onChoose(c.key)}
              className={`flex w-11 flex-col items-center px-0.5 ${c.key === chosen ? "bg-sheet outline-1 outline-verdigris outline" : ""}`}
            >
              <span className="sr-only">{spokenChance(c)}</span>
              <Sawn of={c} />
              <span
                aria-hidden="true"
                className={`text-data ${weak ? "font-semibold text-madder" : byTable(c) ? "" : "text-soft"}`}
              >
                {figure}
              </span>
              <span
                aria-hidden="true"
                className={`w-full truncate text-center text-label ${weak ? "font-semibold" : "text-soft"}`}
              >
                {spelled(c.short)}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** One board: its quantiles from left to right, the rail, and a cornice where there is a ceiling. */
function Sawn({ of }: { of: Chance }) {
  const strip = WIDTH / Math.max(1, of.spread.length);
  const y = (share: number) => HEIGHT * (1 - share);
  const held = byTable(of);
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" className="overflow-visible">
      <rect width={WIDTH} height={HEIGHT} className="fill-groove" />
      {of.spread.map((value, i) => {
        const height = Math.min(1, heightOf(value, of.minimum, of.ceiling) ?? 0);
        const breaks =
          (of.minimum != null && value < of.minimum) || (of.ceiling != null && value > of.ceiling);
        return (
          <rect
            key={i}
            x={i * strip}
            width={strip + 0.2}
            y={y(height)}
            height={HEIGHT * height}
            className={!held ? "fill-oak-pale" : breaks ? "fill-madder-pale" : "fill-oak"}
          />
        );
      })}
      {of.minimum != null && (
        <line x1="-3" x2={WIDTH + 3} y1={y(RAIL)} y2={y(RAIL)} className="stroke-2 stroke-ink" />
      )}
      {of.ceiling != null && (
        <line
          x1="-2"
          x2={WIDTH + 2}
          y1={y(CORNICE)}
          y2={y(CORNICE)}
          className="stroke-[3] stroke-ink"
          strokeDasharray={of.no_ceiling ? "3 2" : undefined}
        />
      )}
    </svg>
  );
}
