import { useState } from "react";
import { onScale } from "~/features/kitchen/WeighedLines";
import { decimal, foodWeight, number, spelled, temperature } from "~/shared/format";
import { Else } from "./Else";
import { Plank } from "./Plank";
import { Big, entryKey, Frame, Meals, type StepProps } from "./parts";
import { figureOf, markOf } from "./progress";
import { amountOf } from "./StepList";
import { placeOf } from "./useCooking";
import { clockText, useTimer } from "./useTimer";
import { Weigh } from "./Weigh";

/** One step. */
export function StepScreen(props: StepProps) {
  const { step } = props;
  if (step.kind === "weigh" || step.kind === "finish") return <Weigh {...props} />;
  if (step.kind === "core") return <Core {...props} />;
  if (step.kind === "cook") return <Timed {...props} />;
  return <Tick {...props} />;
}

/** What is counted of a line, "" of what is weighed. */
function counted(cook: StepProps["cook"], line: number | null): string {
  const step = cook.steps.find((s) => s.kind === "count" && s.line === line);
  return step ? amountOf(step) : "";
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
              <span className="whitespace-nowrap font-semibold">
                {counted(cook, x.position) || foodWeight(x.planned_g)}
              </span>
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
          data-first
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
      again={timer.running ? "running" : over ? "over" : "at rest"}
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
