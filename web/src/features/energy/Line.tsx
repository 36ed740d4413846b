import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { number } from "~/shared/format";
import { onScale } from "./axis";

/** Keys move by so many kcal. */
const STEPS: Record<string, number> = {
  ArrowRight: 5,
  ArrowUp: 5,
  ArrowLeft: -5,
  ArrowDown: -5,
  PageUp: 50,
  PageDown: -50,
};

/** What the case uses, as a line through all methods; dragged, or moved by keys, it becomes the figure. */
export function Line({
  kcal,
  most,
  perKg75,
  onMove,
}: {
  kcal: number;
  most: number;
  /** kg^0.75 of the dog. */
  perKg75: number;
  onMove: (kcal: number) => void;
}) {
  const field = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? kcal;
  const under = (event: PointerEvent) => {
    const box = field.current?.getBoundingClientRect();
    return box && box.width > 0
      ? onScale(((event.clientX - box.left) / box.width) * most, most)
      : shown;
  };
  const press = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (step === undefined) return;
    event.preventDefault();
    onMove(onScale(kcal + step, most));
  };
  const words = `${number(shown)} kcal a day, ${number(shown / perKg75)} kcal per kg^0.75`;
  return (
    <div ref={field} className="pointer-events-none absolute inset-0">
      <div
        role="slider"
        tabIndex={0}
        aria-label="Energy target"
        aria-orientation="horizontal"
        aria-valuemin={1}
        aria-valuemax={Math.floor(most)}
        aria-valuenow={Math.round(shown)}
        aria-valuetext={words}
        onKeyDown={press}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld(shown);
        }}
        onPointerMove={(event) => held !== null && setHeld(under(event))}
        onPointerUp={(event) => {
          if (held === null) return;
          const to = under(event);
          setHeld(null);
          if (to !== Math.round(kcal)) onMove(to);
        }}
        onPointerCancel={() => setHeld(null)}
        className="-translate-x-1/2 group pointer-events-auto absolute inset-y-0 flex w-6 cursor-ew-resize touch-none justify-center outline-none"
        style={{ left: `${(Math.min(shown, most) / most) * 100}%` }}
      >
        <span
          className={`h-full w-[2px] ${held === null ? "bg-ink" : "bg-verdigris"} group-hover:bg-verdigris`}
        />
        <span className="-top-6 absolute whitespace-nowrap rounded-sm bg-ink px-1.5 font-semibold text-data text-paper group-focus-visible:outline-2 group-focus-visible:outline-verdigris group-focus-visible:outline-offset-2">
          {number(shown)}
          {held !== null && ` kcal, ${number(shown / perKg75)} per kg^0.75`}
        </span>
      </div>
    </div>
  );
}
