import { conventions } from "./conventions";

export type Basis =
  | "per_1000_kcal"
  | "per_day"
  | "per_kg75"
  | "per_100g_dry_matter"
  | "per_100g_as_fed";

export const BASES: { id: Basis; label: string; unit: string }[] = [
  { id: "per_1000_kcal", label: "per 1000 kcal", unit: "/1000 kcal" },
  { id: "per_day", label: "per day", unit: "/day" },
  { id: "per_kg75", label: "per kg^0.75", unit: "/kg^0.75 a day" },
  { id: "per_100g_dry_matter", label: "dry matter", unit: "/100 g DM" },
  { id: "per_100g_as_fed", label: "as fed", unit: "/100 g as fed" },
];

const MARKS = {
  "space-point": ["\u202f", "."],
  "comma-point": [",", "."],
  "point-comma": [".", ","],
  "space-comma": ["\u202f", ","],
} as const;

/** Thousands are parted from here on; the same as the core's `conventions.GROUPED_FROM`. */
const GROUPED_FROM = 10_000;

/** A number with a fixed count of decimals, halves up; a dash for what is not known. */
export function number(value: number | null | undefined, decimals = 0): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return "–";
  const plain = plainNumber(value, decimals, false);
  const grouped = Math.abs(Number(plain)) >= GROUPED_FROM;
  const [group, point] = MARKS[conventions().numbers];
  return (grouped ? plainNumber(value, decimals, true) : plain)
    .replace("-", "−")
    .replaceAll(/[.,]/g, (mark) => (mark === "," ? group : point));
}

const printers = new Map<string, Intl.NumberFormat>();

function plainNumber(value: number, decimals: number, useGrouping: boolean): string {
  const key = `${decimals} ${useGrouping}`;
  const formatter =
    printers.get(key) ??
    new Intl.NumberFormat("en", {
      minimumFractionDigits: decimals,
      maximumFractionDigits: decimals,
      signDisplay: "negative",
      useGrouping,
    });
  printers.set(key, formatter);
  // Its shortest decimal is what is rounded: 0.125 goes up, as on paper.
  return formatter.format(String(value) as Intl.StringNumericLiteral);
}

const LB_G = 453.59237;
const OZ_G = 28.349523125;

/** A dog's weight in the unit it is told in. */
export function bodyFigure(kg: number): number {
  return conventions().body === "lb" ? (kg * 1000) / LB_G : kg;
}

/** A dog's weight with its unit. */
export function bodyWeight(kg: number | null | undefined): string {
  return kg == null ? "–" : `${number(bodyFigure(kg), 1)} ${conventions().body}`;
}

/** Grams without their unit, as finely as they must be weighed: 0.25 g of a powder is not 0.3 g. */
export function grams(weight: number): string {
  return number(weight, weight >= 10 ? 0 : weight >= 1 ? 1 : weight >= 0.1 ? 2 : 3);
}

/** Under this a kitchen scale that shows ounces is too coarse. */
const LEAST_OUNCES_G = 10;
const FINE_OUNCES = 4;

/** A weight of food with its unit. */
export function foodWeight(weight: number): string {
  if (conventions().food === "g" || weight < LEAST_OUNCES_G) return `${grams(weight)} g`;
  const ounces = weight / OZ_G;
  if (ounces < FINE_OUNCES) return `${number(ounces, 2)} oz`;
  const tenths = Number(plainNumber(ounces * 10, 0, false));
  const pounds = Math.floor(tenths / 160);
  const rest = tenths - 160 * pounds;
  if (pounds === 0) return `${number(rest / 10, 1)} oz`;
  return `${number(pounds)} lb${rest ? ` ${number(rest / 10, 1)} oz` : ""}`;
}

/** A weight of food for who weighs by hand: ounces never without the grams. */
export function bothWeights(weight: number): string {
  const told = foodWeight(weight);
  const plain = `${grams(weight)} g`;
  return told === plain ? told : `${told} (${plain})`;
}

/** A weight of food in a column whose title says the unit of weight. */
export function foodFigure(weight: number | null | undefined): string {
  if (weight == null) return "–";
  return conventions().food === "g" ? grams(weight) : foodWeight(weight);
}

