import type { Analysis, Nutrient, Ratio } from "~/api/client";
import { number, ratioText, spelled, unitText } from "~/shared/format";
import { heightOf } from "./scale";
import { layer, OTHERS, tonesOf } from "./tones";

export const PANELS = [
  { id: "energy", label: "Macros" },
  { id: "amino", label: "Amino acids" },
  { id: "fats", label: "Fats" },
  { id: "minerals", label: "Minerals" },
  { id: "vitamins", label: "Vitamins" },
  { id: "ratios", label: "Ratios" },
] as const;

export interface Segment {
  line: number;
  share: number;
  /** What it is drawn in: a wood for a food, an inlay for what comes out of a bottle. */
  tone: string;
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
  /** What its lines stand for, per 1000 kcal, in its unit; null where nothing is set. */
  min: number | null;
  ceiling: number | null;
  unit: string;
  decimals: number;
  /** What the cornice stands for: a maximum, only a safe upper limit, or nothing. */
  cornice: "max" | "safe" | null;
  /** Height of the most there may be with what is not known: null when that adds nothing. */
  most: number | null;
  /** Heights between which estimates may lie; null when they are no wider than a line. */
  range: readonly [number, number] | null;
  /** Heights between which it lies whatever open weights turn out to be; left out where none is open. */
  open?: readonly [number, number];
  /** Height of the advised bound that was missed; null when none was. */
  advice: number | null;
  /** Height at which a second standard's minimum lies, and its verdict. */
  second: { height: number; status: string } | null;
  segments: Segment[];
  /** What there is: "193 mg". */
  figure: string;
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

/** A share of a board that would be thinner than a line is not drawn; the others take its room. */
const LEAST_SHARE = 0.012;

/** The boards of an analysis. `known`: the tones that the recipe's foods have. */
export function boardsOf(
  analysis: Analysis,
  known: Readonly<Record<string, string>> = {},
): BoardFacts[] {
  const boards: BoardFacts[] = [];
  const tones = tonesOf(known, analysis.recipe.lines);
  // Woods stand on the floor and inlay on them, every board in the same order.
  const drawn = analysis.recipe.lines
    .map((line, row) => ({ row, tone: tones[line.food] ?? OTHERS }))
    .sort((a, b) => layer(a.tone) - layer(b.tone));
  analysis.nutrients.forEach((nutrient, column) => {
    if (!nutrient.board || nutrient.status === "no limit") return;
    const value = nutrient.per_1000_kcal;
    const total = nutrient.total ?? 0;
    const segments = drawn
      .map(({ row, tone }) => ({
        line: analysis.positions?.[row] ?? row,
        share: total > 0 ? (analysis.contributions[row]?.[column] ?? 0) / total : 0,
        tone,
      }))
      .filter((segment) => segment.share > LEAST_SHARE);
    boards.push({
      key: nutrient.key,
      short: spelled(nutrient.short),
      name: spelled(nutrient.name),
      group: nutrient.group,
      status: nutrient.status,
      height: value == null ? 0 : on(value, nutrient),
      most: openAbove(nutrient) ? (nutrient.most == null ? 1 : on(nutrient.most, nutrient)) : null,
      range: rangeOf(nutrient),
      advice: missedAdvice(nutrient),
      hasMin: nutrient.min != null || nutrient.advised_min != null,
      ...linesOf(nutrient),
      unit: nutrient.unit,
      decimals: nutrient.decimals,
      cornice: cornice(nutrient),
      second: secondOf(analysis, nutrient),
      segments,
      figure: `${number(value, nutrient.decimals)} ${unitText(nutrient.unit)}`,
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
      ...linesOf(ratio),
      unit: "",
      decimals: 2,
      cornice: cornice(ratio),
      second: null,
      segments: [],
      figure: ratioText(ratio),
      words: `${ratioText(ratio)}, ${bounds(ratio, "", 1)}, ${ratio.status}`,
      urgency: ratio.urgency,
    });
  }
  return boards;
}

/** Boards with what weights that are still open could make of them, per 1000 kcal and in their units. */
export function withOpen(
  boards: readonly BoardFacts[],
  ranges: Readonly<Record<string, readonly number[]>>,
): BoardFacts[] {
  return boards.map((board) => {
    const [least, most] = ranges[board.key] ?? [];
    if (least === undefined || most === undefined) return board;
    const low = heightOf(least, board.min, board.ceiling);
    const high = heightOf(most, board.min, board.ceiling);
    if (low === null || high === null) return board;
    const between = `${number(least, board.decimals)} to ${number(most, board.decimals)}`;
    return {
      ...board,
      open: [low, Math.min(high, 1)],
      words: `${board.words}; ${between} while weights are open`,
    };
  });
}

/** What stands on a board beside what is drawn of it: the recipe as it is, and other answers. */
export interface Mark {
  /** The number of an answer from 1, or now. */
  of: number | "now";
  height: number;
  words: string;
}

/** The marks of every board while answer `at` is drawn. */
export function marksOf(
  now: readonly BoardFacts[],
  answers: readonly (Analysis | undefined)[],
  at: number,
): ReadonlyMap<string, Mark[]> {
  const found = new Map<string, Mark[]>();
  const put = (of: Mark["of"], boards: readonly BoardFacts[]) => {
    for (const { key, height, figure } of boards) {
      if (height === null) continue;
      const said = of === "now" ? `now ${figure}` : `by answer ${of} ${figure}`;
      found.set(key, [...(found.get(key) ?? []), { of, height, words: said }]);
    }
  };
  put("now", now);
  answers.forEach((answer, i) => {
    if (i !== at && answer) put(i + 1, boardsOf(answer));
  });
  return found;
}

/** Whether there may be more than is known: an ingredient has no value, or only what its label promises at least. */
export function openAbove({
  unknown_lines,
  most,
  per_1000_kcal,
}: Pick<Nutrient, "unknown_lines" | "most" | "per_1000_kcal">): boolean {
  const more = most != null && per_1000_kcal != null && most > per_1000_kcal * (1 + 1e-9);
  return unknown_lines > 0 || more;
}

function withoutValue(nutrient: Nutrient): string {
  if (!openAbove(nutrient)) return "";
  if (!nutrient.unknown_lines)
    return `, by a label at least, at most ${number(nutrient.most, nutrient.decimals)}`;
  const lines = `${nutrient.unknown_lines} ingredient${nutrient.unknown_lines > 1 ? "s" : ""}`;
  const most =
    nutrient.most == null
      ? "nothing bounds it"
      : `at most ${number(nutrient.most, nutrient.decimals)}`;
  return `, ${lines} without a value, ${most}`;
}

/** Height of an amount against the bounds of its own board: what is only advised where nothing binds. */
function on(value: number, fact: Nutrient | Ratio): number | null {
  const lines = linesOf(fact);
  return heightOf(value, lines.min, lines.ceiling);
}

/** What the lines of a board stand for. */
function linesOf(fact: Nutrient | Ratio): Pick<BoardFacts, "min" | "ceiling"> {
  return {
    min: fact.min ?? fact.advised_min ?? null,
    ceiling: ceiling(fact) ?? fact.advised_max ?? null,
  };
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
