import type { Cook } from "~/api/client";

/** Let the page be opened again without a network. A browser that cannot, or a place that is not safe, is left as it is. */
export async function keepPage(): Promise<void> {
  if (!("serviceWorker" in navigator) || !import.meta.env.PROD) return;
  try {
    await navigator.serviceWorker.register("/cook-worker.js", { scope: "/cook/", type: "module" });
    await navigator.serviceWorker.ready;
    if (!navigator.serviceWorker.controller)
      await new Promise((done) =>
        navigator.serviceWorker.addEventListener("controllerchange", done, { once: true }),
      );
    // What was loaded before it watched is asked for once more, and kept as it goes by.
    const loaded = performance.getEntriesByType("resource").map((entry) => entry.name);
    const files = loaded.filter((name) => new URL(name).pathname.startsWith("/assets/"));
    await Promise.all([location.href, ...new Set(files)].map((url) => fetch(url)));
    document.documentElement.dataset.kept = "yes";
  } catch {
    // Cooking goes on; only a reload needs the network.
  }
}

const KEPT = "wainscot-cook-batch/";
const MOST_KEPT = 5;

/** The batch as the server last told it: with it the page opens where there is no network. */
export function batchKept(place: string, store: Storage): Cook | undefined {
  try {
    return (JSON.parse(store.getItem(KEPT + place) ?? "null") as { cook: Cook } | null)?.cook;
  } catch {
    return undefined;
  }
}

export function keepBatch(place: string, cook: Cook, store: Storage): void {
  const others = keptKeys(store).filter((key) => key !== KEPT + place);
  for (const key of others.slice(0, Math.max(0, others.length - MOST_KEPT + 1)))
    store.removeItem(key);
  try {
    store.setItem(KEPT + place, JSON.stringify({ at: Date.now(), cook }));
  } catch {
    // The browser is full: it goes on with a network.
  }
}

export function forgetBatch(place: string, store: Storage): void {
  store.removeItem(KEPT + place);
}

/** Who signs out leaves no batch behind. */
export function forgetAllBatches(store: Storage): void {
  for (const key of keptKeys(store)) store.removeItem(key);
}

/** The oldest first. */
function keptKeys(store: Storage): string[] {
  const found: { key: string; at: number }[] = [];
  for (let i = 0; i < store.length; i++) {
    const key = store.key(i);
    if (!key?.startsWith(KEPT)) continue;
    try {
      found.push({ key, at: (JSON.parse(store.getItem(key) ?? "{}") as { at?: number }).at ?? 0 });
    } catch {
      found.push({ key, at: 0 });
    }
  }
  return found.sort((a, b) => a.at - b.at).map((x) => x.key);
}
