import { type KeyboardEvent, useMemo, useRef } from "react";
import type { Analysis, Nutrient, Ratio } from "~/api/client";
import { number, ratioText, spelled, unitText } from "~/shared/format";
import { CORNICE, heightOf, RAIL } from "./scale";

const PANELS = [
  { id: "energy", label: "Macros" },
  { id: "amino", label: "Amino acids" },
  { id: "fats", label: "Fats" },
  { id: "minerals", label: "Minerals" },
  { id: "vitamins", label: "Vitamins" },
  { id: "ratios", label: "Ratios" },
] as const;

interface Segment {
  line: number;
  share: number;
}

export interface BoardFacts {
  key: string;
  short: string;
  name: string;
  group: string;
  status: Nutrient["status"];
  /** Height of the fill; null when the standard sets no limit. */
  height: number | null;
  hasMin: boolean;
  /** What the cornice stands for: a maximum, only a safe upper limit, or nothing. */
  cornice: "max" | "safe" | null;
  /** Height of the most there may be with what is not known: null when that adds nothing. */
  most: number | null;
  /** Heights between which estimates may lie; null when they are no wider than a line. */
  range: readonly [number, number] | null;
  /** Height of the advised bound that was missed; null when none was. */
  advice: number | null;
  /** Height at which a second standard's minimum lies, and its verdict. */
  second: { height: number; status: string } | null;
  segments: Segment[];
  /** Shown and read out: "193 mg per 1000 kcal, minimum 1000, short". */
  words: string;
  /** How much it wants looking at, as the analysis says; 0 for nothing. */
  urgency: number;
}

function bounds(fact: Nutrient | Ratio, unit: string, decimals: number): string {
  const parts = [];
  if (fact.min != null) parts.push(`minimum ${number(fact.min, decimals)}`);
  if (fact.max != null) parts.push(`maximum ${number(fact.max, decimals)}`);
  if (fact.safe_limit != null) parts.push(`safe limit ${number(fact.safe_limit, decimals)}`);
  if (fact.advised_min != null) parts.push(`advised from ${number(fact.advised_min, decimals)}`);
  if (fact.advised_max != null) parts.push(`advised to ${number(fact.advised_max, decimals)}`);
  return parts.length ? `${parts.join(", ")} ${unit}`.trim() : "no limit set";
}

/** What a board may not pass: the lower of maximum and safe limit. */
function ceiling(fact: Nutrient | Ratio): number | null {
  const both = [fact.max, fact.safe_limit].filter((x) => x != null);
  return both.length ? Math.min(...both) : null;
}

function cornice(fact: Nutrient | Ratio): BoardFacts["cornice"] {
  if (fact.max != null) return "max";
  return fact.safe_limit != null ? "safe" : null;
}

export function boardsOf(analysis: Analysis): BoardFacts[] {
  const boards: BoardFacts[] = [];
  analysis.nutrients.forEach((nutrient, column) => {
    if (!nutrient.board || nutrient.status === "no limit") return;
    const value = nutrient.per_1000_kcal;
    const known = nutrient.total ?? 0;
    const segments = analysis.contributions
      .map((row, i) => ({
        line: analysis.positions?.[i] ?? i,
        share: known > 0 ? (row[column] ?? 0) / known : 0,
      }))
      .filter((segment) => segment.share > 0.002);
    boards.push({
      key: nutrient.key,
      short: spelled(nutrient.short),
      name: spelled(nutrient.name),
      group: nutrient.group,
      status: nutrient.status,
      height: value == null ? 0 : on(value, nutrient),
      most: nutrient.unknown_lines
        ? nutrient.most == null
          ? 1
          : on(nutrient.most, nutrient)
        : null,
      range: rangeOf(nutrient),
      advice: missedAdvice(nutrient),
      hasMin: nutrient.min != null || nutrient.advised_min != null,
      cornice: cornice(nutrient),
      second: secondOf(analysis, nutrient),
      segments,
      words: `${number(value, nutrient.decimals)} ${unitText(nutrient.unit)} per 1000 kcal, ${bounds(nutrient, unitText(nutrient.unit), nutrient.decimals)}, ${nutrient.status}${withoutValue(nutrient)}${analysis.second[nutrient.key] ? `; by ${analysis.second_name}: ${analysis.second[nutrient.key]?.status}` : ""}`,
      urgency: nutrient.urgency,
    });
  });
  for (const ratio of analysis.ratios) {
    if (ratio.status === "no limit") continue;
    boards.push({
      key: ratio.key,
      short: ratio.short,
      name: ratio.name,
      group: "ratios",
      status: ratio.status,
      height: on(ratio.value ?? ratio.least ?? 0, ratio),
      most: ratio.value != null ? null : ratio.most == null ? 1 : on(ratio.most, ratio),
      range: null,
      advice: missedAdvice(ratio),
      hasMin: ratio.min != null,
      cornice: cornice(ratio),
      second: null,
      segments: [],
      words: `${ratioText(ratio)}, ${bounds(ratio, "", 1)}, ${ratio.status}`,
      urgency: ratio.urgency,
    });
  }
  return boards;
}

