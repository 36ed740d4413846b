import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type Dispatch, useEffect, useRef, useState } from "react";
import { api, type Look, type TypedAnalysis, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { type Action, type Content, sentLine } from "./editor";

const PREVIEW_MS = 40;

function useDebounced<T>(value: T, ms: number): T {
  const [held, setHeld] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setHeld(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return held;
}

/** The analysis of what stands in the boxes, computed as it is typed. */
export function useAnalysis(
  recipeId: number,
  present: Content,
  look: Look,
  dispatch: Dispatch<Action>,
) {
  const typed = JSON.stringify({
    covers_days: present.coversDays,
    lines: present.lines.map((line) => sentLine(line, line.text || "?")),
    ...look,
  });
  const asked = useDebounced(typed, PREVIEW_MS);
  const keys = present.lines.map((line) => line.key).join();
  const query = useQuery({
    queryKey: keyOf("analysis", recipeId, asked),
    queryFn: () =>
      take(
        api.POST("/api/recipes/{id}/analysis", {
          params: { path: { id: recipeId } },
          body: JSON.parse(asked),
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
  });
  const settled = query.data && !query.isPlaceholderData && asked === typed;
  const errors = new Map(settled ? query.data.line_errors.map((e) => [e.line, e] as const) : []);
  const lastGood = useRef<{ keys: string; analysis: TypedAnalysis } | null>(null);
  if (settled && query.data.line_errors.length === 0) {
    lastGood.current = { keys, analysis: query.data };
  }
  // While a box holds something unreadable the wall keeps the last good state of the same lines.
  const shown =
    query.data && query.data.line_errors.length > 0 && lastGood.current?.keys === keys
      ? lastGood.current.analysis
      : query.data;

  // What could be read is the recipe's amount from now on.
  useEffect(() => {
    if (!settled || !query.data) return;
    const bad = new Set(query.data.line_errors.map((e) => e.line));
    const good = present.lines.filter((_, i) => !bad.has(i)).map((line) => line.key);
    dispatch({ type: "accept", keys: good });
  }, [settled, query.data, present.lines, dispatch]);

  return { typed, analysis: shown, errors, error: query.error, retry: query.refetch };
}
