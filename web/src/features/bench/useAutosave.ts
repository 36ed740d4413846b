import { useQueryClient } from "@tanstack/react-query";
import { type Dispatch, useCallback, useEffect, useRef, useState } from "react";
import { ApiError, api, type Recipe, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { type Action, type Content, contentOf, sentLine } from "./editor";

export type SaveState = "saved" | "saving" | "unsaved" | { failed: string };

const SAVE_MS = 500;

/** What is saved of the bench: every line whose amount could be read. */
function savedForm(content: Content): string {
  return JSON.stringify({
    covers_days: content.coversDays,
    lines: content.lines
      .filter((line) => line.quantity !== "")
      .map((line) => sentLine(line, line.quantity)),
  });
}

/** Saves the recipe by itself, each time against the version the save before it left. */
export function useAutosave(recipe: Recipe, present: Content, dispatch: Dispatch<Action>) {
  const client = useQueryClient();
  const version = useRef(recipe.version ?? 1);
  const saved = useRef(savedForm(present));
  const [saveState, setSaveState] = useState<SaveState>("saved");
  // What someone else saved meanwhile, until it is chosen which to keep.
  const [newer, setNewer] = useState<Recipe | null>(null);
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
        client.setQueryData(keyOf("recipe", recipe.id), stored);
        setSaveState(latest.current === body ? "saved" : "unsaved");
      } catch (error) {
        if (error instanceof ApiError && error.status === 409) {
          setNewer((error.body as { current: Recipe }).current);
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
    if (newer) return;
    if (form === stored) {
      setSaveState((state) => (state === "unsaved" ? "saved" : state));
      return;
    }
    setSaveState("unsaved");
    const timer = setTimeout(() => save(form), SAVE_MS);
    return () => clearTimeout(timer);
  }, [form, newer, save, stored]);
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
    if (!newer) return;
    version.current = newer.version ?? version.current;
    setNewer(null);
  }, [newer]);
  const takeTheirs = useCallback(() => {
    if (!newer) return;
    const content = contentOf(newer);
    version.current = newer.version ?? version.current;
    saved.current = savedForm(content);
    setStored(saved.current);
    dispatch({ type: "load", content });
    setSaveState("saved");
    setNewer(null);
  }, [newer, dispatch]);

  /** What the server stores now is what the bench shows: a version was restored. */
  const adopt = useCallback(
    (stored: Recipe) => {
      version.current = stored.version ?? version.current;
      saved.current = savedForm(contentOf(stored));
      setStored(saved.current);
      client.setQueryData(keyOf("recipe", recipe.id), stored);
      dispatch({ type: "days", coversDays: stored.covers_days ?? 1 });
    },
    [client, recipe.id, dispatch],
  );

  return {
    saveState,
    saveAgain: () => save(form),
    newer,
    keepMine,
    takeTheirs,
    adopt,
  };
}