function withoutValue(nutrient: Nutrient): string {
  if (!nutrient.unknown_lines) return "";
  const lines = `${nutrient.unknown_lines} ingredient${nutrient.unknown_lines > 1 ? "s" : ""}`;
  const most =
    nutrient.most == null
      ? "nothing bounds it"
      : `at most ${number(nutrient.most, nutrient.decimals)}`;
  return `, ${lines} without a value, ${most}`;
}

/** Height of an amount against the bounds of its own board: what is only advised where nothing binds. */
function on(value: number, fact: Nutrient | Ratio): number | null {
  return heightOf(value, fact.min ?? fact.advised_min, ceiling(fact) ?? fact.advised_max);
}

/** Estimates that may move the fill by more than a twentieth of it. */
function rangeOf(nutrient: Nutrient): readonly [number, number] | null {
  const { least_likely, most_likely, per_1000_kcal } = nutrient;
  if (least_likely == null || most_likely == null || !per_1000_kcal) return null;
  const low = on(least_likely, nutrient);
  const high = on(Math.min(most_likely, per_1000_kcal + (per_1000_kcal - least_likely)), nutrient);
  if (low == null || high == null) return null;
  return per_1000_kcal - least_likely > per_1000_kcal / 20 ? [low, Math.min(high, 1)] : null;
}

function missedAdvice(fact: Nutrient | Ratio): number | null {
  if (fact.status !== "off advice" || fact.against == null) return null;
  const height = on(fact.against, fact);
  return height == null ? null : Math.min(height, 0.98);
}

function secondOf(analysis: Analysis, nutrient: Nutrient): BoardFacts["second"] {
  const other = analysis.second[nutrient.key];
  const bound = other?.min ?? other?.max;
  if (!other || bound == null) return null;
  const height = on(bound, nutrient);
  return height === null ? null : { height: Math.min(height, 0.99), status: other.status };
}

export function worstBoard(boards: BoardFacts[]): BoardFacts | undefined {
  return boards.filter((b) => b.urgency > 0).sort((a, b) => b.urgency - a.urgency)[0];
}

/** The wall: one upright board per nutrient, filled towards the rail. */
export function Wall({
  boards,
  ghost = null,
  selected,
  onSelect,
  highlight,
  pointed,
  onPoint,
}: {
  boards: BoardFacts[];
  /** The boards of a proposal, shown as rings where the fill would end. */
  ghost?: ReadonlyMap<string, BoardFacts> | null;
  selected: string | null;
  onSelect: (key: string) => void;
  highlight: number | null;
  pointed: string | null;
  onPoint: (key: string | null) => void;
}) {
  const holder = useRef<HTMLDivElement>(null);
  const panels = useMemo(
    () =>
      PANELS.map((panel) => ({
        ...panel,
        boards: boards.filter((board) => board.group === panel.id),
      })).filter((panel) => panel.boards.length > 0),
    [boards],
  );
  const order = panels.flatMap((panel) => panel.boards.map((board) => board.key));
  const tabStop = selected && order.includes(selected) ? selected : order[0];

  function onKeyDown(event: KeyboardEvent) {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (!step) return;
    event.preventDefault();
    const at = order.indexOf(selected ?? order[0] ?? "");
    const next = order[Math.max(0, Math.min(order.length - 1, at + step))];
    if (!next) return;
    onSelect(next);
    holder.current?.querySelector<HTMLElement>(`[data-board="${next}"]`)?.focus();
  }

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: arrow keys move between the buttons inside
    <div ref={holder} onKeyDown={onKeyDown} className="flex h-full items-stretch gap-2.5">
      {panels.map((panel) => (
        <section
          key={panel.id}
          aria-label={panel.label}
          style={{ flexGrow: panel.boards.length, flexBasis: 0 }}
          className="flex min-w-10 flex-col"
        >
          <div className="relative flex min-h-0 flex-1 gap-[3px] border-soft border-b-2">
            {panel.boards.map((board) => (
              <Board
                key={board.key}
                board={board}
                proposed={ghost?.get(board.key)}
                selected={board.key === selected}
                pointed={board.key === pointed}
                highlight={highlight}
                tabStop={board.key === tabStop}
                onSelect={onSelect}
                onPoint={onPoint}
              />
            ))}
            <Course at={RAIL} />
          </div>
          <div className="flex gap-[3px]" aria-hidden="true">
            {panel.boards.map((board) => (
              <span
                key={board.key}
                className={`flex h-[4rem] min-w-0 flex-1 rotate-180 flex-col justify-center pb-1 text-right text-[12px] leading-none [writing-mode:vertical-rl] ${board.key === selected ? "font-bold" : board.status === "met" ? "text-soft" : "font-semibold"}`}
              >
                {board.short}
              </span>
            ))}
          </div>
          <h3 className="truncate border-line border-t pt-0.5 text-[12px] text-soft">
            {panel.label}
          </h3>
        </section>
      ))}
    </div>
  );
}

