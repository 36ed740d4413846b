import { describe, expect, it } from "vitest";
import { dateOf, dayNumber } from "~/shared/days";
import { axisOf, LEFT, RIGHT, steps, ticksOf, WIDE } from "./axis";

describe("an axis of days", () => {
  it("counts days over the change of the clock", () => {
    expect(dayNumber("2026-03-30") - dayNumber("2026-03-28")).toBe(2);
    expect(dateOf(dayNumber("2028-02-29"))).toBe("2028-02-29");
  });

  it("holds its first and its last day, and two weeks at least", () => {
    const axis = axisOf(["2026-11-28", "2026-09-01"]);
    expect(axis.x("2026-09-01")).toBeCloseTo(LEFT + axis.wide / 2);
    expect(axis.x("2026-11-28")).toBeCloseTo(WIDE - RIGHT - axis.wide / 2);
    const short = axisOf(["2026-11-28"]);
    expect(short.last - short.first).toBe(13);
  });

  it("is marked by months, or by Mondays where it is short", () => {
    expect(ticksOf(axisOf(["2026-08-15", "2026-11-28"]))).toEqual([
      "2026-09-01",
      "2026-10-01",
      "2026-11-01",
    ]);
    expect(ticksOf(axisOf(["2026-11-10", "2026-11-28"]))).toEqual(["2026-11-16", "2026-11-23"]);
  });

  it("has three lines or so, at round figures", () => {
    expect(steps(28.6, 29.9)).toEqual([29, 29.5]);
    expect(steps(430, 480)).toEqual([440, 460, 480]);
    expect(steps(5, 5)).toEqual([5]);
  });
});
