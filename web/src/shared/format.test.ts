import { expect, it } from "vitest";
import {
  ageText,
  decimal,
  number,
  offTarget,
  percent,
  sentence,
  told,
  unitText,
  when,
} from "./format";

it("reads a number with a point or a comma and nothing else", () => {
  expect(decimal("1.5")).toBe(1.5);
  expect(decimal(" 1,5 ")).toBe(1.5);
  expect(decimal("")).toBeNaN();
  expect(decimal("a lot")).toBeNaN();
});

it("prints what is not known as a dash, never as zero", () => {
  expect(number(null, 2)).toBe("–");
  expect(percent(undefined)).toBe("–");
  expect(number(0, 1)).toBe("0.0");
});

it("prints numbers, shares, ages and sentences", () => {
  expect(number(12345.67, 1)).toBe("12\u202f345.7");
  expect(percent(0.256)).toBe("26\u202f%");
  expect(ageText(23)).toBe("23 months");
  expect(ageText(108)).toBe("9 years");
  expect(sentence("take it out")).toBe("Take it out");
});

it("finds all that is not met, ratios and what is off the wall too, the worst first", () => {
  const nutrients = [
    { key: "CA", board: true, urgency: 0 },
    { key: "X", board: false, urgency: 1.2 },
  ];
  const ratios = [{ key: "CA:P", urgency: 2.5 }];
  expect(offTarget({ nutrients, ratios }).map((x) => x.key)).toEqual(["CA:P", "X"]);
  expect(offTarget({ nutrients: nutrients.slice(0, 1), ratios: [] })).toEqual([]);
});

it("writes micrograms as people do", () => {
  expect(unitText("ug")).toBe("µg");
  expect(unitText("ug/1000 kcal")).toBe("µg/1000 kcal");
  expect(unitText("mg")).toBe("mg");
});

it("writes a moment as its day and time, and words as they are", () => {
  const noon = new Date(2026, 10, 29, 12, 5);
  expect(when(noon.toISOString())).toMatch(/^.*29.*, 12:05$/);
  expect(when("last spring")).toBe("last spring");
});

it("writes the days of a sentence as days are written here", () => {
  expect(told("lies open since 2026-11-05; a code 12-2026-11-05 stays")).toBe(
    "lies open since 5 Nov 2026; a code 12-2026-11-05 stays",
  );
});
