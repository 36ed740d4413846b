import { useEffect, useRef, useState } from "react";
import type { FreezerStock } from "~/api/client";
import { foodWeight, nearDay, number, told } from "~/shared/format";
import { Button, TextInput } from "~/ui";

type Kept = FreezerStock["freezer"]["boxes"][number];
type InFreezer = FreezerStock["batches"][number];

/** So many of the next boxes are shown at first. */
const FIRST_SHOWN = 10;

/** All that the household has of its batches, first in first out: what is fed next, what is taken out tonight, what is past
 * its day. */
export function Freezer({
  stock,
  say,
  busy,
  problem,
  calendar,
}: {
  stock: FreezerStock;
  say: (batch: InFreezer, from: string, gone: number[]) => void;
  busy: boolean;
  problem: string;
  calendar: string;
}) {
  const { freezer, batches } = stock;
  const [all, setAll] = useState(false);
  const section = useRef<HTMLElement>(null);
  const pressed = useRef<number | null>(null);
  // What was pressed may be gone with its line: the focus goes to the line that took its place, else to the heading.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it follows what there is.
  useEffect(() => {
    const at = pressed.current;
    if (at === null || busy) return;
    pressed.current = null;
    if (section.current?.contains(document.activeElement)) return;
    const keys = section.current?.querySelectorAll<HTMLElement>("ol button");
    (keys?.[Math.min(at, keys.length - 1)] ?? section.current?.querySelector("h3"))?.focus();
  }, [stock, busy]);
  const some = freezer.boxes.length + freezer.past.length + freezer.wasted.length > 0;
  const wrong = batches.filter((b) => b.wrong);
  const open = batches.filter((b) => b.done && b.feed_from === null);
  function tell(batch: InFreezer, from: string, missing: number[], at = 0) {
    if (busy) return;
    pressed.current = at;
    say(batch, from, missing);
  }
  function gone(boxes: readonly Kept[], at = 0) {
    const batch = batches.find((b) => b.id === boxes[0]?.batch);
    if (!batch?.feed_from) return;
    const more = boxes.filter((b) => b.batch === batch.id).map((b) => b.number);
    tell(batch, batch.feed_from, [...batch.gone, ...more], at);
  }
  const missing = batches.filter((b) => b.feed_from !== null && b.gone.length > 0);
  if (!some && open.length === 0 && wrong.length === 0 && missing.length === 0) return null;
  return (
    <section ref={section} aria-label="What there is" className="mt-8">
      <h3 tabIndex={-1} className="font-semibold">
        What there is
      </h3>
      {problem && (
        <p role="alert" className="border-madder stile">
          Not kept: {problem}.
        </p>
      )}
      {open.map((batch) => (
        <FedFrom key={batch.id} batch={batch} busy={busy} say={tell} />
      ))}
      {wrong.map((batch) => (
        <p key={batch.id} role="alert" className="my-1 border-madder stile">
          {batch.code} is not counted: {told(batch.wrong)}.
        </p>
      ))}
      {freezer.past.length > 0 && (
        <p className="my-1 flex flex-wrap items-center gap-3 border-madder stile">
          <span>
            <b className="font-semibold text-madder">Past their last day, throw them away:</b>{" "}
            {named(freezer.past)}.
          </span>
          <Button aria-disabled={busy} onClick={() => gone(sameBatch(freezer.past))}>
            Those of {freezer.past[0]?.code} are thrown away
          </Button>
        </p>
      )}
      {freezer.wasted.length > 0 && (
        <p className="my-1 border-ink stile">
          They will be past their last day before they are reached: {named(freezer.wasted)}. Cook
          less the next time, or give them sooner.
        </p>
      )}
      <p>
        {freezer.dogs.map((dog) => (
          <span key={dog.case}>
            {dog.dog}:{" "}
            {dog.runs_out
              ? `${dog.meals} meals, until ${nearDay(dog.runs_out)}. `
              : "nothing of it is left. "}
            {dog.soon && <b className="font-semibold">It runs out: cook again. </b>}
          </span>
        ))}
      </p>
      {freezer.tonight.length > 0 && (
        <p className="my-1 border-ink stile">
          <b className="font-semibold">Take out tonight:</b>{" "}
          {named(freezer.tonight.flatMap((i) => freezer.boxes[i] ?? []))}. Into the fridge, not onto
          the counter; thawed they keep {stock.thawed_days} days there.
        </p>
      )}
      {freezer.boxes.length > 0 && (
        <>
          <ol aria-label="Boxes, the next first" className="mt-1 border-line border-t">
            {(all ? freezer.boxes : freezer.boxes.slice(0, FIRST_SHOWN)).map((box, at) => (
              <Row
                key={`${box.batch}-${box.number}`}
                box={box}
                today={freezer.on}
                several={freezer.dogs.length > 1}
                busy={busy}
                onGone={() => gone([box], at)}
              />
            ))}
          </ol>
          <p className="mt-1 flex flex-wrap items-center gap-x-4">
            {freezer.boxes.length > FIRST_SHOWN && (
              <button type="button" className="min-h-12 underline" onClick={() => setAll(!all)}>
                {all ? "The next ten only" : `All ${freezer.boxes.length} boxes`}
              </button>
            )}
            <a href={calendar} className="inline-flex min-h-12 items-center underline">
              Evenings and last days for the calendar
            </a>
          </p>
          <p className="text-soft">{told(stock.warm)}</p>
        </>
      )}
      {missing.map((batch) => (
        <p key={batch.id} className="flex flex-wrap items-center gap-x-3">
          <span className="text-soft">Gone of {batch.code}, put back what is there:</span>
          {batch.gone.map((n) => (
            <button
              key={n}
              type="button"
              aria-disabled={busy}
              aria-label={`Box ${batch.code}-${n} is there after all`}
              className="min-h-12 min-w-12 underline aria-disabled:opacity-40 mid:min-h-9"
              onClick={() =>
                batch.feed_from &&
                tell(
                  batch,
                  batch.feed_from,
                  batch.gone.filter((x) => x !== n),
                )
              }
            >
              {n}
            </button>
          ))}
        </p>
      ))}
    </section>
  );
}