/** A temperature with its unit. */
export function temperature(celsius: number): string {
  return conventions().temperature === "C"
    ? `${number(celsius, Number.isInteger(celsius) ? 0 : 1)} °C`
    : `${number((celsius * 9) / 5 + 32)} °F`;
}

const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

/** A day, or the day of a moment here. */
function local(text: string): Date {
  return /^\d{4}-\d\d-\d\d$/.test(text) ? new Date(`${text}T00:00`) : new Date(text);
}

/** A day as it is written, of "2026-12-03" or of a moment. */
export function day(text: string, long = false): string {
  const on = local(text);
  const month = MONTHS[on.getMonth()] ?? "";
  const name = long ? month : month.slice(0, 3);
  if (conventions().dates === "month-first") return `${name} ${on.getDate()}, ${on.getFullYear()}`;
  if (conventions().dates === "day-first") return `${on.getDate()} ${name} ${on.getFullYear()}`;
  const two = (figure: number) => String(figure).padStart(2, "0");
  return `${on.getFullYear()}-${two(on.getMonth() + 1)}-${two(on.getDate())}`;
}

/** A day of the next weeks: its weekday, and the year only where it leads. */
export function nearDay(text: string): string {
  const on = local(text);
  const weekdayName = on.toLocaleDateString("en", { weekday: "short" });
  const month = (MONTHS[on.getMonth()] ?? "").slice(0, 3);
  if (conventions().dates === "month-first") return `${weekdayName} ${month} ${on.getDate()}`;
  if (conventions().dates === "day-first") return `${weekdayName} ${on.getDate()} ${month}`;
  return `${weekdayName} ${day(text)}`;
}

/** A day that stands in a record as 2026-12-03, or a moment; words that tell of one as they are. */
export function when(text: string): string {
  if (/^\d{4}-\d\d-\d\dT/.test(text)) return `${day(text)}, ${clock(text)}`;
  return /^\d{4}-\d\d-\d\d$/.test(text) ? day(text) : text;
}

/** Bytes in the unit that fits. */
export function fileSize(bytes: number): string {
  const units = ["bytes", "kB", "MB", "GB", "TB"] as const;
  const step = Math.min(Math.floor(Math.log10(Math.max(bytes, 1)) / 3), units.length - 1);
  return `${number(bytes / 1000 ** step, step > 1 ? 1 : 0)} ${units[step]}`;
}

/** The weekday of a moment. */
export function weekday(moment: string): string {
  return new Date(moment).toLocaleDateString("en", { weekday: "long" });
}

/** The time of a moment. */
export function clock(moment: string): string {
  return new Date(moment).toLocaleTimeString("en-GB", {
    hour: "numeric",
    minute: "2-digit",
    hour12: conventions().dates === "month-first",
  });
}

const SIGNS: Record<string, string> = { USD: "$", EUR: "€", GBP: "£" };

/** An amount of money. */
export function money(amount: number | null | undefined): string {
  if (amount == null) return "–";
  const { currency } = conventions();
  return (SIGNS[currency] ?? `${currency} `) + number(amount, 2);
}

/** A price by kilogram as prices are told here. */
export function priceBy(perKg: number | null | undefined): string {
  if (perKg == null) return "–";
  return money(conventions().food === "g" ? perKg : (perKg * LB_G) / 1000);
}

const DEGREES = /([-−]?\d+(?:\.\d+)?)(?: to (\d+(?:\.\d+)?))? ?°C/g;
const FIGURE = /(?<![\w.,/-])(\d+\.\d+|\d{5,})(?![\w/-]|[.,]\d)/g;

const ISO_DAY = /(?<![\w-])\d{4}-\d{2}-\d{2}(?![\w-])/g;

