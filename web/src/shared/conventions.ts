import type { Session } from "~/api/client";

/** How things are written: units, dates, numbers, money, names. */
export type Conventions = Session["conventions"];

export const DEFAULT: Conventions = {
  body: "kg",
  food: "g",
  temperature: "C",
  measures: "us",
  dates: "day-first",
  numbers: "space-point",
  currency: "USD",
  spelling: "british",
  words: {},
};

let now = DEFAULT;

/** How things are written on this page: as the practice writes them, or its client wants them. */
export function conventions(): Conventions {
  return now;
}

/** From here on things are written so. Who sets it draws anew what was written otherwise. */
export function setConventions(next: Conventions): void {
  now = next;
}
