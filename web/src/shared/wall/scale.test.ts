import { describe, expect, it } from "vitest";
import { amountAt, CORNICE, heightOf, RAIL } from "./scale";

describe("height on the wall", () => {
  it("reaches the rail at the minimum and the cornice at the maximum, whatever they are", () => {
    for (const [min, max] of [
      [1, 2],
      [10, 1000],
      [0.5, 0.6],
    ] as const) {
      expect(heightOf(min, min, max)).toBeCloseTo(RAIL);
      expect(heightOf(max, min, max)).toBeCloseTo(CORNICE);
      expect(heightOf(min / 2, min, max)).toBeCloseTo(RAIL / 2);
    }
  });

  it("tells the amount at a height as it tells the height of an amount", () => {
    for (const [min, max] of [
      [1, 2],
      [10, 1000],
      [5, null],
      [null, 8],
    ] as const) {
      for (const height of [0.1, RAIL, 0.6, 0.8]) {
        const amount = amountAt(height, min, max) ?? Number.NaN;
        expect(heightOf(amount, min, max)).toBeCloseTo(height);
      }
    }
    expect(amountAt(0.5, null, null)).toBeNull();
  });

  it("breaks the cornice above the maximum and stays on the wall", () => {
    for (const times of [1.0001, 2, 100]) {
      const height = heightOf(20 * times, 10, 20) ?? 0;
      expect(height).toBeGreaterThan(CORNICE);
      expect(height).toBeLessThanOrEqual(1);
    }
  });

  it("stays under the cornice without a maximum", () => {
    expect(heightOf(1e6, 10, null)).toBeLessThan(CORNICE);
  });

  it("rises with the amount", () => {
    const heights = [1, 5, 10, 15, 20, 25, 40].map((v) => heightOf(v, 10, 20) ?? 0);
    expect(heights).toEqual([...heights].sort((a, b) => a - b));
  });

  it("has no height where nothing is set", () => {
    expect(heightOf(5, null, null)).toBeNull();
    expect(heightOf(5, null, 10)).toBeCloseTo(CORNICE / 2);
  });
});
