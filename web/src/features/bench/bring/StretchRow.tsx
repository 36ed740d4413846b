import { useEffect, useRef, useState } from "react";
import type { Doubts, Food } from "~/api/client";
import { AmountBox } from "~/shared/amounts/boxes";
import { AddFood } from "~/shared/foods/AddFood";
import { percent, spelled, told } from "~/shared/format";
import { Button, focusWork, TextInput } from "~/ui";
import { isWhole, type Stretch, standsFor } from "./review";

type Doubt = Doubts["lines"][number];

/** What is being typed of a stretch, beside its amount. */
export type Typing = "food" | "words" | "reason" | null;

const SIGNS: Record<Stretch["decision"], { sign: string; words: string }> = {
  open: { sign: "?", words: "not looked at" },
  taken: { sign: "✓", words: "taken" },
  asked: { sign: "…", words: "the owner is asked" },
  out: { sign: "×", words: "left out" },
  done: { sign: "✓", words: "on the bench" },
};

/** A stretch in one line; the one that is looked at shows what it may stand for. */
export function StretchRow({
  stretch,
  number,
  doubt,
  current,
  onSelect,
  children,
}: {
  stretch: Stretch;
  number: number | undefined;
  doubt: Doubt | undefined;
  current: boolean;
  onSelect: (key: string) => void;
  children?: React.ReactNode;
}) {
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (current) row.current?.scrollIntoView({ block: "nearest" });
  }, [current]);
  const { decision, key } = stretch;
  const stands = standsFor(stretch);
  const { sign, words } = SIGNS[decision];
  const why = decision === "out" ? stretch.reason : stretch.doubts.join("; ");
  const note = why || (doubt?.sure === false ? "" : stretch.guessed.join("; "));
  return (
    <li
      ref={row}
      data-line={key}
      data-decision={decision}
      aria-current={current ? "true" : undefined}
      className={`border-line border-t ${current ? "bg-sheet outline-2 outline-verdigris -outline-offset-1" : ""}`}
    >
      <button
        type="button"
        onClick={() => {
          onSelect(key);
          focusWork();
        }}
        className={`grid w-full grid-cols-[1.5rem_1rem_1fr_auto] items-baseline gap-x-1 px-1.5 py-0.5 text-left ${decision === "out" ? "text-soft" : ""}`}
      >
        <span className="font-semibold text-data">{number}</span>
        <span title={words}>
          <span aria-hidden="true">{sign}</span>
          <span className="sr-only">{words}</span>
        </span>
        <span className={current ? "" : "truncate"}>
          <b className="font-semibold">{stands ? spelled(stands.name) : `“${stretch.text}”`}</b>{" "}
          <span className="text-soft">{told(note)}</span>
        </span>
        {decision !== "out" && (
          <b className="whitespace-nowrap font-semibold">
            {stretch.quantity || "?"}
            {decision === "open" && !doubt?.sure && stretch.quantity ? " ?" : ""}
          </b>
        )}
      </button>
      {children}
    </li>
  );
}

