import { useEffect, useRef } from "react";
import { useLocation, useNavigate } from "react-router";
import type { Food } from "~/api/client";

/** What a page is asked to do by whoever leads to it. */
export type Asked =
  | { do: "add"; food: Food; quantity: string }
  | { do: "side"; side: "adjust" | "versions" }
  | { do: "window"; key: string }
  | { do: "limit"; key: string; bound: "min" | "max"; value: number };

/** The way to a page with what it is asked to do there; for navigate(to, asking(...)). */
export const asking = (asked: Asked) => ({ state: { asked } });

/** Do what the page was led to for, once: it is not done again by a reload, or by going back. */
export function useAsked(run: (asked: Asked) => void): void {
  const { state, key, pathname, search } = useLocation();
  const navigate = useNavigate();
  const latest = useRef(run);
  latest.current = run;
  const done = useRef("");
  useEffect(() => {
    const asked = (state as { asked?: Asked } | null)?.asked;
    if (!asked || done.current === key) return;
    done.current = key;
    navigate(pathname + search, { replace: true, state: null });
    latest.current(asked);
  }, [state, key, pathname, search, navigate]);
}
