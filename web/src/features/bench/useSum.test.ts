import { expect, it } from "vitest";
import { sumOf } from "./useSum";

const counts = (said: Record<string, number>) => new Map(Object.entries(said));

it("tells what changed with what it was, the gravest first", () => {
  const sum = sumOf(counts({ short: 14, met: 20 }), counts({ short: 2, over: 1, met: 31 }));
  expect(sum).toBe("0 over, now 1; 14 short, now 2.");
});

it("says nothing when nothing changed but what is met", () => {
  expect(sumOf(counts({ short: 3, met: 20 }), counts({ short: 3, met: 22 }))).toBe("");
});

it("says when everything is met", () => {
  expect(sumOf(counts({ short: 3 }), counts({ met: 23 }))).toBe(
    "3 short, now 0. Every limit on the wall is met.",
  );
});
