import { useState } from "react";
import type { Profile } from "~/api/client";
import { Box, RecordFields, Tick, useSaving } from "~/shared/record/fields";
import { isFields } from "~/shared/saving/fields";
import { SavingNote, UndoRedo } from "~/shared/saving/SavingNote";
import { useDraft } from "~/shared/saving/useDraft";
import { Button, TextInput } from "~/ui";

const WORDS: Record<string, string> = { price: "The price", price_grams: "The pack" };

/** What the practice says of a food: price, shop, season, own measures, strengths read from the pack. */
export function PracticeForm({ food }: { food: Profile }) {
  const saving = useDraft("profile", food.id, food);
  const known = food.practice;
  const asked = [
    ...new Set([...food.questions.map((q) => q.tag), ...Object.keys(known?.strengths ?? {})]),
  ];
  const words = (path: string) => WORDS[path] ?? path.split(".").slice(-1)[0] ?? path;
  return (
    <RecordFields saving={saving}>
      <section
        aria-label="In this practice"
        className="flex flex-col gap-2 border-line border-t pt-3"
      >
        <div className="flex items-center justify-between">
          <h3 className="font-semibold">In this practice</h3>
          <UndoRedo saving={saving} />
        </div>
        <SavingNote
          saving={saving}
          words={words}
          shown={(path) => document.querySelector(`[data-field="${CSS.escape(path)}"]`) !== null}
        />
        <div className="flex flex-wrap gap-3">
          <Box path="price" label="Price of a pack" holds="figure" />
          <Box path="price_grams" label="Pack, g" holds="figure" />
          <Box path="shop" label="Shop" className="w-52" />
          <Box path="season" label="Season" className="w-52" />
          {asked.map((tag) => (
            <Box
              key={tag}
              path={`strengths.${tag}`}
              label={`${tag} on the label, per g`}
              holds="figure"
            />
          ))}
        </div>
        <Tick path="unavailable" label="not to be had now" />
        {known?.price_date && <p className="text-data text-soft">Price of {known.price_date}.</p>}
        <OwnMeasures food={food} />
      </section>
    </RecordFields>
  );
}

/** What one measure of the food weighs here: a tin, a clove, the practice's own teaspoon. */
function OwnMeasures({ food }: { food: Profile }) {
  const saving = useSaving();
  const rows = saving.value("measures");
  const mine = isFields(rows) ? Object.keys(rows) : [];
  const [name, setName] = useState("");
  const [weight, setWeight] = useState("");
  function add() {
    const measure = name.trim().toLowerCase().replaceAll(".", "");
    if (measure === "" || weight.trim() === "") return;
    saving.set(`measures.${measure}`, weight.trim());
    setName("");
    setWeight("");
  }
  return (
    <section aria-label="Own measures">
      <h4 className="font-medium">What one weighs here</h4>
      <p className="text-data text-soft">
        A tin, a slice, a clove, your own teaspoon: it takes the place of the table's weight in
        every recipe of the practice.
      </p>
      {mine.length > 0 && (
        <ul className="my-1 flex flex-wrap gap-3">
          {mine.map((measure) => (
            <li key={measure} className="flex items-end gap-1">
              <Box path={`measures.${measure}`} label={`1 ${measure}, g`} holds="figure" />
              <button
                type="button"
                aria-label={`Forget what 1 ${measure} weighs`}
                onClick={() => saving.set(`measures.${measure}`, null)}
                className="size-8 rounded-corner text-soft hover:bg-groove hover:text-madder"
              >
                ×
              </button>
            </li>
          ))}
        </ul>
      )}
      <form
        className="mt-1 flex items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <span className="text-soft">1</span>
        <TextInput
          aria-label="Measure"
          placeholder="tin"
          value={name}
          maxLength={40}
          onChange={(e) => setName(e.target.value)}
          className="w-28"
        />
        <span className="text-soft">of {food.name} weighs</span>
        <TextInput
          aria-label="Its weight"
          placeholder="425 g"
          value={weight}
          onChange={(e) => setWeight(e.target.value)}
          className="w-24 text-right"
        />
        <Button type="submit" small>
          Note it
        </Button>
      </form>
    </section>
  );
}
