import { useRef, useState } from "react";
import type { Cook, CookStep, Food } from "~/api/client";
import { AddFood } from "~/shared/foods/AddFood";
import { decimal, spelled } from "~/shared/format";
import { Dialog, TextInput } from "~/ui";
import { Select } from "~/ui/Select";
import { Big, entryKey } from "./parts";
import type { CookAt, Cooking } from "./useCooking";

/** It did not go as the list says: left out, put in without a scale, or something else went in. */
export function Else({
  at,
  cook,
  cooking,
  step,
  onClose,
  onDone,
}: {
  at: CookAt;
  cook: Cook;
  cooking: Cooking;
  step: CookStep;
  onClose: () => void;
  onDone: () => void;
}) {
  const [what, setWhat] = useState<"" | "swap" | "note">("");
  const said = (kind: "left-out" | "planned") => {
    cooking.put({ key: entryKey(), kind, line: step.line });
    onDone();
  };
  return (
    <Dialog open onClose={onClose} title={spelled(step.title)}>
      {what === "" && (
        <div className="flex flex-col gap-3">
          <Big onClick={() => said("planned")}>It went in as the list says, not weighed</Big>
          <Big onClick={() => said("left-out")}>It is left out</Big>
          {"id" in at ? (
            <Big onClick={() => setWhat("swap")}>Another food went in</Big>
          ) : (
            <Big onClick={() => setWhat("note")}>Another food went in</Big>
          )}
          <p className="text-soft">
            All of this line is meant, in every vessel. Never leave out or swap a supplement without
            asking {cook.practice}.
          </p>
        </div>
      )}
      {what === "swap" && cook.case !== null && (
        <Swap caseId={cook.case} cooking={cooking} step={step} onDone={onDone} />
      )}
      {what === "note" && <Note cook={cook} cooking={cooking} step={step} onDone={onDone} />}
    </Dialog>
  );
}

const AS_WEIGHED = "as-weighed";

/** A food of the library, how it is cooked, and how much of it. */
function Swap({
  caseId,
  cooking,
  step,
  onDone,
}: {
  caseId: number;
  cooking: Cooking;
  step: CookStep;
  onDone: () => void;
}) {
  const search = useRef<HTMLInputElement>(null);
  const [food, setFood] = useState<Food | null>(null);
  const [grams, setGrams] = useState("");
  // Cooked or not is never guessed: what it holds depends on it.
  const [how, setHow] = useState<string | null>(null);
  const value = decimal(grams);
  const methods = food?.methods ?? [];
  const ready = food !== null && value > 0 && (methods.length === 0 || how !== null);
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!food || !ready) return;
        cooking.put({
          key: entryKey(),
          kind: "swapped",
          line: step.line,
          food: food.id,
          preparation: methods.length > 0 && how !== AS_WEIGHED ? (how ?? "") : "",
          grams: value,
        });
        onDone();
      }}
    >
      {food ? (
        <p>
          <b className="font-semibold">{spelled(food.name)}</b> instead.{" "}
          <button
            type="button"
            className="h-12 underline"
            onClick={() => {
              setFood(null);
              setHow(null);
            }}
          >
            another
          </button>
        </p>
      ) : (
        <AddFood
          inputRef={search}
          caseId={caseId}
          label="What went in"
          placeholder="chicken breast, pumpkin…"
          below
          onAdd={(found) => setFood(found)}
        />
      )}
      {methods.length > 0 && (
        <Select
          label="How it is cooked"
          placeholder="How is it cooked?"
          value={how ?? ""}
          onChange={setHow}
          className="h-12"
          options={[
            ...methods.map((m) => ({ id: m.id, label: m.label })),
            { id: AS_WEIGHED, label: "not at all: fed as it was weighed" },
          ]}
        />
      )}
      <label className="flex items-center gap-2" htmlFor="swap-grams">
        How much, g, as it was weighed
        <TextInput
          id="swap-grams"
          inputMode="decimal"
          value={grams}
          onChange={(e) => setGrams(e.target.value)}
          className="h-12 w-28 text-right"
        />
      </label>
      <Big solid type="submit" disabled={!ready}>
        Put it down
      </Big>
    </form>
  );
}

/** The owner writes it; what it does to the dog is for the practice to say. */
function Note({
  cook,
  cooking,
  step,
  onDone,
}: {
  cook: Cook;
  cooking: Cooking;
  step: CookStep;
  onDone: () => void;
}) {
  const [text, setText] = useState("");
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        const words = text.trim();
        if (!words) return;
        cooking.put({
          key: entryKey(),
          kind: "note",
          line: step.line,
          text: `Instead of ${step.title}: ${words}`.slice(0, 300),
        });
        onDone();
      }}
    >
      <label htmlFor="instead">What went in, and how much of it?</label>
      <textarea
        id="instead"
        rows={3}
        maxLength={200}
        value={text}
        onChange={(e) => setText(e.target.value)}
        className="rounded-corner border border-edge bg-sheet p-2 text-part"
      />
      <p className="border-madder stile">
        Do not feed this batch before {cook.practice} has answered: nobody knows yet whether it
        holds.
      </p>
      <Big solid type="submit" disabled={text.trim() === ""}>
        Put it down
      </Big>
    </form>
  );
}
