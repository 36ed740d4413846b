import { useEffect, useRef, useState } from "react";
import { api, type LiveAnswer, take } from "~/api/client";
import type { Content } from "./editor";
import { type Adjust, asked, hasBadFigures, hasBounds } from "./useAdjust";

/** After so long without another move amounts are looked for that can be measured. */
const REST_MS = 600;

export interface Live {
  answer: LiveAnswer | null;
  /** What the answer is of; "" for none. */
  of: string;
  error: Error | null;
}

const NONE: Live = { answer: null, of: "", error: null };

/** What the bounds come to while they are moved: one question at a time, the last one asked always answered. */
export function useLive(
  recipeId: number,
  adjust: Adjust,
  typed: string,
  content: Content,
  allowed: string[] | null,
  on: boolean,
): Live {
  const { settings } = adjust;
  const [live, setLive] = useState(NONE);
  const wanted = useRef("");
  const busy = useRef(false);
  const ready = on && allowed !== null && hasBounds(settings) && !hasBadFigures(settings);
  const body = ready
    ? JSON.stringify({ ...JSON.parse(typed), settings: asked(settings, content.lines, allowed) })
    : "";
  useEffect(() => {
    wanted.current = body;
    if (!body) {
      setLive(NONE);
      return;
    }
    async function ask() {
      if (busy.current) return;
      busy.current = true;
      try {
        for (let of = ""; wanted.current && of !== wanted.current; ) {
          of = wanted.current;
          await put(of, false);
        }
      } finally {
        busy.current = false;
      }
    }
    async function put(of: string, settle: boolean) {
      try {
        const answer = await take(
          api.POST("/api/recipes/{id}/live", {
            params: { path: { id: recipeId } },
            body: { ...JSON.parse(of), settle },
          }),
        );
        // What rested is of the last move alone, and what was asked before it came does not take its place.
        if (!wanted.current || (settle && wanted.current !== of)) return;
        setLive((old) =>
          !settle && old.answer?.settled && old.of === wanted.current
            ? old
            : { answer, of, error: null },
        );
      } catch (error) {
        if (wanted.current !== of) return;
        const problem = error instanceof Error ? error : new Error(String(error));
        // A bound that cannot be is said; what was drawn before stands.
        setLive((old) => ({ ...old, error: problem }));
      }
    }
    void ask();
    const rest = setTimeout(() => void put(body, true), REST_MS);
    return () => clearTimeout(rest);
  }, [body, recipeId]);
  return live;
}
