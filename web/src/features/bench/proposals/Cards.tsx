import { RadioGroup } from "radix-ui";
import type { Answer } from "~/api/client";
import { money, number, percent, spelled, told } from "~/shared/format";

const CELLS = 20;

type Aim = NonNullable<Answer["aim"]>;

/** The answers as cards, the one that is drawn on the wall marked. */
export function Cards({
  answers,
  at,
  onChoose,
}: {
  answers: readonly Answer[];
  at: number;
  onChoose: (to: number) => void;
}) {
  return (
    <RadioGroup.Root
      aria-label="Answers"
      value={answers[at]?.id ?? ""}
      onValueChange={(id) => onChoose(answers.findIndex((answer) => answer.id === id))}
      className="flex flex-col wide:grid wide:shrink-0 wide:grid-flow-col wide:auto-cols-[minmax(12.5rem,26rem)] wide:overflow-x-auto"
    >
      {answers.map((answer, i) => (
        <RadioGroup.Item
          key={answer.id}
          ref={
            i === at
              ? (node) => node?.scrollIntoView({ block: "nearest", inline: "nearest" })
              : undefined
          }
          value={answer.id}
          title={[told(answer.words), answer.aim && aimed(answer.aim), surely(answer)]
            .filter(Boolean)
            .join("; ")}
          className="flex min-w-0 gap-2 border-line border-r border-t-[3px] border-t-transparent border-b px-3 py-1 text-left aria-checked:border-t-ink aria-checked:bg-sheet"
        >
          <kbd className="text-soft">{i + 1}</kbd>
          <span className="flex min-w-0 flex-1 flex-col">
            <span className="font-semibold wide:truncate">{answer.name}</span>
            <span className="line-clamp-2 text-data">{summary(answer)}</span>
            {answer.aim && <span className="text-data">{reached(answer.aim)}</span>}
            {answer.holds && (
              <span className="flex flex-wrap items-center gap-x-1.5 text-data text-soft">
                <Cells answer={answer} />
                {number(answer.holds.share * 100)} of 100 hold
              </span>
            )}
          </span>
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}

/** What tells an answer from the others, in a line. */
export function summary(answer: Answer): string {
  const { supplements, distance, cost, unpriced, cost_at_most: atMost } = answer;
  const parts = [
    supplements === 1 ? "1 supplement" : `${supplements} supplements`,
    `${percent(distance)} from other foods`,
  ];
  if (cost != null) {
    const most = unpriced && atMost != null ? ` to ${money(atMost)}` : "";
    parts.push(`${money(cost)}${most} a day`);
  }
  const advised = answer.stands?.off_advice ?? [];
  if (advised.length > 0) {
    parts.push(`off advice: ${advised.map(spelled).join(", ")}`);
  }
  return parts.join(", ");
}

/** What a price leaves out, "" where it is whole: that is what prices are compared by. */
export function unpricedIn({ cost, unpriced }: Answer): string {
  if (cost == null || !unpriced) return "";
  const those = unpriced === 1 ? "1 of its foods has" : `${unpriced} of its foods have`;
  return `${those} no price and count up to the dearest known`;
}

/** How surely it holds, in words. */
export function surely({ holds }: Answer): string {
  if (!holds) return "";
  const those = holds.open_limits ? `, of the ${holds.limits} limits it meets` : "";
  const weakest = holds.weakest
    ? `; weakest ${spelled(holds.weakest.name)}, ${number(holds.weakest.share * 100)}`
    : "";
  return `holds in ${number(holds.share * 100)} of 100 batches if nothing is left out${those}${weakest}`;
}

/** What an answer aims at, in short. */
function reached({ target, missed }: Aim): string {
  const but = missed.length > 0 ? `, but for ${missed.length}` : "";
  return `each limit in ${number(target * 100)} of 100${but}`;
}

/** What an answer aims at, what it misses of that, and what that costs beside the first. */
export function aimed({ target, missed, grams, supplements, cost }: Aim): string {
  const more = (value: number, words: string) => (value < 0 ? `${words} less` : `${words} more`);
  const costs = [
    Math.abs(grams) >= 0.5 ? more(grams, `${number(Math.abs(grams))} g`) : "",
    supplements === 0
      ? ""
      : more(
          supplements,
          Math.abs(supplements) === 1 ? "1 supplement" : `${Math.abs(supplements)} supplements`,
        ),
    cost == null ? "" : more(cost, money(Math.abs(cost))),
  ].filter(Boolean);
  const beside = costs.length > 0 ? `; a day ${costs.join(", ")} than the first` : "";
  const not = missed.length > 0 ? `, but for ${missed.map(spelled).join(", ")}` : "";
  return `each limit in ${number(target * 100)} of 100 batches${not}${beside}`;
}

/** The same drawn: a cell for each twentieth of the batches. */
function Cells({ answer }: { answer: Answer }) {
  if (!answer.holds) return null;
  const full = Math.round(answer.holds.share * CELLS);
  return (
    <svg width={CELLS * 4} height={9} aria-hidden="true" className="shrink-0 overflow-visible">
      {Array.from({ length: CELLS }, (_, i) => (
        <rect
          key={i}
          x={i * 4}
          y={0.5}
          width={2.5}
          height={8}
          className={i < full ? "fill-ink stroke-ink" : "fill-none stroke-edge"}
          strokeWidth={0.8}
        />
      ))}
    </svg>
  );
}
