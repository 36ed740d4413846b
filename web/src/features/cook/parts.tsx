import { type ComponentProps, type ReactNode, useEffect, useRef } from "react";
import type { Cook, CookStep } from "~/api/client";
import { foodWeight, number, spelled, told } from "~/shared/format";
import { newKey } from "~/shared/newKey";
import type { CookAt, Cooking } from "./useCooking";

export interface StepProps {
  at: CookAt;
  cook: Cook;
  cooking: Cooking;
  step: CookStep;
  number: number;
  go: (to: number) => void;
}

/** A fresh key, so that what is sent twice counts once. */
export function entryKey(): string {
  return `e-${newKey()}${newKey()}`;
}

/** The frame of a step: what, how, the figure, what can be done. */
export function Frame({
  step,
  children,
  actions,
  plank,
  inside = false,
  again = "",
}: {
  step: CookStep;
  children: ReactNode;
  actions: ReactNode;
  plank?: ReactNode;
  inside?: boolean;
  /** What is asked for is another when this is. */
  again?: string;
}) {
  const here = useRef<HTMLElement>(null);
  // What a step asks for is under the hand at once: its box, or the key that goes on.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it looks again when it is told to
  useEffect(() => {
    here.current?.querySelector<HTMLElement>("[data-first]")?.focus({ preventScroll: true });
  }, [again]);
  return (
    <main
      ref={here}
      className={`grid min-h-0 ${plank ? "grid-cols-[minmax(0,1fr)_4.75rem] mid:grid-cols-[minmax(0,1fr)_11rem]" : "grid-cols-1"}`}
    >
      <div
        className={`flex min-h-0 flex-col overflow-auto px-3.5 py-3.5 mid:px-8 mid:py-6 ${inside ? "bg-verdigris-pale" : ""}`}
      >
        <h2 className="text-[1.45rem] leading-tight mid:text-[1.9rem]">{spelled(step.title)}</h2>
        <p className="mt-1 text-part text-soft mid:text-[1.06rem]">{told(step.words)}</p>
        <div className="my-auto flex flex-col items-end py-4">{children}</div>
        <div className="flex flex-col gap-3 mid:flex-row mid:flex-wrap">{actions}</div>
      </div>
      {plank}
    </main>
  );
}

/** A key that a wet hand hits. */
export function Big({
  solid = false,
  children,
  ...rest
}: ComponentProps<"button"> & { solid?: boolean }) {
  return (
    <button
      type="button"
      data-first={solid || undefined}
      {...rest}
      className={`flex min-h-14 items-center justify-center gap-2 rounded-corner px-5 font-semibold text-[1.1rem] disabled:opacity-40 ${solid ? "bg-ink text-sheet" : "border border-edge bg-sheet"}`}
    >
      {children}
    </button>
  );
}

/** What the weighed batch makes of a meal. */
export function Meals({ cook }: { cook: Cook }) {
  const found = cook.weighed;
  if (!found) return null;
  return (
    <div className="mt-3 w-full text-part">
      {found.ask && (
        <p role="alert" className="mb-2 border-madder stile">
          {told(found.ask)}
        </p>
      )}
      {!found.sure && (
        <p className="mb-1 text-soft">kcal by what was planned or is not put down yet: about.</p>
      )}
      <ul>
        {found.meals.map((meal) => (
          <li key={meal.case}>
            {meal.name}: a meal is{" "}
            <b className="font-semibold">{foodWeight(meal.grams_per_meal)}</b>,{" "}
            {number(meal.kcal_per_meal)} kcal; {meal.portions.boxes} boxes
            {meal.cups !== null && `; ${number(meal.cups, 2)} of the weighed cup`}
          </li>
        ))}
      </ul>
    </div>
  );
}
