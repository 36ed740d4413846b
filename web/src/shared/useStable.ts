import { useRef } from "react";

/** The same list as at the last drawing while its members are the same. */
export function useStable<T>(list: readonly T[]): readonly T[] {
  const last = useRef(list);
  const same =
    last.current.length === list.length && last.current.every((item, i) => item === list[i]);
  if (!same) last.current = list;
  return last.current;
}
