import type { Draft } from "./draft";

/** Whether what was set at these paths was stored: false where some of it was refused, or somebody else changed it. It waits
 * while the server cannot be reached. */
export function whenStored(draft: Draft<unknown>, paths: readonly string[]): Promise<boolean> {
  return new Promise((resolve) => {
    let stop = () => {};
    const look = (): boolean => {
      const { errors, collisions, pending } = draft.snapshot();
      const held = paths.some((p) => p in errors || collisions.some((c) => c.path === p));
      if (!held && paths.some((p) => pending.some((c) => c.path === p))) return false;
      stop();
      resolve(!held);
      return true;
    };
    if (!look()) stop = draft.subscribe(look);
  });
}
