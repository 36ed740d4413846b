import { type KeyboardEvent, useEffect, useRef } from "react";
import type { Intake } from "~/api/client";
import { told } from "~/shared/format";
import { useSaving } from "~/shared/record/fields";
import { Button } from "~/ui";

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
  putOff: later,
}: {
  next: Question | undefined;
  /** How many are open. */
  open: number;
  /** Asked again when nothing else is left. */
  putOff: () => void;
}) {
  const saving = useSaving();
  const bar = useRef<HTMLElement>(null);
  const field = next?.field;
  // The keys go on to the next question when one was answered by them.
  const going = useRef(false);
  useEffect(() => {
    if (field === undefined || !going.current) return;
    going.current = false;
    bar.current?.querySelector<HTMLElement>("button")?.focus();
  }, [field]);
  if (!next) return null;
  const write = () => goTo(next.write, true);
  const answer = (a: Question["answers"][number]) => {
    going.current = true;
    saving.set(a.field, a.value);
  };
  const putOff = () => {
    going.current = true;
    later();
  };
  const keys = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const chosen = next.answers[Number(event.key) - 1];
    if (chosen) answer(chosen);
    else if (event.key === "l") putOff();
    else if (event.key === "e") write();
    else return;
    event.preventDefault();
  };
  return (
    <section
      ref={bar}
      aria-label="Ask next"
      onKeyDown={keys}
      data-ask=""
      className="sticky bottom-0 z-10 mt-6 flex wide:-bottom-6 wide:-mx-6 wide:-mb-6 wide:px-6 flex-wrap items-center gap-x-6 gap-y-2 border-verdigris border-t-2 bg-sheet px-4 py-3 [@media(max-height:30rem)]:static"
    >
      <div className="min-w-64 flex-1" aria-live="polite">
        <h2>{told(next.ask)}</h2>
        <p className="text-data text-soft">
          {told(next.why)}. {open > 1 && `${open} are open.`}
        </p>
      </div>
      <div className="flex flex-wrap gap-1.5">
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
      </div>
    </section>
  );
}
