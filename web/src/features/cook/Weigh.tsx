import { useEffect, useState } from "react";
import type { CookEntry, CookStep } from "~/api/client";
import { onScale } from "~/features/kitchen/WeighedLines";
import { decimal, foodWeight, number } from "~/shared/format";
import { Cup } from "./Cup";
import { Else } from "./Else";
import { Plank } from "./Plank";
import { Big, entryKey, Frame, Meals, type StepProps } from "./parts";
import { figureOf, markOf } from "./progress";
import { StandIn } from "./StandIn";
import { type ScaleKind, useScale } from "./useScale";

const SCALE = "wainscot-cook-scale";

/** Which stand-in scale a weight asks for. */
function kindOf(step: CookStep): ScaleKind {
  return step.tool === "fine scale" ? "fine" : "kitchen";
}

/** A weight: typed, or by a scale. */
export function Weigh({ at, cook, cooking, step, number: n, go }: StepProps) {
  const before = figureOf(cook, step, cooking.unsent);
  const step_g = step.step_g ?? 1;
  const places = Math.max(0, Math.min(3, -Math.floor(Math.log10(step_g) + 1e-9)));
  const [typed, setTyped] = useState(before === null ? "" : before.toFixed(places));
  const [other, setOther] = useState(false);
  const finish = step.kind === "finish";
  // All of the finished food is weighed vessel by vessel, and its sum is typed.
  const [byScale, setByScale] = useState(() => !finish && localStorage.getItem(SCALE) === "on");
  const scale = useScale(at, byScale ? kindOf(step) : null);
  const { reading } = scale;
  const value = byScale ? (reading?.net_g ?? Number.NaN) : decimal(typed);
  const sound = Number.isFinite(value) && value >= 0;
  const doubt = byScale
    ? scale.lost
      ? "no connection to the scale"
      : (reading?.doubt ?? "waiting for the scale")
    : "";
  const target = step.grams ?? 0;
  const low = step.low_g ?? target;
  const high = step.high_g ?? target;
  const inside = sound && value >= low - 1e-9 && value <= high + 1e-9;
  const mark = markOf(cook, step, cooking.unsent);
  const can = sound && doubt === "";
  function choose(scaleOn: boolean) {
    localStorage.setItem(SCALE, scaleOn ? "on" : "off");
    setByScale(scaleOn);
  }
  function take() {
    if (!can) return;
    const told: CookEntry["reading"] =
      byScale && reading
        ? {
            gross: reading.gross_g,
            tare: reading.tare_g,
            stable: reading.stable,
            device: reading.device,
            sequence: reading.sequence,
            manual: false,
          }
        : { manual: true };
    const entry: CookEntry = finish
      ? { key: entryKey(), kind: "finished", grams: value }
      : {
          key: entryKey(),
          kind: "weighed",
          line: step.line,
          vessel: step.vessel,
          grams: value,
          reading: told,
        };
    cooking.put(entry);
    // What all of it makes of a meal is read here, and a cup of it weighed.
    if (!finish) go(n + 1);
  }
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      if (!byScale || other || event.target instanceof HTMLInputElement) return;
      if (event.key === "Enter" && !(event.target instanceof HTMLButtonElement)) take();
      if (event.key === "t" || event.key === "T") void scale.act({ do: "tare" });
      if (event.key === "s" || event.key === "S") setOther(true);
    }
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  });
  const asked = finish
    ? `about ${foodWeight(target)} is expected`
    : `${onScale(target, step_g)}, between ${onScale(low, step_g)} and ${onScale(high, step_g)}`;
  const words = !sound ? asked : wordsOf({ value, target, inside, finish, step_g });
  const shown = byScale ? (reading?.net_g == null ? "–" : reading.net_g.toFixed(places)) : typed;
  const size = shown.length > 5 ? "text-[4.2rem] mid:text-[8rem]" : "text-[6rem] mid:text-[13rem]";
  return (
    <Frame
      step={step}
      inside={inside && !finish && doubt === ""}
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
          <Big solid disabled={!can} onClick={take}>
            {finish
              ? "Put it down"
              : inside || !sound
                ? "Take it, next"
                : `Take ${number(value, places)} g as it is`}
          </Big>
          {byScale && <Big onClick={() => void scale.act({ do: "tare" })}>Tare</Big>}
          {!finish && <Big onClick={() => setOther(true)}>Something else</Big>}
          {!finish && (
            <Big onClick={() => choose(!byScale)}>{byScale ? "Type it" : "By the scale"}</Big>
          )}
          {mark !== "open" && (
            <Big onClick={() => go(n + 1)}>{finish ? "Next" : "Leave it, next"}</Big>
          )}
          {byScale && <StandIn scale={scale} />}
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
        {byScale ? (
          <output
            aria-label={`What the scale shows, g: ${step.title}`}
            className={`text-right font-semibold leading-none tracking-tight ${size} ${doubt ? "text-soft" : ""}`}
          >
            {shown}
          </output>
        ) : (
          <input
            aria-label={`What it weighs, g: ${step.title}`}
            data-first
            inputMode="decimal"
            autoComplete="off"
            enterKeyHint="next"
            placeholder="0"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
            className={`w-full min-w-0 border-transparent border-b-4 bg-transparent text-right font-semibold leading-none tracking-tight outline-none placeholder:text-line focus-visible:border-verdigris ${size}`}
          />
        )}
        <span className="ml-2 text-[2rem] text-soft mid:text-[4rem]">g</span>
      </form>
      <p
        role="status"
        className="mt-2 text-right font-semibold text-[1.7rem] leading-tight mid:text-[3rem]"
      >
        {words}
      </p>
      {byScale && (
        <p className={`text-right text-part ${doubt ? "text-madder" : "text-soft"}`}>
          {doubt ||
            `at rest${reading?.in_ounces ? ", it shows ounces" : ""}; ${reading?.device ?? ""}`}
        </p>
      )}
      {mark === "out" && <p className="mt-1 text-madder text-part">It was put down as left out.</p>}
      {finish && cook.weighed && (
        <>
          <Meals cook={cook} />
          <Cup cook={cook} cooking={cooking} />
        </>
      )}
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

/** How far it is from what is wanted. */
function wordsOf({
  value,
  target,
  inside,
  finish,
  step_g,
}: {
  value: number;
  target: number;
  inside: boolean;
  finish: boolean;
  step_g: number;
}): string {
  if (inside) return finish ? "as expected" : "in the band";
  const more = target > value;
  if (finish) return `${percentOff(value, target)} ${more ? "lighter" : "heavier"} than expected`;
  return more
    ? `${onScale(target - value, step_g)} more`
    : `${onScale(value - target, step_g)} out`;
}

function percentOff(value: number, target: number): string {
  return `${number(100 * Math.abs(value / (target || 1) - 1))} %`;
}
