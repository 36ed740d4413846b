import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef } from "react";
import type { Look, Recipe } from "~/api/client";
import { useDraft } from "~/shared/saving/useDraft";
import {
  type Action,
  type BenchLine,
  type Content,
  contentOf,
  editsOf,
  type FoodWords,
} from "./editor";
import { analysisQuery, typedOf, useAnalysis } from "./useAnalysis";

const NO_WORDS = () => undefined;

/** The recipe on the bench: its lines with what is not stored yet, undo, and what is computed of it. */
export function useBench(recipe: Recipe, look: Look) {
  const saving = useDraft("recipe", recipe.id, recipe);
  const { fields, state, draft } = saving;
  const known = useMemo(
    () => new Map<string, FoodWords>(recipe.lines.map((line) => [line.food, line])),
    [recipe.lines],
  );
  const content = useMemo(
    () =>
      contentOf(fields, (food) => known.get(food) ?? (state.beside[food] as FoodWords | undefined)),
    [fields, state.beside, known],
  );
  const latest = useRef<Content>(content);
  latest.current = content;
  const asking = useRef(look);
  asking.current = look;
  const client = useQueryClient();

  const dispatch = useCallback(
    (action: Action) => {
      if (action.type === "leave") draft.leave();
      else {
        // What a food is called is kept with the change: its line may be taken away elsewhere meanwhile.
        for (const { food, name, methods } of linesOf(latest.current, action)) {
          draft.remember(food, { name, methods });
        }
        const { edits, options } = editsOf(latest.current, action);
        draft.change(edits, options);
        // The server counts while the page is drawn.
        const typed = typedOf(contentOf(draft.view(), NO_WORDS), asking.current);
        void client.prefetchQuery(analysisQuery(recipe.id, typed));
      }
    },
    [draft, client, recipe.id],
  );
  const { error, retry, ...analysis } = useAnalysis(recipe.id, content, look);
  return {
    content,
    dispatch,
    ...analysis,
    analysisError: error,
    retryAnalysis: retry,
    saving,
    saved: state.pending.length === 0,
  };
}

/** The lines an action is about. */
function linesOf({ lines }: Content, action: Action): BenchLine[] {
  if (action.type === "add") return [action.line];
  if (action.type === "apply") return action.lines;
  return "key" in action ? lines.filter((line) => line.key === action.key) : [];
}

export type BenchState = ReturnType<typeof useBench>;
