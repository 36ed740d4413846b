import type { FieldPath, UseFormReturn } from "react-hook-form";
import { api, type Follow, type Trial, type TrialMoveKind, take } from "~/api/client";
import { today } from "~/shared/days";
import { day } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { useFirstFocus } from "~/shared/useFirstFocus";
import { Button } from "~/ui";
import { DISTURBANCES, MOVES } from "./trialWords";

const BLANK = {
  date: "",
  food: "",
  note: "",
  disturbance: "medicine" as keyof typeof DISTURBANCES,
  over: false,
  staple: false,
  full: false,
  signs: false,
  swelling: false,
  vet: false,
  without_severe: false,
};
type Typed = typeof BLANK;

const ASKS: Record<TrialMoveKind, (keyof Typed)[]> = {
  "change-over": [],
  feed: [],
  exposure: ["food", "signs", "swelling"],
  disturbance: ["disturbance", "over"],
  read: ["vet"],
  provoke: ["without_severe"],
  item: ["food", "staple", "without_severe"],
  flare: ["signs", "swelling"],
  pass: ["full"],
  clear: ["vet"],
  finish: [],
  stop: [],
};

const TICKS: Partial<Record<keyof Typed, string>> = {
  over: "It is over from this day on",
  signs: "Signs were seen, beside what is in the log",
  swelling: "Its face or throat swelled, or it collapsed",
  full: "All of it was eaten, every day",
  staple: "It is to be fed often: one flare does not prove it",
};

/** One step of a trial: its day, and what it has to say. */
export function MoveForm({
  trial,
  kind,
  onDone,
  onCancel,
}: {
  trial: Trial;
  kind: TrialMoveKind;
  onDone: (seen: Follow) => void;
  onCancel: () => void;
}) {
  const form = useServerForm({
    keptAs: `trial-${trial.id}-${kind}`,
    defaults: { ...BLANK, date: day(today()) },
    send: (typed: Typed) =>
      take(
        api.POST("/api/trials/{id}/moves", {
          params: { path: { id: trial.id } },
          body: {
            version: trial.version,
            move: {
              ...typed,
              kind,
              disturbance: kind === "disturbance" ? typed.disturbance : null,
            },
          },
        }),
      ),
    onSaved: onDone,
  });
  const box = useFirstFocus<HTMLDivElement>();
  const severe = trial.now.severe.join(", ");
  const asks = ASKS[kind].filter((name) => name !== "without_severe" || severe !== "");
  const ticks: Partial<Record<keyof Typed, string>> = {
    ...TICKS,
    vet: kind === "read" ? "The veterinarian reads it now" : "The veterinarian says so",
    without_severe: `Nothing of ${severe} is in it`,
  };
  return (
    <div ref={box}>
      <Form
        of={form}
        className="mt-2 flex max-w-xl flex-col gap-2 border-ink stile"
        actions={
          <>
            <Button kind={kind === "stop" ? "danger" : "solid"} type="submit" busy={form.pending}>
              {MOVES[kind].button}
            </Button>
            <Button kind="quiet" onClick={onCancel}>
              Cancel
            </Button>
          </>
        }
      >
        <p>{MOVES[kind].says}</p>
        <div className="flex flex-wrap gap-4">
          <TextField
            form={form.form}
            id={`move-date-${kind}`}
            name="date"
            label="Day"
            required
            className="w-36"
          />
          {asks.includes("food") && (
            <TextField
              form={form.form}
              id={`move-food-${kind}`}
              name="food"
              label={kind === "item" ? "Food" : "What it was"}
              required
              maxLength={80}
            />
          )}
        </div>
        {asks.includes("disturbance") && (
          <label className="flex flex-wrap items-center gap-2">
            What
            <select
              {...form.form.register("disturbance")}
              className="h-8 rounded-corner border border-edge bg-sheet px-2"
            >
              {Object.entries(DISTURBANCES).map(([id, words]) => (
                <option key={id} value={id}>
                  {words}
                </option>
              ))}
            </select>
          </label>
        )}
        {asks.map((name) => {
          const words = ticks[name];
          return words === undefined ? null : (
            <Tick key={name} form={form.form} name={name} words={words} />
          );
        })}
        <TextField
          form={form.form}
          id={`move-note-${kind}`}
          name="note"
          label={kind === "stop" ? "Why is it stopped?" : "Note"}
          required={kind === "stop"}
          maxLength={300}
        />
      </Form>
    </div>
  );
}

function Tick({
  form,
  name,
  words,
}: {
  form: UseFormReturn<Typed>;
  name: FieldPath<Typed>;
  words: string;
}) {
  const error = form.getFieldState(name, form.formState).error?.message;
  return (
    <div>
      <label className="flex items-center gap-1.5">
        <input type="checkbox" {...form.register(name)} />
        {words}
      </label>
      {error && (
        <p role="alert" className="text-data text-madder">
          {error}
        </p>
      )}
    </div>
  );
}
