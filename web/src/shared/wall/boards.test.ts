import { describe, expect, it } from "vitest";
import { openAbove } from "./boards";

describe("a board", () => {
  it("is open above where there may be more than is known", () => {
    // An ingredient without a value, bounded or not; a label that says "at least".
    expect(openAbove({ unknown_lines: 1, most: null, per_1000_kcal: 4 })).toBe(true);
    expect(openAbove({ unknown_lines: 1, most: 4, per_1000_kcal: 4 })).toBe(true);
    expect(openAbove({ unknown_lines: 0, most: 4.5, per_1000_kcal: 4 })).toBe(true);
  });

  it("is closed where all of it is known", () => {
    expect(openAbove({ unknown_lines: 0, most: 4, per_1000_kcal: 4 })).toBe(false);
    expect(openAbove({ unknown_lines: 0, most: null, per_1000_kcal: null })).toBe(false);
  });
});
