import type { BatchAsk, CookSource, Kitchen } from "~/api/client";
import { decimal, figure } from "~/shared/format";

export interface TypedVessel {
  vessel: string;
  share: string;
}

export interface TypedEater {
  case: number;
  kcal: string;
  recipe: number | null;
}

/** A batch as it is typed: figures stay text until they are asked with. */
export interface Typed {
  source: string;
  by: NonNullable<BatchAsk["by"]>;
  amount: string;
  line: number | null;
  vessels: TypedVessel[];
  byShare: boolean;
  packs: Record<string, { grams: string; whole: boolean }>;
  eaters: TypedEater[];
  water: string;
  cover: string;
  minutes: string;
  coarse: string;
  fine: string;
  fridge: string;
  freezer: string;
  shape: string;
  density: string;
}

/** Which recipe, and whether the draft of it is meant. */
export function sourceId(source: CookSource): string {
  return `${source.recipe}${source.draft ? "-draft" : ""}`;
}

const WEEK = "7";

/** What a household used the last time, or what most have. */
export function startOf(kitchen: Kitchen): Typed {
  const last = kitchen.tools;
  const text = (value: number | null | undefined) => (value == null ? "" : String(value));
  const first = kitchen.sources.find((s) => s.problem === "") ?? kitchen.sources[0];
  return {
    source: first ? sourceId(first) : "",
    by: "days",
    amount: WEEK,
    line: null,
    vessels: (last?.vessels ?? []).map((v) => ({ vessel: v.vessel, share: text(v.share) })),
    byShare: (last?.vessels ?? []).some((v) => v.share != null),
    packs: {},
    eaters: [],
    water: "0",
    cover: last?.cover ?? "lid",
    minutes: text(last?.minutes ?? 30),
    coarse: text(last?.coarse_g ?? 1),
    fine: last ? text(last.fine_g) : kitchen.fine_scale ? "0.1" : "",
    fridge: text(last?.fridge_litres),
    freezer: text(last?.freezer_litres),
    shape: last?.shape ?? "flat",
    density: last?.density ?? "",
  };
}

/** What is asked of the server; a figure that is none is named by its label, and nothing is asked. */
export function askOf(typed: Typed): { ask: BatchAsk | null; wrong: string } {
  let wrong = "";
  const need = (text: string, label: string): number => {
    const value = decimal(text);
    if (!Number.isFinite(value) && !wrong)
      wrong = text.trim() === "" ? `${label}: give a number` : `${label}: “${text}” is no number`;
    return value;
  };
  const may = (text: string, label: string): number | null =>
    figure(text) === null ? null : need(text, label);
  const ask: BatchAsk = {
    by: typed.by,
    amount: typed.by === "vessels" ? 1 : need(typed.amount, "How much"),
    line: typed.by === "on-hand" ? typed.line : null,
    vessels: typed.vessels.map((v) => ({
      vessel: v.vessel,
      share: typed.byShare ? need(v.share, "Share of a vessel") : null,
    })),
    packs: Object.entries(typed.packs)
      .filter(([, pack]) => pack.grams.trim() !== "")
      .map(([line, pack]) => ({
        line: Number(line),
        grams: need(pack.grams, "Weight of a pack"),
        whole: pack.whole,
      })),
    eaters: typed.eaters.map((e) => ({
      case: e.case,
      kcal_per_day: may(e.kcal, "kcal of the pot"),
      recipe: e.recipe,
    })),
    water_g: need(typed.water, "Water"),
    cover: typed.cover,
    minutes: need(typed.minutes, "Minutes"),
    coarse_g: need(typed.coarse, "Kitchen scale"),
    fine_g: may(typed.fine, "Fine scale"),
    fridge_litres: may(typed.fridge, "Fridge"),
    freezer_litres: may(typed.freezer, "Freezer"),
    shape: typed.shape,
    density: typed.density,
  };
  return wrong ? { ask: null, wrong } : { ask, wrong: "" };
}

const KEPT = "wainscot-batch/";

/** What was typed in this tab for a case and not kept yet; null for nothing. */
export function keptTyped(caseId: number): Typed | null {
  try {
    const text = sessionStorage.getItem(KEPT + caseId);
    return text === null ? null : (JSON.parse(text) as Typed);
  } catch {
    return null;
  }
}

export function keepTyped(caseId: number, typed: Typed | null): void {
  try {
    if (typed === null) sessionStorage.removeItem(KEPT + caseId);
    else sessionStorage.setItem(KEPT + caseId, JSON.stringify(typed));
  } catch {
    // The page works without it being kept.
  }
}
