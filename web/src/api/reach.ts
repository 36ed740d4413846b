/** Whether the server answers: since when it does not, null while it does. */
let since: Date | null = null;
const listeners = new Set<() => void>();

function put(next: Date | null): void {
  if ((next === null) === (since === null)) return;
  since = next;
  for (const listener of listeners) listener();
}

export const reach = {
  lost: () => put(new Date()),
  found: () => put(null),
  subscribe: (listener: () => void): (() => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
  snapshot: (): Date | null => since,
};
