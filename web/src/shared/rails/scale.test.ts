import { describe, expect, it } from "vitest";
import { moved, placeOf, unitOf } from "./scale";

describe("the rail of the windows", () => {
  it("doubles by equal steps, and the rail stands at two sevenths", () => {
    expect(placeOf(0.25)).toBe(0);
    expect(placeOf(1)).toBeCloseTo(2 / 7, 9);
    expect(placeOf(2) - placeOf(1)).toBeCloseTo(1 / 7, 9);
    expect(placeOf(32)).toBe(1);
  });

  it("draws what lies beyond at the edge", () => {
    expect([placeOf(0), placeOf(-1), placeOf(0.001)]).toEqual([0, 0, 0]);
    expect(placeOf(1e9)).toBe(1);
  });

  it("hangs a ceiling alone at sixteen, and nothing where nothing is set", () => {
    expect(unitOf({ rail: 2, max: 8, safe_limit: 4 })).toBe(2);
    expect(unitOf({ rail: null, max: 16000, safe_limit: 32000 })).toBe(1000);
    expect(unitOf({ rail: null, max: null, safe_limit: null })).toBeNull();
  });

  it("moves by one in a hundred, or ten", () => {
    expect(moved(2.343, true, false)).toBeCloseTo(2.366, 9);
    expect(moved(200, false, true)).toBe(180);
    expect(moved(0.0001234, true, false)).toBeGreaterThan(0.0001234);
  });
});
