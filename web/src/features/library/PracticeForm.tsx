import { useQueryClient } from "@tanstack/react-query";
import { api, type Profile, take } from "~/api/client";
import { figure } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { Button } from "~/ui";

interface Noted {
  price: string;
  price_grams: string;
  shop: string;
  season: string;
  unavailable: boolean;
  tsp: string;
  strengths: Record<string, string>;
}

function noteOf(form: Noted) {
  const tsp = figure(form.tsp);
  const price = figure(form.price);
  const measures: Record<string, number> = tsp === null ? {} : { tsp };
  const strengths = Object.fromEntries(
    Object.entries(form.strengths).flatMap(([tag, text]) => {
      const value = figure(text);
      return value === null ? [] : [[tag, value]];
    }),
  );
  return {
    price,
    price_grams: price === null ? null : figure(form.price_grams),
    price_date: price === null ? null : new Date().toISOString().slice(0, 10),
    shop: form.shop,
    season: form.season,
    unavailable: form.unavailable,
    measures,
    strengths,
  };
}

/** Price, shop, season, availability, own measures, label strengths. */
export function PracticeForm({ food }: { food: Profile }) {
  const client = useQueryClient();
  const known = food.practice;
  const asked = [...food.questions.map((q) => q.tag), ...Object.keys(known?.strengths ?? {})];
  const note = useServerForm({
    defaults: {
      price: known?.price?.toString() ?? "",
      price_grams: known?.price_grams?.toString() ?? "1000",
      shop: known?.shop ?? "",
      season: known?.season ?? "",
      unavailable: known?.unavailable ?? false,
      tsp: known?.measures?.tsp?.toString() ?? "",
      strengths: Object.fromEntries(
        asked.map((tag) => [tag, known?.strengths?.[tag]?.toString() ?? ""]),
      ),
    },
    send: (form: Noted) =>
      take(
        api.PATCH("/api/foods/{food_id}", {
          params: { path: { food_id: food.id } },
          body: noteOf(form),
        }),
      ),
    onSaved: (saved) => {
      client.setQueryData(keyOf("profile", food.id), saved);
      void forget(client, "foods");
    },
  });
  const { form } = note;
  return (
    <Form
      of={note}
      className="flex flex-col gap-2 border-line border-t pt-3"
      actions={
        <>
          <Button type="submit" disabled={note.pending}>
            Save
          </Button>
          {note.saved && (
            <span role="status" className="text-soft">
              Saved
            </span>
          )}
        </>
      }
    >
      <h3 className="font-semibold">In this practice</h3>
      <div className="flex flex-wrap gap-3">
        <TextField form={form} id="practice-price" name="price" label="Price of a pack" figure />
        <TextField
          form={form}
          id="practice-price_grams"
          name="price_grams"
          label="Pack, g"
          figure
        />
        <TextField form={form} id="practice-tsp" name="tsp" label="My level tsp, g" figure />
        <TextField form={form} id="practice-shop" name="shop" label="Shop" className="w-52" />
        <TextField form={form} id="practice-season" name="season" label="Season" className="w-52" />
        {asked.map((tag) => (
          <TextField
            key={tag}
            form={form}
            id={`strength-${tag}`}
            name={`strengths.${tag}`}
            label={`${tag} on the label, per g`}
            figure
          />
        ))}
      </div>
      <label className="flex items-center gap-1.5">
        <input type="checkbox" {...form.register("unavailable")} className="accent-verdigris" />
        not to be had now
      </label>
      {known?.price_date && <p className="text-[13px] text-soft">Price of {known.price_date}.</p>}
    </Form>
  );
}
