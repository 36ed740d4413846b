import { useEffect, useRef, useState } from "react";
import type { BoardFacts } from "~/shared/wall/boards";

/** What is told of a wall that changed, in the order of its weight. */
const TOLD = ["above safe limit", "over", "short", "unproven", "off advice"] as const;

/** While amounts go on changing nothing is said. */
const RESTED_MS = 1200;

/** How many boards stand how, as it is told: what changed with what it was before. */
export function sumOf(
  before: ReadonlyMap<string, number>,
  after: ReadonlyMap<string, number>,
): string {
  const parts = TOLD.flatMap((status) => {
    const [was, now] = [before.get(status) ?? 0, after.get(status) ?? 0];
    return was === now ? [] : [`${was} ${status}, now ${now}`];
  });
  if (parts.length === 0) return "";
  const left = TOLD.some((status) => (after.get(status) ?? 0) > 0);
  return left ? `${parts.join("; ")}.` : `${parts.join("; ")}. Every limit on the wall is met.`;
}

export function countOf(boards: readonly BoardFacts[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const { status } of boards) counts.set(status, (counts.get(status) ?? 0) + 1);
  return counts;
}

/** What changed on the wall, once and as a sum, when the amounts have come to rest. */
export function useSum(boards: readonly BoardFacts[], settled: boolean): string {
  const told = useRef<ReadonlyMap<string, number> | null>(null);
  const [words, setWords] = useState("");
  useEffect(() => {
    if (!settled || boards.length === 0) return;
    const now = countOf(boards);
    if (told.current === null) {
      told.current = now;
      return;
    }
    const timer = setTimeout(() => {
      const sum = sumOf(told.current ?? now, now);
      told.current = now;
      if (sum) setWords(sum);
    }, RESTED_MS);
    return () => clearTimeout(timer);
  }, [boards, settled]);
  return words;
}