/** The rail: one line across a panel. */
function Course({ at }: { at: number }) {
  return (
    <div
      aria-hidden="true"
      className="pointer-events-none absolute -right-1 -left-1 border-ink border-t-2"
      style={{ bottom: `${at * 100}%` }}
    />
  );
}

function Board({
  board,
  proposed,
  selected,
  pointed,
  highlight,
  tabStop,
  onSelect,
  onPoint,
}: {
  board: BoardFacts;
  proposed: BoardFacts | undefined;
  selected: boolean;
  pointed: boolean;
  highlight: number | null;
  tabStop: boolean;
  onSelect: (key: string) => void;
  onPoint: (key: string | null) => void;
}) {
  const height = Math.min(board.height ?? 0, 1);
  const over = board.status === "over" || board.status === "above safe limit";
  const unproven = board.status === "unproven";
  const below = Math.min(height, CORNICE);
  const target = board.hasMin ? RAIL : CORNICE;
  return (
    <button
      type="button"
      data-board={board.key}
      data-status={board.status}
      aria-label={`${board.name}: ${board.words}${proposed ? `; proposed: ${proposed.words}` : ""}`}
      aria-pressed={selected}
      tabIndex={tabStop ? 0 : -1}
      onClick={() => onSelect(board.key)}
      onFocus={() => onPoint(board.key)}
      onBlur={() => onPoint(null)}
      onPointerEnter={() => onPoint(board.key)}
      onPointerLeave={() => onPoint(null)}
      className={`relative min-w-0 flex-1 rounded-t-[2px] ${selected || pointed ? "bg-oak-pale/60" : "bg-groove"}`}
      style={{ clipPath: "inset(0 -2px)" }}
    >
      <span
        className="board-fill absolute inset-x-[2px] bottom-0 flex flex-col-reverse gap-px overflow-hidden"
        style={{ height: `${below * 100}%` }}
      >
        {board.segments.length === 0 && <span className="flex-1 bg-oak" />}
        {board.segments.map((segment, i) => (
          <span
            key={segment.line}
            className={
              highlight === segment.line
                ? "bg-verdigris"
                : highlight === null
                  ? i % 2
                    ? "bg-oak"
                    : "bg-oak-deep"
                  : "bg-oak/45"
            }
            style={{ flexGrow: segment.share, flexBasis: 0 }}
          />
        ))}
      </span>
      {board.status === "short" && height < target && (
        <span
          className="missing absolute inset-x-[2px] border-madder border-t-[3px]"
          style={{ bottom: `${height * 100}%`, height: "0.5%" }}
        />
      )}
      {board.most != null && board.most > height + 0.004 && (
        <span
          data-most={board.most.toFixed(3)}
          className={`absolute inset-x-[2px] border-b-0 border-dashed ${
            unproven ? "border border-ink" : "border border-soft/70"
          } ${board.most >= 1 ? "border-t-0" : ""}`}
          style={{
            bottom: `${below * 100}%`,
            height: `${(Math.min(board.most, 1) - below) * 100}%`,
          }}
        />
      )}
      {board.range && (selected || pointed) && (
        <span
          data-range
          className="absolute left-1/2 z-10 w-[3px] -translate-x-1/2 bg-ink/70"
          style={{
            bottom: `${board.range[0] * 100}%`,
            height: `${Math.max(0.8, (board.range[1] - board.range[0]) * 100)}%`,
          }}
        />
      )}
      {board.advice != null && (
        <span
          data-advice
          className="absolute -inset-x-px z-10 border-ink border-t-[3px] border-dotted"
          style={{ bottom: `${board.advice * 100}%` }}
        />
      )}
      {board.cornice && !over && (
        <span
          data-cornice={board.cornice}
          className={`absolute -inset-x-px border-ink ${board.cornice === "max" ? "border-t-[3px]" : "border-t-[5px] border-double"}`}
          style={{ bottom: `${CORNICE * 100}%` }}
        />
      )}
      {board.second && (
        <span
          title={`Second standard: ${board.second.status}`}
          data-second={board.second.status}
          className="absolute -inset-x-px border-verdigris border-t-[3px] border-dotted"
          style={{ bottom: `${board.second.height * 100}%` }}
        />
      )}
      {proposed?.height != null && (
        <span
          data-proposed={proposed.status}
          className="absolute left-1/2 z-10 size-2.5 -translate-x-1/2 translate-y-1/2 rounded-full border-[2.5px] border-verdigris bg-sheet"
          style={{ bottom: `${Math.min(proposed.height, 0.98) * 100}%` }}
        />
      )}
      {over && (
        <span
          className="absolute inset-x-0 bg-madder"
          style={{
            bottom: `${CORNICE * 100}%`,
            height: `${Math.max(0.05, height - CORNICE) * 100}%`,
            clipPath: "polygon(0 100%, 0 25%, 25% 0, 50% 30%, 75% 0, 100% 25%, 100% 100%)",
          }}
        />
      )}
    </button>
  );
}
