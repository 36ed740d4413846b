import { useMemo } from "react";
import { figure } from "~/shared/format";
import type { Bounding } from "~/shared/wall/Grips";
import { type Adjust, NO_BOUND } from "./useAdjust";

/** The bounds of an adjustment as the wall shows and moves them; null while nothing is adjusted. */
export function useBounding(adjust: Adjust, on: boolean): Bounding | null {
  const { settings, setSettings } = adjust;
  return useMemo(() => {
    if (!on) return null;
    const typed = Object.entries(settings.bounds).map(([key, { least, most }]) => [
      key,
      { least: figure(least), most: figure(most) },
    ]);
    return {
      bounds: Object.fromEntries(typed),
      onBound: (key, side, amount) =>
        setSettings((now) => ({
          ...now,
          bounds: {
            ...now.bounds,
            [key]: {
              ...NO_BOUND,
              ...now.bounds[key],
              [side]: String(Number(amount.toPrecision(3))),
            },
          },
        })),
    };
  }, [on, settings.bounds, setSettings]);
}
