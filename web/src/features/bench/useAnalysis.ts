import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { api, type Look, type TypedAnalysis, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { useLasting } from "~/shared/useLasting";
import { type Content, sentLine } from "./editor";

/** An answer that comes within this is not announced as being awaited. */
const PATIENCE_MS = 300;

/** What is asked of the wall: the lines as they stand in the boxes. */
export function typedOf(content: Content, look: Look): string {
  return JSON.stringify({
    covers_days: content.coversDays,
    lines: content.lines.map((line) => ({ ...sentLine(line), quantity: line.text || "?" })),
    ...look,
  });
}

/** The wall of what stands in the boxes. */
export const analysisQuery = (recipeId: number, typed: string) =>
  queryOptions({
    queryKey: keyOf("analysis", recipeId, typed),
    queryFn: ({ signal }) =>
      take(
        api.POST("/api/recipes/{id}/analysis", {
          params: { path: { id: recipeId } },
          body: JSON.parse(typed),
          signal,
        }),
      ),
    gcTime: 60_000,
    // A server that cannot be reached is said at once, and asked again by itself.
    networkMode: "always",
    retry: false,
  });

/** The analysis of what stands in the boxes, computed as it is typed. `stale`: why what is shown is of
 * other amounts than those that stand there, "" when it is of these. */
export function useAnalysis(recipeId: number, content: Content, look: Look) {
  const typed = typedOf(content, look);
  const keys = content.lines.map((line) => line.key).join();
  const query = useQuery({
    ...analysisQuery(recipeId, typed),
    placeholderData: keepPreviousData,
    refetchInterval: (q) => (q.state.status === "error" ? 3000 : false),
  });
  const last = useRef<TypedAnalysis | undefined>(undefined);
  if (query.data && !query.isError) last.current = query.data;
  const settled = query.data && !query.isPlaceholderData;
  const errors = new Map(settled ? query.data.line_errors.map((e) => [e.line, e] as const) : []);
  const lastGood = useRef<{ keys: string; analysis: TypedAnalysis } | null>(null);
  if (settled && query.data.line_errors.length === 0) {
    lastGood.current = { keys, analysis: query.data };
  }
  // While a box holds something unreadable the wall keeps the last good state of the same lines.
  const unread = query.data && query.data.line_errors.length > 0 && lastGood.current?.keys === keys;
  const shown = (unread && lastGood.current?.analysis) || (query.data ?? last.current);
  const waiting = useLasting(!settled && !query.isError, PATIENCE_MS);
  const stale = query.isError
    ? "for the amounts before: the server cannot be reached"
    : unread
      ? "for the amounts before: one cannot be read yet"
      : waiting
        ? "for the amounts before: computing"
        : "";
  return {
    typed,
    analysis: shown,
    errors,
    stale: shown ? stale : "",
    error: query.error,
    retry: query.refetch,
  };
}
