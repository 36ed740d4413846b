import { expect, it } from "vitest";
import { figureProblem } from "./boxes";

it("takes numbers with a point or a comma, and an empty box only where it may be", () => {
  expect(figureProblem("1.5", 0)).toBe("");
  expect(figureProblem("1,5", 0)).toBe("");
  expect(figureProblem("", 0, true)).toBe("");
  expect(figureProblem(" ", 0)).toBe("give a number");
});

it("says what is wrong with the rest: a limit of “2x” is no limit taken away", () => {
  expect(figureProblem("2x", 0)).toBe("“2x” is not a number");
  expect(figureProblem("-1", 0)).toBe("must be 0 or more");
  expect(figureProblem("Infinity", 0)).toContain("not a number");
});
