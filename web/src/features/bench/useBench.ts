import { useReducer } from "react";
import type { Look, Recipe } from "~/api/client";
import { contentOf, reduce, startState } from "./editor";
import { useAnalysis } from "./useAnalysis";
import { useAutosave } from "./useAutosave";

/** The recipe on the bench: edits with undo, live analysis, autosave against a version. */
export function useBench(recipe: Recipe, look: Look) {
  const [state, dispatch] = useReducer(reduce, recipe, (r) => startState(contentOf(r)));
  const { present } = state;
  const { error, retry, ...analysis } = useAnalysis(recipe.id, present, look, dispatch);
  const saving = useAutosave(recipe, present, dispatch);
  // A box whose text was not accepted yet is not saved either.
  const waiting = present.lines.some((line) => line.text !== line.quantity || line.quantity === "");
  return {
    content: present,
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
    dispatch,
    ...analysis,
    analysisError: error,
    retryAnalysis: retry,
    ...saving,
    saveState: saving.saveState === "saved" && waiting ? ("unsaved" as const) : saving.saveState,
  };
}

export type BenchState = ReturnType<typeof useBench>;
