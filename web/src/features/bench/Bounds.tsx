import type { LiveAnswer } from "~/api/client";
import { Figure } from "~/shared/amounts/Figure";
import { foodWeight, number, spelled, unitText } from "~/shared/format";
import type { BoardFacts } from "~/shared/wall/boards";
import { Button } from "~/ui";
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

/** What the bounds come to; the new amounts stand in the lines, and here where the lines are not beside it. */
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
              {number(answer.kcal)} kcal a day,{" "}
              {answer.settled
                ? "in amounts that can be measured."
                : "not yet in measurable amounts."}
            </span>
          </p>
          <ul className="mt-1 text-data wide:hidden">
            {answer.amounts.filter(differs).map((a) => (
              <li key={`${a.line} ${a.food}`} className="flex justify-between gap-2">
                <span className="truncate">{spelled(a.name)}</span>
                <span className="shrink-0">
                  {a.line === null ? "" : `${lines[a.line]?.text} → `}
                  {amountOf(answer, a)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

type LiveAmount = LiveAnswer["amounts"][number];

function differs(amount: LiveAmount): boolean {
  return Math.abs(amount.after_grams - amount.before_grams) > 0.05;
}

function amountOf(answer: LiveAnswer, amount: LiveAmount): string {
  if (amount.after_grams <= 0) return "out";
  return answer.settled ? amount.after || "out" : `≈ ${foodWeight(amount.after_grams)}`;
}

/** What is to come: by position what a line would be, and what would be added. */
export interface Ahead {
  lines: ReadonlyMap<number, string>;
  added: readonly { food: string; name: string; amount: string }[];
}

/** What the bounds would make of the lines; null for nothing. */
export function aheadOf({ answer }: Live): Ahead | null {
  if (!answer) return null;
  const lines = new Map<number, string>();
  const added: Ahead["added"][number][] = [];
  for (const amount of answer.amounts.filter(differs)) {
    const text = amountOf(answer, amount);
    if (amount.line === null) added.push({ food: amount.food, name: amount.name, amount: text });
    else lines.set(amount.line, text);
  }
  return { lines, added };
}

export function verdictOf(answer: LiveAnswer): string {
  if (answer.state === "impossible") return "Nothing holds these bounds and every limit.";
  const wrong = [
    answer.short.length > 0 ? `Short: ${answer.short.join(", ")}.` : "",
    answer.over.length > 0 ? `Over: ${answer.over.join(", ")}.` : "",
  ].filter(Boolean);
  if (wrong.length > 0) return wrong.join(" ");
  return answer.state === "met"
    ? "Every limit holds."
    : "Nothing is short or over; some is not proven.";
}
