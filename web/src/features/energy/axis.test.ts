import { describe, expect, it } from "vitest";
import { onScale, ticks } from "./axis";

describe("the axis of energy", () => {
  it("writes round figures, not more than there is room for", () => {
    expect(ticks(727, 5)).toEqual([200, 400, 600]);
    expect(ticks(2100, 5)).toEqual([500, 1000, 1500, 2000]);
    expect(ticks(150, 5)).toEqual([50, 100, 150]);
    expect(ticks(0.9, 3)).toEqual([0.5]);
    for (const most of [0.3, 7, 99, 101, 4999])
      for (const count of [1, 2, 5, 8])
        expect(ticks(most, count).length).toBeLessThanOrEqual(count);
  });

  it("has none without an end", () => {
    expect([ticks(0, 5), ticks(Number.NaN, 5), ticks(-3, 5)]).toEqual([[], [], []]);
  });

  it("keeps a figure on the scale", () => {
    expect([onScale(-4, 700), onScale(475.4, 700), onScale(9000, 700.9)]).toEqual([1, 475, 700]);
  });
});
