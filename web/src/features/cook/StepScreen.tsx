import { type ReactNode, useState } from "react";
import type { Cook, CookEntry, CookStep } from "~/api/client";
import { onScale } from "~/features/kitchen/WeighedLines";
import { decimal, foodWeight, number, spelled, temperature, told } from "~/shared/format";
import { newKey } from "~/shared/newKey";
import { Else } from "./Else";
import { Plank } from "./Plank";
import { figureOf, markOf } from "./progress";
import { amountOf } from "./StepList";
import { type CookAt, type Cooking, placeOf } from "./useCooking";
import { clockText, useTimer } from "./useTimer";

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

/** One step. */
export function StepScreen(props: StepProps) {
  const { step } = props;
  if (step.kind === "weigh" || step.kind === "finish") return <Weigh {...props} />;
  if (step.kind === "core") return <Core {...props} />;
  if (step.kind === "cook") return <Timed {...props} />;
  return <Tick {...props} />;
}

/** The frame of a step: what, how, the figure, what can be done. */
function Frame({
  step,
  children,
  actions,
  plank,
  inside = false,
}: {
  step: CookStep;
  children: ReactNode;
  actions: ReactNode;
  plank?: ReactNode;
  inside?: boolean;
}) {
  return (
    <main
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
}: React.ComponentProps<"button"> & { solid?: boolean }) {
  return (
    <button
      type="button"
      {...rest}
      className={`flex min-h-14 items-center justify-center gap-2 rounded-corner px-5 font-semibold text-[1.1rem] disabled:opacity-40 ${solid ? "bg-ink text-sheet" : "border border-edge bg-sheet"}`}
    >
      {children}
    </button>
  );
}

function Weigh({ at, cook, cooking, step, number: n, go }: StepProps) {
  const before = figureOf(cook, step, cooking.unsent);
  const places = Math.max(0, Math.min(3, -Math.floor(Math.log10(step.step_g ?? 1) + 1e-9)));
  const [typed, setTyped] = useState(before === null ? "" : before.toFixed(places));
  const [other, setOther] = useState(false);
  const value = decimal(typed);
  const sound = Number.isFinite(value) && value >= 0;
  const target = step.grams ?? 0;
  const low = step.low_g ?? target;
  const high = step.high_g ?? target;
  const finish = step.kind === "finish";
  const inside = sound && value >= low - 1e-9 && value <= high + 1e-9;
  const mark = markOf(cook, step, cooking.unsent);
  function take() {
    if (!sound) return;
    const entry: CookEntry = finish
      ? { key: entryKey(), kind: "finished", grams: value }
      : {
          key: entryKey(),
          kind: "weighed",
          line: step.line,
          vessel: step.vessel,
          grams: value,
          reading: { manual: true },
        };
    cooking.put(entry);
    go(n + 1);
  }
  const step_g = step.step_g ?? 1;
  const toGo = target - value;
  const words = !sound
    ? finish
      ? `about ${foodWeight(target)} is expected`
      : `${onScale(target, step_g)}, between ${onScale(low, step_g)} and ${onScale(high, step_g)}`
    : inside
      ? finish
        ? "as expected"
        : "in the band"
      : toGo > 0
        ? finish
          ? `${percentOff(value, target)} lighter than expected`
          : `${onScale(toGo, step_g)} more`
        : finish
          ? `${percentOff(value, target)} heavier than expected`
          : `${onScale(-toGo, step_g)} out`;
  return (
    <Frame
      step={step}
      inside={inside && !finish}
      plank={
        <Plank
          value={sound ? value : null}
          target={target}
          low={low}
          high={high}
          told={onScale(target, step_g)}
          under={`${onScale(low, step_g)} to ${onScale(high, step_g)}`}
        />
      }
      actions={
        <>
          <Big solid disabled={!sound} onClick={take}>
            {finish
              ? "Put it down"
              : inside || !sound
                ? "Take it, next"
                : `Take ${number(value, places)} g as it is`}
          </Big>
          {!finish && <Big onClick={() => setOther(true)}>Something else</Big>}
          {mark !== "open" && <Big onClick={() => go(n + 1)}>Leave it, next</Big>}
        </>
      }
    >
      <form
        className="flex max-w-full items-baseline justify-end"
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        <input
          aria-label={`What it weighs, g: ${step.title}`}
          inputMode="decimal"
          autoComplete="off"
          enterKeyHint="next"
          placeholder="0"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          className={`w-full min-w-0 border-transparent border-b-4 bg-transparent text-right font-semibold leading-none tracking-tight outline-none placeholder:text-line focus-visible:border-verdigris ${typed.length > 5 ? "text-[4.2rem] mid:text-[8rem]" : "text-[6rem] mid:text-[13rem]"}`}
        />
        <span className="ml-2 text-[2rem] text-soft mid:text-[4rem]">g</span>
      </form>
      <p
        role="status"
        className="mt-2 text-right font-semibold text-[1.7rem] leading-tight mid:text-[3rem]"
      >
        {words}
      </p>
      {mark === "out" && <p className="mt-1 text-madder text-part">It was put down as left out.</p>}
      {finish && cook.weighed && <Meals cook={cook} />}
      {other && (
        <Else
          at={at}
          cook={cook}
          cooking={cooking}
          step={step}
          onClose={() => setOther(false)}
          onDone={() => go(n + 1)}
        />
      )}
    </Frame>
  );
}

