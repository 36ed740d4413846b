import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { ApiError, api, type Case, type PlanAnalysis, take } from "~/api/client";
import { figureProblem, SettledBox } from "~/shared/amounts/boxes";
import { AddFood } from "~/shared/foods/AddFood";
import { decimal, number, offTarget, percent } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { planQuery } from "~/shared/queries";
import { useCase } from "~/shared/useCase";
import { boardsOf, Wall } from "~/shared/wall/Wall";
import { Button, Loading, Problem } from "~/ui";

type Turn = PlanAnalysis["turns"][number];
type Item = PlanAnalysis["items"][number];

type Change = Partial<{ turns: Turn[]; items: Item[] }>;

const KINDS: { id: Item["kind"]; label: string }[] = [
  { id: "bought", label: "bought food" },
  { id: "topper", label: "topper" },
  { id: "treat", label: "treat" },
  { id: "supplement", label: "supplement given apart" },
];

/** What the dog gets altogether: the rotation of recipes and what comes beside them every day. */
export default function PlanPage() {
  const current = useCase();
  const plan = useQuery(planQuery(current.id));
  if (plan.isPending) return <Loading what="the plan" />;
  if (plan.isError) return <Problem error={plan.error} retry={() => plan.refetch()} />;
  return <Plan plan={plan.data} />;
}

function Plan({ plan }: { plan: PlanAnalysis }) {
  const current = useCase();
  const client = useQueryClient();
  const [undo, setUndo] = useState<{ turns: Turn[]; items: Item[] } | null>(null);
  const save = useMutation({
    mutationFn: (next: { turns: Turn[]; items: Item[] }) =>
      take(
        api.PUT("/api/cases/{id}/plan", {
          params: { path: { id: current.id } },
          body: {
            version: plan.version,
            turns: next.turns,
            items: next.items.map((i) => ({ kind: i.kind, food: i.food, quantity: i.quantity })),
          },
        }),
      ),
    onSuccess: (stored) => {
      setUndo({ turns: plan.turns, items: plan.items });
      client.setQueryData(keyOf("plan", current.id), stored);
    },
  });
  function put(next: Change) {
    save.mutate({ turns: plan.turns, items: plan.items, ...next });
  }
  const stale = save.error instanceof ApiError && save.error.status === 409;
  return (
    <main className="min-h-0 flex-1 overflow-auto px-6 py-4">
      <div className="flex items-baseline gap-3">
        <h2 className="text-[19px]">Plan</h2>
        <span role="status" className="text-[13px] text-soft">
          {save.isPending ? "Saving…" : save.isError ? "Not saved" : "Saved"}
        </span>
        {undo && (
          <Button kind="quiet" onClick={() => put(undo)}>
            Undo
          </Button>
        )}
      </div>
      {save.isError && (
        <Problem
          error={save.error}
          retry={
            stale
              ? () => client.invalidateQueries({ queryKey: keyOf("plan", current.id) })
              : undefined
          }
        />
      )}
      {plan.problem && (
        <p role="alert" className="mt-2 border-madder border-l-2 pl-3">
          The plan is not computed: {plan.problem}. Mend it on the bench; nothing is left out of the
          sums in the meantime.
        </p>
      )}
      <div className="mt-2 grid grid-cols-2 gap-10">
        <Rotation plan={plan} current={current} put={put} />
        <EveryDay plan={plan} caseId={current.id} put={put} />
      </div>
      {plan.empty ? (
        <p className="mt-8 text-soft">
          Give a recipe at least one day, or add what is fed, to see the day as a whole.
        </p>
      ) : (
        <WholeRound plan={plan} />
      )}
    </main>
  );
}

/** The recipes by days of one round, each with its own day's verdict. */
function Rotation({
  plan,
  current,
  put,
}: {
  plan: PlanAnalysis;
  current: Case;
  put: (next: Change) => void;
}) {
  const days = (recipe: number) => plan.turns.find((t) => t.recipe === recipe)?.days ?? 0;
  return (
    <section aria-label="Rotation">
      <h3 className="mb-1 font-semibold">Recipes, by days of one round</h3>
      <table className="w-full">
        <thead>
          <tr className="border-line border-b text-[13px] text-soft">
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
                <td>
                  <Link to={`/cases/${current.id}/recipes/${recipe.id}`} className="underline">
                    {recipe.name}
                  </Link>
                </td>
                <td className="text-right">
                  <SettledBox
                    label={`Days of ${recipe.name}`}
                    value={String(days(recipe.id))}
                    check={(text) => figureProblem(text, 0)}
                    className="w-16"
                    onChange={(text) => {
                      const value = decimal(text);
                      put({
                        turns: [
                          ...plan.turns.filter((t) => t.recipe !== recipe.id),
                          { recipe: recipe.id, days: value },
                        ],
                      });
                    }}
                  />
                </td>
                <td className="text-right">{number(day?.kcal_per_day)}</td>
                <td className="pl-3 text-[13px]">{day ? verdict(day.bad) : ""}</td>
              </tr>
            );
          })}
          {plan.analysis && (
            <tr>
              <td className="font-semibold">Over the round</td>
              <td className="text-right">{number(plan.round_days, 1)}</td>
              <td className="text-right">{number(plan.analysis.recipe.kcal_per_day)}</td>
              <td className="pl-3 text-[13px]">{verdict(offTarget(plan.analysis))}</td>
            </tr>
          )}
        </tbody>
      </table>
      <p className="mt-2 max-w-xl text-[13px] text-soft">
        Some practitioners balance every meal, others over a rotation. Both verdicts are shown: each
        recipe with the daily items, and the whole round. For a growing, pregnant or ill dog every
        day should hold.
      </p>
    </section>
  );
}

