import type { Intake } from "~/api/client";

export type Mark = Intake["stations"][number]["mark"];

/** What a mark says, for who does not see it. */
export const MARK_WORDS: Record<Mark, string> = {
  known: "known",
  told: "the owner’s words, not looked at",
  open: "open",
};

/** A filled peg is known, a hatched one holds the owner's words, a ring is open; verdigris is asked now. */
export function PegShape({ mark, asked = false }: { mark: Mark; asked?: boolean }) {
  if (mark === "open")
    return (
      <>
        <circle
          r="6.5"
          fill={asked ? "var(--verdigris)" : "var(--paper)"}
          stroke={asked ? "var(--verdigris)" : "var(--ink)"}
          strokeWidth="1.5"
        />
        <path
          d="M-1.9 -1.6C-1.9 -4 2 -4 2 -1.7C2 -0.2 0 -0.1 0 1.3M0 3.1V3.6"
          fill="none"
          stroke={asked ? "var(--paper)" : "var(--ink)"}
          strokeWidth="1.5"
          strokeLinecap="round"
        />
      </>
    );
  if (mark === "told")
    return (
      <>
        <rect x="-4.5" y="-4.5" width="9" height="9" fill="var(--paper)" stroke="var(--ink)" />
        <path d="M-4.5 0L0 -4.5M-4.5 4.5L4.5 -4.5M0 4.5L4.5 0" stroke="var(--ink)" />
      </>
    );
  return (
    <rect
      x="-3.5"
      y="-3.5"
      width="7"
      height="7"
      fill="var(--ink)"
      stroke="var(--paper)"
      strokeWidth="1"
    />
  );
}

export function Peg({ mark, asked }: { mark: Mark; asked?: boolean }) {
  return (
    <svg viewBox="-8 -8 16 16" className="size-4 shrink-0" aria-hidden="true">
      <PegShape mark={mark} asked={asked} />
    </svg>
  );
}
