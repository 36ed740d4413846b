import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, type Case, type Food, take as fetched, type Help, type Recipe } from "~/api/client";
import { AddFood } from "~/shared/foods/AddFood";
import { formulationQuery, recipeQuery } from "~/shared/queries";
import { isAbout } from "~/shared/saving/fields";
import { SavingNote } from "~/shared/saving/SavingNote";
import { ShopDialog } from "~/shared/sourcing/ShopDialog";
import { Loading, Problem } from "~/shared/states";
import { useAsked } from "~/shared/useAsked";
import { useCase } from "~/shared/useCase";
import { useTitle } from "~/shared/useTitle";
import { boardsOf, worstBoard } from "~/shared/wall/boards";
import { tonesOf } from "~/shared/wall/tones";
import { focusWork } from "~/ui";
import { Page } from "~/ui/Page";
import { AskBeforeAdding } from "./AskBeforeAdding";
import { BenchBar } from "./BenchBar";
import { aheadOf } from "./Bounds";
import { type BenchLine, type Content, lineOf } from "./editor";
import { ShortcutsDialog, useBenchKeys } from "./keyboard";
import { Lines } from "./Lines";
import { ProposalsView } from "./proposals/ProposalsView";
import { useProposals } from "./proposals/useProposals";
import { ReplaceDialog } from "./ReplaceDialog";
import { SidePanel } from "./SidePanel";
import { Flags } from "./Summary";
import { allowedFoods, useAdjust } from "./useAdjust";
import { typedOf } from "./useAnalysis";
import { useBench } from "./useBench";
import { useBounding } from "./useBounding";
import { useLive } from "./useLive";
import { useLook } from "./useLook";
import { useWays } from "./useWays";
import { PANES, type Pane, type Side, type View } from "./views";
import { WallSection } from "./WallSection";

export default function BenchPage() {
  const { recipeId } = useParams();
  const current = useCase();
  const recipe = useQuery(recipeQuery(Number(recipeId)));
  if (recipe.isPending) return <Loading what="the recipe" />;
  // What was fetched before stays on screen when it cannot be fetched again.
  if (!recipe.data)
    return <Problem what="the recipe" error={recipe.error} retry={() => recipe.refetch()} />;
  return <Bench key={recipe.data.id} recipe={recipe.data} current={current} />;
}

/** What of a recipe a path is about, where it stands in no line. */
function wordsOf(path: string, content: Content): string {
  if (path === "order") return "The order of the lines";
  if (path === "covers_days") return "The days it feeds";
  if (path === "name") return "The name";
  const line = content.lines.find((l) => isAbout(path, `lines.${l.key}`));
  return line ? line.name : "A line that was taken away";
}

