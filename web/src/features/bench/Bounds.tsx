import type { LiveAnswer } from "~/api/client";
import { foodWeight, number, spelled, unitText } from "~/shared/format";
import type { BoardFacts } from "~/shared/wall/boards";
import { Button } from "~/ui";
import { Figure } from "./AdjustParts";
import type { BenchLine } from "./editor";
import { NO_BOUND, type Settings } from "./useAdjust";
import type { Live } from "./useLive";

/** Bounds on nutrients and ratios for this adjustment alone: typed here, or moved on the wall. */
export function Bounds({
  settings,
  put,
  boards,
  selected,
}: {
  settings: Settings;
  put: (part: Partial<Settings>) => void;
  boards: readonly BoardFacts[];
  selected: string | null;
}) {
  const keys = Object.keys(settings.bounds);
  const offered = boards.find((b) => b.key === selected && !keys.includes(b.key));
  function set(key: string, part: Partial<(typeof settings.bounds)[string]>) {
    const bound = { ...NO_BOUND, ...settings.bounds[key], ...part };
    put({ bounds: { ...settings.bounds, [key]: bound } });
  }
  function drop(key: string) {
    const { [key]: _, ...others } = settings.bounds;
    put({ bounds: others });
  }
  return (
    <section aria-label="Your bounds" className="flex flex-col gap-1">
      <p className="text-data text-soft">
        Choose a board and move its lines, or type: tighter than the targets, for this adjustment
        alone.
      </p>
      {keys.map((key) => {
        const board = boards.find((b) => b.key === key);
        const unit = board ? unitText(board.unit) : "";
        return (
          <div key={key} className="flex flex-wrap items-center gap-x-2 gap-y-1">
            <b>{spelled(board?.name ?? key)}</b>
            <span className="text-data text-soft">{unit && `${unit} per 1000 kcal`}</span>
            <Button
              small
              kind="quiet"
              className="ml-auto"
              aria-label={`Let go: the bound on ${board?.name ?? key}`}
              onClick={() => drop(key)}
            >
              Let go
            </Button>
            <div className="flex basis-full gap-3 text-data">
              <Figure
                label="at least"
                value={settings.bounds[key]?.least ?? ""}
                onChange={(least) => set(key, { least })}
              />
              <Figure
                label="at most"
                value={settings.bounds[key]?.most ?? ""}
                onChange={(most) => set(key, { most })}
              />
            </div>
          </div>
        );
      })}
      {offered && (
        <Button small className="self-start" onClick={() => set(offered.key, {})}>
          Bound {spelled(offered.name)}
        </Button>
      )}
    </section>
  );
}

/** What the bounds come to. */
export function LiveResult({ live, lines }: { live: Live; lines: readonly BenchLine[] }) {
  const { answer, error } = live;
  return (
    <section aria-label="What it comes to" className="border-verdigris stile">
      {error && (
        <p role="alert" className="text-madder">
          {error.message}
        </p>
      )}
      {answer && (
        <>
          <p role="status">
            <b>{verdictOf(answer)}</b>{" "}
            <span className="text-soft">
              {answer.settled
                ? "In amounts that can be measured."
                : "Not yet in measurable amounts."}
            </span>
          </p>
          <ul className="mt-1 text-data">
            {answer.amounts
              .filter((a) => Math.abs(a.after_grams - a.before_grams) > 0.05)
              .map((a) => (
                <li key={`${a.line} ${a.food}`} className="flex justify-between gap-2">
                  <span className="truncate">{spelled(a.name)}</span>
                  <span className="shrink-0">
                    {a.line === null ? "" : `${lines[a.line]?.text} → `}
                    {answer.settled ? a.after || "out" : `≈ ${foodWeight(a.after_grams)}`}
                  </span>
                </li>
              ))}
          </ul>
          <p className="mt-1 text-data text-soft">{number(answer.kcal)} kcal a day</p>
        </>
      )}
    </section>
  );
}

export function verdictOf(answer: LiveAnswer): string {
  if (answer.state === "impossible" || answer.state === "undecided")
    return "Nothing holds these bounds and every limit.";
  const wrong = [
    answer.short.length > 0 ? `Short: ${answer.short.join(", ")}.` : "",
    answer.over.length > 0 ? `Over: ${answer.over.join(", ")}.` : "",
  ].filter(Boolean);
  if (wrong.length > 0) return wrong.join(" ");
  return answer.state === "met"
    ? "Every limit holds."
    : "Nothing is short or over; some is not proven.";
}