function percentOff(value: number, target: number): string {
  return `${number(100 * Math.abs(value / (target || 1) - 1))} %`;
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
      <ul>
        {found.meals.map((meal) => (
          <li key={meal.case}>
            {meal.name}: a meal is{" "}
            <b className="font-semibold">{foodWeight(meal.grams_per_meal)}</b>,{" "}
            {number(meal.kcal_per_meal)} kcal; {meal.portions.boxes} boxes
          </li>
        ))}
      </ul>
    </div>
  );
}

function Tick({ at, cook, cooking, step, number: n, go }: StepProps) {
  const [other, setOther] = useState(false);
  const mark = markOf(cook, step, cooking.unsent);
  const count = step.kind === "count";
  function done() {
    cooking.put(
      count
        ? { key: entryKey(), kind: "weighed", line: step.line, vessel: null, grams: step.grams }
        : { key: entryKey(), kind: "step", step: step.id, done: true },
    );
    go(n + 1);
  }
  return (
    <Frame
      step={step}
      actions={
        <>
          <Big solid onClick={mark === "done" ? () => go(n + 1) : done}>
            {mark === "done" ? "Next" : count ? "They are in, next" : "Done, next"}
          </Big>
          {count && <Big onClick={() => setOther(true)}>Something else</Big>}
          {mark === "done" && !count && (
            <Big
              onClick={() =>
                cooking.put({ key: entryKey(), kind: "step", step: step.id, done: false })
              }
            >
              Not done after all
            </Big>
          )}
        </>
      }
    >
      {count && (
        <p className="text-right font-semibold text-[3.4rem] leading-none mid:text-[7rem]">
          {amountOf(step)}
        </p>
      )}
      {step.id === "gather" && (
        <ul className="w-full max-w-xl self-start text-[1.1rem]">
          {cook.cooked?.lines.map((x) => (
            <li key={x.position} className="flex justify-between gap-4 border-line border-b py-1.5">
              <span>{spelled(x.name)}</span>
              <span className="whitespace-nowrap font-semibold">{foodWeight(x.planned_g)}</span>
            </li>
          ))}
        </ul>
      )}
      {step.id === "water" && (
        <p className="text-right font-semibold text-[3.4rem] leading-none mid:text-[7rem]">
          {onScale(step.grams ?? 0, 1)}
        </p>
      )}
      {mark !== "open" && (
        <p role="status" className="text-part text-soft">
          {mark === "out" ? "It was put down as left out." : "Done."}
        </p>
      )}
      {step.id.startsWith("portion-") && <Meals cook={cook} />}
      {other && (
        <Else
          at={at}
          cook={cook}
          cooking={cooking}
          step={step}
          onClose={() => setOther(false)}
          onDone={() => go(n + 1)}
        />
      )}
    </Frame>
  );
}

