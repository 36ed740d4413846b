import type { CSSProperties } from "react";
import type { Segment } from "./boards";
import type { Palette } from "./palette";

/** Tones that carry a grain; the others are plain. As styles.css has them. */
const GRAINED = new Set(["w3", "w4", "w6", "w7", "w8", "i1", "i2", "i3"]);

/** A joint between two ingredients, as a share of the fill: about a pixel. Shares and not a pixel, because
 * the browser reads these texts anew at every key, and a calc() each is half of that. */
const JOINT = 0.006;

/** A grain is seen from here on, as a share of the fill. */
const GRAIN_FROM = 0.04;

const percent = (share: number) => `${(share * 100).toFixed(1)}%`;

/** Where each ingredient begins and ends in a fill, from its floor: shares of the whole fill. */
export function spans(
  segments: readonly Segment[],
): { segment: Segment; from: number; to: number }[] {
  const whole = segments.reduce((sum, segment) => sum + segment.share, 0);
  let at = 0;
  return segments.map((segment) => {
    const from = at;
    at += segment.share / whole;
    return { segment, from, to: at };
  });
}

type Part = ReturnType<typeof spans>[number];

/** Neighbours that are drawn alike are one piece: foods after the eighth share a tone, and each more is read anew at
 * every key. The line that is looked at stays by itself. */
function pieces(parts: readonly Part[], lit: number | null): Part[] {
  const found: Part[] = [];
  for (const part of parts) {
    const before = found.at(-1);
    const alike =
      before?.segment.tone === part.segment.tone &&
      before.segment.line !== lit &&
      part.segment.line !== lit;
    if (alike) found[found.length - 1] = { ...before, to: part.to };
    else found.push(part);
  }
  return found;
}

/** A fill of ingredients as one background: an element for each part of each board would be laid out and
 * painted anew at every key. `up`: from the floor upwards, else from the left. `lit`: the line that is looked
 * at; the others step back. `of`: the colours. */
export function fillOf(
  segments: readonly Segment[],
  up: boolean,
  lit: number | null,
  of: Palette,
): CSSProperties {
  if (segments.length === 0) return { background: of("--tone-w2") };
  const parts = pieces(spans(segments), lit);
  const stops = parts.flatMap(({ segment, from, to }, i) => {
    const ground = of(`--tone-${segment.tone}`);
    const faint = lit !== null && lit !== segment.line;
    const tone = faint ? `color-mix(in srgb, ${ground} 30%, ${of("--groove")})` : ground;
    if (i === parts.length - 1) return [`${tone} ${percent(from)} 100%`];
    const joint = percent(Math.max(from, to - JOINT));
    return [`${tone} ${percent(from)} ${joint}`, `${of("--joint")} ${joint} ${percent(to)}`];
  });
  const grains = parts
    .filter(({ segment, from, to }) => GRAINED.has(segment.tone) && to - from >= GRAIN_FROM)
    .filter(({ segment }) => lit === null || lit === segment.line)
    .map(({ segment, from, to }) => {
      const long = to - from;
      const free = 1 - long;
      const start = up ? 1 - to : from;
      const at = percent(free > 0.0001 ? start / free : 0);
      const box = up ? `0 ${at} / 100% ${percent(long)}` : `${at} 0 / ${percent(long)} 100%`;
      return `${of(`--figure-${segment.tone}`)} ${box} no-repeat`;
    });
  const ground = `linear-gradient(to ${up ? "top" : "right"}, ${stops.join(", ")})`;
  return { background: [...grains, ground].join(", ") };
}
