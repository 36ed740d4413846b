import type { Intake } from "~/api/client";
import { told } from "~/shared/format";
import { useSaving } from "~/shared/record/fields";
import { Button } from "~/ui";
import { Bar } from "./Bar";

export type Question = Intake["questions"][number];

/** To where the answer is written: a list gets a new row, or is entered where it stands. */
export function goTo(field: string, adding: boolean) {
  const at = CSS.escape(field);
  const adds = document.querySelector<HTMLButtonElement>(`[data-adds="${at}"]`);
  const row = adds?.closest("section")?.querySelector<HTMLElement>("tbody input");
  // A new row of a list is entered at once.
  if (adds && (adding || !row)) return adds.click();
  const box = document.querySelector<HTMLElement>(`[data-field="${at}"]`);
  const control = box?.matches("input, textarea")
    ? box
    : // A stage that is open comes before what could be added.
      (box?.querySelector<HTMLElement>("[data-unstaged] button") ??
      box?.querySelector<HTMLElement>("input, textarea, [role=combobox]"));
  (row ?? control)?.focus();
}

/** The one question that matters most for this dog, with its reason; answered by a key, or where it is written. */
export function Ask({
  next,
  open,
  putOff,
}: {
  next: Question | undefined;
  /** How many are open. */
  open: number;
  /** Asked again when nothing else is left. */
  putOff: () => void;
}) {
  const saving = useSaving();
  if (!next) return null;
  const write = () => goTo(next.write, true);
  const answer = (a: Question["answers"][number]) => saving.set(a.field, a.value);
  const keys = {
    ...Object.fromEntries(next.answers.map((a, i) => [String(i + 1), () => answer(a)])),
    l: putOff,
    e: write,
  };
  return (
    <Bar
      label="Ask next"
      at={next.field}
      keys={keys}
      words={
        <>
          <h2>{told(next.ask)}</h2>
          <p className="text-data text-soft">
            {told(next.why)}. {open > 1 && `${open} are open.`}
          </p>
        </>
      }
    >
      {next.answers.map((a, i) => (
        <Button key={a.words} onClick={() => answer(a)}>
          {told(a.words)}
          <kbd>{i + 1}</kbd>
        </Button>
      ))}
      <Button kind={next.answers.length === 0 ? "solid" : "plain"} onClick={write}>
        Write it
        <kbd>E</kbd>
      </Button>
      {open > 1 && (
        <Button kind="quiet" onClick={putOff}>
          Later
          <kbd>L</kbd>
        </Button>
      )}
    </Bar>
  );
}
