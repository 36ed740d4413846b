import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Case, Food, Help, Recipe } from "../../api/client";
import { BASES, type Basis } from "../../app/format";
import { formulationQuery, recipeQuery, standardsQuery } from "../../app/queries";
import { Button, Dialog, Loading, Problem, Select, Toggle } from "../../ui";
import { useCase } from "../cases/CaseFrame";
import { AddFood } from "./AddFood";
import { AdjustPanel } from "./AdjustPanel";
import { AskBeforeAdding } from "./AskBeforeAdding";
import { BalanceView } from "./BalanceView";
import { ConflictDialog } from "./ConflictDialog";
import { Drawer } from "./Drawer";
import { EmptyBench } from "./EmptyBench";
import { type BenchLine, contentOf, lineOf } from "./editor";
import { focusLine, Lines } from "./Lines";
import { MatrixView } from "./MatrixView";
import { ReplaceDialog } from "./ReplaceDialog";
import { Flags, Legend, Summary } from "./Summary";
import { TableView } from "./TableView";
import { DaysInput, EnergyGauge, SaveMark } from "./Toolbar";
import { useAdjust } from "./useAdjust";
import { useBench } from "./useBench";
import { NO_WAY, useWays } from "./useWays";
import { VersionsPanel } from "./VersionsPanel";
import { boardsOf, Wall, worstBoard } from "./Wall";

export default function BenchPage() {
  const { recipeId } = useParams();
  const current = useCase();
  const recipe = useQuery(recipeQuery(Number(recipeId)));
  if (recipe.isPending) return <Loading what="the recipe" />;
  if (recipe.isError) return <Problem error={recipe.error} retry={() => recipe.refetch()} />;
  return <Bench key={recipe.data.id} recipe={recipe.data} current={current} />;
}

type Policy = "graded" | "strict" | "cautious";

const POLICIES: { id: Policy; label: string }[] = [
  { id: "graded", label: "Graded" },
  { id: "strict", label: "Strict" },
  { id: "cautious", label: "Cautious" },
];

const NONE = "none";

type View = "wall" | "table" | "lines" | "balance";

const VIEWS: { id: View; label: string }[] = [
  { id: "wall", label: "Wall" },
  { id: "table", label: "Table" },
  { id: "lines", label: "By ingredient" },
  { id: "balance", label: "Balance" },
];

type Side = "detail" | "adjust" | "versions";

const SIDES: { id: Side; label: string }[] = [
  { id: "detail", label: "Detail" },
  { id: "adjust", label: "Adjust" },
  { id: "versions", label: "Versions" },
];

const SHORTCUTS = [
  ["/", "add an ingredient"],
  ["↑ ↓ Enter", "between amounts"],
  ["Alt+↑ Alt+↓", "move a line"],
  ["Ctrl+E", "replace the line by another food"],
  ["Ctrl+Backspace", "remove the line"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["g", "jump to the worst gap"],
  ["a", "adjust: Enter finds the amounts, Enter again accepts them"],
  ["d", "back to the detail"],
  ["w t i b", "wall, table, by ingredient, balance"],
  ["← →", "along the wall"],
  ["Ctrl+K", "go to another dog, step, recipe or page"],
  ["?", "this list"],
] as const;

const VIEW_KEYS: Record<string, View> = { w: "wall", t: "table", i: "lines", b: "balance" };

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLInputElement ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement
  );
}

