import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Profile } from "~/api/client";
import { number, percent, spelled, unitText } from "~/shared/format";
import { profileQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { Term } from "~/shared/words/Term";
import { Button } from "~/ui";
import { Toggle } from "~/ui/Toggle";
import { Beside } from "./Beside";
import { OwnFoodDialog } from "./OwnFoodDialog";
import { PracticeForm } from "./PracticeForm";

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
  derived: "d",
  stoichiometric: "s",
  computed: "c",
  label: "l",
  unknown: "",
};

const WHAT: { key: keyof Profile["attributes"]; label: string; not: string[] }[] = [
  { key: "kind", label: "Kind", not: [] },
  { key: "added_salt", label: "Salt added", not: ["none"] },
  { key: "skin", label: "Skin", not: ["no", "na"] },
  { key: "bone", label: "Bone", not: ["no", "na"] },
  { key: "oxalate", label: "Oxalate", not: [] },
  { key: "purine", label: "Purine", not: [] },
  { key: "copper", label: "Copper", not: [] },
  { key: "fat", label: "Fat", not: [] },
  { key: "potassium", label: "Potassium", not: [] },
  { key: "phytate", label: "Phytate", not: ["none"] },
  { key: "lactose", label: "Lactose", not: ["none"] },
  { key: "gluten", label: "Gluten", not: ["no"] },
  { key: "thiaminase", label: "Thiaminase when raw", not: ["no"] },
  { key: "histamine", label: "Histamine", not: ["low"] },
];

/** What a food is, as rules of conditions and hazards look at it. */
/** An attribute that nobody has said. */
const UNKNOWN = "unknown";

function what(attributes: Profile["attributes"]): string {
  const said = WHAT.flatMap(({ key, label, not }) => {
    const value = attributes[key];
    return typeof value === "string" && value && !not.includes(value) ? [{ label, value }] : [];
  });
  const known = said.filter(({ value }) => value !== UNKNOWN);
  const open = said.filter(({ value }) => value === UNKNOWN);
  const sentences = [
    known.map(({ label, value }) => `${label}: ${value}`).join("; "),
    open.length > 0 &&
      `Not known: ${open.map(({ label }) => label.toLowerCase()).join(", ")}; what is not known clears it of nothing`,
    said.length > 0 && !attributes.reviewed && "Found by rule; no person has read it over",
  ];
  return sentences
    .filter(Boolean)
    .map((words) => `${words}.`)
    .join(" ");
}

/** Everything about one food, with the provenance of every value. */
export function ProfilePanel({
  foodId,
  recipe,
  onOpen,
}: {
  foodId: string;
  /** The recipe whose gaps it is held against. */
  recipe: number | null;
  onOpen: (id: string) => void;
}) {
  const [basis, setBasis] = useState<FoodBasis>("per_100g");
  const [shown, setShown] = useState<string | null>(null);
  const [editing, setEditing] = useState(false);
  const profile = useQuery(profileQuery(foodId));
  if (profile.isPending) return <Loading what="the food" />;
  if (!profile.data)
    return <Problem what="the food" error={profile.error} retry={() => profile.refetch()} />;
  const food = profile.data;
  return (
    <article className="flex flex-col gap-4 p-4">
      <header>
        <h2>{spelled(food.name)}</h2>
        <p className="text-data text-soft">
          {[food.id, food.klass, food.form, food.derived && "derived, not analysed"]
            .filter(Boolean)
            .join(" · ")}
          {food.source_name && ` · ${food.source_name}`}
        </p>
        <p className="text-data">
          {food.allergens.length > 0 && <>Source: {food.allergens.join(", ")}. </>}
          {what(food.attributes)}
        </p>
        {food.own !== null && (
          <Button onClick={() => setEditing(true)}>Edit (makes a new revision)</Button>
        )}
      </header>
      {food.handling && (
        <section className="border-oak stile">
          <h3 className="font-semibold">Giving it</h3>
          <p>
            {food.handling.form}; smallest step {number(food.handling.step_g, 2)} g. When:{" "}
            {food.handling.add}. Heat: {food.handling.heat}.
          </p>
          {food.handling.block && <p className="text-madder">{food.handling.block}.</p>}
          {food.questions.length > 0 && (
            <p className="text-madder">
              Strength differs by product: read{" "}
              {food.questions.map((q) => `${q.tag} (${unitText(q.unit)}/${q.per})`).join(", ")} from
              the label below.
            </p>
          )}
        </section>
      )}
      {recipe !== null && <Beside recipe={recipe} profile={food} />}
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
                <td className="w-44 whitespace-nowrap text-right text-data">
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
        <p className="mb-1 text-label text-soft">
          Choose a value to see where it comes from. b <Term id="borrowed">borrowed</Term> from a
          like food, p after the pattern of its kind, d derived, s from its chemical formula, c
          computed, l from its label; without a letter <Term id="analysed">analysed</Term>.
        </p>
        <table className="w-full">
          <tbody>
            {food.values.map((v) => (
              <tr key={v.key} className="border-line border-b align-top">
                <td>
                  {v.name}
                  {shown === v.key && (
                    <div className="text-label text-soft">
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
                    className="rounded-corner px-1 hover:bg-groove"
                  >
                    {v.per_100g === null ? (
                      <span className="border-ink border-b border-dashed">unknown</span>
                    ) : (
                      <>
                        {v.at_least && <span className="text-label text-soft">at least </span>}
                        {number(v[basis], v.decimals)} {unitText(v.unit)}
                      </>
                    )}
                    <span className="inline-block w-4 text-center text-label text-soft">
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
          <ul className="text-data">
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
