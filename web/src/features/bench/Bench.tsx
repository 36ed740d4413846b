import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import type { Analysis, Case, Flag, Food, Recipe } from "../../api/client";
import { BASES, type Basis, number, percent } from "../../app/format";
import { recipeQuery, standardsQuery } from "../../app/queries";
import { Button, Dialog, Loading, Problem, Select, Toggle } from "../../ui";
import { useCase } from "../cases/CaseFrame";
import { AddFood } from "./AddFood";
import { AskBeforeAdding } from "./AskBeforeAdding";
import { ConflictDialog } from "./ConflictDialog";
import { Drawer } from "./Drawer";
import { newKey } from "./editor";
import { focusLine, Lines } from "./Lines";
import { type SaveState, useBench } from "./useBench";
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

const SHORTCUTS = [
  ["/", "add an ingredient"],
  ["↑ ↓ Enter", "between amounts"],
  ["Alt+↑ Alt+↓", "move a line"],
  ["Ctrl+Backspace", "remove the line"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["g", "jump to the worst gap"],
  ["← →", "along the wall"],
  ["?", "this list"],
] as const;

function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement;
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
  const bench = useBench(recipe, { standard, life_stage, data_policy: policy, second });
  const { analysis, content, dispatch } = bench;
  const boards = useMemo(() => (analysis ? boardsOf(analysis) : []), [analysis]);
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
        } else if (event.key === "g") {
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
    dispatch({
      type: "add",
      line: {
        key: newKey(),
        food: food.id,
        name: food.name,
        quantity: "",
        text: quantity,
        preparation: "",
        methods: food.methods,
        override,
      },
    });
    setTimeout(() => focusLine(content.lines.length), 30);
  }
  const readout = boards.find((b) => b.key === (pointed ?? selected));
  const empty = content.lines.length === 0;
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <div className="flex items-center gap-2 whitespace-nowrap border-line border-b px-4 py-1.5">
        <Select
          label="Standard and life stage"
          value={choice}
          onChange={setChoice}
          options={choices}
          className="w-40 shrink-0"
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
        <Toggle label="Basis" value={basis} onChange={setBasis} options={BASES} />
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
          <Button kind="quiet" aria-label="Shortcuts" onClick={() => setHelp(true)}>
            ?
          </Button>
        </div>
      </div>

      <section aria-label="The wall" className="flex h-[21.5rem] shrink-0 flex-col px-4 pt-2">
        {bench.analysisError && !analysis ? (
          <Problem error={bench.analysisError} retry={() => bench.retryAnalysis()} />
        ) : empty ? (
          <p className="m-auto max-w-md text-center text-soft">
            The wall fills as the recipe does. Press <kbd>/</kbd> and type an ingredient with its
            amount, for example “200 g chicken thigh”.
          </p>
        ) : !analysis ? (
          <Loading what="the wall" />
        ) : (
          <>
            <p className="flex h-6 gap-2 truncate" aria-hidden="true">
              {readout ? (
                <>
                  <b>{readout.name}</b>
                  <span>{readout.words}</span>
                </>
              ) : (
                <Legend boards={boards} />
              )}
            </p>
            <div className="min-h-0 flex-1">
              <Wall
                boards={boards}
                selected={selected}
                onSelect={setSelected}
                highlight={highlight}
                pointed={pointed}
                onPoint={setPointed}
              />
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
          aria-label="Detail"
          className="w-[22rem] shrink-0 overflow-auto border-line border-l px-4 py-3"
        >
          {analysis && !empty && selected ? (
            <Drawer
              recipeId={recipe.id}
              selected={selected}
              analysis={analysis}
              typed={bench.typed}
              basis={basis}
              onHighlight={setHighlight}
            />
          ) : (
            analysis &&
            !empty && <Summary analysis={analysis} basis={basis} onSelect={setSelected} />
          )}
        </section>
      </div>
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

function DaysInput({ value, onChange }: { value: number; onChange: (days: number) => void }) {
  const [text, setText] = useState(String(value));
  const days = Number(text.replace(",", "."));
  const valid = days > 0 && days <= 366;
  useEffect(() => setText(String(value)), [value]);
  return (
    <input
      aria-label="Days the recipe feeds"
      aria-invalid={!valid}
      title={valid ? undefined : "More than 0 and at most 366 days"}
      inputMode="decimal"
      value={text}
      onChange={(e) => {
        setText(e.target.value);
        const next = Number(e.target.value.replace(",", "."));
        if (next > 0 && next <= 366) onChange(next);
      }}
      onBlur={() => setText(String(value))}
      className="h-8 w-12 rounded border border-line bg-sheet px-1.5 text-right aria-[invalid=true]:border-madder"
    />
  );
}

function EnergyGauge({ analysis }: { analysis: Analysis }) {
  const { kcal_per_day } = analysis.recipe;
  const target = analysis.energy.target_kcal;
  const share = kcal_per_day / target;
  return (
    <div className="flex items-center gap-2">
      <svg
        viewBox="0 0 100 10"
        className="h-2.5 w-14"
        aria-hidden="true"
        preserveAspectRatio="none"
      >
        <rect width="100" height="10" fill="var(--groove)" />
        <rect width={Math.min(100, share * 66.7)} height="10" fill="var(--oak)" />
        <rect x="66" width="1.6" height="10" fill="var(--ink)" />
      </svg>
      <span data-testid="energy">
        <b>{number(kcal_per_day)}</b> of {number(target)} kcal/day ({percent(share)})
      </span>
    </div>
  );
}

function SaveMark({ state, retry }: { state: SaveState; retry: () => void }) {
  if (typeof state === "object")
    return (
      <span role="alert" className="flex items-center gap-2 text-madder">
        Not saved: {state.failed}
        <Button onClick={retry}>Try again</Button>
      </span>
    );
  return (
    <span role="status" data-testid="save-state" className="px-2 text-[13px] text-soft">
      {state === "saved" ? "Saved" : state === "saving" ? "Saving…" : "Not saved yet"}
    </span>
  );
}

function Legend({ boards }: { boards: { status: string }[] }) {
  const count = (status: string) => boards.filter((b) => b.status === status).length;
  return (
    <span className="flex gap-4 text-soft">
      <span>
        <b className="text-ink">{count("short")}</b> short (stops below the rail)
      </span>
      <span>
        <b className="text-ink">{count("unproven")}</b> unproven (open, dashed top)
      </span>
      <span>
        <b className="text-ink">{count("over")}</b> over (breaks the cornice)
      </span>
      <span>
        <b className="text-ink">{count("met")}</b> met
      </span>
    </span>
  );
}

function Flags({ flags }: { flags: Flag[] }) {
  if (flags.length === 0) return null;
  return (
    <ul aria-label="Cautions" className="my-2 flex flex-col gap-1 text-[13px]">
      {flags.map((flag) => (
        <li
          key={flag.kind + flag.title}
          className={`border-l-[3px] pl-2 ${flag.severity === "block" ? "border-madder" : "border-oak"}`}
        >
          <b className={flag.severity === "block" ? "text-madder" : ""}>{flag.title}.</b> {flag.why}
          . {flag.do}
          {flag.source && <span className="text-soft"> ({flag.source})</span>}
        </li>
      ))}
    </ul>
  );
}

/** What to look at first, when nothing is selected. */
function Summary({
  analysis,
  basis,
  onSelect,
}: {
  analysis: Analysis;
  basis: Basis;
  onSelect: (key: string) => void;
}) {
  const worst = analysis.nutrients
    .filter((n) => n.board && ["short", "over", "unproven"].includes(n.status))
    .map((n) => ({
      n,
      ratio: (n.per_1000_kcal ?? 0) / ((n.status === "over" ? n.max : (n.min ?? n.max)) || 1),
    }))
    .sort((a, b) => rank(a.n.status) - rank(b.n.status) || a.ratio - b.ratio);
  const factor = (value: number | null, n: (typeof worst)[number]["n"]) =>
    value === null || !n.per_1000_kcal || n[basis] === null
      ? value
      : (value * (n[basis] ?? 0)) / n.per_1000_kcal;
  const unit = BASES.find((b) => b.id === basis)?.unit;
  return (
    <>
      <h2 className="mb-1 text-base">{worst.length ? "To mend" : "Every limit is met"}</h2>
      <p className="mb-2 text-[13px] text-soft">
        {analysis.requirements}. Choose a board to see where it comes from.
      </p>
      <table className="w-full">
        <thead>
          <tr className="border-line border-b text-[13px] text-soft">
            <th className="text-left font-normal">Nutrient</th>
            <th className="text-right font-normal">has {unit}</th>
            <th className="text-right font-normal">limit</th>
            <th className="w-20 text-right font-normal">state</th>
          </tr>
        </thead>
        <tbody>
          {worst.map(({ n }) => (
            <tr key={n.key} className="border-line border-b">
              <td>
                <button
                  type="button"
                  className="text-left hover:underline"
                  onClick={() => onSelect(n.key)}
                >
                  {n.name}
                </button>
              </td>
              <td className="whitespace-nowrap text-right">{number(n[basis], n.decimals)}</td>
              <td className="whitespace-nowrap pl-2 text-right">
                {number(
                  factor(n.status === "over" || n.min === null ? n.max : n.min, n),
                  n.decimals,
                )}{" "}
                {n.unit}
              </td>
              <td
                className={`text-right ${n.status === "unproven" ? "" : "font-semibold text-madder"}`}
              >
                {n.status}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function rank(status: string): number {
  return ["over", "short", "unproven"].indexOf(status);
}