/** What is given every day beside the recipes. */
function EveryDay({
  plan,
  caseId,
  put,
}: {
  plan: PlanAnalysis;
  caseId: number;
  put: (next: Change) => void;
}) {
  const search = useRef<HTMLInputElement>(null);
  const [kind, setKind] = useState<Item["kind"]>("treat");
  const tooMuch = plan.findings.find((f) => f.kind === "extras");
  return (
    <section aria-label="Every day">
      <h3 className="mb-1 font-semibold">Every day beside the recipe</h3>
      {plan.items.length === 0 && (
        <p className="text-soft">
          Nothing yet. Add bought food, toppers, treats and supplements that are given apart, so
          that the day adds up.
        </p>
      )}
      <table className="w-full">
        <tbody>
          {plan.items.map((item, i) => (
            <tr key={`${item.food}${i}`} className="border-line border-b">
              <td>{item.name}</td>
              <td>
                <select
                  aria-label={`What ${item.name} is`}
                  value={item.kind}
                  onChange={(e) =>
                    put({
                      items: plan.items.map((x, j) =>
                        i === j ? { ...x, kind: e.target.value as Item["kind"] } : x,
                      ),
                    })
                  }
                  className="rounded bg-transparent text-[13px]"
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
                  onChange={(quantity) =>
                    put({
                      items: plan.items.map((x, j) => (i === j ? { ...x, quantity } : x)),
                    })
                  }
                />
              </td>
              <td className="w-20 text-right">{number(item.kcal)} kcal</td>
              <td className="w-8 text-right">
                <button
                  type="button"
                  aria-label={`Remove ${item.name}`}
                  className="size-7 rounded text-soft hover:bg-groove hover:text-madder"
                  onClick={() => put({ items: plan.items.filter((_, j) => j !== i) })}
                >
                  ×
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {plan.items.length > 0 && (
        <p className={`mt-1 ${tooMuch ? "border-madder border-l-[3px] pl-2" : "text-soft"}`}>
          {tooMuch ? (
            <>
              <b>{tooMuch.what}</b>, {tooMuch.why}. {tooMuch.do}
            </>
          ) : (
            <>
              Treats and toppers bring <b>{percent(plan.extras_share)}</b> of the day's energy.
            </>
          )}{" "}
          <span className="text-[13px] text-soft">{plan.extras_source}</span>
        </p>
      )}
      <div className="mt-2 flex gap-2">
        <select
          aria-label="What is added"
          value={kind}
          onChange={(e) => setKind(e.target.value as Item["kind"])}
          className="h-8 rounded border border-line bg-sheet px-1"
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
            onAdd={(food, quantity) =>
              put({
                items: [...plan.items, { kind, food: food.id, quantity, name: food.name, kcal: 0 }],
              })
            }
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
  const boards = plan.analysis ? boardsOf(plan.analysis) : [];
  const readout = boards.find((b) => b.key === (pointed ?? selected));
  return (
    <section aria-label="The round as a whole" className="mt-4">
      <p className="flex h-6 gap-2 truncate" aria-hidden="true">
        {readout ? (
          <>
            <b>{readout.name}</b>
            <span>{readout.words}</span>
          </>
        ) : (
          <span className="text-soft">
            The round as a whole: {plan.analysis?.requirements}, per 1000 kcal
          </span>
        )}
      </p>
      <div className="h-72">
        <Wall
          boards={boards}
          selected={selected}
          onSelect={setSelected}
          highlight={highlight}
          pointed={pointed}
          onPoint={setPointed}
        />
      </div>
      <ul className="mt-2 flex flex-wrap gap-x-4 text-[13px]">
        {plan.analysis?.recipe.lines.map((line, i) => (
          <li
            key={`${line.food}${i}`}
            onPointerEnter={() => setHighlight(i)}
            onPointerLeave={() => setHighlight(null)}
          >
            {line.name}{" "}
            <span className="text-soft">{number(line.grams / plan.round_days, 1)} g a day</span>
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
