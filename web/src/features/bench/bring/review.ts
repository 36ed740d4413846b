/** What a text was read as while somebody looks at it: decisions, and the way back from every one of them. */

import type { Review, ReviewLine } from "~/api/client";
import { newKey } from "~/shared/newKey";
import { type BenchLine, lineOf } from "../editor";

export type Stand = ReviewLine["choices"][number];

/** open: nobody looked yet; taken: it goes into the recipe; asked: the owner is asked; out: left out; done: it
 * went into the recipe before, while something was asked. */
export type Decision = "open" | "taken" | "asked" | "out" | "done";

/** A stretch of the text with what is decided of it. */
export interface Stretch extends ReviewLine {
  key: string;
  /** Which of its choices it stands for; null for none, or a food of the reviewer's own. */
  at: number | null;
  own: Pick<Stand, "food" | "name" | "methods"> | null;
  preparation: string;
  decision: Decision;
  /** Why it is left out. */
  reason: string;
  /** Its text was put in other words: where these stand in the letter is not known to the letter. */
  reworded: boolean;
}

/** What can be gone back to. */
export interface Looked {
  text: string;
  days: number;
  /** Somebody typed them: the text's own word does not count. */
  typedDays: boolean;
  /** How it says it is fed, and what is wrong with the text as a whole. */
  feeding: string;
  warnings: string[];
  stretches: Stretch[];
  /** Keys of those that may go into the recipe, the weightiest doubt first, and of those that were sure then: nothing
   * jumps while it is looked at. */
  order: string[];
  sure: string[];
}

export interface State extends Looked {
  past: Looked[];
  future: Looked[];
  /** What the last step was: typing on in one box is one step. */
  step: string;
}

export type Action =
  | { type: "read"; review: Review; typed: boolean }
  | { type: "order"; order: readonly string[]; sure: readonly string[] }
  | { type: "choose"; key: string; at: number }
  | { type: "food"; key: string; food: NonNullable<Stretch["own"]> }
  | { type: "quantity"; key: string; quantity: string }
  | { type: "decide"; keys: readonly string[]; decision: Decision; reason?: string }
  | { type: "use"; key: string }
  | { type: "reword"; keys: readonly string[]; review: Review }
  | { type: "finish" }
  | { type: "undo" }
  | { type: "redo" };

export const NOTHING: State = {
  text: "",
  days: 1,
  typedDays: false,
  feeding: "",
  warnings: [],
  stretches: [],
  order: [],
  sure: [],
  past: [],
  future: [],
  step: "",
};

const MOST_STEPS = 200;

/** A stretch as it was read: a food that is named for sure is what it stands for. */
function fresh(line: ReviewLine): Stretch {
  const first = line.named ? line.choices[0] : undefined;
  return {
    ...line,
    key: newKey(),
    at: first ? 0 : null,
    own: null,
    preparation: first?.preparation ?? "",
    decision: "open",
    reason: "",
    reworded: false,
  };
}

export function isIngredient(stretch: Stretch): boolean {
  return stretch.kind === "ingredient";
}

/** What a stretch stands for now; null while that is not known. */
export function standsFor(stretch: Stretch): Stretch["own"] {
  return stretch.own ?? (stretch.at === null ? null : (stretch.choices[stretch.at] ?? null));
}

/** Whether a stretch can go into the recipe: its food and its amount are known. */
export function isWhole(stretch: Stretch): boolean {
  return standsFor(stretch) !== null && stretch.quantity.trim() !== "";
}

/** Those that may go into the recipe, as they are shown. */
export function shownOf({ stretches, order }: Looked): Stretch[] {
  const place = new Map(order.map((key, i) => [key, i]));
  const rank = (stretch: Stretch) => place.get(stretch.key) ?? order.length;
  return stretches.filter(isIngredient).sort((a, b) => rank(a) - rank(b));
}

/** What the last step was taken on, to be looked at when it is taken back. */
export function lastTouched({ past, stretches }: State): string | null {
  const before = new Map(past.at(-1)?.stretches.map((s) => [s.key, s]));
  return stretches.find((s) => before.get(s.key) !== s)?.key ?? null;
}

/** The next that nobody looked at, behind one of them, around the end. */
export function nextOpen(shown: readonly Stretch[], key: string | null): Stretch | null {
  const from = shown.findIndex((s) => s.key === key) + 1;
  const around = [...shown.slice(from), ...shown.slice(0, from)];
  return around.find((s) => s.decision === "open") ?? null;
}

/** The lines that are taken, as the bench has them: the owner's words stay with each. */
export function linesOf(stretches: readonly Stretch[]): BenchLine[] {
  return stretches.flatMap((stretch) => {
    const stands = standsFor(stretch);
    if (stretch.decision !== "taken" || !stands) return [];
    return [
      lineOf({
        food: stands.food,
        name: stands.name,
        methods: stands.methods,
        text: stretch.quantity.trim(),
        preparation: stretch.preparation,
        note: stretch.text.slice(0, MOST_NOTE),
      }),
    ];
  });
}

const MOST_NOTE = 200;

