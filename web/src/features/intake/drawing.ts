/** The dog as it is drawn: facing left, its belly and waist as full as its body condition. */

const IDEAL = 5;
/** How far belly and waist move for a point of body condition, in units of the drawing. */
const BELLY = 4.4;
const WAIST = 4.2;
const HIPS = 1.8;

/** The side view, 0 0 450 336. */
export function sideOf(score: number): string {
  const t = (score - IDEAL) * BELLY;
  return [
    "M30 113C30 103 42 98 58 96C72 94 79 86 88 78C100 68 118 67 132 76C148 87 162 100 186 103",
    "C230 108 284 100 332 102C356 103 376 109 389 123C406 112 421 93 429 70C432 61 441 64 439 73",
    "C433 105 415 132 395 145C401 168 398 187 390 205C386 217 394 229 397 241C399 256 395 278 392 299",
    "L390 311C390 317 393 322 391 327H361C359 321 363 314 369 310L372 287C374 268 370 255 363 245",
    `C351 229 340 214 331 ${197 + t * 0.5}C316 ${186 + t} 300 ${186 + t} 287 ${191 + t}`,
    `C264 ${200 + t} 240 ${207 + t * 0.5} 222 211`,
    "L219 255L217 306C217 314 219 321 217 327H187C185 321 189 314 193 309L192 257C189 234 181 219 175 205",
    "C161 194 151 176 147 159C139 147 125 142 109 142C89 144 69 143 51 139C39 135 29 127 30 113Z",
  ].join("");
}

/** The legs of the far side. */
export const FAR =
  "M322 190C336 212 350 226 354 244C356 262 349 280 345 298L340 311C335 315 332 321 334 327H362C363 318 366 312 370 304L374 262L366 230Z" +
  "M236 205C239 236 241 262 243 303C240 311 238 321 240 327H266C268 320 264 313 262 306L262 252L268 204Z";

export const EAR =
  "M128 76C146 79 158 95 160 120C160 136 152 143 143 139C129 131 116 110 113 90C114 81 120 76 128 76Z";

/** The view from above, 0 0 430 100: the half above the spine, and the same below. */
export function aboveOf(score: number): string {
  const waist = 23 + (score - IDEAL) * WAIST;
  const hips = 31 + (score - IDEAL) * HIPS;
  const chest = 37 + (score - IDEAL) * HIPS * 0.8;
  const half = (up: 1 | -1) => {
    const y = (from: number) => 50 - up * from;
    const there = `C16 ${y(7)} 22 ${y(10)} 34 ${y(11)}C46 ${y(12)} 52 ${y(16)} 60 ${y(20)}C72 ${y(26)} 88 ${y(24)} 98 ${y(18)}C112 ${y(16)} 128 ${y(chest - 4)} 158 ${y(chest)}C196 ${y(chest + 1)} 212 ${y(waist + 1)} 240 ${y(waist)}C264 ${y(waist - 1)} 276 ${y(hips)} 300 ${y(hips)}C324 ${y(hips)} 340 ${y(16)} 346 ${y(5)}C372 ${y(4)} 396 ${y(3)} 418 ${y(2)}`;
    return `M16 50${there}`;
  };
  return half(1) + half(-1);
}

/** Only the outline of the waist, dotted beside the drawn one. */
export function waistOf(score: number): string {
  const waist = 23 + (score - IDEAL) * WAIST;
  const edge = (up: 1 | -1) =>
    `M190 ${50 - up * (waist + 9)}C212 ${50 - up * (waist + 3)} 222 ${50 - up * waist} 240 ${50 - up * waist}C258 ${50 - up * waist} 268 ${50 - up * (waist + 2)} 284 ${50 - up * (waist + 6)}`;
  return edge(1) + edge(-1);
}

/** Where on the drawing a place is; above: on the view from above. */
export const ANCHORS: Readonly<Record<string, { x: number; y: number; above?: true }>> = {
  skin: { x: 140, y: 112 },
  head: { x: 106, y: 82 },
  mouth: { x: 62, y: 127 },
  glands: { x: 158, y: 148 },
  heart: { x: 204, y: 176 },
  back: { x: 268, y: 104 },
  gut: { x: 290, y: 168 },
  bladder: { x: 344, y: 158 },
  legs: { x: 384, y: 244 },
  weight: { x: 240, y: 50, above: true },
};
