import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { ApiError, api, type Case, take } from "~/api/client";
import { forget, keyOf } from "~/shared/keys";
import { queryClient } from "~/shared/queries";
import {
  type Collision,
  type FieldChange,
  FieldQueue,
  type Outcome,
  type QueueState,
  valueAt,
} from "./fieldQueue";

async function send(id: number, changes: readonly FieldChange[]): Promise<Outcome<Case>> {
  try {
    const record = await take(
      api.PATCH("/api/cases/{id}", { params: { path: { id } }, body: { changes: [...changes] } }),
    );
    return { kind: "saved", record };
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    if (error.status === 409) {
      return {
        kind: "collided",
        collisions: (error.body as { collisions: Collision[] }).collisions,
      };
    }
    if (error.status === 0 || error.status >= 500) {
      return { kind: "unreachable", message: error.message };
    }
    return { kind: "refused", path: error.field, message: error.message };
  }
}

// One queue for a case, whichever of its pages is open.
const queues = new Map<number, FieldQueue<Case>>();

function queueOf(id: number): FieldQueue<Case> {
  let queue = queues.get(id);
  if (!queue) {
    queue = new FieldQueue<Case>(
      (changes) => send(id, changes),
      (record) => {
        queryClient.setQueryData(keyOf("case", id), record);
        void forget(queryClient, "case");
      },
    );
    queues.set(id, queue);
  }
  return queue;
}

export interface CaseSaving {
  state: QueueState;
  /** What a field holds: what was typed last, stored or not. */
  value: (path: string) => unknown;
  set: (path: string, value: unknown) => void;
  error: (path: string) => string | undefined;
  drop: (path: string) => void;
  keepMine: (path: string) => void;
  retry: () => void;
}

/** Fields of a case that save by themselves, each on its own. */
export function useCaseSaving(current: Case): CaseSaving {
  const client = useQueryClient();
  const queue = queueOf(current.id);
  const state = useSyncExternalStore(queue.subscribe, queue.snapshot);
  useEffect(() => {
    const retry = () => void queue.flush();
    function warn(event: BeforeUnloadEvent) {
      if (queue.snapshot().pending.length > 0) event.preventDefault();
    }
    addEventListener("online", retry);
    addEventListener("beforeunload", warn);
    return () => {
      removeEventListener("online", retry);
      removeEventListener("beforeunload", warn);
    };
  }, [queue]);
  // What is stored by now: what the page was given is a moment older, and a box that showed that moment
  // would lose what was typed in it.
  const stored = () => client.getQueryData<Case>(keyOf("case", current.id)) ?? current;
  return {
    state,
    value: (path) => {
      const waiting = state.pending.find((c) => c.path === path);
      return waiting ? waiting.value : valueAt(stored(), path);
    },
    set: (path, value) => queue.set(path, value, valueAt(stored(), path)),
    error: (path) => state.errors[path],
    drop: (path) => queue.drop(path),
    keepMine: (path) => queue.keepMine(path),
    retry: () => void queue.flush(),
  };
}

/** How saving stands, in words. */
export function savingWords(state: QueueState): string {
  const waiting = state.pending.length;
  const changes = waiting === 1 ? "1 change" : `${waiting} changes`;
  if (state.unreachable && waiting > 0) return `${changes} not saved yet: trying again`;
  if (state.collisions.length > 0) return `${changes} not saved: changed elsewhere too`;
  if (Object.keys(state.errors).length > 0) return `${changes} not saved: see the field`;
  if (waiting > 0) return `Saving ${changes}…`;
  return "All changes saved";
}