function sameBatch(boxes: readonly Kept[]): Kept[] {
  return boxes.filter((b) => b.batch === boxes[0]?.batch);
}

/** Boxes by the codes on their labels: those of one batch together. */
function named(boxes: readonly Kept[]): string {
  const codes = [...new Set(boxes.map((b) => b.code))];
  return codes
    .map((code) => {
      const numbers = boxes.filter((b) => b.code === code).map((b) => b.number);
      return `${code}-${numbers.join(", ")}`;
    })
    .join("; ");
}

function Row({
  box,
  today,
  several,
  busy,
  onGone,
}: {
  box: Kept;
  today: string;
  several: boolean;
  busy: boolean;
  onGone: () => void;
}) {
  const now = box.eat_on === today;
  return (
    <li
      className={`grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-3 border-line border-b mid:grid-cols-[13rem_11rem_minmax(0,1fr)_auto] ${now ? "font-medium" : ""}`}
    >
      <span>
        {now ? "today" : nearDay(box.eat_on)}, meal {box.meal}
        {several && `, ${box.dog}`}
      </span>
      <span className="col-start-1 tabular-nums mid:col-start-2">
        {box.code}-{box.number}
      </span>
      <span className="col-start-1 mid:col-start-3">
        {foodWeight(box.grams)}, {number(box.kcal)} kcal{box.part && ", part"};{" "}
        {!box.frozen
          ? "in the fridge"
          : now
            ? "still frozen: thaw it sealed in cold water"
            : `out on the evening of ${nearDay(box.take_out ?? box.eat_on)}`}
        <span className="text-soft">, by {nearDay(box.use_by)}</span>
      </span>
      <button
        type="button"
        aria-disabled={busy}
        aria-label={`Box ${box.code}-${box.number} is gone`}
        className="col-start-2 row-span-3 row-start-1 min-h-12 min-w-14 underline aria-disabled:opacity-40 mid:col-start-4 mid:row-span-1 mid:min-h-9"
        onClick={onGone}
      >
        gone
      </button>
    </li>
  );
}

/** A batch that is done: its boxes count from the day on which it is fed. */
function FedFrom({
  batch,
  busy,
  say,
}: {
  batch: InFreezer;
  busy: boolean;
  say: (batch: InFreezer, from: string, gone: number[]) => void;
}) {
  const [from, setFrom] = useState(batch.cook_on);
  return (
    <form
      className="my-1 flex flex-wrap items-center gap-3 border-ink stile"
      onSubmit={(event) => {
        event.preventDefault();
        say(batch, from, []);
      }}
    >
      <label htmlFor={`first-day-${batch.id}`}>
        <b className="font-semibold">{batch.code}</b> is cooked. From when is it fed?
      </label>
      <TextInput
        id={`first-day-${batch.id}`}
        type="date"
        required
        min={batch.cook_on}
        value={from}
        onChange={(e) => setFrom(e.target.value)}
        className="h-12 w-40"
      />
      <button
        type="submit"
        aria-disabled={busy}
        className="min-h-12 rounded-corner border border-edge bg-sheet px-3 aria-disabled:opacity-40"
      >
        Its boxes count from then
      </button>
    </form>
  );
}
