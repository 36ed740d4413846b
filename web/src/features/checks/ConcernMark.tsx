import type { Weighed } from "~/api/client";

const WORDS = {
  open: "open",
  reopened: "open again",
  settled: "settled",
  known: "to know",
} as const;

/** A peg that stops a board: hatched where it cannot go out, hollow where somebody must decide, half again where
 * it was reopened, filled once it is settled; a short rail for what is only told. */
export function ConcernMark({ of }: { of: Weighed }) {
  const { state } = of;
  const block = of.concern.level === "block" && state !== "settled";
  return (
    <span className="mt-0.5 flex w-4 shrink-0 justify-center">
      <svg viewBox="0 0 12 14" className="h-3.5 w-3" aria-hidden="true">
        {state === "known" ? (
          <path
            d={of.concern.level === "warn" ? "M1 5 H11 M1 9 H11" : "M1 7 H11"}
            stroke="var(--ink)"
            strokeWidth="1.5"
          />
        ) : (
          <>
            <rect
              x="0.75"
              y="0.75"
              width="10.5"
              height="12.5"
              fill={block ? "var(--madder-pale)" : "var(--sheet)"}
              stroke={block ? "var(--madder)" : "var(--ink)"}
              strokeWidth="1.5"
            />
            {state === "settled" && (
              <rect x="1.5" y="1.5" width="9" height="11" fill="var(--oak-deep)" />
            )}
            {state === "reopened" && !block && (
              <rect x="1.5" y="7" width="9" height="5.5" fill="var(--oak-deep)" />
            )}
            {block && (
              <path
                d="M1 4.5 L4.5 1 M1 9 L9 1 M2 13 L11 4 M6.5 13 L11 8.5"
                stroke="var(--madder)"
              />
            )}
          </>
        )}
      </svg>
      <span className="sr-only">{WORDS[state]}: </span>
    </span>
  );
}
