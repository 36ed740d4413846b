import { describe, expect, it } from "vitest";
import type { Job } from "~/api/client";
import { lineOf } from "./editor";
import { change } from "./made.test-support";
import { askedOf, changeKey, hasBadFigures, NO_RULE, START, withChanges } from "./useAdjust";

const lines = ["rice", "beef", "pea"].map((name) =>
  lineOf({ food: `own:${name}`, name, text: "100 g", methods: [], note: `note of ${name}` }),
);
const changes = [
  change({ line: 0, kind: "changed", after: "80 g" }),
  change({ line: 1, kind: "removed" }),
  change({ line: 2, kind: "kept" }),
  change({ food: "supp:zinc", name: "Zinc", kind: "added", after: "1/2 tablet" }),
];

describe("accepting a proposal", () => {
  it("makes every chosen change and leaves the rest of a line alone", () => {
    const made = withChanges(lines, changes, new Set(changes.map(changeKey)));
    expect(made.map((l) => `${l.name} ${l.text}`)).toEqual([
      "rice 80 g",
      "pea 100 g",
      "Zinc 1/2 tablet",
    ]);
    expect(made[0]?.note).toBe("note of rice");
    expect(made[0]?.key).toBe(lines[0]?.key);
  });

  it("makes only what was chosen", () => {
    const made = withChanges(lines, changes, new Set(["0"]));
    expect(made.map((l) => `${l.name} ${l.text}`)).toEqual([
      "rice 80 g",
      "beef 100 g",
      "pea 100 g",
    ]);
  });

  it("changes nothing when nothing is chosen", () => {
    expect(withChanges(lines, changes, new Set())).toEqual(lines);
  });
});

describe("a run that was left", () => {
  const job = (of: { quantity?: string; food?: string }[]): Job => ({
    job: "x",
    state: "running",
    done: 0,
    of: 0,
    label: "",
    result: null,
    lines: of.map((line, i) => ({
      food: lines[i]?.food ?? "",
      quantity: "100 g",
      note: "",
      preparation: "",
      override: "",
      ...line,
    })),
  });

  it("is of these lines when foods, amounts and order are the same", () => {
    expect(askedOf(job([{}, {}, {}]), lines)).toBe(true);
  });

  it("is of others when an amount, a food or the number of lines differs", () => {
    expect(askedOf(job([{}, { quantity: "90 g" }, {}]), lines)).toBe(false);
    expect(askedOf(job([{}, { food: "own:pea" }, {}]), lines)).toBe(false);
    expect(askedOf(job([{}, {}]), lines)).toBe(false);
  });
});

describe("figures of the settings", () => {
  it("may be left empty and may have a comma", () => {
    expect(hasBadFigures(START)).toBe(false);
    expect(hasBadFigures({ ...START, margin: "2,5", maxSupplements: "" })).toBe(false);
  });

  it("are said to be bad when they are no numbers, those of a line too", () => {
    expect(hasBadFigures({ ...START, margin: "ten" })).toBe(true);
    expect(hasBadFigures({ ...START, rules: { a: { ...NO_RULE, low: "5 g" } } })).toBe(true);
  });
});
