/** The drafts of all records that are open, or that were left with something to send. */

import { keyOf } from "~/shared/keys";
import { newKey } from "~/shared/newKey";
import { notice } from "~/shared/notice";
import { queryClient } from "~/shared/queries";
import { Draft } from "./draft";
import { Keeping, pagesAlive } from "./kept";
import { type Id, KINDS, type Kind, type KindOf, type RecordOf, sendTo } from "./kinds";

const keeping = new Keeping(localStorage, newKey());
const drafts = new Map<string, Draft<unknown>>();
const listeners = new Set<() => void>();
let user = "";
let full = false;

export interface Waiting {
  /** Changes of all records that the server does not have yet. */
  changes: number;
  /** Why they are not there, "" while they are on their way. */
  why: string;
  /** Some of them need a person: refused, or changed elsewhere too. */
  stuck: boolean;
  /** Records with changes, to be led to. */
  records: readonly { kind: string; id: Id; changes: number }[];
}

const NONE: Waiting = { changes: 0, why: "", stuck: false, records: [] };
let waiting = NONE;

function count(): void {
  const found = [...drafts].flatMap(([name, draft]) => {
    const state = draft.snapshot();
    const [kind = "", id = ""] = name.split("/");
    return state.pending.length > 0 ? [{ kind, id, state }] : [];
  });
  const changes = found.reduce((sum, { state }) => sum + state.pending.length, 0);
  const why =
    found.map(({ state }) => state.unreachable).find(Boolean) ??
    (full ? "This browser keeps no more: leave the page open until it is sent." : "");
  const stuck = found.some(
    ({ state }) => state.collisions.length > 0 || Object.keys(state.errors).length > 0,
  );
  const records = found.map(({ kind, id, state }) => ({ kind, id, changes: state.pending.length }));
  const next = changes === 0 ? NONE : { changes, why, stuck, records };
  if (JSON.stringify(next) === JSON.stringify(waiting)) return;
  waiting = next;
  for (const listener of listeners) listener();
}

export const unsent = {
  subscribe(listener: () => void): () => void {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
  snapshot: (): Waiting => waiting,
};

/** Under which key a record is kept: numbers come out of storage as text. */
export function recordKey(kind: Kind, id: Id) {
  return keyOf(kind, Number.isNaN(Number(id)) ? id : Number(id));
}

/** The draft of a record, one for every page that shows it. */
export function draftOf<K extends Kind>(kind: K, id: Id): Draft<RecordOf[K]> {
  const name = `${kind}/${id}`;
  const open = drafts.get(name) as Draft<RecordOf[K]> | undefined;
  if (open) return open;
  const { fieldsOf, after, tables } = KINDS[kind] as unknown as KindOf<RecordOf[K]>;
  const key = recordKey(kind, id);
  const draft = new Draft<RecordOf[K]>({
    stored: () => {
      const record = queryClient.getQueryData<RecordOf[K]>(key);
      return record && fieldsOf(record);
    },
    fieldsOf,
    tables,
    send: (changes, keepAs) => sendTo(kind, id, changes, keepAs),
    onSaved: (record) => {
      queryClient.setQueryData(key, record);
      after(id, record);
    },
    onElsewhere: () => void queryClient.invalidateQueries({ queryKey: key }),
    onGone: (message) => {
      notice(`${message} What was changed of it here could not be stored.`);
      void queryClient.invalidateQueries({ queryKey: key });
    },
    keep: (kept) => {
      full = !keeping.put(user, kind, String(id), kept);
    },
  });
  drafts.set(name, draft as Draft<unknown>);
  draft.subscribe(count);
  for (const left of keeping.take(user, kind, String(id))) draft.adopt(left);
  return draft;
}

/** Send everything that can be sent. */
export function sendAll(): void {
  for (const draft of drafts.values()) void draft.flush();
}

/** Who the drafts belong to; what was left with something to send is taken up at once. */
export function openDrafts(name: string): void {
  if (user === name) return;
  drafts.clear();
  user = name;
  count();
  takeUp();
}

/** What pages that are gone left with something to send. */
function takeUp(): void {
  for (const { kind, id } of keeping.waiting(user)) {
    if (!(kind in KINDS)) continue;
    const draft = draftOf(kind as Kind, id);
    // None if the draft was opened just now: it took them itself.
    for (const left of keeping.take(user, kind, id)) draft.adopt(left);
  }
}

/** A browser that is slow to say which pages live does not hold up the first one that is drawn. */
const PATIENCE_MS = 2000;

/** Before the first page is drawn: which other pages live, and what happens when this one goes. */
export async function startDrafts(): Promise<void> {
  const known = pagesAlive(keeping.page).then((alive) => {
    keeping.know(alive);
    if (user) takeUp();
  });
  addEventListener("online", sendAll);
  addEventListener("beforeunload", (event) => {
    if (waiting.changes > 0) event.preventDefault();
  });
  document.addEventListener("visibilitychange", () => {
    // Whoever looks away may not come back: what waits for more typing goes now.
    if (document.visibilityState === "hidden") sendAll();
  });
  await Promise.race([known, new Promise((late) => setTimeout(late, PATIENCE_MS))]);
}
