import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { Intake } from "~/api/client";
import { told } from "~/shared/format";
import { useSaving } from "~/shared/record/fields";
import { Button } from "~/ui";

type Question = Intake["questions"][number];

/** The one question that matters most for this dog, with its reason; answered by a key, or where it is written. */
export function Ask({ questions }: { questions: readonly Question[] }) {
  const saving = useSaving();
  const bar = useRef<HTMLElement>(null);
  // Put off in this visit: asked again when nothing else is left.
  const [later, setLater] = useState<readonly string[]>([]);
  const next = questions.find((q) => !later.includes(q.field)) ?? questions[0];
  const field = next?.field;
  // The keys go on to the next question when one was answered by them.
  const going = useRef(false);
  useEffect(() => {
    if (field === undefined || !going.current) return;
    going.current = false;
    bar.current?.querySelector<HTMLElement>("button")?.focus();
  }, [field]);
  if (!next) return null;
  const write = () => {
    const at = CSS.escape(next.write);
    const adds = document.querySelector<HTMLButtonElement>(`[data-adds="${at}"]`);
    // A new row of a list is entered at once.
    if (adds) return adds.click();
    const box = document.querySelector<HTMLElement>(`[data-field="${at}"]`);
    const control = box?.matches("input")
      ? box
      : box?.querySelector<HTMLElement>("input, [role=combobox]");
    control?.focus();
  };
  const answer = (a: Question["answers"][number]) => {
    going.current = true;
    saving.set(a.field, a.value);
  };
  const putOff = () => {
    going.current = true;
    setLater((now) => {
      const more = [...now.filter((f) => f !== next.field), next.field];
      return more.length >= questions.length ? [] : more;
    });
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
          {told(next.why)}. {questions.length > 1 && `${questions.length} are open.`}
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
        {questions.length > 1 && (
          <Button kind="quiet" onClick={putOff}>
            Later
            <kbd>L</kbd>
          </Button>
        )}
      </div>
    </section>
  );
}
