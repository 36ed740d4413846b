import { type RefObject, useEffect, useRef } from "react";

/** What opens under a key takes the focus with it: its first field or button has it when it is there. */
export function useFirstFocus<E extends HTMLElement>(): RefObject<E | null> {
  const box = useRef<E>(null);
  useEffect(() => {
    box.current
      ?.querySelector<HTMLElement>("input:not([type=hidden]), select, textarea, button")
      ?.focus();
  }, []);
  return box;
}