/** What a stretch may stand for, what hangs on each, and what can be done with it. */
export function StretchChoices({
  stretch,
  doubt,
  caseId,
  typing,
  wrong,
  reading,
  problem,
  on,
}: {
  stretch: Stretch;
  doubt: Doubt | undefined;
  caseId: number;
  typing: Typing;
  /** Why its amount cannot be read. */
  wrong: string;
  reading: boolean;
  problem: string;
  on: {
    choose: (at: number) => void;
    quantity: (text: string) => void;
    food: (food: Food) => void;
    take: () => void;
    ask: () => void;
    out: (reason: string) => void;
    join: (() => void) | null;
    reword: (text: string) => void;
    type: (what: Typing) => void;
  };
}) {
  const search = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (typing === "food") search.current?.focus();
  }, [typing]);
  const { choices } = stretch;
  return (
    <div className="flex flex-col gap-1 px-1.5 pb-2 pl-11">
      {choices.length > 0 && (
        <ol aria-label="What it may stand for" className="flex flex-col">
          {choices.map((choice, i) => {
            const chosen = stretch.at === i && stretch.own === null;
            const same = choices.findIndex((c) => c.food === choice.food) < i;
            return (
              <li key={`${choice.food} ${choice.quantity} ${choice.preparation}`}>
                <button
                  type="button"
                  aria-pressed={chosen}
                  onClick={() => on.choose(i)}
                  className="grid w-full grid-cols-[1.25rem_minmax(0,1fr)_4.5rem_minmax(0,1.2fr)] items-baseline gap-x-2 px-1 text-left hover:bg-groove aria-pressed:font-semibold max-mid:grid-cols-[1.25rem_minmax(0,1fr)_4.5rem]"
                >
                  <kbd className={chosen ? "bg-ink px-1 text-sheet" : "px-1"}>{i + 1}</kbd>
                  <span>
                    {same ? "the same" : spelled(choice.name)}
                    <span className="text-soft">
                      {choice.words && `, ${told(choice.words)}`}
                      {choice.preparation &&
                        `, ${choice.methods.find((m) => m.id === choice.preparation)?.label}`}
                      {!same && i > 0 && `, ${percent(choice.confidence)} sure`}
                    </span>
                  </span>
                  <span className="text-right">{choice.quantity || "? g"}</span>
                  <span className="text-data text-soft max-mid:col-span-2 max-mid:col-start-2">
                    {chosen ? "as it stands" : told(doubt?.effects[i]?.words ?? "")}
                  </span>
                </button>
              </li>
            );
          })}
        </ol>
      )}
      {typing === "food" && (
        <AddFood
          inputRef={search}
          caseId={caseId}
          label="Another food"
          placeholder="Type what it is: “turkey thigh”"
          below
          onAdd={on.food}
        />
      )}
      {typing === "words" && (
        <Words
          text={stretch.text}
          busy={reading}
          problem={problem}
          onDone={on.reword}
          onLeave={() => on.type(null)}
        />
      )}
      {typing === "reason" && <Reason onDone={on.out} onLeave={() => on.type(null)} />}
      {typing === null && (
        <div className="flex flex-wrap items-center gap-1.5">
          <AmountBox
            data-amount-of-stretch
            aria-label={`Amount of ${standsFor(stretch)?.name ?? stretch.text}`}
            wrong={wrong}
            placeholder="grams"
            value={stretch.quantity}
            onChange={(e) => on.quantity(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter" && !e.ctrlKey && !e.metaKey) {
                e.preventDefault();
                on.take();
              }
              if (e.key === "Escape") focusWork();
            }}
            className="w-20"
          />
          <Button small kind="solid" disabled={!isWhole(stretch) || wrong !== ""} onClick={on.take}>
            Take <kbd>Enter</kbd>
          </Button>
          <Button small onClick={() => on.type("food")}>
            Another food <kbd>f</kbd>
          </Button>
          <Button small onClick={() => on.type("words")}>
            Reword, split <kbd>s</kbd>
          </Button>
          {on.join && (
            <Button small onClick={on.join}>
              Join next <kbd>j</kbd>
            </Button>
          )}
          <Button small onClick={on.ask}>
            Ask <kbd>q</kbd>
          </Button>
          <Button small onClick={() => on.type("reason")}>
            Leave out <kbd>x</kbd>
          </Button>
          {wrong && <span className="text-madder">{wrong}</span>}
        </div>
      )}
    </div>
  );
}

/** Other words for a stretch; a line each for several ingredients. */
function Words({
  text,
  busy,
  problem,
  onDone,
  onLeave,
}: {
  text: string;
  busy: boolean;
  problem: string;
  onDone: (text: string) => void;
  onLeave: () => void;
}) {
  const [words, setWords] = useState(text);
  const box = useRef<HTMLTextAreaElement>(null);
  useEffect(() => box.current?.focus(), []);
  return (
    <form
      className="flex flex-wrap items-start gap-1.5"
      onSubmit={(e) => {
        e.preventDefault();
        if (words.trim()) onDone(words);
      }}
    >
      <textarea
        ref={box}
        aria-label="In other words, an ingredient a line"
        rows={Math.min(6, Math.max(2, words.split("\n").length))}
        value={words}
        onChange={(e) => setWords(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) {
            e.preventDefault();
            // The page has the same key for the whole text.
            e.stopPropagation();
            if (words.trim()) onDone(words);
          }
          if (e.key === "Escape") onLeave();
        }}
        className="min-w-60 flex-1 rounded-corner border border-edge bg-sheet px-2 py-1"
      />
      <Button small kind="solid" type="submit" disabled={busy || !words.trim()}>
        Read it so <kbd>Ctrl Enter</kbd>
      </Button>
      <Button small onClick={onLeave}>
        Leave it <kbd>Esc</kbd>
      </Button>
      <p className="basis-full text-data text-soft">
        One ingredient a line: break the line where the next begins.
      </p>
      {problem && (
        <p role="alert" className="basis-full text-madder">
          {problem}
        </p>
      )}
    </form>
  );
}

/** Why something does not come into the recipe: it is kept with the text. */
function Reason({ onDone, onLeave }: { onDone: (reason: string) => void; onLeave: () => void }) {
  const [reason, setReason] = useState("");
  const box = useRef<HTMLInputElement>(null);
  useEffect(() => box.current?.focus(), []);
  const done = reason.trim();
  return (
    <form
      className="flex flex-wrap items-center gap-1.5"
      onSubmit={(e) => {
        e.preventDefault();
        if (done) onDone(done);
      }}
    >
      <TextInput
        ref={box}
        aria-label="Why it is left out"
        placeholder="Why: not fed any more, a medicine, counted as a treat…"
        maxLength={200}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && onLeave()}
        className="min-w-72 flex-1"
      />
      <Button small kind="solid" type="submit" disabled={!done}>
        Leave it out <kbd>Enter</kbd>
      </Button>
      <Button small onClick={onLeave}>
        Keep it <kbd>Esc</kbd>
      </Button>
    </form>
  );
}
