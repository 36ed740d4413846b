import type { Limit, Origin } from "./limits";

/** What drew a bracket: told apart by form, not by colour alone. */
export type Layer = "standard" | "safe" | "condition" | "advised" | "caution" | "decision";

export const LAYER_WORDS: Record<Layer, string> = {
  standard: "standard",
  safe: "safe limit",
  condition: "condition",
  advised: "advised",
  caution: "care",
  decision: "decision",
};

const LAYERS: Record<Origin["strength"], Layer> = {
  standard: "standard",
  hard: "condition",
  advised: "advised",
  caution: "caution",
  "safe limit": "safe",
  decision: "decision",
  own: "decision",
};

/** Which layer an origin belongs to. A recommended value is advice, whoever gives it. */
export function layerOf(origin: Origin): Layer {
  return origin.which === "recommended" ? "advised" : LAYERS[origin.strength];
}

/** Whether it bounds from below. */
export function isFloor(origin: Origin): boolean {
  return origin.which === "min" || origin.which === "recommended";
}

const BRACKET = "M 5 -8 H 0 V 8 H 5";

/** A bracket that opens to the right of a floor, to the left of a ceiling; at its own place, 16 px high. */
export function Bracket({ layer, floor, pale }: { layer: Layer; floor: boolean; pale: boolean }) {
  const turned = floor ? undefined : "scale(-1, 1)";
  const shape = {
    standard: <path d={BRACKET} className="stroke-2 stroke-ink" />,
    safe: <path d={BRACKET} className="stroke-[1.6] stroke-ink" strokeDasharray="2 2" />,
    condition: <path d={BRACKET} className="stroke-[4] stroke-oak-deep" />,
    advised: <path d="M -4 -7 H 4 M 0 -7 V 7" className="stroke-2 stroke-oak-deep" />,
    caution: (
      <path d="M -4 -7 H 4 M 0 -7 V 7" className="stroke-2 stroke-ink" strokeDasharray="3 2" />
    ),
    decision: (
      <>
        <path d={BRACKET} className="stroke-2 stroke-verdigris" />
        <circle r="4" className="fill-sheet stroke-2 stroke-verdigris" />
      </>
    ),
  }[layer];
  return (
    <g fill="none" transform={turned} opacity={pale ? 0.45 : 1}>
      {shape}
    </g>
  );
}

/** A mark as it stands in a key or beside words. */
export function Sign({ layer, floor = true }: { layer: Layer; floor?: boolean }) {
  return (
    <svg viewBox="-9 -10 18 20" width="18" height="20" aria-hidden="true" className="shrink-0">
      <Bracket layer={layer} floor={floor} pale={false} />
    </svg>
  );
}

/** Every layer that a set of limits has, in the order in which they are laid. */
export function layersIn(limits: readonly Limit[]): Layer[] {
  const found = new Set(limits.flatMap((x) => x.origin.map(layerOf)));
  return (Object.keys(LAYER_WORDS) as Layer[]).filter((layer) => found.has(layer));
}
