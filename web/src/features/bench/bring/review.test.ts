import { describe, expect, it } from "vitest";
import type { Review, ReviewLine } from "~/api/client";
import {
  type Action,
  isGoing,
  lastTouched,
  linesOf,
  NOTHING,
  nextOpen,
  reduce,
  type State,
  shownOf,
} from "./review";

const stand = (food: string, quantity: string) => ({
  food,
  name: food,
  grams: Number.parseFloat(quantity),
  quantity,
  preparation: "",
  methods: [],
  words: "",
  confidence: 1,
  credible: true,
});

function line(text: string, more: Partial<ReviewLine> = {}): ReviewLine {
  const choices = [stand(text, "100 g"), stand(`other ${text}`, "50 g")];
  return {
    begin: 0,
    end: text.length,
    text,
    kind: "ingredient",
    choices,
    named: true,
    quantity: "100 g",
    low_grams: 90,
    high_grams: 110,
    guessed: [],
    doubts: [],
    question: `“${text}”?`,
    ...more,
  };
}

const review = (...lines: ReviewLine[]): Review => ({
  text: lines.map((l) => l.text).join("\n"),
  lines,
  days: 1,
  days_told: false,
  feeding: "",
  warnings: [],
});

const read = (...lines: ReviewLine[]): State =>
  reduce(NOTHING, { type: "read", review: review(...lines), typed: false });

const key = (state: State, text: string) => state.stretches.find((s) => s.text === text)?.key ?? "";

const all = (state: State, ...actions: Action[]) => actions.reduce(reduce, state);

describe("a text that is looked at", () => {
  it("gives nothing to the bench before somebody took it", () => {
    expect(linesOf(read(line("rice"), line("oil")).stretches)).toEqual([]);
  });

  it("takes what is whole alone, with the owner's words as its note", () => {
    const begun = read(line("rice"), line("salt", { quantity: "" }), line("?", { named: false }));
    const keys = begun.stretches.map((s) => s.key);
    const after = reduce(begun, { type: "decide", keys, decision: "taken" });
    expect(linesOf(after.stretches).map((l) => [l.food, l.text, l.note])).toEqual([
      ["rice", "100 g", "rice"],
    ]);
    expect(after.stretches.map((s) => s.decision)).toEqual(["taken", "open", "open"]);
  });

  it("goes back step by step, typing in one box being one", () => {
    const begun = read(line("rice"));
    const rice = key(begun, "rice");
    const typed = all(
      begun,
      { type: "quantity", key: rice, quantity: "2" },
      { type: "quantity", key: rice, quantity: "25 g" },
      { type: "choose", key: rice, at: 1 },
    );
    expect(typed.stretches[0]?.quantity).toBe("50 g");
    expect(lastTouched(typed)).toBe(rice);
    const once = reduce(typed, { type: "undo" });
    expect(once.stretches[0]?.quantity).toBe("25 g");
    const twice = reduce(once, { type: "undo" });
    expect(twice.stretches[0]?.quantity).toBe("100 g");
    expect(reduce(twice, { type: "redo" }).stretches[0]?.quantity).toBe("25 g");
  });

  it("keeps what was decided when the text is read anew, and amounts follow the days unless typed", () => {
    const begun = read(line("rice"), line("oil"));
    const decided = all(
      begun,
      { type: "quantity", key: key(begun, "oil"), quantity: "7 g" },
      { type: "decide", keys: [key(begun, "rice")], decision: "out", reason: "no more" },
    );
    const twice = [stand("rice", "200 g")];
    const again = reduce(decided, {
      type: "read",
      review: review(line("egg"), line("oil"), line("rice", { choices: twice })),
      typed: true,
    });
    expect(again.stretches.map((s) => [s.text, s.decision, s.quantity])).toEqual([
      ["egg", "open", "100 g"],
      ["oil", "open", "7 g"],
      ["rice", "out", "200 g"],
    ]);
    expect(again.stretches[1]?.key).toBe(key(begun, "oil"));
  });

  it("puts what was reworded in its place, and does not lose what stands beside", () => {
    const begun = read(line("rice"), line("carrots and peas"), line("oil"));
    const ordered = reduce(begun, {
      type: "order",
      order: ["carrots and peas", "oil", "rice"].map((text) => key(begun, text)),
      sure: [],
    });
    const parted = reduce(ordered, {
      type: "reword",
      keys: [key(begun, "carrots and peas")],
      review: review(line("carrots"), line("peas")),
    });
    expect(parted.stretches.map((s) => s.text)).toEqual(["rice", "carrots", "peas", "oil"]);
    expect(shownOf(parted).map((s) => s.text)).toEqual(["carrots", "peas", "oil", "rice"]);
    expect(reduce(parted, { type: "undo" }).stretches).toHaveLength(3);
  });

  it("shows those without a place last, and goes on around the end", () => {
    const begun = read(line("rice"), line("oil"), line("egg"));
    const ordered = reduce(begun, {
      type: "order",
      order: [key(begun, "oil"), key(begun, "rice")],
      sure: [],
    });
    const shown = shownOf(ordered);
    expect(shown.map((s) => s.text)).toEqual(["oil", "rice", "egg"]);
    expect(nextOpen(shown, key(begun, "egg"))?.text).toBe("oil");
  });

  it("makes a line of what was none when somebody wants it", () => {
    const begun = read(
      line("some jerky", { kind: "note", choices: [], named: false }),
      line("oil"),
    );
    expect(shownOf(begun)).toHaveLength(1);
    const used = reduce(begun, { type: "use", key: key(begun, "some jerky") });
    expect(shownOf(used).map((s) => s.text)[0]).toBe("some jerky");
  });

  it("ends with what the owner was asked, what was taken being on the bench", () => {
    const begun = read(line("rice"), line("oil"));
    const decided = all(
      begun,
      { type: "decide", keys: [key(begun, "rice")], decision: "taken" },
      { type: "decide", keys: [key(begun, "oil")], decision: "asked" },
      { type: "finish" },
    );
    expect(decided.stretches.map((s) => s.decision)).toEqual(["done", "asked"]);
    expect(decided.stretches.filter(isGoing).map((s) => s.text)).toEqual(["oil"]);
    expect(linesOf(decided.stretches)).toEqual([]);
    const answered = all(
      decided,
      { type: "decide", keys: [key(begun, "oil")], decision: "taken" },
      { type: "finish" },
    );
    expect(answered.stretches).toEqual([]);
  });
});
