import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type ApiError, api, type Profile, take } from "~/api/client";
import { decimal, number, percent } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { profileQuery } from "~/shared/queries";
import { Button, Field, Loading, Problem, TextInput, Toggle } from "~/ui";
import { OwnFoodDialog } from "./OwnFoodDialog";

export type FoodBasis = "per_100g" | "per_1000_kcal" | "per_100g_dry_matter";

export const FOOD_BASES: { id: FoodBasis; label: string }[] = [
  { id: "per_100g", label: "100 g" },
  { id: "per_1000_kcal", label: "1000 kcal" },
  { id: "per_100g_dry_matter", label: "Dry matter" },
];

const GRADE_MARK: Record<string, string> = {
  analysed: "",
  borrowed: "b",
  pattern: "p",
  stoichiometric: "s",
  label: "l",
  unknown: "",
};

/** Everything about one food, with the provenance of every value. */
export function ProfilePanel({ foodId, onOpen }: { foodId: string; onOpen: (id: string) => void }) {
  const [basis, setBasis] = useState<FoodBasis>("per_100g");
  const [shown, setShown] = useState<string | null>(null);
  const [editing, setEditing] = useState(false);
  const profile = useQuery(profileQuery(foodId));
  if (profile.isPending) return <Loading what="the food" />;
  if (profile.isError) return <Problem error={profile.error} retry={() => profile.refetch()} />;
  const food = profile.data;
  return (
    <article className="flex flex-col gap-4 p-4">
      <header>
        <h2 className="text-lg">{food.name}</h2>
        <p className="text-[13px] text-soft">
          {[food.id, food.klass, food.form].join(" · ")}
          {food.source_name && ` · ${food.source_name}`}
        </p>
        <p className="text-[13px]">
          {food.allergens.length > 0 && <>Source: {food.allergens.join(", ")}. </>}
          {Object.entries(food.traits).map(([trait, level]) => (
            <span key={trait}>
              {trait === "sodium"
                ? "Sodium added"
                : `${trait[0]?.toUpperCase()}${trait.slice(1)}: ${level}`}
              .{" "}
            </span>
          ))}
        </p>
        {food.own !== null && (
          <Button onClick={() => setEditing(true)}>Edit (makes a new revision)</Button>
        )}
      </header>
      {food.handling && (
        <section className="border-oak border-l-[3px] pl-3">
          <h3 className="font-semibold">Giving it</h3>
          <p>
            {food.handling.form}; smallest step {number(food.handling.step_g, 2)} g. When:{" "}
            {food.handling.add}. Heat: {food.handling.heat}.
          </p>
          {food.handling.block && <p className="text-madder">{food.handling.block}.</p>}
          {food.questions.length > 0 && (
            <p className="text-madder">
              Strength differs by product: read{" "}
              {food.questions.map((q) => `${q.tag} (${q.unit}/${q.per})`).join(", ")} from the label
              below.
            </p>
          )}
        </section>
      )}
      <section>
        <h3 className="mb-1 font-semibold">How complete it is</h3>
        <table className="w-full">
          <tbody>
            {food.completeness.map((c) => (
              <tr key={c.group}>
                <td className="capitalize">{c.group === "energy" ? "macros" : c.group}</td>
                <td className="w-40">
                  <svg
                    viewBox="0 0 100 6"
                    preserveAspectRatio="none"
                    className="h-2 w-full"
                    aria-hidden="true"
                  >
                    <rect width="100" height="6" fill="var(--groove)" />
                    <rect width={c.known * 100} height="6" fill="var(--oak-pale)" />
                    <rect width={c.firm * 100} height="6" fill="var(--oak-deep)" />
                  </svg>
                </td>
                <td className="w-44 whitespace-nowrap text-right text-[13px]">
                  {percent(c.known)} known, {percent(c.firm)} analysed
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <div className="mb-1 flex items-center justify-between">
          <h3 className="font-semibold">Values</h3>
          <Toggle
            label="Basis of the values"
            value={basis}
            onChange={setBasis}
            options={FOOD_BASES}
          />
        </div>
        <p className="mb-1 text-[12px] text-soft">
          Choose a value for its source. b borrowed, p pattern, s stoichiometric, l label; unmarked
          analysed.
        </p>
        <table className="w-full">
          <tbody>
            {food.values.map((v) => (
              <tr key={v.key} className="border-line border-b align-top">
                <td>
                  {v.name}
                  {shown === v.key && (
                    <div className="text-[12px] text-soft">
                      {v.grade}: {v.provenance}. {v.citation}
                      {v.confidence && `; confidence ${v.confidence}`}
                    </div>
                  )}
                </td>
                <td className="whitespace-nowrap text-right">
                  <button
                    type="button"
                    aria-expanded={shown === v.key}
                    onClick={() => setShown(shown === v.key ? null : v.key)}
                    className="rounded px-1 hover:bg-groove"
                  >
                    {v.per_100g === null ? (
                      <span className="border-ink border-b border-dashed">unknown</span>
                    ) : (
                      <>
                        {number(v[basis], v.decimals)} {v.unit}
                      </>
                    )}
                    <span className="inline-block w-4 text-center text-[12px] text-soft">
                      {GRADE_MARK[v.grade]}
                    </span>
                    <span className="sr-only">, source of {v.name}</span>
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {food.forms.length > 0 && (
        <section>
          <h3 className="mb-1 font-semibold">Other forms</h3>
          <ul>
            {food.forms.map((form) => (
              <li key={form.id}>
                <button
                  type="button"
                  className="underline underline-offset-2"
                  onClick={() => onOpen(form.id)}
                >
                  {form.name}
                </button>
                {form.weight_share !== null && (
                  <span className="text-soft">
                    {" "}
                    100 g gives about {number(form.weight_share * 100)} g (by protein)
                  </span>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {food.measures.length > 0 && (
        <section>
          <h3 className="mb-1 font-semibold">Measures</h3>
          <ul className="text-[13px]">
            {food.measures.map((m) => (
              <li key={m.name}>
                {m.name}: {number(m.grams, m.grams < 10 ? 1 : 0)} g{" "}
                <span className="text-soft">({m.source})</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <PracticeForm food={food} />
      {editing && food.own !== null && (
        <OwnFoodDialog
          ownId={food.own}
          onClose={() => setEditing(false)}
          onSaved={() => setEditing(false)}
        />
      )}
    </article>
  );
}

/** Price, shop, season, availability, own measures, label strengths. */
function PracticeForm({ food }: { food: Profile }) {
  const client = useQueryClient();
  const known = food.practice;
  const asked = [...food.questions.map((q) => q.tag), ...Object.keys(known?.strengths ?? {})];
  const [form, setForm] = useState({
    price: known?.price?.toString() ?? "",
    price_grams: known?.price_grams?.toString() ?? "1000",
    shop: known?.shop ?? "",
    season: known?.season ?? "",
    unavailable: known?.unavailable ?? false,
    tsp: known?.measures?.tsp?.toString() ?? "",
    strengths: Object.fromEntries(
      asked.map((tag) => [tag, known?.strengths?.[tag]?.toString() ?? ""]),
    ),
  });
  const figure = (text: string) => (text.trim() === "" ? null : decimal(text));
  const save = useMutation({
    mutationFn: () => {
      const tsp = figure(form.tsp);
      const strengths = Object.fromEntries(
        Object.entries(form.strengths).flatMap(([tag, text]) => {
          const value = figure(text);
          return value === null ? [] : [[tag, value]];
        }),
      );
      const price = figure(form.price);
      return take(
        api.PATCH("/api/foods/{food_id}", {
          params: { path: { food_id: food.id } },
          body: {
            price,
            price_grams: price === null ? null : figure(form.price_grams),
            price_date: price === null ? null : new Date().toISOString().slice(0, 10),
            shop: form.shop,
            season: form.season,
            unavailable: form.unavailable,
            measures: tsp === null ? {} : { tsp },
            strengths,
          },
        }),
      );
    },
    onSuccess: (saved) => {
      client.setQueryData(keyOf("profile", food.id), saved);
      void forget(client, "foods");
    },
  });
  const error = save.error as ApiError | null;
  const text = (
    id: "price" | "price_grams" | "shop" | "season" | "tsp",
    label: string,
    wide = false,
  ) => (
    <Field id={`practice-${id}`} label={label}>
      <TextInput
        id={`practice-${id}`}
        value={form[id]}
        onChange={(e) => setForm({ ...form, [id]: e.target.value })}
        className={wide ? "w-52" : "w-24 text-right"}
      />
    </Field>
  );
  function submit(event: FormEvent) {
    event.preventDefault();
    save.mutate();
  }
  return (
    <form onSubmit={submit} className="flex flex-col gap-2 border-line border-t pt-3">
      <h3 className="font-semibold">In this practice</h3>
      <div className="flex flex-wrap gap-3">
        {text("price", "Price of a pack")}
        {text("price_grams", "Pack, g")}
        {text("tsp", "My level tsp, g")}
        {text("shop", "Shop", true)}
        {text("season", "Season", true)}
        {Object.keys(form.strengths).map((tag) => (
          <Field key={tag} id={`strength-${tag}`} label={`${tag} on the label, per g`}>
            <TextInput
              id={`strength-${tag}`}
              value={form.strengths[tag] ?? ""}
              onChange={(e) =>
                setForm({ ...form, strengths: { ...form.strengths, [tag]: e.target.value } })
              }
              className="w-24 text-right"
            />
          </Field>
        ))}
      </div>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={form.unavailable}
          onChange={(e) => setForm({ ...form, unavailable: e.target.checked })}
          className="accent-verdigris"
        />
        not to be had now
      </label>
      {known?.price_date && <p className="text-[13px] text-soft">Price of {known.price_date}.</p>}
      {error && (
        <p role="alert" className="text-madder">
          {error.message}
        </p>
      )}
      <div className="flex items-center gap-3">
        <Button type="submit" disabled={save.isPending}>
          Save
        </Button>
        {save.isSuccess && (
          <span role="status" className="text-soft">
            Saved
          </span>
        )}
      </div>
    </form>
  );
}
