import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { type KeyboardEvent, memo, type RefObject, useEffect, useMemo, useRef } from "react";
import type { TypedAnalysis } from "~/api/client";
import { AmountBox } from "~/shared/amounts/boxes";
import { conventions } from "~/shared/conventions";
import { foodFigure, foodWeight, money, number, percent, spelled } from "~/shared/format";
import { isAbout } from "~/shared/saving/fields";
import { ClashAt } from "~/shared/saving/SavingNote";
import type { Saving } from "~/shared/saving/useDraft";
import { Swatch } from "~/shared/wall/Swatch";
import { OTHERS } from "~/shared/wall/tones";
import type { Ahead } from "./Bounds";
import type { Action, BenchLine } from "./editor";

type LineError = TypedAnalysis["line_errors"][number];

/** A drag begins after so many pixels. One object for good: with another at each key every row would be drawn anew. */
const DRAGGED = { activationConstraint: { distance: 4 } };

/** The recipe's lines: amount as typed, grams, kitchen measure, share of energy. */
export function Lines({
  lines,
  analysis,
  errors,
  ahead,
  tones,
  saving,
  stale,
  focusNext,
  dispatch,
  highlight,
  onHighlight,
  onReplace,
}: {
  lines: BenchLine[];
  analysis: TypedAnalysis | undefined;
  errors: ReadonlyMap<number, LineError>;
  /** What is asked for would make of them, while that is looked at. */
  ahead: Ahead | null;
  /** What each food is drawn in. */
  tones: Readonly<Record<string, string>>;
  saving: Saving;
  /** The figures are of other amounts than those that stand there. */
  stale: boolean;
  /** The line whose amount is to be entered once it is drawn, by key. */
  focusNext: RefObject<string | null>;
  dispatch: (action: Action) => void;
  highlight: number | null;
  onHighlight: (line: number | null) => void;
  onReplace: (line: BenchLine) => void;
}) {
  const priced = analysis?.cost.lines.some((c) => c !== null) ?? false;
  const order = lines.map((line) => line.key).join();
  // The same list as long as it says the same: every row looks at it.
  const keys = useMemo(() => (order ? order.split(",") : []), [order]);
  // A finger or the mouse drags; from the keyboard a line moves with Alt+arrow in its amount.
  const sensors = useSensors(useSensor(PointerSensor, DRAGGED));
  function drop({ active, over }: DragEndEvent) {
    const at = (id: unknown) => lines.findIndex((line) => line.key === id);
    if (over && active.id !== over.id)
      dispatch({ type: "move", key: String(active.id), by: at(over.id) - at(active.id) });
  }
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <table data-stale={stale} className="w-full border-collapse max-mid:block">
        <thead className="sticky top-0 z-10 hidden bg-paper mid:table-header-group">
          <tr className="border-line border-b text-data text-soft">
            <th className="w-5" aria-label="Order" />
            <th className="text-left font-normal">Ingredient, as fed</th>
            <th className="w-28 px-2 text-right font-normal">Amount</th>
            <th className="w-16 px-2 text-right font-normal">
              {conventions().food === "g" ? "Grams" : "Weight"}
            </th>
            <th className="w-28 px-2 text-left font-normal">In the kitchen</th>
            <th className="w-16 px-2 text-right font-normal">kcal</th>
            <th className="w-16 px-2 text-right font-normal max-[56rem]:hidden">Share</th>
            {priced && (
              <th className="w-16 px-2 text-right font-normal max-[56rem]:hidden">Cost</th>
            )}
            <th className="w-16" aria-label="Replace or remove" />
          </tr>
        </thead>
        <tbody className="max-mid:block">
          <SortableContext items={keys} strategy={verticalListSortingStrategy}>
            {lines.map((line, i) => {
              const path = `lines.${line.key}`;
              return (
                <LineRow
                  key={line.key}
                  line={line}
                  at={i}
                  computed={computedOf(analysis, line, i)}
                  last={lines.length - 1}
                  error={errors.get(i)}
                  ahead={ahead?.lines.get(i)}
                  tone={tones[line.food] ?? OTHERS}
                  // What the analysis says of the amount is said there; this is what else keeps it from
                  // being stored.
                  refused={errors.has(i) ? undefined : saving.error(path)}
                  clash={saving.state.collisions.some((c) => isAbout(c.path, path)) ? saving : null}
                  focusNext={focusNext}
                  priced={priced}
                  lit={highlight === i}
                  dispatch={dispatch}
                  onHighlight={onHighlight}
                  onReplace={onReplace}
                />
              );
            })}
          </SortableContext>
          {ahead?.added.map((one) => (
            <Coming key={one.food} {...one} />
          ))}
        </tbody>
        {analysis && <Sums analysis={analysis} priced={priced} />}
      </table>
    </DndContext>
  );
}

