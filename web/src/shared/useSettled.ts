import { useEffect, useState } from "react";

const QUIET_MS = 150;

/** A value once it has stayed the same for a moment: what is typed is asked for when the fingers rest. */
export function useSettled<T>(value: T): T {
  const text = JSON.stringify(value);
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), QUIET_MS);
    return () => clearTimeout(timer);
  }, [text]);
  return JSON.parse(settled) as T;
}
