import { ApiError, type Cook, type CookEntry } from "~/api/client";

/** Entries that the server does not have yet, each under a key of its own: tabs of one browser share them, and none
 * overwrites another's. What is in here outlives a reload and a flat battery. */
export interface Unsent {
  all: () => CookEntry[];
  add: (entry: CookEntry) => void;
  drop: (key: string) => void;
}

interface Kept {
  at: number;
  entry: CookEntry;
}

const KEPT = "wainscot-cook/";

export function unsentOf(batch: string, store: Storage): Unsent {
  const prefix = `${KEPT}${batch}/`;
  function read(key: string): Kept | null {
    try {
      const kept = JSON.parse(store.getItem(key) ?? "null") as Kept | null;
      return kept?.entry?.key ? kept : null;
    } catch {
      return null;
    }
  }
  return {
    all() {
      const found: Kept[] = [];
      for (let i = 0; i < store.length; i++) {
        const key = store.key(i);
        const kept = key?.startsWith(prefix) ? read(key) : null;
        if (kept) found.push(kept);
      }
      return found.sort((a, b) => a.at - b.at).map((kept) => kept.entry);
    },
    add(entry) {
      const last = Math.max(0, ...this.all().map((e) => read(prefix + e.key)?.at ?? 0));
      // In the order in which they were put down, even within a millisecond.
      const at = Math.max(Date.now(), last + 1);
      store.setItem(prefix + entry.key, JSON.stringify({ at, entry } satisfies Kept));
    },
    drop(key) {
      store.removeItem(prefix + key);
    },
  };
}

/** As many entries as the server takes in one request. */
const MOST_AT_ONCE = 200;

/** The server did not say anything of the entries themselves: they stay, and are sent again. */
function isAway(error: unknown): boolean {
  const status = error instanceof ApiError ? error.status : 0;
  return status === 0 || status >= 500 || [401, 403, 429].includes(status);
}

/** Send all that waits in one request; where that is refused, one by one, so that only what is wrong is left out. Ends
 * when nothing waits, or the server does not answer. */
export async function sendAll(
  store: Unsent,
  send: (entries: CookEntry[]) => Promise<Cook>,
  tell: {
    taken: (cook: Cook) => void;
    refused: (entry: CookEntry, why: string) => void;
    away: () => void;
  },
): Promise<void> {
  let most = MOST_AT_ONCE;
  for (let waits = store.all(); waits.length > 0; waits = store.all()) {
    const entries = waits.slice(0, most);
    try {
      const cook = await send(entries);
      for (const entry of entries) store.drop(entry.key);
      tell.taken(cook);
    } catch (error) {
      if (isAway(error)) return tell.away();
      if (entries.length > 1) {
        most = 1;
        continue;
      }
      for (const entry of entries) {
        store.drop(entry.key);
        tell.refused(entry, (error as Error).message);
      }
    }
  }
}