interface Computed {
  facts: TypedAnalysis["recipe"]["lines"][number] | undefined;
  mark: string | undefined;
  cost: number | null | undefined;
  /** Of the energy of all, as it is shown: the whole changes at every key, this seldom. */
  share: string;
}

/** What was computed of a line. */
function computedOf(analysis: TypedAnalysis | undefined, line: BenchLine, at: number): Computed {
  const row = analysis?.positions.indexOf(at) ?? -1;
  const report = row >= 0 ? analysis?.recipe.lines[row] : undefined;
  const facts = report?.food === line.food ? report : undefined;
  const kcal = analysis?.recipe.kcal ?? 0;
  return {
    facts,
    mark: MARKS[analysis?.marks.find((m) => m.food === line.food)?.mark ?? ""],
    cost: row >= 0 ? analysis?.cost.lines[row] : null,
    share: facts?.kcal != null && kcal > 0 ? percent(facts.kcal / kcal) : "–",
  };
}

interface RowProps {
  line: BenchLine;
  at: number;
  last: number;
  computed: Computed;
  error: LineError | undefined;
  /** The amount it would have. */
  ahead: string | undefined;
  tone: string;
  /** Why the line cannot be stored. */
  refused: string | undefined;
  /** The saving, where someone else changed the line too. */
  clash: Saving | null;
  focusNext: RefObject<string | null>;
  priced: boolean;
  lit: boolean;
  dispatch: (action: Action) => void;
  onHighlight: (line: number | null) => void;
  onReplace: (line: BenchLine) => void;
}

/** Rows that say the same are not drawn anew: a key is about one of them. */
function sameRow(before: RowProps, after: RowProps): boolean {
  const { line, computed, error, ...rest } = before;
  return (
    Object.entries(rest).every(([name, value]) => after[name as keyof typeof rest] === value) &&
    JSON.stringify([line, computed, error]) ===
      JSON.stringify([after.line, after.computed, after.error])
  );
}

