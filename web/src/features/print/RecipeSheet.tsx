import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, type Nutrient, take } from "~/api/client";
import { number, percent, sentence } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { caseQuery, recipeQuery, sessionQuery } from "~/shared/queries";
import { Button, Loading, Problem } from "~/ui";

/** One page for the kitchen: grams a day and a meal, what is short or unproven, the caution. */
export default function RecipeSheet() {
  const { caseId, recipeId } = useParams();
  const session = useQuery(sessionQuery);
  const found = useQuery(caseQuery(Number(caseId)));
  const recipe = useQuery(recipeQuery(Number(recipeId)));
  // The stored recipe, computed where it is stored: the sheet asks nothing of its own.
  const analysis = useQuery({
    queryKey: keyOf("analysis", "stored", Number(recipeId), recipe.data?.version),
    queryFn: () =>
      take(api.GET("/api/recipes/{id}/analysis", { params: { path: { id: Number(recipeId) } } })),
    enabled: !!recipe.data,
    staleTime: 0,
  });
  const targets = useQuery({
    queryKey: keyOf("targets", Number(caseId), "sheet"),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/targets", { params: { path: { id: Number(caseId) } } })),
  });
  const failed = targets.error ?? found.error ?? recipe.error ?? analysis.error;
  if (failed) return <Problem error={failed} />;
  if (!found.data || !recipe.data || !analysis.data || !targets.data)
    return <Loading what="the sheet" />;
  const current = found.data;
  const report = analysis.data;
  const days = report.recipe.covers_days;
  const meals = report.recipe.meals_per_day;
  const { checked, of } = report.limits_checked;
  const open = (status: Nutrient["status"]) =>
    report.nutrients.filter((n) => n.board && n.status === status);
  const blocks = report.flags.filter((f) => ["hazard", "reaction"].includes(f.kind));
  return (
    <main className="mx-auto max-w-[190mm] bg-paper p-8 text-[14px] print:max-w-none print:bg-white print:p-0 print:text-black">
      <div className="mb-6 flex gap-2 print:hidden">
        <Button kind="solid" onClick={() => print()}>
          Print
        </Button>
        <Link
          to={`/cases/${caseId}/recipes/${recipeId}`}
          className="inline-flex h-8 items-center px-3"
        >
          Back to the bench
        </Link>
      </div>
      <header className="mb-4 flex items-baseline justify-between border-ink border-b-2 pb-2">
        <h1 className="text-2xl">
          {current.dog.name}: {recipe.data.name}
        </h1>
        <span>{session.data?.practice}</span>
      </header>
      <p className="mb-3">
        For {current.client.name}. {current.dog.name} weighs {number(current.dog.weight_kg, 1)} kg.
        This batch feeds {number(days, days % 1 ? 1 : 0)} {days === 1 ? "day" : "days"}:{" "}
        {number(report.recipe.grams_per_day)} g and {number(report.recipe.kcal_per_day)} kcal a day,
        in {meals} meals. Target {number(report.energy.target_kcal)} kcal a day.
      </p>
      <table className="mb-4 w-full border-collapse">
        <thead>
          <tr className="border-ink border-b text-left">
            <th className="py-1 font-semibold">Ingredient</th>
            <th className="text-right font-semibold">Batch, g</th>
            <th className="text-right font-semibold">A day, g</th>
            <th className="text-right font-semibold">A meal, g</th>
            <th className="pl-6 font-semibold">Batch in the kitchen, about</th>
          </tr>
        </thead>
        <tbody>
          {report.recipe.lines.map((line, i) => (
            <tr key={i} className="border-line border-b">
              <td className="py-1">
                {line.name}
                {line.preparation_label &&
                  `, ${line.preparation_label} (gives ${gram(line.fed_grams)} g)`}
              </td>
              <td className="text-right">{gram(line.grams)}</td>
              <td className="text-right">{gram(line.grams_per_day)}</td>
              <td className="text-right">{gram(line.grams_per_meal)}</td>
              <td className="pl-6">
                {line.household ?? "weigh it"}
                {line.household && Math.abs(line.household_error ?? 0) > 0.05 && (
                  <>
                    {" "}
                    ({(line.household_error ?? 0) > 0 ? "+" : "−"}
                    {percent(Math.abs(line.household_error ?? 0))} off: weigh it)
                  </>
                )}
              </td>
            </tr>
          ))}
          <tr className="font-semibold">
            <td className="py-1">Together</td>
            <td className="text-right">{gram(report.recipe.grams)}</td>
            <td className="text-right">{gram(report.recipe.grams_per_day)}</td>
            <td className="text-right">{gram(report.recipe.grams_per_meal)}</td>
            <td />
          </tr>
        </tbody>
      </table>
      <section className="mb-4">
        <h2 className="mb-1 text-base">Against {report.requirements}</h2>
        <Names label="Short" list={open("short")} />
        <Names label="Above the safe upper limit" list={open("above safe limit")} />
        <Names label="Over the maximum" list={open("over")} />
        <Names
          label="Unproven, because some foods have no value for it (share of the recipe that is known)"
          list={open("unproven")}
          known
        />
        <Names
          label="Rests mostly on estimates, not analyses of these foods"
          list={report.nutrients.filter(
            (n) => n.board && n.status === "met" && n.estimated_share > 0.5,
          )}
        />
        {report.nutrients.every((n) => !n.board || n.urgency === 0) && <p>Every limit is met.</p>}
      </section>
      {(targets.data.under_standard.length > 0 || targets.data.conflicts.length > 0) && (
        <section className="mb-4 border-madder border-l-[3px] pl-3">
          <h2 className="mb-1 text-base">For the vet to sign off</h2>
          {targets.data.under_standard.length > 0 && (
            <p>
              Limits under the standard's minimum, on purpose:{" "}
              {targets.data.under_standard.join(", ")}.
            </p>
          )}
          {targets.data.conflicts.map((c) => (
            <p key={c.key}>
              {c.words}{" "}
              {c.decided ? `Decided by ${c.decided.by}: ${c.decided.reason}.` : "Not decided yet."}
            </p>
          ))}
        </section>
      )}
      {blocks.length > 0 && (
        <section className="mb-4">
          <h2 className="mb-1 text-base">Cautions</h2>
          <ul className="list-disc pl-5">
            {blocks.map((flag) => (
              <li key={flag.what}>
                <b>{flag.what}.</b> {sentence(flag.why)}. {flag.do}
              </li>
            ))}
          </ul>
        </section>
      )}
      <footer className="border-ink border-t pt-2">
        <p>
          <b>Do not feed this before the attending veterinarian has approved it.</b> Wainscot
          computes; it does not diagnose or prescribe. Weigh with a gram scale. Do not leave out or
          swap an ingredient, least of all a supplement: ask first. Not eating for 24 hours,
          repeated vomiting, laboured breathing or collapse: call the veterinarian at once.
        </p>
        <p className="mt-1 text-[12px]">
          Food values: USDA Standard Reference and estimates marked as such.{" "}
          {checked === of
            ? "Every limit was compared with its publication."
            : `Limits are transcribed; ${of - checked} of ${of} values are not yet checked against their publication.`}
        </p>
      </footer>
    </main>
  );
}

function gram(value: number): string {
  return number(value, value < 10 ? 1 : 0);
}

function Names({
  label,
  list,
  known = false,
}: {
  label: string;
  list: Nutrient[];
  known?: boolean;
}) {
  if (list.length === 0) return null;
  return (
    <p>
      <b>{label}:</b>{" "}
      {list.map((n) => (known ? `${n.name} (${percent(n.known_share)})` : n.name)).join(", ")}.
    </p>
  );
}