function Core({ cook, cooking, step, number: n, go }: StepProps) {
  const fahrenheit = cook.conventions.temperature === "F";
  const before = figureOf(cook, step, cooking.unsent);
  const shown = before === null ? "" : number(fahrenheit ? (before * 9) / 5 + 32 : before, 0);
  const [typed, setTyped] = useState(shown);
  const value = decimal(typed);
  const celsius = fahrenheit ? ((value - 32) * 5) / 9 : value;
  const sound = Number.isFinite(celsius) && celsius > -30 && celsius <= 150;
  const wanted = step.celsius ?? 0;
  const hot = sound && celsius >= wanted - 0.01;
  function take() {
    if (!sound) return;
    cooking.put({ key: entryKey(), kind: "core", vessel: step.vessel, celsius });
    // Not hot enough: it stays here, and is measured again.
    if (hot) go(n + 1);
  }
  return (
    <Frame
      step={step}
      inside={hot}
      plank={
        <Plank
          value={sound ? celsius : null}
          target={wanted}
          low={wanted}
          high={wanted * 1.3}
          told={temperature(wanted)}
          under="or more"
        />
      }
      actions={
        <>
          <Big solid disabled={!sound} onClick={take}>
            {hot || !sound ? "Hot enough, next" : "Put it down, cook on"}
          </Big>
          <Big onClick={() => go(n - 1)}>Back to the pot</Big>
        </>
      }
    >
      <form
        className="flex max-w-full items-baseline justify-end"
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        <input
          aria-label={step.title}
          inputMode="decimal"
          autoComplete="off"
          placeholder="0"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          className="w-full min-w-0 border-transparent border-b-4 bg-transparent text-right font-semibold text-[6rem] leading-none tracking-tight outline-none placeholder:text-line focus-visible:border-verdigris mid:text-[13rem]"
        />
        <span className="ml-2 text-[2rem] text-soft mid:text-[4rem]">
          {fahrenheit ? "°F" : "°C"}
        </span>
      </form>
      <p
        role="status"
        className="mt-2 text-right font-semibold text-[1.7rem] leading-tight mid:text-[3rem]"
      >
        {!sound
          ? `${temperature(wanted)} or more`
          : hot
            ? "hot enough"
            : "cook on, then measure again"}
      </p>
    </Frame>
  );
}

function Timed({ at, cook, cooking, step, number: n, go }: StepProps) {
  const timer = useTimer(`${placeOf(at)}/${step.id}`, step.minutes ?? 0);
  const mark = markOf(cook, step, cooking.unsent);
  const over = timer.left <= 0;
  return (
    <Frame
      step={step}
      plank={
        <Plank
          value={Math.max(0, timer.whole - timer.left)}
          target={timer.whole}
          low={timer.whole}
          high={timer.whole * 1.05}
          told={`${number(timer.whole / 60)} min`}
          under="then measure"
        />
      }
      actions={
        <>
          {timer.running ? (
            <Big onClick={timer.pause}>Pause</Big>
          ) : (
            <Big solid={!over} onClick={timer.start} disabled={over}>
              Start the time
            </Big>
          )}
          <Big onClick={() => timer.more(5)}>5 minutes more</Big>
          <Big
            solid={over || timer.running}
            onClick={() => {
              if (mark !== "done")
                cooking.put({ key: entryKey(), kind: "step", step: step.id, done: true });
              go(n + 1);
            }}
          >
            {over || mark === "done" ? "Next" : "Meanwhile, next"}
          </Big>
        </>
      }
    >
      <p
        role="timer"
        className={`text-right font-semibold text-[5.6rem] leading-none tracking-tight mid:text-[12rem] ${over ? "text-madder" : ""}`}
      >
        {clockText(timer.left)}
      </p>
      <p
        role="status"
        className="mt-2 text-right font-semibold text-[1.7rem] leading-tight mid:text-[3rem]"
      >
        {over ? "the time is over" : `of ${number(timer.whole / 60)} minutes`}
      </p>
    </Frame>
  );
}
