import { type KeyboardEvent, type ReactNode, useEffect, useRef } from "react";

/** What is asked now, at the foot of the page. keys: what a key does while the focus is in it. at: what it is about; where that
 * was answered from here, the focus stays here for the next. */
export function Bar({
  label,
  at,
  keys,
  words,
  children,
}: {
  label: string;
  at: string;
  keys: Readonly<Record<string, () => void>>;
  words: ReactNode;
  /** What can be done. */
  children: ReactNode;
}) {
  const bar = useRef<HTMLElement>(null);
  // Something was done from here, and the focus did not go on to a box.
  const acted = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the keys go on when something else is asked
  useEffect(() => {
    if (!acted.current) return;
    acted.current = false;
    // It is always in sight, and the page stays where it is read.
    bar.current?.querySelector<HTMLElement>("button")?.focus({ preventScroll: true });
  }, [at]);
  const press = (event: KeyboardEvent) => {
    const act = keys[event.key];
    if (!act || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    acted.current = true;
    act();
  };
  return (
    <section
      ref={bar}
      aria-label={label}
      onKeyDown={press}
      onClickCapture={() => {
        acted.current = true;
      }}
      onBlur={(event) => {
        if (event.relatedTarget && !event.currentTarget.contains(event.relatedTarget))
          acted.current = false;
      }}
      data-ask=""
      className="sticky bottom-0 z-10 mt-6 flex wide:-bottom-6 wide:-mx-6 wide:-mb-6 wide:px-6 flex-wrap items-center gap-x-6 gap-y-2 border-verdigris border-t-2 bg-sheet px-4 py-3 [@media(max-height:30rem)]:static"
    >
      <div className="min-w-64 flex-1" aria-live="polite">
        {words}
      </div>
      <div className="flex flex-wrap gap-1.5">{children}</div>
    </section>
  );
}
