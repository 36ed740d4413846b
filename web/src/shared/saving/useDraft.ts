import { useQueryClient } from "@tanstack/react-query";
import { useMemo, useSyncExternalStore } from "react";
import type { Draft, DraftState, Edit, EditOptions } from "./draft";
import { draftOf, recordKey, unsent, type Waiting } from "./drafts";
import { type Fields, isAbout, valueAt } from "./fields";
import { type Id, KINDS, type Kind, type KindOf, type RecordOf } from "./kinds";

/** A record that saves itself, as a page sees it. */
export interface Saving {
  state: DraftState;
  /** The record with what is not stored yet. */
  fields: Fields;
  value: (path: string) => unknown;
  set: (path: string, value: unknown, options?: EditOptions) => void;
  change: (edits: readonly Edit[], options?: EditOptions) => void;
  /** Why what stands at a path cannot be stored. */
  error: (path: string) => string | undefined;
  draft: Draft<unknown>;
}

export function useDraft<K extends Kind>(kind: K, id: Id, record: RecordOf[K]): Saving {
  const draft = draftOf(kind, id);
  const state = useSyncExternalStore(draft.subscribe, draft.snapshot);
  const { fieldsOf } = KINDS[kind] as unknown as KindOf<RecordOf[K]>;
  // What is stored by now: what the page was given is a moment older, and at that moment a change that was
  // just stored would be neither on its way nor there.
  const latest = useQueryClient().getQueryData<RecordOf[K]>(recordKey(kind, id)) ?? record;
  const fields = useMemo(
    () => draft.view(fieldsOf(latest), state.pending),
    [draft, fieldsOf, latest, state.pending],
  );
  return {
    state,
    fields,
    value: (path) => valueAt(fields, path),
    set: (path, value, options) => draft.set(path, value, options),
    change: (edits, options) => draft.change(edits, options),
    error: (path) => {
      const about = Object.keys(state.errors).find((at) => isAbout(at, path));
      return about === undefined ? undefined : state.errors[about];
    },
    draft: draft as Draft<unknown>,
  };
}

/** What all records have not sent yet. */
export function useUnsent(): Waiting {
  return useSyncExternalStore(unsent.subscribe, unsent.snapshot);
}
