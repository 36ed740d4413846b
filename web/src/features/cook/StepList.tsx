import { useEffect, useRef } from "react";
import type { Cook, CookStep } from "~/api/client";
import { letter } from "~/features/kitchen/Pots";
import { onScale } from "~/features/kitchen/WeighedLines";
import { spelled, temperature } from "~/shared/format";
import { type Mark, markOf } from "./progress";
import type { Cooking } from "./useCooking";

/** The order of work beside the step: what is done, what stands, what is left. */
export function StepList({
  cook,
  cooking,
  now,
  go,
}: {
  cook: Cook;
  cooking: Cooking;
  now: number;
  go: (to: number) => void;
}) {
  const here = useRef<HTMLLIElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it follows the step
  useEffect(() => {
    here.current?.scrollIntoView({ block: "nearest" });
  }, [now]);
  return (
    <nav
      aria-label="Order of work"
      className="hidden min-h-0 overflow-auto border-line border-r py-2 mid:block"
    >
      <ol>
        {cook.steps.map((step, i) => (
          <li key={step.id} ref={i === now ? here : undefined}>
            <button
              type="button"
              aria-current={i === now ? "step" : undefined}
              onClick={() => go(i)}
              className={`flex min-h-12 w-full items-center gap-2.5 border-l-4 px-3 text-left ${i === now ? "border-ink bg-sheet font-semibold" : "border-transparent hover:bg-groove/60"}`}
            >
              <Peg mark={markOf(cook, step, cooking.unsent)} />
              <span className="min-w-0 flex-1 truncate">{spelled(step.short)}</span>
              {step.vessel !== null && (
                <span className="rounded-corner border border-edge px-1 text-data">
                  {letter(step.vessel)}
                </span>
              )}
              <span className="text-soft">{amountOf(step)}</span>
            </button>
          </li>
        ))}
        <li ref={now >= cook.steps.length ? here : undefined}>
          <button
            type="button"
            aria-current={now >= cook.steps.length ? "step" : undefined}
            onClick={() => go(cook.steps.length)}
            className={`flex min-h-12 w-full items-center gap-2.5 border-l-4 px-3 text-left ${now >= cook.steps.length ? "border-ink bg-sheet font-semibold" : "border-transparent hover:bg-groove/60"}`}
          >
            <span className="w-3.5" />
            As it was cooked
          </button>
        </li>
      </ol>
    </nav>
  );
}

export function amountOf(step: CookStep): string {
  if (step.pieces !== null) return `${step.pieces} ${step.piece}${step.pieces === 1 ? "" : "s"}`;
  if (step.celsius !== null) return temperature(step.celsius);
  if (step.minutes !== null) return `${step.minutes} min`;
  if (step.kind === "finish" || step.grams === null) return "";
  return onScale(step.grams, step.step_g ?? 1);
}

const WORDS: Record<Mark, string> = { open: "open", done: "done", out: "left out" };

function Peg({ mark }: { mark: Mark }) {
  return (
    <span className="shrink-0">
      <svg viewBox="0 0 14 14" className="size-3.5" aria-hidden="true">
        <rect
          x="1"
          y="1"
          width="12"
          height="12"
          fill={mark === "done" ? "var(--oak-deep)" : "none"}
          stroke={mark === "out" ? "var(--madder)" : "var(--edge)"}
          strokeWidth="1.5"
        />
        {mark === "out" && <path d="M2 12 L12 2" stroke="var(--madder)" strokeWidth="1.5" />}
        {mark === "done" && (
          <path d="M3.5 7 L6 9.5 L10.5 4" fill="none" stroke="var(--sheet)" strokeWidth="1.8" />
        )}
      </svg>
      <span className="sr-only">{WORDS[mark]}: </span>
    </span>
  );
}
