import { useQueries } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { Answer, Change, Look, Proposal, TypedAnalysis } from "~/api/client";
import type { BenchLine, Content } from "../editor";
import { changeKey, type Run, withChanges } from "../useAdjust";
import { analysisQuery, typedOf } from "../useAnalysis";

const NONE: readonly Answer[] = [];
const NO_KEYS: ReadonlySet<string> = new Set();

interface Choice {
  of: Proposal | null;
  at: number;
  /** Changes of the chosen answer that are not taken. */
  left: ReadonlySet<string>;
}

/** What an answer would change. */
export function changesOf(answer: Answer): Change[] {
  return answer.changes.filter((change) => change.kind !== "kept");
}

/** The answers to a run beside each other: which is looked at, what of it is left out, and the wall of each. */
export function useProposals(
  run: Run,
  recipeId: number,
  content: Content,
  look: Look,
  on: boolean,
) {
  const { proposal } = run;
  const answers = proposal?.alternatives ?? NONE;
  const [choice, setChoice] = useState<Choice>({ of: null, at: 0, left: NO_KEYS });
  // What was chosen of another proposal is no choice of this one.
  const { at, left } = choice.of === proposal ? choice : { at: 0, left: NO_KEYS };
  const lines = useMemo(
    () =>
      answers.map((answer, i) =>
        withChanges(
          run.lines,
          answer.changes,
          new Set(answer.changes.map(changeKey).filter((key) => i !== at || !left.has(key))),
        ),
      ),
    [answers, run.lines, at, left],
  );
  const { coversDays } = content;
  const queries = useQueries({
    queries: (on ? lines : []).map((those) =>
      analysisQuery(recipeId, typedOf({ coversDays, lines: those }, look)),
    ),
  });
  const analyses: (TypedAnalysis | undefined)[] = queries.map((query) => query.data);
  return {
    on,
    answers,
    at,
    left,
    chosen: answers[at],
    /** The bench as it would be with the chosen answer. */
    lines: (lines[at] ?? NO_LINES) as BenchLine[],
    analyses,
    choose: (to: number) => setChoice({ of: proposal, at: to, left: NO_KEYS }),
    leave: (key: string, out: boolean) => {
      const next = new Set(left);
      if (out) next.add(key);
      else next.delete(key);
      setChoice({ of: proposal, at, left: next });
    },
  };
}

const NO_LINES: BenchLine[] = [];

export type Proposals = ReturnType<typeof useProposals>;
