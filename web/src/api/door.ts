/** Whether the session has ended while someone was at work: nothing is sent until they sign in again. */
let shut = false;
const listeners = new Set<() => void>();

function put(next: boolean): void {
  if (next === shut) return;
  shut = next;
  for (const listener of listeners) listener();
}

export const door = {
  /** The server knows nobody any more. */
  shut: () => put(true),
  /** Somebody has signed in. */
  open: () => put(false),
  subscribe: (listener: () => void): (() => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
  snapshot: (): boolean => shut,
};
