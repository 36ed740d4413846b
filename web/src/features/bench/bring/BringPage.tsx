import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, type Case, type Recipe, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { recipeQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { useTitle } from "~/shared/useTitle";
import { Button, focusWork } from "~/ui";
import { Page } from "~/ui/Page";
import { Toggle } from "~/ui/Toggle";
import { DaysInput } from "../Toolbar";
import { useBench } from "../useBench";
import { useLook } from "../useLook";
import { BringWall } from "./BringWall";
import { Letter } from "./Letter";
import { PasteBox } from "./PasteBox";
import { Questions } from "./Questions";
import { isIngredient, lastTouched, linesOf, nextOpen, shownOf } from "./review";
import { StretchChoices, StretchRow, type Typing } from "./StretchRow";
import { useBringKeys } from "./useBringKeys";
import { useReview } from "./useReview";

export default function BringPage() {
  const { recipeId } = useParams();
  const current = useCase();
  const recipe = useQuery(recipeQuery(Number(recipeId)));
  if (recipe.isPending) return <Loading what="the recipe" />;
  if (!recipe.data)
    return <Problem what="the recipe" error={recipe.error} retry={() => recipe.refetch()} />;
  return <Bring key={recipe.data.id} recipe={recipe.data} current={current} />;
}

type Where = "beside" | "instead";

/** A recipe as somebody sent it: read, looked at line by line, and taken to the bench. */
function Bring({ recipe, current }: { recipe: Recipe; current: Case }) {
  useTitle("Bring in a recipe", current.dog.name);
  const look = useLook(current);
  const bench = useBench(recipe, look.asked);
  const [where, setWhere] = useState<Where>("instead");
  const there = bench.content.lines;
  const beside = useMemo(() => (where === "beside" ? there : []), [where, there]);
  const review = useReview(recipe.id, beside);
  const { state, dispatch } = review;
  const navigate = useNavigate();
  const client = useQueryClient();
  const [chosen, setChosen] = useState<string | null>(null);
  const [typing, setTyping] = useState<Typing>(null);
  const [editing, setEditing] = useState(false);
  const [asking, setAsking] = useState(false);
  const [said, setSaid] = useState("");
  const shown = useMemo(() => shownOf(state), [state]);
  const numbers = useMemo(
    () => new Map(state.stretches.filter(isIngredient).map((s, i) => [s.key, i + 1])),
    [state.stretches],
  );
  const at = shown.find((s) => s.key === chosen) ?? nextOpen(shown, null);
  const sure = shown.filter((s) => state.sure.includes(s.key));
  const sureOpen = sure.filter((s) => s.decision === "open").map((s) => s.key);
  const doubtful = shown.filter((s) => !state.sure.includes(s.key));
  const doubts = doubtful.filter((s) => s.decision === "open").length;
  const open = shown.filter((s) => s.decision === "open");
  const asked = shown.filter((s) => s.decision === "asked");
  const lines = linesOf(state.stretches);
  // Amounts of batches that feed otherwise are not added up.
  const apart = beside.length > 0 && bench.content.coversDays !== state.days;
  const base = `/cases/${current.id}/recipes/${recipe.id}`;

  function select(key: string) {
    setChosen(key);
    setTyping(null);
  }
  /** On to what nobody looked at yet, behind the one that was decided. */
  function goOn(key: string, what: string) {
    const next = nextOpen(
      shown.filter((s) => s.key !== key || s.decision !== "open"),
      key,
    );
    const rest = shown.filter((s) => s.decision === "open" && s.key !== key);
    const to = next?.key === key ? null : (next ?? null);
    setChosen(to?.key ?? key);
    setTyping(null);
    setSaid(`${what}. ${rest.length === 0 ? "Every line is looked at." : `${rest.length} left.`}`);
    focusWork();
  }
  function decide(decision: "taken" | "asked" | "out", reason = "") {
    if (!at) return;
    if (decision === "taken" && (!at.quantity.trim() || wrongOf(at.key))) {
      focusAmount();
      return;
    }
    dispatch({ type: "decide", keys: [at.key], decision, reason });
    goOn(at.key, { taken: "Taken", asked: "The owner is asked", out: "Left out" }[decision]);
  }
  const [wrong, setWrong] = useState<ReadonlyMap<string, string>>(new Map());
  const wrongOf = (key: string) => wrong.get(key) ?? "";
  function focusAmount() {
    const box = document.querySelector<HTMLInputElement>("[data-amount-of-stretch]");
    box?.focus();
    box?.select();
  }
  const place = at ? state.stretches.filter(isIngredient).findIndex((s) => s.key === at.key) : -1;
  const behind = place < 0 ? undefined : state.stretches.filter(isIngredient)[place + 1];
  function join() {
    if (!at || !behind) return;
    review.rewording.mutate({ keys: [at.key, behind.key], text: `${at.text} ${behind.text}` });
    setChosen(null);
  }
  function undo() {
    const touched = lastTouched(state);
    if (touched) select(touched);
    dispatch({ type: "undo" });
  }
  function takeSure() {
    dispatch({ type: "decide", keys: sureOpen, decision: "taken" });
    setSaid(`${sureOpen.length} sure lines are taken.`);
  }
  function finish() {
    const [first] = open;
    if (first) {
      select(first.key);
      setSaid(`${open.length} lines are not looked at yet.`);
      return;
    }
    if (lines.length === 0 || apart) return;
    const had = there.length > 0;
    bench.dispatch({
      type: "apply",
      lines: [...beside, ...lines],
      ...(had ? { keepAs: "before a text was brought in" } : {}),
    });
    if (!apart) bench.dispatch({ type: "days", coversDays: state.days });
    const left = state.stretches.filter((s) => isIngredient(s) && s.decision === "out");
    void take(
      api.POST("/api/recipes/{id}/brought", {
        params: { path: { id: recipe.id } },
        body: {
          text: state.text,
          taken: lines.length,
          left_out: left.map((s) => ({ text: s.text, reason: s.reason })),
          asked: asked.map((s) => s.question),
        },
      }),
    ).then(
      () => client.invalidateQueries({ queryKey: keyOf("brought", recipe.id) }),
      (error: Error) => notice(`The owner’s text could not be kept: ${error.message}`),
    );
    dispatch({ type: "finish" });
    navigate(base);
    notice(
      asked.length === 0
        ? `${lines.length} lines are on the bench.`
        : `${lines.length} lines are on the bench; ${asked.length} wait for the owner.`,
    );
  }
  useBringKeys({
    on: state.stretches.length > 0 && !editing && !asking,
    onStep: (by) => {
      const i = shown.findIndex((s) => s.key === at?.key);
      const next = shown[Math.max(0, Math.min(shown.length - 1, i + by))];
      if (next) select(next.key);
    },
    onTake: () => decide("taken"),
    onChoose: (i) => at && dispatch({ type: "choose", key: at.key, at: i }),
    onAmount: focusAmount,
    onType: (what) => at && setTyping(what),
    onJoin: join,
    onAsk: () => decide("asked"),
    onSure: takeSure,
    onMessage: () => asked.length > 0 && setAsking(true),
    onEdit: () => setEditing(true),
    onFinish: finish,
    onUndo: undo,
    onRedo: () => dispatch({ type: "redo" }),
  });

  if (state.stretches.length === 0 || editing) {
    return (
      <Page className="flex min-h-0 flex-1 flex-col overflow-auto px-4 py-3">
        <PasteBox
          recipeId={recipe.id}
          text={state.text}
          reading={review.reading}
          back={base}
          onRead={(text) =>
            review.reading.mutate(
              { text, days: state.typedDays ? state.days : null },
              {
                onSuccess: () => {
                  setEditing(false);
                  setChosen(null);
                },
              },
            )
          }
          onLeave={state.stretches.length > 0 ? () => setEditing(false) : null}
        />
      </Page>
    );
  }
  const rows = (part: typeof shown) =>
    part.map((stretch) => (
      <StretchRow
        key={stretch.key}
        stretch={stretch}
        number={numbers.get(stretch.key)}
        doubt={review.doubts.get(stretch.key)}
        current={stretch.key === at?.key}
        onSelect={select}
      >
        {stretch.key === at?.key && (
          <StretchChoices
            key={stretch.key}
            stretch={stretch}
            doubt={review.doubts.get(stretch.key)}
            caseId={current.id}
            typing={typing}
            wrong={wrongOf(stretch.key)}
            reading={review.rewording.isPending}
            problem={review.rewording.error?.message ?? ""}
            on={{
              choose: (i) => dispatch({ type: "choose", key: stretch.key, at: i }),
              quantity: (quantity) => dispatch({ type: "quantity", key: stretch.key, quantity }),
              food: ({ id, name, methods }) => {
                // The amount stays the owner's: none is made up for another food.
                const own = { food: id, name, methods };
                dispatch({ type: "food", key: stretch.key, food: own });
                setTyping(null);
                focusWork();
              },
              take: () => decide("taken"),
              ask: () => decide("asked"),
              out: (reason) => decide("out", reason),
              join: behind ? join : null,
              reword: (text) =>
                review.rewording.mutate(
                  { keys: [stretch.key], text },
                  {
                    onSuccess: () => {
                      setTyping(null);
                      setChosen(null);
                      focusWork();
                    },
                  },
                ),
              type: (what) => {
                setTyping(what);
                if (what === null) focusWork();
              },
            }}
          />
        )}
      </StretchRow>
    ));
  return (
    <Page className="flex min-h-0 min-w-0 flex-1 flex-col wide:flex-row">
      <section
        aria-label="The text"
        className="flex min-h-0 flex-col border-line px-4 pt-2 pb-1 wide:w-96 wide:shrink-0 wide:border-r"
      >
        <div className="flex flex-wrap items-baseline gap-x-2">
          <h2>In {current.client.name.split(" ")[0]}’s words</h2>
          <Button small kind="quiet" onClick={() => setEditing(true)}>
            Edit or paste anew <kbd>e</kbd>
          </Button>
        </div>
        <Letter
          state={state}
          current={at?.key ?? null}
          numbers={numbers}
          onSelect={select}
          onUse={(key) => {
            dispatch({ type: "use", key });
            select(key);
          }}
        />
      </section>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <p role="status" className="sr-only">
          {said}
        </p>
        <section
          aria-label="What it was read as"
          className="min-h-0 flex-1 overflow-auto px-4 pt-2"
        >
          <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
            <h2>
              {doubts === 0 && "Every doubt is looked at"}
              {doubts === 1 && "1 doubt"}
              {doubts > 1 && `${doubts} doubts, the weightiest first`}
            </h2>
            <span className="flex items-center gap-1.5 text-soft">
              feeds
              <DaysInput
                value={state.days}
                onChange={(days) =>
                  days !== state.days && review.reading.mutate({ text: state.text, days })
                }
              />
              {state.days === 1 ? "day" : "days"}
            </span>
            <span className="ml-auto flex items-center">
              <Button
                kind="quiet"
                small
                aria-label="Undo"
                title="Undo (Ctrl+Z)"
                disabled={state.past.length === 0}
                onClick={undo}
              >
                ↶
              </Button>
              <Button
                kind="quiet"
                small
                aria-label="Redo"
                title="Redo (Ctrl+Shift+Z)"
                disabled={state.future.length === 0}
                onClick={() => dispatch({ type: "redo" })}
              >
                ↷
              </Button>
            </span>
          </div>
          {review.reading.isError && <Problem error={review.reading.error} />}
          {review.problem && <Problem what="what hangs on the doubts" error={review.problem} />}
          {state.warnings.map((warning) => (
            <p key={warning} role="alert" className="border-madder stile">
              {warning}
            </p>
          ))}
          {state.feeding && (
            <p className="text-data text-soft">It also says how it is fed: “{state.feeding}”.</p>
          )}
          <ul aria-label="Doubts" className="mt-1 border-line border-b">
            {rows(doubtful)}
          </ul>
          {sure.length > 0 && (
            <>
              <div className="mt-2 flex items-center gap-3">
                <h2>{sure.length} sure</h2>
                <span className="text-data text-soft">no verdict hangs on what they weigh</span>
                {sureOpen.length > 0 && (
                  <Button small className="ml-auto" onClick={takeSure}>
                    {sureOpen.length === 1 ? "It is right" : `All ${sureOpen.length} are right`}{" "}
                    <kbd>y</kbd>
                  </Button>
                )}
              </div>
              <ul aria-label="Sure" className="mt-1 border-line border-b">
                {rows(sure)}
              </ul>
            </>
          )}
        </section>
        <BringWall
          recipe={recipe}
          look={look.asked}
          content={review.content}
          uncounted={review.uncounted}
          ranges={review.ranges}
          onWrong={setWrong}
        />
        <div className="foot-bar flex flex-wrap items-center gap-2 border-line border-t px-4 py-2">
          <Button
            kind="solid"
            disabled={(lines.length === 0 && open.length === 0) || apart}
            onClick={finish}
          >
            {open.length > 0
              ? `${open.length} to look at first`
              : `Take ${lines.length} ${lines.length === 1 ? "line" : "lines"} to the bench`}{" "}
            <kbd>Ctrl Enter</kbd>
          </Button>
          {there.length > 0 && (
            <Toggle
              label="Where they go"
              value={where}
              onChange={setWhere}
              small
              options={[
                { id: "instead", label: `in place of its ${there.length} lines` },
                { id: "beside", label: "beside them" },
              ]}
            />
          )}
          {apart && (
            <span role="alert" className="border-madder border-l-[3px] pl-2">
              The recipe feeds {bench.content.coversDays}{" "}
              {bench.content.coversDays === 1 ? "day" : "days"}, the text {state.days}: bring them
              to the same first.
            </span>
          )}
          <Button disabled={asked.length === 0} onClick={() => setAsking(true)}>
            {asked.length === 1 ? "Write the question" : `Write the ${asked.length} questions`}{" "}
            <kbd>w</kbd>
          </Button>
          <span className="ml-auto text-data text-soft max-wide:hidden">
            <kbd>1</kbd>–<kbd>6</kbd> choose, <kbd>=</kbd> grams, <kbd>↑</kbd> <kbd>↓</kbd> move
          </span>
          <Link to={base} className="px-2 py-1 hover:bg-groove max-wide:ml-auto">
            Back to the bench
          </Link>
        </div>
      </div>
      {asking && (
        <Questions
          recipeId={recipe.id}
          email={current.client.email}
          questions={asked.map((s) => s.question)}
          onClose={() => setAsking(false)}
        />
      )}
    </Page>
  );
}
