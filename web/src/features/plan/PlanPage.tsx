import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { api, type Case, type PlanAnalysis, take } from "~/api/client";
import { figureProblem, SettledBox } from "~/shared/amounts/boxes";
import { today } from "~/shared/days";
import { Faults } from "~/shared/Faults";
import { AddFood } from "~/shared/foods/AddFood";
import {
  day,
  decimal,
  foodWeight,
  number,
  offTarget,
  percent,
  spelled,
  told,
} from "~/shared/format";
import { lengthsOf } from "~/shared/lengths";
import { newKey } from "~/shared/newKey";
import { freezerQuery, planQuery } from "~/shared/queries";
import { Box, Choice, isOnPage, RecordFields } from "~/shared/record/fields";
import { isFields } from "~/shared/saving/fields";
import { SavingNote, UndoRedo } from "~/shared/saving/SavingNote";
import { StaleWhile } from "~/shared/saving/StaleWhile";
import { type Saving, useDraft } from "~/shared/saving/useDraft";
import { ShopDialog } from "~/shared/sourcing/ShopDialog";
import { Empty, Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { boardsOf } from "~/shared/wall/boards";
import { Swatch } from "~/shared/wall/Swatch";
import { OTHERS, tonesOf } from "~/shared/wall/tones";
import { Wall } from "~/shared/wall/Wall";
import { Button } from "~/ui";
import { Page } from "~/ui/Page";
import { BowlsBoard } from "./Bowls";
import { RoundDialog } from "./RoundDialog";

type Item = PlanAnalysis["items"][number];

const KINDS: { id: Item["kind"]; label: string }[] = [
  { id: "bought", label: "bought food" },
  { id: "topper", label: "topper" },
  { id: "treat", label: "treat" },
  { id: "supplement", label: "supplement given apart" },
];

const PLAIN: Record<string, string> = {
  begins: "The first day of the plan",
  change_days: "How the old food gives way",
};

/** Nobody shops for less than a week. */
const DAYS_BOUGHT = 7;

/** What the dog gets altogether: the rotation of recipes and what comes beside them every day. */
export default function PlanPage() {
  const current = useCase();
  const plan = useQuery(planQuery(current.id));
  if (plan.isPending) return <Loading what="the plan" />;
  if (!plan.data)
    return <Problem what="the plan" error={plan.error} retry={() => plan.refetch()} />;
  return <Plan plan={plan.data} />;
}

function Plan({ plan }: { plan: PlanAnalysis }) {
  const current = useCase();
  const [buying, setBuying] = useState(false);
  const [adjusting, setAdjusting] = useState(false);
  const saving = useDraft("plan", current.id, plan);
  const { state } = saving;
  const names = new Map(current.recipes.map((recipe) => [String(recipe.id), recipe.name]));
  const freezer = useQuery(freezerQuery(current.id));
  const boxes = (freezer.data?.freezer.boxes ?? []).filter((b) => b.case === current.id);
  const foods = new Map(plan.items.map((item) => [item.key, item.name]));
  const words = (path: string) => {
    const [table, key = ""] = path.split(".");
    return table === "turns"
      ? `The days of ${names.get(key) ?? "a recipe"}`
      : table === "items"
        ? (foods.get(key) ?? "What is given every day")
        : (PLAIN[table ?? ""] ?? "The order of what is given every day");
  };
  return (
    <RecordFields saving={saving}>
      <Page className="min-h-0 flex-1 px-4 py-4 mid:px-6 wide:overflow-auto">
        <div className="flex items-baseline gap-3">
          <h2>Plan</h2>
          <UndoRedo saving={saving} />
          <Button
            kind="quiet"
            className="ml-auto"
            disabled={plan.empty || plan.problem !== ""}
            onClick={() => setAdjusting(true)}
          >
            Adjust the round
          </Button>
          <Button
            kind="quiet"
            disabled={plan.empty || plan.problem !== ""}
            onClick={() => setBuying(true)}
          >
            Buy for the plan
          </Button>
        </div>
        {adjusting && <RoundDialog caseId={current.id} onClose={() => setAdjusting(false)} />}
        {buying && (
          <ShopDialog
            caseId={current.id}
            dog={current.dog.name}
            email={current.client.email}
            of={["plan", plan.version]}
            days={Math.max(DAYS_BOUGHT, plan.round_days)}
            load={(days) =>
              take(
                api.GET("/api/cases/{id}/shopping", {
                  params: { path: { id: current.id }, query: { days } },
                }),
              )
            }
            paper={`/papers/cases/${current.id}/shopping`}
            onClose={() => setBuying(false)}
          />
        )}
        <SavingNote
          saving={saving}
          words={words}
          // What is wrong with an item is said beside it.
          shown={(path) => (path.startsWith("items.") && path in state.errors) || isOnPage(path)}
        />
        {plan.spoilt ? (
          <div role="alert" className="mt-2">
            <p className="border-madder stile">The plan is not computed: {plan.problem}.</p>
            <Faults caseId={current.id} />
          </div>
        ) : (
          plan.problem && (
            <p role="alert" className="mt-2 border-madder stile">
              The plan is not computed: {plan.problem}. Mend it on the bench; nothing is left out of
              the sums in the meantime.
            </p>
          )
        )}
        <div className="mt-2 grid gap-6 wide:grid-cols-2 wide:gap-10">
          <Rotation plan={plan} current={current} saving={saving} />
          <EveryDay plan={plan} caseId={current.id} saving={saving} />
        </div>
        <Change plan={plan} />
        <StaleWhile saving={saving}>
          {plan.empty ? (
            <Empty className="mt-8">
              Give a recipe at least one day, or add what is fed, to see the day as a whole.
            </Empty>
          ) : (
            <>
              {plan.bowls && (
                <BowlsBoard
                  bowls={plan.bowls}
                  names={plan.turns.map((t) => names.get(String(t.recipe)) ?? "")}
                  boxes={boxes}
                />
              )}
              <WholeRound plan={plan} />
            </>
          )}
        </StaleWhile>
      </Page>
    </RecordFields>
  );
}

/** From which day it is fed, and how the old food gives way. */
function Change({ plan }: { plan: PlanAnalysis }) {
  return (
    <section aria-label="Change to it" className="mt-4 flex flex-wrap items-start gap-4">
      <Box path="begins" label="First day of the plan" holds="day" example={day(today())} />
      <Choice
        path="change_days"
        label="The old food gives way"
        options={lengthsOf(plan.schedules).map((o) => ({ value: Number(o.id), label: o.label }))}
      />
      {plan.begins === null ? (
        <p className="max-w-xl text-soft">
          Say the first day, and the two weeks begin with it and with the change-over.
        </p>
      ) : (
        plan.change_days > 0 && <p className="max-w-xl text-soft">{told(plan.hold)}</p>
      )}
    </section>
  );
}

/** The recipes by days of one round, each with its own day's verdict. */
function Rotation({
  plan,
  current,
  saving,
}: {
  plan: PlanAnalysis;
  current: Case;
  saving: Saving;
}) {
  const days = (recipe: number) => String(saving.value(`turns.${recipe}`) ?? 0);
  return (
    <section aria-label="Rotation">
      <h3 className="mb-1 font-semibold">Recipes, by days of one round</h3>
      <table className="w-full">
        <thead>
          <tr className="border-line border-b text-data text-soft">
            <th className="text-left font-normal">Recipe</th>
            <th className="w-20 text-right font-normal">days</th>
            <th className="w-24 text-right font-normal">kcal a day</th>
            <th className="pl-3 text-left font-normal">balanced that day</th>
          </tr>
        </thead>
        <tbody>
          {current.recipes.map((recipe) => {
            const at = plan.turns.findIndex((t) => t.recipe === recipe.id);
            const day = at >= 0 ? plan.days[at] : undefined;
            return (
              <tr key={recipe.id} className="border-line border-b align-top">
                <td className="wrap-anywhere">
                  <Link to={`/cases/${current.id}/recipes/${recipe.id}`} className="underline">
                    {recipe.name}
                  </Link>
                </td>
                <td className="text-right">
                  <SettledBox
                    label={`Days of ${recipe.name}`}
                    value={days(recipe.id)}
                    check={(text) => figureProblem(text, 0)}
                    className="w-16"
                    onChange={(text) => saving.set(`turns.${recipe.id}`, decimal(text))}
                  />
                </td>
                <td className="text-right">{number(day?.kcal_per_day)}</td>
                <td className="pl-3 text-data">{day ? verdict(day.bad) : ""}</td>
              </tr>
            );
          })}
          {plan.analysis && (
            <tr>
              <td className="font-semibold">Over the round</td>
              <td className="text-right">{number(plan.round_days, 1)}</td>
              <td className="text-right">{number(plan.analysis.recipe.kcal_per_day)}</td>
              <td className="pl-3 text-data">{verdict(offTarget(plan.analysis))}</td>
            </tr>
          )}
        </tbody>
      </table>
      <p className="mt-2 max-w-xl text-data text-soft">
        Some practitioners balance every meal, others over a rotation. Both verdicts are shown: each
        recipe with the daily items, and the whole round. For a growing, pregnant or ill dog every
        day should hold.
      </p>
    </section>
  );
}

/** The daily items with what is not stored yet. */
function itemsOf(plan: PlanAnalysis, saving: Saving): Item[] {
  const rows = isFields(saving.fields.items) ? saving.fields.items : {};
  const known = new Map(plan.items.map((item) => [item.key, item]));
  return Object.entries(rows).flatMap(([key, row]) => {
    if (!isFields(row)) return [];
    const food = String(row.food);
    const stored = known.get(key);
    const name = stored?.name ?? String(saving.state.beside[food] ?? food);
    const same = stored?.quantity === row.quantity;
    return [
      {
        key,
        food,
        name,
        kind: row.kind as Item["kind"],
        quantity: String(row.quantity),
        // What is not computed yet has no energy yet.
        kcal: same ? (stored?.kcal ?? null) : null,
      },
    ];
  });
}

/** What is given every day beside the recipes. */
function EveryDay({
  plan,
  caseId,
  saving,
}: {
  plan: PlanAnalysis;
  caseId: number;
  saving: Saving;
}) {
  const items = itemsOf(plan, saving);
  const search = useRef<HTMLInputElement>(null);
  const [kind, setKind] = useState<Item["kind"]>("treat");
  const tooMuch = plan.findings.find((f) => f.kind === "extras");
  return (
    <section aria-label="Every day">
      <h3 className="mb-1 font-semibold">Every day beside the recipe</h3>
      {items.length === 0 && (
        <p className="text-soft">
          Nothing yet. Add bought food, toppers, treats and supplements that are given apart, so
          that the day adds up.
        </p>
      )}
      <table className="w-full">
        <tbody>
          {items.map((item) => (
            <tr key={item.key} className="border-line border-b">
              <td>{item.name}</td>
              <td>
                <select
                  aria-label={`What ${item.name} is`}
                  value={item.kind}
                  onChange={(e) => saving.set(`items.${item.key}.kind`, e.target.value)}
                  className="rounded-corner bg-transparent text-data"
                >
                  {KINDS.map((k) => (
                    <option key={k.id} value={k.id}>
                      {k.label}
                    </option>
                  ))}
                </select>
              </td>
              <td className="w-28">
                <SettledBox
                  label={`Amount of ${item.name}`}
                  value={item.quantity}
                  className="w-24"
                  onChange={(quantity) => saving.set(`items.${item.key}.quantity`, quantity)}
                />
                {saving.error(`items.${item.key}`) && (
                  <p role="alert" className="text-label text-madder">
                    Not saved: {saving.error(`items.${item.key}`)}.
                  </p>
                )}
              </td>
              <td className="w-20 text-right">{number(item.kcal)} kcal</td>
              <td className="w-8 text-right">
                <button
                  type="button"
                  aria-label={`Remove ${item.name}`}
                  className="size-7 rounded-corner text-soft hover:bg-groove hover:text-madder"
                  onClick={() => saving.set(`items.${item.key}`, null)}
                >
                  ×
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {items.length > 0 && (
        <p className={`mt-1 ${tooMuch ? "border-madder stile" : "text-soft"}`}>
          {tooMuch ? (
            <>
              <b>{tooMuch.what}</b>, {told(`${tooMuch.why}. ${tooMuch.do}`)}
            </>
          ) : (
            <>
              Treats and toppers bring <b>{percent(plan.extras_share)}</b> of the day's energy.
            </>
          )}{" "}
          <span className="text-data text-soft">{plan.extras_source}</span>
        </p>
      )}
      <div className="mt-2 flex gap-2">
        <select
          aria-label="What is added"
          value={kind}
          onChange={(e) => setKind(e.target.value as Item["kind"])}
          className="h-8 rounded-corner border border-edge bg-sheet px-1"
        >
          {KINDS.map((k) => (
            <option key={k.id} value={k.id}>
              {k.label}
            </option>
          ))}
        </select>
        <div className="flex-1">
          <AddFood
            inputRef={search}
            caseId={caseId}
            label="Add to every day"
            placeholder="10 g cheddar, 1 cup own dry food…"
            below
            onAdd={(food, quantity) => {
              saving.draft.remember(food.id, food.name);
              saving.set(`items.${newKey()}`, { kind, food: food.id, quantity });
            }}
          />
        </div>
      </div>
    </section>
  );
}

/** The whole round on the wall, with what it is made of. */
function WholeRound({ plan }: { plan: PlanAnalysis }) {
  const [selected, setSelected] = useState<string | null>(null);
  const [pointed, setPointed] = useState<string | null>(null);
  const [highlight, setHighlight] = useState<number | null>(null);
  const tones = tonesOf(plan.tones, plan.analysis?.recipe.lines ?? []);
  const boards = plan.analysis ? boardsOf(plan.analysis, tones) : [];
  const readout = boards.find((b) => b.key === (pointed ?? selected));
  return (
    <section aria-label="The round as a whole" className="mt-4">
      <p className="flex h-6 gap-2 truncate" aria-hidden="true">
        {readout ? (
          <>
            <b>{readout.name}</b>
            <span>{told(readout.words)}</span>
          </>
        ) : (
          <span className="text-soft">
            The round as a whole: {plan.analysis?.requirements}, per 1000 kcal
          </span>
        )}
      </p>
      <div className="wide:h-72">
        <Wall
          boards={boards}
          selected={selected}
          onSelect={setSelected}
          highlight={highlight}
          pointed={pointed}
          onPoint={setPointed}
        />
      </div>
      <ul className="mt-2 flex flex-wrap gap-x-4 text-data">
        {plan.analysis?.recipe.lines.map((line, i) => (
          <li
            key={`${line.food}${i}`}
            onPointerEnter={() => setHighlight(i)}
            onPointerLeave={() => setHighlight(null)}
          >
            <Swatch tone={tones[line.food] ?? OTHERS} /> {spelled(line.name)}{" "}
            <span className="text-soft">{foodWeight(line.grams / plan.round_days)} a day</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function verdict(bad: { name: string; status: string; urgency: number }[]): string {
  if (bad.length === 0) return "yes, every limit is met";
  const sorted = [...bad].sort((a, b) => b.urgency - a.urgency);
  const names = sorted.slice(0, 3).map((b) => `${b.name} ${b.status}`);
  return `no: ${names.join(", ")}${bad.length > 3 ? ` and ${bad.length - 3} more` : ""}`;
}
