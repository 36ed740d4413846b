import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useReducer, useRef, useState } from "react";
import { ApiError, api, type Look, type Recipe, type TypedAnalysis, take } from "../../api/client";
import { type Content, contentOf, reduce, sentLine, startState } from "./editor";

export type SaveState = "saved" | "saving" | "unsaved" | { failed: string };

export interface Conflict {
  theirs: Recipe;
}

const PREVIEW_MS = 40;
const SAVE_MS = 500;

function useDebounced<T>(value: T, ms: number): T {
  const [held, setHeld] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setHeld(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return held;
}

function savedForm(content: Content): string {
  return JSON.stringify({
    covers_days: content.coversDays,
    lines: content.lines
      .filter((line) => line.quantity !== "")
      .map((line) => sentLine(line, line.quantity)),
  });
}

/** The recipe on the bench: edits with undo, live analysis, autosave against a version. */
export function useBench(recipe: Recipe, look: Look) {
  const client = useQueryClient();
  const [state, dispatch] = useReducer(reduce, recipe, (r) => startState(contentOf(r)));
  const { present } = state;

  // Analysis of what stands in the boxes, computed as it is typed.
  const typed = JSON.stringify({
    covers_days: present.coversDays,
    lines: present.lines.map((line) => sentLine(line, line.text || "?")),
    ...look,
  });
  const asked = useDebounced(typed, PREVIEW_MS);
  const keys = present.lines.map((line) => line.key).join();
  const analysis = useQuery({
    queryKey: ["analysis", recipe.id, asked],
    queryFn: () =>
      take(
        api.POST("/api/recipes/{id}/analysis", {
          params: { path: { id: recipe.id } },
          body: JSON.parse(asked),
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
  });
  const settled = analysis.data && !analysis.isPlaceholderData && asked === typed;
  const errors = new Map(settled ? analysis.data.line_errors.map((e) => [e.line, e] as const) : []);
  const lastGood = useRef<{ keys: string; analysis: TypedAnalysis } | null>(null);
  if (settled && analysis.data.line_errors.length === 0) {
    lastGood.current = { keys, analysis: analysis.data };
  }
  // While a box holds something unreadable the wall keeps the last good state of the same lines.
  const shown =
    analysis.data && analysis.data.line_errors.length > 0 && lastGood.current?.keys === keys
      ? lastGood.current.analysis
      : analysis.data;

  useEffect(() => {
    if (!settled || !analysis.data) return;
    const bad = new Set(analysis.data.line_errors.map((e) => e.line));
    const good = present.lines.filter((_, i) => !bad.has(i)).map((line) => line.key);
    dispatch({ type: "accept", keys: good });
  }, [settled, analysis.data, present.lines]);

  // Autosave.
  const version = useRef(recipe.version ?? 1);
  const saved = useRef(savedForm(present));
  const [saveState, setSaveState] = useState<SaveState>("saved");
  const [conflict, setConflict] = useState<Conflict | null>(null);
  // The same for what is shown: what changed back while a save was on its way is saved again.
  const [stored, setStored] = useState(saved.current);
  const form = savedForm(present);
  // What stands on the bench now, for what is still on its way.
  const latest = useRef(form);
  latest.current = form;
  const put = useCallback(
    async (body: string) => {
      setSaveState("saving");
      try {
        const stored = await take(
          api.PUT("/api/recipes/{id}", {
            params: { path: { id: recipe.id } },
            body: { version: version.current, name: recipe.name, ...JSON.parse(body) },
          }),
        );
        version.current = stored.version ?? version.current + 1;
        saved.current = body;
        setStored(body);
        client.setQueryData(["recipe", recipe.id], stored);
        setSaveState(latest.current === body ? "saved" : "unsaved");
      } catch (error) {
        if (error instanceof ApiError && error.status === 409) {
          setConflict({ theirs: (error.body as { current: Recipe }).current });
          setSaveState("unsaved");
        } else {
          setSaveState({ failed: error instanceof Error ? error.message : String(error) });
        }
      }
    },
    [client, recipe.id, recipe.name],
  );
  // One save after another: each is made against the version the one before it left.
  const queue = useRef(Promise.resolve());
  const save = useCallback(
    (body: string) => {
      queue.current = queue.current.then(() => put(body));
      return queue.current;
    },
    [put],
  );
  useEffect(() => {
    if (conflict) return;
    if (form === stored) {
      setSaveState((state) => (state === "unsaved" ? "saved" : state));
      return;
    }
    setSaveState("unsaved");
    const timer = setTimeout(() => save(form), SAVE_MS);
    return () => clearTimeout(timer);
  }, [form, conflict, save, stored]);
  useEffect(() => {
    function warn(event: BeforeUnloadEvent) {
      if (form !== saved.current) event.preventDefault();
    }
    addEventListener("beforeunload", warn);
    return () => removeEventListener("beforeunload", warn);
  }, [form]);
  // Leaving for another page of the application saves at once.
  const pending = useRef({ form, save });
  pending.current = { form, save };
  useEffect(
    () => () => {
      const last = pending.current;
      if (last.form !== saved.current) void last.save(last.form);
    },
    [],
  );

  const keepMine = useCallback(() => {
    if (!conflict) return;
    version.current = conflict.theirs.version ?? version.current;
    setConflict(null);
  }, [conflict]);
  const takeTheirs = useCallback(() => {
    if (!conflict) return;
    const content = contentOf(conflict.theirs);
    version.current = conflict.theirs.version ?? version.current;
    saved.current = savedForm(content);
    setStored(saved.current);
    dispatch({ type: "load", content });
    setSaveState("saved");
    setConflict(null);
  }, [conflict]);

  /** What the server stores now is what the bench shows: a version was restored. */
  const adopt = useCallback(
    (stored: Recipe) => {
      version.current = stored.version ?? version.current;
      saved.current = savedForm(contentOf(stored));
      setStored(saved.current);
      client.setQueryData(["recipe", recipe.id], stored);
      dispatch({ type: "days", coversDays: stored.covers_days ?? 1 });
    },
    [client, recipe.id],
  );

  // A box whose text was not accepted yet is not saved either.
  const waiting = present.lines.some((line) => line.text !== line.quantity);

  return {
    content: present,
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
    dispatch,
    analysis: shown,
    analysisError: analysis.error,
    retryAnalysis: analysis.refetch,
    errors,
    saveState: saveState === "saved" && waiting ? ("unsaved" as const) : saveState,
    saveAgain: () => save(form),
    conflict,
    keepMine,
    takeTheirs,
    adopt,
    typed,
  };
}
