import { describe, expect, it } from "vitest";
import { type BenchLine, type Content, lineOf, reduce, sentLine, startState } from "./editor";

function line(name: string, text = "100 g"): BenchLine {
  return lineOf({ food: `own:${name}`, name, text, methods: [] }, true);
}

function content(...names: string[]): Content {
  return { coversDays: 1, lines: names.map((name) => line(name)) };
}

const names = (of: Content) => of.lines.map((l) => l.name).join(" ");

describe("a line", () => {
  it("is sent with every field it has", () => {
    const full = lineOf({
      food: "usda:05062",
      name: "Chicken",
      text: "180 g",
      methods: [],
      preparation: "simmered",
      override: "the vet agrees",
      note: "no skin",
    });
    expect(sentLine(full, "180 g")).toEqual({
      food: "usda:05062",
      quantity: "180 g",
      preparation: "simmered",
      override: "the vet agrees",
      note: "no skin",
    });
  });

  it("has no accepted amount until it was read", () => {
    expect(lineOf({ food: "f", name: "F", text: "some", methods: [] }).quantity).toBe("");
  });
});

describe("undo", () => {
  it("takes back typing in one box as one step, and redo brings it again", () => {
    let state = startState(content("rice"));
    const key = state.present.lines[0]?.key ?? "";
    for (const text of ["1", "12", "120 g"]) {
      state = reduce(state, { type: "text", key, text });
      state = reduce(state, { type: "accept", keys: [key] });
    }
    expect(state.present.lines[0]?.quantity).toBe("120 g");
    state = reduce(state, { type: "undo" });
    expect(state.present.lines[0]?.quantity).toBe("100 g");
    state = reduce(state, { type: "redo" });
    expect(state.present.lines[0]?.quantity).toBe("120 g");
  });

  it("shows what was last computed, not what was half typed", () => {
    let state = startState(content("rice", "egg"));
    const key = state.present.lines[0]?.key ?? "";
    state = reduce(state, { type: "text", key, text: "plen" });
    state = reduce(state, { type: "remove", key: state.present.lines[1]?.key ?? "" });
    state = reduce(state, { type: "undo" });
    expect(names(state.present)).toBe("rice egg");
    expect(state.present.lines[0]?.text).toBe("100 g");
  });

  it("forgets what was undone once something else is done", () => {
    let state = startState(content("rice"));
    state = reduce(state, { type: "add", line: line("egg") });
    state = reduce(state, { type: "undo" });
    state = reduce(state, { type: "add", line: line("pea") });
    expect(reduce(state, { type: "redo" })).toBe(state);
    expect(names(state.present)).toBe("rice pea");
  });
});

describe("order", () => {
  it("moves a line within the list and not out of it", () => {
    let state = startState(content("a", "b", "c"));
    const key = state.present.lines[0]?.key ?? "";
    state = reduce(state, { type: "move", key, by: 1 });
    expect(names(state.present)).toBe("b a c");
    expect(reduce(state, { type: "move", key, by: 5 })).toBe(state);
  });
});
