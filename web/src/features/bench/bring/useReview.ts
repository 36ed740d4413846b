import { keepPreviousData, queryOptions, useMutation, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useReducer } from "react";
import { api, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { type BenchLine, lineOf } from "../editor";
import {
  isGoing,
  isWhole,
  type Looked,
  looked,
  NOTHING,
  reduce,
  type State,
  type Stretch,
  standsFor,
} from "./review";

const nameOf = (recipeId: number) => `wainscot-bring-${recipeId}`;

/** What was looked at before the page was left, in this tab. */
function kept(recipeId: number): State {
  const stored = sessionStorage.getItem(nameOf(recipeId));
  return stored ? { ...NOTHING, ...(JSON.parse(stored) as Looked) } : NOTHING;
}

function keep(recipeId: number, state: State): void {
  try {
    if (state.stretches.length === 0) sessionStorage.removeItem(nameOf(recipeId));
    else sessionStorage.setItem(nameOf(recipeId), JSON.stringify(looked(state)));
  } catch {
    // A full store keeps nothing: what is looked at stays on the page.
  }
}

/** A stretch as the server weighs its doubts. */
function asked(stretch: Stretch) {
  const { quantity, preparation, decision, choices, low_grams, high_grams } = stretch;
  // What it may weigh is told of its first choice, while nobody weighed it.
  const open = stretch.at === 0 && quantity === choices[0]?.quantity;
  return {
    food: standsFor(stretch)?.food ?? "",
    quantity,
    preparation,
    settled: decision === "taken",
    low_grams: open ? low_grams : null,
    high_grams: open ? high_grams : null,
    choices: choices.map((c) => ({
      food: c.food,
      quantity: c.quantity,
      preparation: c.preparation,
      credible: c.credible,
    })),
  };
}

/** A line of the recipe: nothing of it is open. */
const standing = ({ food, text, preparation }: BenchLine) => ({
  food,
  quantity: text,
  preparation,
  settled: true,
});

const doubtsQuery = (recipeId: number, keys: readonly string[], body: string) =>
  queryOptions({
    queryKey: keyOf("doubts", recipeId, keys.join(), body),
    queryFn: async ({ signal }) => ({
      keys,
      ...(await take(
        api.POST("/api/recipes/{id}/doubts", {
          params: { path: { id: recipeId } },
          body: JSON.parse(body),
          signal,
        }),
      )),
    }),
    gcTime: 60_000,
    retry: false,
  });

/** A text that is looked at: what is decided of it, what hangs on its doubts, and how to read another one.
 * beside: lines of the recipe that these come to. */
export function useReview(recipeId: number, beside: readonly BenchLine[]) {
  const [state, dispatch] = useReducer(reduce, recipeId, kept);
  useEffect(() => keep(recipeId, state), [recipeId, state]);
  const ask = useCallback(
    (text: string, covers_days: number | null) =>
      take(
        api.POST("/api/recipes/{id}/bring", {
          params: { path: { id: recipeId } },
          body: { text, covers_days },
        }),
      ),
    [recipeId],
  );
  const reading = useMutation({
    mutationFn: ({ text, days }: { text: string; days: number | null }) => ask(text, days),
    onSuccess: (review, { days }) => dispatch({ type: "read", review, typed: days !== null }),
  });
  const rewording = useMutation({
    mutationFn: ({ text }: { keys: readonly string[]; text: string }) => ask(text, state.days),
    onSuccess: (review, { keys }) => dispatch({ type: "reword", keys, review }),
  });
  const going = useMemo(() => state.stretches.filter(isGoing), [state.stretches]);
  const keys = useMemo(() => going.map((s) => s.key), [going]);
  const body = JSON.stringify({
    covers_days: state.days,
    lines: [...going.map(asked), ...beside.map(standing)],
  });
  const doubts = useQuery({
    ...doubtsQuery(recipeId, keys, body),
    enabled: going.length > 0,
    placeholderData: keepPreviousData,
  });
  const settled = doubts.data && !doubts.isPlaceholderData ? doubts.data : null;
  const unplaced = keys.some((key) => !state.order.includes(key));
  useEffect(() => {
    if (!settled || !unplaced) return;
    const order = settled.order.flatMap((i) => keys[i] ?? []);
    dispatch({ type: "order", order, sure: keys.filter((_, i) => settled.lines[i]?.sure) });
  }, [settled, unplaced, keys]);
  const { data } = doubts;
  const byKey = useMemo(
    () =>
      new Map(
        (data?.keys ?? []).flatMap((key, i) => {
          const line = data?.lines[i];
          return line ? [[key, line] as const] : [];
        }),
      ),
    [data],
  );
  const content = useMemo(
    () => ({
      coversDays: state.days,
      lines: [
        ...beside,
        ...going.filter(isWhole).map((s) =>
          lineOf(
            {
              food: standsFor(s)?.food ?? "",
              name: standsFor(s)?.name ?? "",
              methods: standsFor(s)?.methods ?? [],
              text: s.quantity,
              preparation: s.preparation,
            },
            s.key,
          ),
        ),
      ],
    }),
    [going, state.days, beside],
  );
  return {
    state,
    dispatch,
    reading,
    rewording,
    /** What hangs on each stretch, by key; empty until it is known. */
    doubts: byKey,
    ranges: data?.ranges ?? {},
    ordered: !unplaced,
    problem: doubts.error,
    content,
    uncounted: going.length + beside.length - content.lines.length,
  };
}

export type Reviewing = ReturnType<typeof useReview>;
