import type { CaseStep } from "~/api/client";

type State = CaseStep["state"];

/** What a mark says, for who does not see it. */
export const STATE_WORDS: Record<State, string> = {
  open: "not begun",
  partly: "begun",
  done: "done",
  waiting: "waiting",
  conflict: "cannot go on",
};

/** A peg: filled when done, half when begun, hollow before, dashed while it waits, cross-hatched in conflict. */
export function StepMark({ state }: { state: State }) {
  const hatched = state === "conflict";
  return (
    <svg viewBox="0 0 10 14" className="h-3.5 w-2.5 shrink-0" aria-hidden="true">
      <rect
        x="0.75"
        y="0.75"
        width="8.5"
        height="12.5"
        fill={hatched ? "var(--madder-pale)" : "var(--sheet)"}
        stroke={hatched ? "var(--madder)" : "var(--ink)"}
        strokeWidth="1.5"
        strokeDasharray={state === "waiting" ? "2 2" : undefined}
      />
      {state === "done" && <rect x="1.5" y="1.5" width="7" height="11" fill="var(--oak-deep)" />}
      {state === "partly" && <rect x="1.5" y="7" width="7" height="5.5" fill="var(--oak-deep)" />}
      {hatched && (
        <path
          d="M1 9 L8.5 2 M1 13 L9 5.5 M4.5 13.5 L9 9.5 M1 5 L5 9.5 M1.5 1 L9 9 M5.5 1 L9 5"
          stroke="var(--madder)"
        />
      )}
    </svg>
  );
}