/** A sentence of the program or of its facts as it is written here: days, degrees, figures, names. */
export function told(text: string): string {
  const dated = text.replace(ISO_DAY, (found) => day(found));
  const figures = dated.replace(FIGURE, (figure) =>
    number(Number(figure), figure.split(".")[1]?.length ?? 0),
  );
  const degrees = figures.replace(DEGREES, (_, low: string, high?: string) => {
    const ends = [low, high].filter((x) => x !== undefined);
    const texts = ends.map((x) => temperature(Number(x.replace("−", "-"))));
    return texts.map((t, i) => (i < texts.length - 1 ? t.split(" ")[0] : t)).join(" to ");
  });
  return spelled(degrees);
}

/** A name as it is spelled here; capitals stay. */
export function spelled(text: string): string {
  const { words } = conventions();
  return text.replace(/[A-Za-z]+/g, (word) => {
    const other = words[word.toLowerCase()];
    if (other === undefined) return word;
    return word.charAt(0) === word.charAt(0).toUpperCase() ? sentence(other) : other;
  });
}

/** A figure with as many digits as it can bear; "" for none. */
export function figureText(value: number | null | undefined): string {
  if (value == null) return "";
  const size = Math.abs(value);
  return number(value, size >= 100 ? 0 : size >= 10 ? 1 : size >= 1 ? 2 : 3);
}

/** A unit as it is written: data say ug, people µg. */
export function unitText(unit: string): string {
  return unit.replace(/\bu(g|mol)\b/, "µ$1");
}

/** A ratio as it is told: one figure, or the bounds it lies between while a part is not known. */
export function ratioText(ratio: {
  value: number | null;
  least?: number | null;
  most?: number | null;
  share?: boolean;
}): string {
  const one = (x: number) => (ratio.share ? number(100 * x, 0) : number(x, 2));
  const end = ratio.share ? "\u202f%" : " : 1";
  if (ratio.value !== null) return one(ratio.value) + end;
  if (ratio.least == null) return "no ratio";
  return ratio.most == null
    ? `at least ${one(ratio.least)}${end}`
    : `${one(ratio.least)} to ${one(ratio.most)}${end}`;
}

export function percent(share: number | null | undefined): string {
  return share === null || share === undefined ? "–" : `${number(share * 100)}\u202f%`;
}

export function ageText(months: number | null | undefined): string {
  if (months === null || months === undefined) return "age unknown";
  if (months < 24) return `${months} months`;
  return `${Math.floor(months / 12)} years`;
}

/** An age in full, as it can be typed again: "2 years 3 months". */
export function ageWords(months: number): string {
  if (months < 24) return `${months} months`;
  const rest = months % 12;
  const more = rest === 0 ? "" : ` ${rest} month${rest > 1 ? "s" : ""}`;
  return `${Math.floor(months / 12)} years${more}`;
}

/** The same words with a capital: for what follows a full stop. */
export function sentence(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** A number as it is typed, with a point or a comma; NaN for anything else. */
export function decimal(text: string): number {
  return text.trim() === "" ? Number.NaN : Number(text.trim().replace(",", "."));
}

/** A number as it is typed, null for an empty box; NaN for anything else. */
export function figure(text: string): number | null {
  return text.trim() === "" ? null : decimal(text);
}

/** Nutrients and ratios of an analysis that are not met, the worst first: all of them, not only those
 * that stand on the wall. "Every limit is met" is said when there is none. */
export function offTarget<T extends { urgency: number }, R extends { urgency: number }>(analysis: {
  nutrients: readonly T[];
  ratios: readonly R[];
}): (T | R)[] {
  return [...analysis.nutrients, ...analysis.ratios]
    .filter((x) => x.urgency > 0)
    .sort((a, b) => b.urgency - a.urgency);
}

/** What a rule on how much is fed comes to: "540 kcal", "540 to 810 kcal". */
export function rangeOf(portion: {
  step: { value: number };
  high: { value: number } | null;
}): string {
  const low = number(portion.step.value);
  return `${portion.high ? `${low} to ${number(portion.high.value)}` : low} kcal`;
}

/** The same as a share of the target. */
export function sharesOf(portion: { share_of_target: number; high_share: number | null }): string {
  const low = percent(portion.share_of_target);
  return portion.high_share === null ? low : `${low} to ${percent(portion.high_share)}`;
}
