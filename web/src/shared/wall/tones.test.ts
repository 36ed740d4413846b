import { expect, it } from "vitest";
import { layer, OTHERS, tonesOf } from "./tones";

const food = (name: string, kcal: number | null = 0, supplement = false) => ({
  food: name,
  supplement,
  kcal,
});

it("keeps what the recipe has and gives the first free tone to what is not stored yet", () => {
  const found = tonesOf({ rice: "w0" }, [food("rice"), food("beef", 500), food("zinc", 0, true)]);
  expect(found).toEqual({ rice: "w0", beef: "w1", zinc: "i0" });
});

it("draws every food after the eighth as the others", () => {
  const many = Array.from({ length: 10 }, (_, n) => food(`f${n}`, 100 - n));
  const found = tonesOf({}, many);
  expect(new Set(many.slice(0, 8).map((f) => found[f.food])).size).toBe(8);
  expect([found.f8, found.f9]).toEqual([OTHERS, OTHERS]);
});

it("lays inlay over every wood", () => {
  expect(["i0", "w3", OTHERS, "w0"].sort((a, b) => layer(a) - layer(b))).toEqual([
    "w0",
    "w3",
    OTHERS,
    "i0",
  ]);
});
