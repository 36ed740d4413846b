/** What is kept in the browser of changes that the server does not have yet.
 *
 * Every page keeps its own, under its own name, and holds a lock by that name as long as it lives. What
 * stands under a name whose page is gone was left behind: whoever opens the application next takes it. */

import type { Kept } from "./changes";

const ROOT = "wainscot-kept";
const LOCK = "wainscot-page-";

export interface Shelf {
  getItem(key: string): string | null;
  setItem(key: string, value: string): void;
  removeItem(key: string): void;
  key(index: number): string | null;
  readonly length: number;
}

/** One record of one user, as kept by one page. */
interface Place {
  user: string;
  kind: string;
  id: string;
  page: string;
}

function nameOf({ user, kind, id, page }: Place): string {
  return [ROOT, encodeURIComponent(user), kind, encodeURIComponent(id), page].join("/");
}

function placeOf(name: string): Place | null {
  const [root, user = "", kind = "", id = "", page = ""] = name.split("/");
  return root === ROOT
    ? { user: decodeURIComponent(user), kind, id: decodeURIComponent(id), page }
    : null;
}

export class Keeping {
  /** Pages that live beside this one; as long as it is not known, every one may. */
  private alive: ReadonlySet<string> | null = null;

  constructor(
    private readonly shelf: Shelf,
    readonly page: string,
  ) {}

  know(alive: ReadonlySet<string>): void {
    this.alive = alive;
  }

  /** Keep a draft, or forget it when nothing is left. False when the browser takes no more. */
  put(user: string, kind: string, id: string, kept: Kept): boolean {
    const name = nameOf({ user, kind, id, page: this.page });
    const empty = kept.pending.length + kept.past.length + kept.future.length === 0;
    try {
      if (empty) this.shelf.removeItem(name);
      else this.shelf.setItem(name, JSON.stringify(kept));
      return true;
    } catch {
      return false;
    }
  }

  /** What pages that are gone left of a record, taken off the shelf: the one with most to send last. */
  take(user: string, kind: string, id: string): Kept[] {
    return this.left(user)
      .filter((place) => place.kind === kind && place.id === id)
      .flatMap((place) => {
        const found = this.read(nameOf(place));
        this.shelf.removeItem(nameOf(place));
        return found ? [found] : [];
      })
      .sort((a, b) => a.pending.length - b.pending.length);
  }

  /** Records of which pages that are gone left something to send. */
  waiting(user: string): { kind: string; id: string }[] {
    return this.left(user)
      .filter((place) => (this.read(nameOf(place))?.pending.length ?? 0) > 0)
      .map(({ kind, id }) => ({ kind, id }));
  }

  private left(user: string): Place[] {
    const names = Array.from({ length: this.shelf.length }, (_, i) => this.shelf.key(i) ?? "");
    return names.flatMap((name) => {
      const place = placeOf(name);
      if (place?.user !== user || place.page === this.page) return [];
      return this.alive && !this.alive.has(place.page) ? [place] : [];
    });
  }

  private read(name: string): Kept | null {
    try {
      const found = JSON.parse(this.shelf.getItem(name) ?? "null") as Kept | null;
      return found && Array.isArray(found.pending) ? found : null;
    } catch {
      return null;
    }
  }
}

/** Hold this page's lock until it goes, and say which other pages live. Without locks (a page that was not
 * fetched safely) every other page counts as gone: what is then sent twice changes nothing twice. */
export async function pagesAlive(page: string): Promise<ReadonlySet<string>> {
  if (!("locks" in navigator)) return new Set();
  await new Promise<void>((held) => {
    void navigator.locks.request(LOCK + page, () => {
      held();
      return new Promise(() => undefined);
    });
  });
  const { held = [] } = await navigator.locks.query();
  return new Set(held.map((lock) => (lock.name ?? "").slice(LOCK.length)));
}