/** A text read anew: what was decided of the same words before stays decided. */
function reread(state: State, review: Review): Looked {
  const before = new Map<string, Stretch[]>();
  for (const stretch of state.stretches) {
    before.set(stretch.text, [...(before.get(stretch.text) ?? []), stretch]);
  }
  const stretches = review.lines.map((line) => {
    const was = before.get(line.text)?.shift();
    const now = fresh(line);
    if (!was) return now;
    const kept = { ...now, key: was.key, decision: was.decision, reason: was.reason };
    if (was.kind === "ingredient" && line.kind !== "ingredient") kept.kind = "ingredient";
    if (was.own) return { ...kept, at: null, own: was.own, quantity: was.quantity };
    const chosen = was.at === null ? undefined : line.choices[was.at];
    if (!chosen) return kept;
    // Amounts that follow the days follow them; what was typed stays.
    const typed = was.quantity !== was.choices[was.at ?? 0]?.quantity;
    return {
      ...kept,
      at: was.at,
      quantity: typed ? was.quantity : chosen.quantity,
      preparation: chosen.preparation,
    };
  });
  const { text, days, feeding, warnings } = review;
  return { ...state, text, days, feeding, warnings, stretches };
}

/** Stretches put in other words: what these were read as stands in their place. */
function reworded(state: State, keys: readonly string[], review: Review): Looked {
  const at = state.stretches.findIndex((s) => keys.includes(s.key));
  const old = state.stretches.filter((s) => keys.includes(s.key));
  const [first] = old;
  const made = review.lines.map((line) => ({
    ...fresh({ ...line, kind: "ingredient" }),
    begin: first?.begin ?? 0,
    end: old.at(-1)?.end ?? 0,
    reworded: true,
  }));
  const rest = state.stretches.filter((s) => !keys.includes(s.key));
  const place = Math.max(
    0,
    state.order.findIndex((key) => keys.includes(key)),
  );
  const order = state.order.filter((key) => !keys.includes(key));
  order.splice(place, 0, ...made.map((s) => s.key));
  return { ...state, stretches: [...rest.slice(0, at), ...made, ...rest.slice(at)], order };
}

/** What was taken is on the bench; what the owner was asked about stays to be looked at again. */
function finished(state: State): State {
  if (!state.stretches.some((s) => s.decision === "asked")) return NOTHING;
  const stretches = state.stretches.map((s) =>
    s.decision === "taken" ? { ...s, decision: "done" as const } : s,
  );
  return { ...state, stretches, past: [], future: [], step: "" };
}

/** What the wall and its doubts are of: what goes into the recipe, or may. */
export function isGoing(stretch: Stretch): boolean {
  return isIngredient(stretch) && stretch.decision !== "out" && stretch.decision !== "done";
}

function changed(state: State, key: string, change: (stretch: Stretch) => Stretch): Looked {
  return { ...state, stretches: state.stretches.map((s) => (s.key === key ? change(s) : s)) };
}

function after(state: State, action: Action): Looked {
  switch (action.type) {
    case "read":
      return { ...reread(state, action.review), typedDays: action.typed };
    case "choose":
      return changed(state, action.key, (s) => {
        const choice = s.choices[action.at];
        if (!choice) return s;
        const { quantity, preparation } = choice;
        // An amount that nobody can tell of this food is asked for; what was typed of the other is not of this one.
        return { ...s, at: action.at, own: null, quantity, preparation };
      });
    case "food":
      return changed(state, action.key, (s) => ({
        ...s,
        at: null,
        own: action.food,
        preparation: "",
      }));
    case "quantity":
      return changed(state, action.key, (s) => ({ ...s, quantity: action.quantity }));
    case "decide":
      return {
        ...state,
        stretches: state.stretches.map((s) =>
          action.keys.includes(s.key) && (action.decision !== "taken" || isWhole(s))
            ? { ...s, decision: action.decision, reason: action.reason ?? "" }
            : s,
        ),
      };
    case "use":
      return {
        ...changed(state, action.key, (s) => ({ ...s, kind: "ingredient", decision: "open" })),
        order: [action.key, ...state.order],
      };
    case "reword":
      return reworded(state, action.keys, action.review);
    default:
      return state;
  }
}

export function looked({ past, future, step, ...rest }: State): Looked {
  return rest;
}

export function reduce(state: State, action: Action): State {
  if (action.type === "finish") return finished(state);
  if (action.type === "undo") {
    const last = state.past.at(-1);
    if (!last) return state;
    const past = state.past.slice(0, -1);
    return { ...last, past, future: [looked(state), ...state.future], step: "" };
  }
  if (action.type === "redo") {
    const [next, ...future] = state.future;
    if (!next) return state;
    return { ...next, past: [...state.past, looked(state)], future, step: "" };
  }
  if (action.type === "order") {
    // How they are shown is no step that anybody took.
    const rest = state.stretches.map((s) => s.key).filter((key) => !action.order.includes(key));
    return { ...state, order: [...action.order, ...rest], sure: [...action.sure] };
  }
  const next = after(state, action);
  const step = action.type === "quantity" ? `quantity ${action.key}` : "";
  const goesOn = step !== "" && step === state.step;
  const first = state.stretches.length === 0;
  const past = goesOn || first ? state.past : [...state.past, looked(state)].slice(-MOST_STEPS);
  return { ...next, past, future: [], step };
}