const LineRow = memo(function LineRow({
  line,
  at,
  computed,
  last,
  error,
  ahead,
  tone,
  refused,
  clash,
  focusNext,
  priced,
  lit,
  dispatch,
  onHighlight,
  onReplace,
}: RowProps) {
  const sortable = useSortable({ id: line.key });
  const { facts, mark, cost, share } = computed;
  // What stood in the box when it was entered.
  const entered = useRef(line.text);
  const path = `lines.${line.key}`;
  useEffect(() => {
    if (focusNext.current !== line.key) return;
    focusNext.current = null;
    focusLine(at);
  });
  function remove() {
    // The keyboard goes on beside the line.
    if (last > 0) focusLine(at < last ? at + 1 : at - 1);
    else focusAdd();
    dispatch({ type: "remove", key: line.key });
  }

  function onKeyDown(event: KeyboardEvent<HTMLInputElement>) {
    const mod = event.ctrlKey || event.metaKey;
    if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      event.preventDefault();
      dispatch({ type: "move", key: line.key, by: event.key === "ArrowUp" ? -1 : 1 });
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown" || event.key === "Enter") {
      event.preventDefault();
      focusLine(at + (event.key === "ArrowUp" ? -1 : 1));
    } else if (mod && event.key === "Backspace") {
      event.preventDefault();
      remove();
    } else if (mod && event.key.toLowerCase() === "e") {
      event.preventDefault();
      onReplace(line);
    } else if (event.key === "Escape") {
      dispatch({ type: "text", key: line.key, text: entered.current });
    }
  }

  return (
    <tr
      ref={sortable.setNodeRef}
      style={{ transform: CSS.Translate.toString(sortable.transform) }}
      onPointerEnter={() => onHighlight(at)}
      onPointerLeave={() => onHighlight(null)}
      className={`border-line border-b max-mid:grid max-mid:grid-cols-[1.5rem_7.5rem_1fr_auto] max-mid:items-center max-mid:gap-x-1 max-mid:py-1.5 ${lit ? "bg-verdigris-pale" : ""} ${sortable.isDragging ? "relative z-10 bg-groove" : ""}`}
    >
      <td
        {...sortable.listeners}
        title="Drag, or Alt+↑ and Alt+↓ in the amount"
        className="cursor-grab touch-none select-none text-center text-soft max-mid:row-span-2"
      >
        ⠿
      </td>
      <td className="py-0.5 max-mid:col-span-2">
        <Swatch tone={tone} /> {spelled(line.name)}
        {line.methods.length > 0 && <PreparationSelect line={line} dispatch={dispatch} />}
        {mark && <span className="ml-2 border-madder border-b text-data">{mark}</span>}
        {line.override && <span className="ml-2 text-data text-soft">let in: {line.override}</span>}
        {error && (
          <WhatIsWrong
            line={line}
            error={error}
            onChoose={(text) => {
              dispatch({ type: "text", key: line.key, text });
              // The buttons go away with the question: the keyboard stays on the line.
              focusLine(at);
            }}
          />
        )}
        {refused && (
          <p role="alert" className="text-data text-madder">
            Not saved: {refused}.
          </p>
        )}
        {clash && <ClashAt saving={clash} path={path} what="" />}
      </td>
      <td className="px-2 py-0.5 max-mid:order-1 max-mid:px-0">
        <AmountBox
          data-line={at}
          inputMode="text"
          aria-label={`Amount of ${line.name}`}
          aria-invalid={!!error}
          value={line.text}
          onChange={(e) => dispatch({ type: "text", key: line.key, text: e.target.value })}
          onFocus={(e) => {
            entered.current = line.text;
            e.target.select();
            onHighlight(at);
          }}
          onBlur={() => {
            dispatch({ type: "leave" });
            onHighlight(null);
          }}
          onKeyDown={onKeyDown}
          className="w-full"
        />
        {ahead && <p className="figure text-data text-verdigris">→ {ahead}</p>}
      </td>
      <td
        className="figure px-2 text-right max-mid:order-1 max-mid:text-left"
        // How the amount was read: "1 each large = 50 g".
        title={facts && facts.basis !== "weight" ? `Read as: ${facts.basis}` : undefined}
      >
        {facts && !facts.sure && "≈ "}
        {foodFigure(facts?.grams)}
        {facts && conventions().food === "g" && <span className="mid:hidden"> g</span>}
        {facts?.other_cup && <div className="text-label text-soft">{facts.other_cup}</div>}
        {facts && !facts.sure && (
          <div className="text-label text-soft mid:hidden">typical: weigh one</div>
        )}
        {facts?.preparation && (
          <div className="text-label text-soft">→ {foodFigure(facts.fed_grams)}</div>
        )}
      </td>
      <td className="figure px-2 max-mid:hidden">
        {facts?.household ?? <span className="text-soft">weigh it</span>}
        {facts && !facts.sure && <div className="text-label text-soft">typical: weigh one</div>}
        {facts?.household && Math.abs(facts.household_error ?? 0) > 0.05 && (
          <span className="text-data text-soft">
            {" "}
            ({(facts.household_error ?? 0) > 0 ? "+" : "−"}
            {percent(Math.abs(facts.household_error ?? 0))})
          </span>
        )}
      </td>
      <td className="figure px-2 text-right max-mid:order-1">
        {number(facts?.kcal)}
        <span className="mid:hidden"> kcal</span>
      </td>
      <td className="figure px-2 text-right max-[56rem]:hidden">{share}</td>
      {priced && <td className="figure px-2 text-right max-[56rem]:hidden">{money(cost)}</td>}
      <td className="whitespace-nowrap text-right">
        <button
          type="button"
          aria-label={`Replace ${line.name}`}
          title="Replace by another food (Ctrl+E in the amount)"
          disabled={!!error}
          onClick={() => onReplace(line)}
          className="size-7 rounded-corner text-soft hover:bg-groove"
        >
          ⇄
        </button>
        <button
          type="button"
          aria-label={`Remove ${line.name}`}
          onClick={remove}
          className="size-7 rounded-corner text-soft hover:bg-groove hover:text-madder"
        >
          ×
        </button>
      </td>
    </tr>
  );
}, sameRow);