function Bench({ recipe, current }: { recipe: Recipe; current: Case }) {
  const standards = useQuery(standardsQuery);
  const [choice, setChoice] = useState(`${current.standard}|${current.life_stage}`);
  const [standard = "", life_stage = ""] = choice.split("|");
  const [basis, setBasis] = useState<Basis>("per_1000_kcal");
  const [selected, setSelected] = useState<string | null>(null);
  const [pointed, setPointed] = useState<string | null>(null);
  const [highlight, setHighlight] = useState<number | null>(null);
  const [help, setHelp] = useState(false);
  const search = useRef<HTMLInputElement>(null);
  const [policy, setPolicy] = useState<Policy>((current.data_policy as Policy) ?? "graded");
  const [second, setSecond] = useState("");
  const [asking, setAsking] = useState<{ food: Food; quantity: string } | null>(null);
  const [view, setView] = useState<View>("wall");
  const [side, setSide] = useState<Side>("detail");
  const [replacing, setReplacing] = useState<BenchLine | null>(null);
  const navigate = useNavigate();
  const choicesOf = useQuery(formulationQuery(current.id));
  const adjust = useAdjust(recipe.id);
  const [way, setWay] = useState(NO_WAY);
  const [besideStandard = "", besideStage = ""] = second.split("|");
  const bench = useBench(recipe, {
    standard,
    life_stage,
    data_policy: policy,
    second: second ? { standard: besideStandard, life_stage: besideStage } : null,
    ...way,
  });
  const { analysis, content, dispatch } = bench;
  const boards = useMemo(() => (analysis ? boardsOf(analysis) : []), [analysis]);
  const { run } = adjust;
  const after =
    side === "adjust" && run.typed === bench.typed ? (run.proposal?.after ?? null) : null;
  const ghost = useMemo(
    () => (after ? new Map(boardsOf(after).map((b) => [b.key, b])) : null),
    [after],
  );
  const choices = useMemo(() => {
    const all = (standards.data ?? []).flatMap((s) =>
      s.life_stages.map((stage) => ({
        id: `${s.id}|${stage.id}`,
        label: `${s.name}, ${stage.name}`,
      })),
    );
    return all.some((c) => c.id === choice)
      ? all
      : [{ id: choice, label: analysis?.requirements ?? choice }, ...all];
  }, [standards.data, choice, analysis?.requirements]);

  useEffect(() => {
    function onKey(event: globalThis.KeyboardEvent) {
      const mod = event.ctrlKey || event.metaKey;
      if (mod && event.key.toLowerCase() === "z") {
        event.preventDefault();
        dispatch({ type: event.shiftKey ? "redo" : "undo" });
      } else if (mod && event.key.toLowerCase() === "y") {
        event.preventDefault();
        dispatch({ type: "redo" });
      } else if (!typing(event.target) && !mod && !event.altKey) {
        if (event.key === "/") {
          event.preventDefault();
          search.current?.focus();
        } else if (event.key === "?") {
          setHelp(true);
        } else if (event.key === "a") {
          event.preventDefault();
          setSide("adjust");
        } else if (event.key === "d") {
          setSide("detail");
        } else if (VIEW_KEYS[event.key]) {
          setView(VIEW_KEYS[event.key] as View);
        } else if (event.key === "g") {
          setView("wall");
          setSide("detail");
          const worst = worstBoard(boards);
          if (worst) {
            setSelected(worst.key);
            document.querySelector<HTMLElement>(`[data-board="${worst.key}"]`)?.focus();
          }
        }
      }
    }
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [dispatch, boards]);

  function add(food: Food, quantity: string, override: string) {
    const { id, name, methods } = food;
    dispatch({ type: "add", line: lineOf({ food: id, name, methods, text: quantity, override }) });
    setTimeout(() => focusLine(content.lines.length), 30);
  }
  function applyLines(lines: BenchLine[]) {
    dispatch({ type: "apply", lines });
    adjust.clear();
  }
  const ways = useWays({ recipeId: recipe.id, typed: bench.typed, content, setWay, applyLines });
  function addHelp(help: Help) {
    const { food, name, text, methods } = help;
    dispatch({ type: "add", line: lineOf({ food, name, text, methods }) });
  }
  function select(key: string) {
    setSelected(key);
    setSide("detail");
  }
  const readout = boards.find((b) => b.key === (pointed ?? selected));
  const empty = content.lines.length === 0;
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <div className="flex items-center gap-1.5 whitespace-nowrap border-line border-b px-4 py-1.5">
        <Select
          label="Standard and life stage"
          value={choice}
          onChange={setChoice}
          options={choices}
          className="w-36 shrink-0"
        />
        <Select
          label="Second standard on the wall"
          value={second || NONE}
          onChange={(id) => setSecond(id === NONE ? "" : id)}
          options={[{ id: NONE, label: "beside: –" }, ...choices]}
          className="w-24 shrink-0"
        />
        <Select
          label="How estimates count"
          value={policy}
          onChange={setPolicy}
          options={POLICIES}
          className="w-24 shrink-0"
        />
        <Select
          label="Basis"
          value={basis}
          onChange={setBasis}
          options={BASES}
          className="w-[7.5rem] shrink-0"
        />
        {analysis && <EnergyGauge analysis={analysis} />}
        <div className="flex items-center gap-1.5">
          <span className="text-soft">feeds</span>
          <DaysInput
            value={content.coversDays}
            onChange={(coversDays) => dispatch({ type: "days", coversDays })}
          />
          <span className="text-soft">{content.coversDays === 1 ? "day" : "days"}</span>
        </div>
        <div className="ml-auto flex items-center gap-1">
          <SaveMark state={bench.saveState} retry={bench.saveAgain} />
          <Button
            kind="quiet"
            aria-label="Undo"
            title="Undo (Ctrl+Z)"
            disabled={!bench.canUndo}
            onClick={() => dispatch({ type: "undo" })}
          >
            ↶
          </Button>
          <Button
            kind="quiet"
            aria-label="Redo"
            title="Redo (Ctrl+Shift+Z)"
            disabled={!bench.canRedo}
            onClick={() => dispatch({ type: "redo" })}
          >
            ↷
          </Button>
          <Link
            to="sheet"
            relative="path"
            className="inline-flex h-8 items-center rounded px-3 font-medium hover:bg-groove"
          >
            Print
          </Link>
          <a
            href={`/api/cases/${current.id}/file?recipe=${recipe.id}`}
            download={`${current.dog.name}.json`}
            title="Save the case with this recipe as a case file"
            className="inline-flex h-8 items-center rounded px-2 hover:bg-groove"
          >
            File
          </a>
          <Button kind="quiet" aria-label="Shortcuts" onClick={() => setHelp(true)}>
            ?
          </Button>
        </div>
      </div>

      <section aria-label="The wall" className="flex h-[21.5rem] shrink-0 flex-col px-4 pt-2">
        {bench.analysisError && !analysis ? (
          <Problem error={bench.analysisError} retry={() => bench.retryAnalysis()} />
        ) : empty ? (
          <EmptyBench
            ways={choicesOf.data?.ways ?? []}
            onTemplate={ways.startFrom}
            problem={ways.problem}
          />
        ) : !analysis ? (
          <Loading what="the wall" />
        ) : (
          <>
            <div className="mb-0.5 flex h-7 items-center gap-2">
              <p className="flex min-w-0 flex-1 gap-2 truncate" aria-hidden="true">
                {readout && view === "wall" ? (
                  <>
                    <b>{readout.name}</b>
                    <span className="truncate">{readout.words}</span>
                  </>
                ) : (
                  <Legend boards={boards} />
                )}
              </p>
              <Toggle label="View" value={view} onChange={setView} options={VIEWS} small />
            </div>
            <div className="min-h-0 flex-1">
              {view === "wall" && (
                <Wall
                  boards={boards}
                  ghost={ghost}
                  selected={selected}
                  onSelect={select}
                  highlight={highlight}
                  pointed={pointed}
                  onPoint={setPointed}
                />
              )}
              {view === "table" && (
                <TableView
                  analysis={analysis}
                  after={after}
                  basis={basis}
                  selected={selected}
                  onSelect={select}
                />
              )}
              {view === "lines" && (
                <MatrixView
                  analysis={analysis}
                  lines={content.lines}
                  selected={selected}
                  onSelect={select}
                  highlight={highlight}
                />
              )}
              {view === "balance" && (
                <BalanceView
                  analysis={analysis}
                  choices={choicesOf.data}
                  way={way}
                  onWay={ways.choose}
                  onRescale={ways.rescale}
                  problem={ways.problem}
                />
              )}
            </div>
          </>
        )}
      </section>

      <div className="flex min-h-0 flex-1 border-line border-t">
        <section aria-label="Recipe" className="flex min-w-0 flex-1 flex-col">
          <div className="min-h-0 flex-1 overflow-auto px-4">
            {!empty && (
              <Lines
                lines={content.lines}
                analysis={analysis}
                errors={bench.errors}
                dispatch={dispatch}
                highlight={highlight}
                onHighlight={setHighlight}
                onReplace={setReplacing}
              />
            )}
            {analysis && !empty && <Flags flags={analysis.flags} />}
          </div>
          <div className="border-line border-t px-4 py-2">
            <AddFood
              inputRef={search}
              caseId={current.id}
              onAdd={(food, quantity) =>
                food.questions.length > 0 || food.incomplete.length > 0
                  ? setAsking({ food, quantity })
                  : add(food, quantity, "")
              }
            />
          </div>
        </section>
        <section
          aria-label="Side"
          className="flex w-[22rem] shrink-0 flex-col overflow-auto border-line border-l px-4 py-2"
        >
          <div className="mb-2 flex shrink-0 items-center">
            <Toggle label="Side panel" value={side} onChange={setSide} options={SIDES} small />
          </div>
          {side === "adjust" ? (
            <AdjustPanel
              caseId={current.id}
              adjust={adjust}
              content={content}
              typed={bench.typed}
              analysis={analysis}
              hasErrors={bench.errors.size > 0}
              onAccept={applyLines}
              onDecide={() => navigate(`/cases/${current.id}/targets`)}
            />
          ) : side === "versions" ? (
            <VersionsPanel
              recipe={recipe}
              typed={bench.typed}
              saved={bench.saveState === "saved"}
              onRestored={(stored) => {
                dispatch({ type: "apply", lines: contentOf(stored).lines });
                bench.adopt(stored);
              }}
            />
          ) : analysis && !empty && selected ? (
            <Drawer
              recipeId={recipe.id}
              selected={selected}
              analysis={analysis}
              typed={bench.typed}
              basis={basis}
              onHighlight={setHighlight}
              onHelp={addHelp}
            />
          ) : (
            analysis &&
            !empty && <Summary analysis={analysis} basis={basis} onSelect={setSelected} />
          )}
        </section>
      </div>
      {replacing && (
        <ReplaceDialog
          recipeId={recipe.id}
          caseId={current.id}
          typed={bench.typed}
          line={replacing}
          position={content.lines.findIndex((line) => line.key === replacing.key)}
          onClose={() => setReplacing(null)}
          onReplace={(line, further) => {
            applyLines(content.lines.map((old) => (old.key === line.key ? line : old)));
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
            add(asking.food, asking.quantity, override);
            setAsking(null);
          }}
        />
      )}
      {bench.conflict && (
        <ConflictDialog
          mine={content}
          theirs={bench.conflict.theirs}
          keepMine={bench.keepMine}
          takeTheirs={bench.takeTheirs}
        />
      )}
      <Dialog open={help} onClose={() => setHelp(false)} title="Keyboard">
        <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
          {SHORTCUTS.map(([keys, does]) => (
            <div key={keys} className="contents">
              <dt>
                <kbd className="font-semibold">{keys}</kbd>
              </dt>
              <dd>{does}</dd>
            </div>
          ))}
        </dl>
      </Dialog>
    </main>
  );
}
