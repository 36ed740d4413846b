import { describe, expect, it } from "vitest";
import { Draft } from "~/shared/saving/draft";
import type { Fields } from "~/shared/saving/fields";
import { type Action, contentOf, editsOf, lineOf, sentLine } from "./editor";

/** A bench whose recipe is stored as soon as it is sent, without a server. */
function bench(...names: string[]) {
  const rows = names.map((name) =>
    lineOf({ food: `own:${name}`, name, text: "100 g", methods: [] }),
  );
  const stored: Fields = {
    covers_days: 1,
    lines: Object.fromEntries(rows.map((line) => [line.key, sentLine(line)])),
    order: rows.map((line) => line.key),
  };
  const draft = new Draft<Fields>({
    stored: () => stored,
    fieldsOf: (record) => record,
    tables: ["lines"],
    send: () => new Promise(() => undefined),
    onSaved: () => undefined,
    onElsewhere: () => undefined,
    onGone: () => undefined,
    keep: () => undefined,
  });
  const content = () =>
    contentOf(draft.view(), (food) => ({ name: food.replace("own:", ""), methods: [] }));
  return {
    draft,
    content,
    names: () =>
      content()
        .lines.map((line) => line.name)
        .join(" "),
    key: (at: number) => content().lines[at]?.key ?? "",
    text: (at: number) => content().lines[at]?.text,
    act: (action: Action) => {
      const { edits, options } = editsOf(content(), action);
      draft.change(edits, options);
    },
  };
}

const fresh = (name: string, text = "100 g") =>
  lineOf({ food: `own:${name}`, name, text, methods: [] });

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
    expect(sentLine(full)).toEqual({
      food: "usda:05062",
      quantity: "180 g",
      preparation: "simmered",
      override: "the vet agrees",
      note: "no skin",
    });
  });
});

describe("undo", () => {
  it("takes back typing in one box as one step, and redo brings it again", () => {
    const on = bench("rice");
    for (const text of ["1", "12", "120 g"]) on.act({ type: "text", key: on.key(0), text });
    on.draft.leave();
    expect(on.text(0)).toBe("120 g");
    on.draft.undo();
    expect(on.text(0)).toBe("100 g");
    on.draft.redo();
    expect(on.text(0)).toBe("120 g");
  });

  it("takes typing in the same box apart once the box was left", () => {
    const on = bench("rice");
    on.act({ type: "text", key: on.key(0), text: "120 g" });
    on.draft.leave();
    on.act({ type: "text", key: on.key(0), text: "130 g" });
    on.draft.undo();
    expect(on.text(0)).toBe("120 g");
  });

  it("takes a new line back after its amounts, and brings them again", () => {
    const on = bench("rice");
    const egg = fresh("egg", "3");
    on.act({ type: "add", line: egg });
    on.act({ type: "text", key: egg.key, text: "3 large" });
    on.draft.undo();
    expect(on.text(1)).toBe("3");
    on.draft.undo();
    expect(on.names()).toBe("rice");
    on.draft.redo();
    on.draft.redo();
    expect(on.names()).toBe("rice egg");
    expect(on.text(1)).toBe("3 large");
  });

  it("brings a line back to its place", () => {
    const on = bench("rice", "egg", "pea");
    on.act({ type: "remove", key: on.key(1) });
    expect(on.names()).toBe("rice pea");
    on.draft.undo();
    expect(on.names()).toBe("rice egg pea");
  });

  it("forgets what was undone once something else is done", () => {
    const on = bench("rice");
    on.act({ type: "add", line: fresh("egg") });
    on.draft.undo();
    on.act({ type: "add", line: fresh("pea") });
    on.draft.redo();
    expect(on.names()).toBe("rice pea");
  });

  it("takes a proposal back as one step", () => {
    const on = bench("rice", "egg", "pea");
    const [rice, , pea] = on.content().lines;
    if (!rice || !pea) throw new Error("three lines");
    const lines = [pea, { ...rice, text: "80 g" }, fresh("zinc", "1/2 tablet")];
    on.act({ type: "apply", lines, keepAs: "before the proposal" });
    expect(on.names()).toBe("pea rice zinc");
    on.draft.undo();
    expect(on.names()).toBe("rice egg pea");
    expect(on.text(0)).toBe("100 g");
  });
});

describe("order", () => {
  it("moves a line within the list and not out of it", () => {
    const on = bench("a", "b", "c");
    on.act({ type: "move", key: on.key(0), by: 1 });
    expect(on.names()).toBe("b a c");
    on.act({ type: "move", key: on.key(1), by: 5 });
    expect(on.names()).toBe("b a c");
  });
});
