import type { CookEntry } from "~/api/client";

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
