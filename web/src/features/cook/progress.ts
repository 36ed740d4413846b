import type { Cook, CookEntry, CookStep } from "~/api/client";

export type Mark = "open" | "done" | "out";

/** What became of a step so far: with what the server has, and what is only kept here yet. */
export function markOf(cook: Cook, step: CookStep, unsent: readonly CookEntry[]): Mark {
  const { state } = cook;
  if (step.line !== null) {
    const last = unsent.findLast(
      (e) => e.line === step.line && (e.kind !== "weighed" || (e.vessel ?? null) === step.vessel),
    );
    if (last?.kind === "left-out") return "out";
    if (last && ["weighed", "planned", "swapped"].includes(last.kind)) return "done";
    if (state.left_out.includes(step.line)) return "out";
    if (state.planned.includes(step.line) || state.swapped.includes(step.line)) return "done";
    return state.weighed.some((w) => w.line === step.line && w.vessel === step.vessel)
      ? "done"
      : "open";
  }
  if (step.kind === "core") {
    const here = unsent.some((e) => e.kind === "core" && (e.vessel ?? null) === step.vessel);
    return here || state.core.some((c) => c.vessel === step.vessel) ? "done" : "open";
  }
  if (step.kind === "finish") {
    return cook.weighed !== null || unsent.some((e) => e.kind === "finished") ? "done" : "open";
  }
  const here = unsent.findLast((e) => e.kind === "step" && e.step === step.id);
  const done = here ? here.done !== false : state.steps.includes(step.id);
  return done ? "done" : "open";
}

/** What was put down of a step as a figure: a weight, a temperature; null for none. */
export function figureOf(cook: Cook, step: CookStep, unsent: readonly CookEntry[]): number | null {
  if (step.kind === "core") {
    const here = unsent.findLast((e) => e.kind === "core" && (e.vessel ?? null) === step.vessel);
    return here?.celsius ?? cook.state.core.find((c) => c.vessel === step.vessel)?.celsius ?? null;
  }
  if (step.kind === "finish") {
    const here = unsent.findLast((e) => e.kind === "finished");
    return here?.grams ?? cook.weighed?.finished_g ?? null;
  }
  const here = unsent.findLast(
    (e) => e.kind === "weighed" && e.line === step.line && (e.vessel ?? null) === step.vessel,
  );
  const kept = cook.state.weighed.find((w) => w.line === step.line && w.vessel === step.vessel);
  return here?.grams ?? kept?.grams ?? null;
}