function Bench({ recipe, current }: { recipe: Recipe; current: Case }) {
  useTitle(recipe.name, current.dog.name);
  const search = useRef<HTMLInputElement>(null);
  const look = useLook(current);
  const bench = useBench(recipe, look.asked);
  const { analysis, content, dispatch } = bench;
  const adjust = useAdjust(recipe.id);
  const [view, setView] = useState<View>("wall");
  // What a check points at is opened, and so is the side that a new version begins with.
  const [asked] = useSearchParams();
  const toAdjust = useRef(asked.get("side") === "adjust").current;
  const [side, setSideOnly] = useState<Side>(toAdjust ? "adjust" : "detail");
  const [pane, setPane] = useState<Pane>(toAdjust ? "side" : "recipe");
  // What is asked for is shown, also where only one part has room.
  const setSide = useCallback((to: Side) => {
    setSideOnly(to);
    setPane("side");
  }, []);
  // From anywhere, a board's grip too, its key leads back to where the amounts are found.
  const openSide = useCallback(
    (to: Side) => {
      flushSync(() => setSide(to));
      if (to === "adjust")
        document.querySelector<HTMLElement>("[data-go]")?.focus({ preventScroll: true });
    },
    [setSide],
  );
  const showView = useCallback((to: View) => {
    setView(to);
    setPane("wall");
  }, []);
  const showLines = useCallback(() => {
    flushSync(() => setPane("recipe"));
    search.current?.focus();
  }, []);
  // Once, with the bench as it was opened.
  const opened = useRef({ typed: bench.typed, content, resume: adjust.resume });
  useEffect(() => {
    const { typed, content, resume } = opened.current;
    void resume(typed, content, () => setSide("adjust"));
  }, [setSide]);
  // Whoever comes here by a link goes on at the bench, where its keys are.
  useEffect(() => {
    const at = document.activeElement;
    if (toAdjust) document.querySelector<HTMLElement>("[data-go]")?.focus();
    else if (!at?.closest("main, [role=dialog]")) focusWork();
  }, [toAdjust]);
  const choices = useQuery(formulationQuery(current.id));
  const focusNext = useRef<string | null>(null);
  const [selected, setSelected] = useState<string | null>(asked.get("nutrient"));
  const [highlight, setHighlight] = useState<number | null>(null);
  const [help, setHelp] = useState(false);
  const [asking, setAsking] = useState<{ food: Food; quantity: string } | null>(null);
  const [replacing, setReplacing] = useState<BenchLine | null>(null);
  // The lines that are bought for: those of the bench, or those of an answer before it is taken.
  const [buying, setBuying] = useState<{ typed: string; ahead: boolean } | null>(null);
  const tones = useMemo(
    () => tonesOf(recipe.tones, analysis?.recipe.lines ?? []),
    [analysis, recipe.tones],
  );
  const boards = useMemo(() => (analysis ? boardsOf(analysis, tones) : []), [analysis, tones]);
  const navigate = useNavigate();
  const { run, setShown } = adjust;
  const answered =
    side === "adjust" && adjust.shown && run.proposal !== null && run.typed === bench.typed;
  const proposals = useProposals(run, recipe.id, content, look.asked, answered);
  const chosenLines = proposals.analyses[proposals.at]?.recipe.lines;
  const drawnIn = useMemo(() => tonesOf(tones, chosenLines ?? []), [tones, chosenLines]);

  const showHelp = useCallback(() => setHelp(true), []);
  const showWorst = useCallback(() => {
    flushSync(() => {
      showView("wall");
      setSideOnly("detail");
    });
    const worst = worstBoard(boards);
    if (!worst) return;
    setSelected(worst.key);
    document.querySelector<HTMLElement>(`[data-board="${worst.key}"]`)?.focus();
  }, [boards, showView]);
  const canBuy = content.lines.length > 0 && bench.stale === "";
  const buy = useCallback(() => {
    if (canBuy) setBuying({ typed: bench.typed, ahead: false });
  }, [canBuy, bench.typed]);
  useBenchKeys({
    onBuy: buy,
    onFind: showLines,
    onView: showView,
    onSide: openSide,
    onHelp: showHelp,
    onWorst: showWorst,
  });

  function add(food: Food, quantity: string, override: string) {
    const { id, name, methods } = food;
    const line = lineOf({ food: id, name, methods, text: quantity, override });
    // The keyboard goes on in its amount as soon as it is drawn.
    focusNext.current = line.key;
    dispatch({ type: "add", line });
  }
  const addOrAsk = (food: Food, quantity: string) =>
    food.questions.length > 0 || food.incomplete.length > 0
      ? setAsking({ food, quantity })
      : add(food, quantity, "");
  const addHelp = useCallback(
    ({ food, name, text, methods }: Help) =>
      dispatch({ type: "add", line: lineOf({ food, name, text, methods }) }),
    [dispatch],
  );
  useAsked((asked) => {
    if (asked.do === "add") addOrAsk(asked.food, asked.quantity);
    if (asked.do === "side") openSide(asked.side);
    if (asked.do === "window") {
      showView("wall");
      setSideOnly("detail");
      setSelected(asked.key);
    }
  });
  function applyLines(lines: BenchLine[], keepAs?: string) {
    dispatch({ type: "apply", lines, ...(keepAs ? { keepAs } : {}) });
    adjust.clear();
  }
  function take(lines: BenchLine[]) {
    applyLines(lines, "before the proposal");
    setSideOnly("detail");
    setPane("recipe");
    focusWork();
  }
  // While the recipe is adjusted a board is chosen for its lines to be moved.
  const adjusting = side === "adjust" && !answered && content.lines.length > 0;
  const select = useCallback(
    (key: string) => {
      setSelected(key);
      if (!adjusting) setSideOnly("detail");
    },
    [adjusting],
  );
  const allowed = useMemo(
    () => (choices.data ? allowedFoods(choices.data, adjust.settings) : null),
    [choices.data, adjust.settings],
  );
  const fit = !bench.stale && bench.errors.size === 0;
  const live = useLive(recipe.id, adjust, bench.typed, content, allowed, adjusting && fit);
  const ahead = useMemo(() => aheadOf(live), [live]);
  const bounding = useBounding(adjust, adjusting);
  const shownIf = (part: Pane) => (part === pane ? "flex" : "hidden wide:flex");
  const { typed } = bench;
  const ways = useWays({ recipeId: recipe.id, typed, content, setWay: look.setWay, applyLines });
  const empty = content.lines.length === 0;
  return (
    <Page className="flex min-h-0 min-w-0 flex-1 flex-col">
      <BenchBar
        bench={bench}
        look={look}
        recipe={recipe}
        current={current}
        onHelp={showHelp}
        onBuy={canBuy ? buy : undefined}
      />
      <section
        aria-label="The wall"
        className={`${shownIf("wall")} flex-col px-4 pt-2 pb-3 wide:shrink-0 wide:pb-0 ${wallHeight(answered ? Number.POSITIVE_INFINITY : content.lines.length)}`}
      >
        <h2 className="sr-only">The wall</h2>
        <WallSection
          recipeId={recipe.id}
          typed={typed}
          bench={bench}
          look={look}
          ways={ways}
          choices={choices.data}
          boards={boards}
          tones={tones}
          proposals={proposals}
          live={live}
          bounding={bounding}
          view={view}
          onView={showView}
          selected={selected}
          onSelect={select}
          onOpen={() => setPane("side")}
          highlight={highlight}
          onHighlight={setHighlight}
        />
      </section>
      {answered && (
        <div className={`${shownIf("side")} min-h-0 flex-1 border-line wide:border-t`}>
          <ProposalsView
            key={run.typed}
            run={run}
            proposals={proposals}
            tones={drawnIn}
            onTake={take}
            onBuy={(lines) =>
              setBuying({
                typed: typedOf({ coversDays: content.coversDays, lines }, look.asked),
                ahead: true,
              })
            }
            onBack={() => setShown(false)}
            onLeave={() => {
              adjust.clear();
              focusWork();
            }}
            onDecide={() => {
              // Other targets ask for other answers.
              adjust.clear();
              navigate(`/cases/${current.id}/targets`);
            }}
            onAllow={(food) => {
              adjust.setSettings((now) => ({ ...now, ticked: { ...now.ticked, [food]: true } }));
              setShown(false);
            }}
            onPoint={setHighlight}
          />
        </div>
      )}
      <div className={`${answered ? "hidden" : "flex"} min-h-0 flex-1 border-line wide:border-t`}>
        <section aria-label="Recipe" className={`${shownIf("recipe")} min-w-0 flex-1 flex-col`}>
          <h2 className="sr-only">Recipe</h2>
          <div className="min-h-0 flex-1 px-4 wide:overflow-auto">
            <SavingNote
              saving={bench.saving}
              words={(path) => wordsOf(path, content)}
              shown={(path) => content.lines.some((line) => isAbout(`lines.${line.key}`, path))}
            />
            {!empty && (
              <Lines
                lines={content.lines}
                analysis={analysis}
                errors={bench.errors}
                ahead={ahead}
                tones={tones}
                saving={bench.saving}
                stale={bench.stale !== ""}
                focusNext={focusNext}
                dispatch={dispatch}
                highlight={highlight}
                onHighlight={setHighlight}
                onReplace={setReplacing}
              />
            )}
            {analysis && !empty && <Flags flags={analysis.cautions} />}
          </div>
          <div className="border-line border-t px-4 py-2">
            <AddFood inputRef={search} caseId={current.id} onAdd={addOrAsk} />
          </div>
        </section>
        <section
          aria-label="Side"
          className={`${shownIf("side")} min-w-0 flex-1 flex-col border-line px-4 py-2 wide:w-[22rem] wide:flex-none wide:overflow-auto wide:border-l`}
        >
          <SidePanel
            side={side}
            onSide={setSide}
            bench={bench}
            look={look}
            adjust={adjust}
            recipe={recipe}
            current={current}
            selected={selected}
            onSelect={setSelected}
            onHighlight={setHighlight}
            onHelp={addHelp}
            boards={boards}
            live={live}
            onShow={() => setShown(true)}
            onBegin={(foods) => void ways.startFrom("", foods)}
          />
        </section>
      </div>
      <nav
        aria-label="Parts of the bench"
        className="foot-bar flex border-line border-t bg-paper wide:hidden"
      >
        {PANES.map(({ id, label }) => (
          <button
            key={id}
            type="button"
            aria-current={pane === id ? "page" : undefined}
            onClick={() => setPane(id)}
            className="h-11 flex-1 border-transparent border-t-[3px] font-medium aria-[current=page]:border-oak-deep aria-[current=page]:bg-groove"
          >
            {label}
          </button>
        ))}
      </nav>
      {buying && (
        <ShopDialog
          caseId={current.id}
          dog={current.dog.name}
          email={current.client.email}
          of={["recipe", recipe.id, buying.typed]}
          days={content.coversDays}
          load={(days) =>
            fetched(
              api.POST("/api/recipes/{id}/shopping", {
                params: { path: { id: recipe.id } },
                body: { ...JSON.parse(buying.typed), days },
              }),
            )
          }
          paper={buying.ahead || !bench.saved ? null : `/papers/recipes/${recipe.id}/shopping`}
          {...(buying.ahead
            ? {}
            : {
                onReplace: (food: string) => {
                  flushSync(() => setBuying(null));
                  setReplacing(content.lines.find((line) => line.food === food) ?? null);
                },
              })}
          onClose={() => setBuying(null)}
        />
      )}
      {replacing && (
        <ReplaceDialog
          recipeId={recipe.id}
          caseId={current.id}
          typed={typed}
          line={replacing}
          position={content.lines.findIndex((line) => line.key === replacing.key)}
          onClose={() => setReplacing(null)}
          onReplace={(line, further) => {
            applyLines(content.lines.map((old) => (old.key === replacing.key ? line : old)));
            setReplacing(null);
            if (further) setSide("adjust");
          }}
        />
      )}
      {asking && (
        <AskBeforeAdding
          food={asking.food}
          onClose={() => setAsking(null)}
          onDone={(override) => {
            // Closed first: an open dialog would take the focus back.
            flushSync(() => setAsking(null));
            add(asking.food, asking.quantity, override);
          }}
        />
      )}
      <ShortcutsDialog open={help} onClose={() => setHelp(false)} />
    </Page>
  );
}

/** The wall gives way to a longer recipe, so that its last line is seen. */
function wallHeight(lines: number): string {
  if (lines > 8) return "wide:h-64";
  return lines > 6 ? "wide:h-[18rem]" : "wide:h-[21.5rem]";
}
