import { useState } from "react";
import type { FollowEntryIn } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { today } from "~/shared/days";
import { day, figure } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { newKey } from "~/shared/newKey";
import { Button } from "~/ui";
import { SIGN_WORDS, type Sign } from "./signs";

const BLANK = {
  date: "",
  weight_kg: "",
  scale: "",
  kcal_fed: "",
  left_percent: "",
  extra_kcal: "",
  body_condition: "",
  stool: "",
  itch: "",
  vomiting: "",
  appetite_percent: "",
  stools: "",
  energy: "",
  breaths: "",
  muscle: "" as NonNullable<FollowEntryIn["muscle"]>,
  fluid: false,
  signs: [] as Sign[],
  changed: "",
  note: "",
};

/** A bare figure is in the unit in which the client’s dogs are weighed. */
function weightText(typed: string): string | null {
  const text = typed.trim();
  if (text === "") return null;
  return /^[\d\s.,/]+$/.test(text) ? `${text} ${conventions().body}` : text;
}

const MUSCLE: NonNullable<FollowEntryIn["muscle"]>[] = ["", "normal", "mild", "moderate", "severe"];

interface Sent {
  key: string;
  entry: FollowEntryIn;
}

/** A day: a weight, what was fed, scores, what was changed. Whoever sends it says where to. */
export function DayForm<R>({
  keptAs,
  send,
  onSaved,
  large = false,
}: {
  keptAs: string;
  send: (body: Sent) => Promise<R>;
  onSaved: (answer: R) => void;
  /** For a thumb. */
  large?: boolean;
}) {
  const [key, setKey] = useState(freshKey);
  const form = useServerForm({
    keptAs,
    defaults: { ...BLANK, date: day(today()) },
    send: (typed: typeof BLANK) => send({ key, entry: entryOf(typed) }),
    onSaved: (answer: R) => {
      form.form.reset({ ...BLANK, date: day(today()) });
      // What is sent again after a lost answer has the same key; the next day has another.
      setKey(freshKey());
      onSaved(answer);
    },
  });
  const box = { form: form.form };
  const size = large ? "h-12 w-32 text-right text-part" : "w-28 text-right";
  const words = large ? "h-12 text-part" : "";
  return (
    <Form
      of={form}
      className="mt-1 flex flex-col gap-3"
      actions={
        <>
          <Button
            kind="solid"
            type="submit"
            busy={form.pending}
            className={large ? "h-12 px-5 text-part" : ""}
          >
            Put it down
          </Button>
          {form.saved && <span role="status">It is put down.</span>}
        </>
      }
    >
      <TextField
        {...box}
        name="date"
        label="Day"
        hint={`for example ${day("2026-12-03")}`}
        required
        className={large ? "h-12 w-40 text-part" : "w-36"}
      />
      <div className="flex flex-wrap gap-3">
        <TextField
          {...box}
          name="weight_kg"
          label={`Weight, ${conventions().body}`}
          figure
          className={size}
        />
        {!large && (
          <TextField {...box} name="kcal_fed" label="Fed, kcal" hint="empty: the plan" figure />
        )}
        <TextField
          {...box}
          name="left_percent"
          label="Left in the bowl, %"
          figure
          className={size}
        />
        <TextField {...box} name="extra_kcal" label="Treats, kcal" figure className={size} />
        <TextField {...box} name="stool" label="Stool, 1 to 7" figure className={size} />
        <TextField {...box} name="itch" label="Itch, 0 to 10" figure className={size} />
        <TextField {...box} name="vomiting" label="Vomited, times" figure className={size} />
        <TextField
          {...box}
          name="appetite_percent"
          label="Eaten of it, %"
          figure
          className={size}
        />
        {!large && (
          <>
            <TextField {...box} name="body_condition" label="Condition, of 9" figure />
            <TextField {...box} name="scale" label="Scale, if another" className="w-28" />
          </>
        )}
      </div>
      <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
        <legend className="font-medium">Seen</legend>
        {(Object.keys(SIGN_WORDS) as Sign[]).map((id) => (
          <label key={id} className={`flex items-center gap-1.5 ${large ? "min-h-12" : ""}`}>
            <input type="checkbox" value={id} {...form.form.register("signs")} />
            {SIGN_WORDS[id]}
          </label>
        ))}
      </fieldset>
      <details>
        <summary className={`cursor-pointer ${large ? "flex min-h-12 items-center" : ""}`}>
          More scores
        </summary>
        <div className="mt-1 flex flex-wrap gap-3">
          <TextField {...box} name="stools" label="Stools, times" figure className={size} />
          <TextField {...box} name="energy" label="Energy, 0 to 10" figure className={size} />
          <TextField
            {...box}
            name="breaths"
            label="Breaths a minute, asleep"
            figure
            className={size}
          />
          {!large && (
            <>
              <label className="flex flex-col gap-1">
                <span className="font-medium">Muscle</span>
                <select
                  {...form.form.register("muscle")}
                  className="h-8 rounded-corner border border-edge bg-sheet px-2"
                >
                  {MUSCLE.map((grade) => (
                    <option key={grade} value={grade}>
                      {grade || "not scored"}
                    </option>
                  ))}
                </select>
              </label>
              <label className="flex items-center gap-1.5">
                <input type="checkbox" {...form.form.register("fluid")} />
                Its weight is not tissue, says the vet: fluid
              </label>
            </>
          )}
        </div>
      </details>
      <TextField
        {...box}
        name="changed"
        label="Left out or swapped"
        maxLength={300}
        className={words}
      />
      <TextField {...box} name="note" label="Note" maxLength={300} className={words} />
    </Form>
  );
}

function freshKey(): string {
  return `d-${newKey()}${newKey()}`;
}

function entryOf(typed: typeof BLANK): FollowEntryIn {
  return {
    date: typed.date,
    // Read on the server, with its unit.
    weight_kg: weightText(typed.weight_kg) as unknown as number | null,
    scale: typed.scale,
    kcal_fed: figure(typed.kcal_fed),
    left_percent: figure(typed.left_percent),
    extra_kcal: figure(typed.extra_kcal),
    body_condition: figure(typed.body_condition),
    stool: figure(typed.stool),
    itch: figure(typed.itch),
    vomiting: figure(typed.vomiting),
    appetite_percent: figure(typed.appetite_percent),
    stools: figure(typed.stools),
    energy: figure(typed.energy),
    breaths: figure(typed.breaths),
    muscle: typed.muscle,
    fluid: typed.fluid,
    signs: typed.signs,
    changed: typed.changed,
    note: typed.note,
  };
}
