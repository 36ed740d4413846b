import { type ComponentType, lazy, useState } from "react";

/** Something drawn whose code is fetched when it is first shown, or ahead of it. */
export interface Coded<P = object> {
  (props: P): React.JSX.Element;
  ahead: () => Promise<void>;
}

/** What is there already is drawn at once: what React had to wait for, even for a moment, stands behind its "loading" for
 * a third of a second. */
export function coded<P extends object = object>(
  load: () => Promise<{ default: ComponentType<P> }>,
): Coded<P> {
  const later: ComponentType<P> = lazy(load);
  let there: ComponentType<P> | null = null;
  function Shown(props: P) {
    // What it began with it keeps: another one would lose what is typed.
    const [Drawn] = useState<ComponentType<P>>(() => there ?? later);
    return <Drawn {...props} />;
  }
  return Object.assign(Shown, {
    ahead: async () => {
      there = (await load()).default;
    },
  });
}