/** A food that would be added. */
function Coming({ name, amount }: { name: string; amount: string }) {
  return (
    <tr className="border-line border-b text-verdigris max-mid:flex max-mid:gap-2">
      <td className="text-center">+</td>
      <td>{spelled(name)}</td>
      <td className="figure px-2" colSpan={7}>
        {amount}
      </td>
    </tr>
  );
}

/** Why an amount is not taken, with the ways it can be read. */
function WhatIsWrong({
  line,
  error,
  onChoose,
}: {
  line: BenchLine;
  error: LineError;
  onChoose: (text: string) => void;
}) {
  const many = error.readings.length > 0;
  return (
    <div
      role="alert"
      // What went wrong is seen, also when the row stands at the edge of the list.
      ref={(node) => node?.scrollIntoView({ block: "nearest" })}
      className="text-data text-madder"
    >
      {many ? `“${line.text}” can mean several amounts. Which is it?` : `${error.message}.`}
      {many && (
        <span className="mt-0.5 flex flex-wrap gap-1">
          {error.readings.map((reading) => (
            <button
              key={reading.text}
              type="button"
              onClick={() => onChoose(reading.text)}
              className="rounded-corner border border-edge bg-sheet px-1.5 text-ink hover:border-soft"
            >
              {reading.text}
              {reading.text.endsWith(" g") ? "" : `, ${number(reading.grams, 0)} g`}
            </button>
          ))}
        </span>
      )}
    </div>
  );
}

function Sums({ analysis, priced }: { analysis: TypedAnalysis; priced: boolean }) {
  const { recipe, cost } = analysis;
  return (
    <tfoot className="figure max-mid:block">
      <tr className="text-soft max-mid:flex max-mid:justify-between max-mid:py-1">
        <td className="max-mid:hidden" />
        <td>Together, {foodWeight(recipe.grams_per_day)} a day as fed</td>
        <td />
        <td className="px-2 text-right">
          {foodFigure(recipe.grams)}
          {conventions().food === "g" && <span className="mid:hidden"> g</span>}
        </td>
        <td />
        <td className="px-2 text-right">
          {number(recipe.kcal)}
          <span className="mid:hidden"> kcal</span>
        </td>
        <td className="max-[56rem]:hidden" />
        {priced && <td className="px-2 text-right max-[56rem]:hidden">{money(cost.batch)}</td>}
        <td />
      </tr>
      {priced && (
        <tr className="text-soft max-mid:block">
          <td className="max-mid:hidden" />
          <td colSpan={7} className="max-mid:block">
            {money(cost.per_day)} a day
            {cost.unpriced > 0 &&
              `, without ${cost.unpriced} ingredient${cost.unpriced > 1 ? "s" : ""} that have no price`}
          </td>
        </tr>
      )}
    </tfoot>
  );
}

const MARKS: Record<string, string> = {
  unavailable: "not to be had now",
  "cannot-get": "owner cannot get it",
  "will-not-use": "owner will not use it",
  "special-order": "to be ordered",
  said: "cannot be used",
};

/** Fed as weighed, or cooked from it: the yield and retention follow. */
function PreparationSelect({
  line,
  dispatch,
}: {
  line: BenchLine;
  dispatch: (action: Action) => void;
}) {
  return (
    <select
      aria-label={`How ${line.name} is fed`}
      value={line.preparation}
      onChange={(e) => dispatch({ type: "prepare", key: line.key, preparation: e.target.value })}
      className={`ml-2 max-w-56 rounded-corner bg-transparent text-data hover:bg-groove ${line.preparation ? "text-ink" : "text-soft"}`}
    >
      <option value="">fed as weighed</option>
      {line.methods.map((method) => (
        <option key={method.id} value={method.id}>
          {method.label}
        </option>
      ))}
    </select>
  );
}

export function focusAdd(): void {
  document.querySelector<HTMLInputElement>("[data-add-food]")?.focus();
}

export function focusLine(i: number): void {
  document.querySelector<HTMLInputElement>(`[data-line="${i}"]`)?.focus();
}
