import { beforeEach, describe, expect, it } from "vitest";
import { Memory } from "./memory";
import { unsentOf } from "./unsent";

const entry = (key: string, grams = 5) => ({ key, kind: "weighed" as const, line: 0, grams });

describe("what is not sent yet", () => {
  let store: Memory;
  beforeEach(() => {
    store = new Memory();
  });

  it("stays in the order in which it was put down", () => {
    const unsent = unsentOf("12", store);
    for (const key of ["zz-first", "mm-second", "aa-third"]) unsent.add(entry(key));
    expect(unsent.all().map((e) => e.key)).toEqual(["zz-first", "mm-second", "aa-third"]);
  });

  it("is shared by tabs, and none takes away what another put down", () => {
    const one = unsentOf("12", store);
    const other = unsentOf("12", store);
    one.add(entry("from-one"));
    other.add(entry("from-other"));
    one.drop("from-one");
    expect(one.all().map((e) => e.key)).toEqual(["from-other"]);
  });

  it("is that of one batch, and passes over what it cannot read", () => {
    const mine = unsentOf("12", store);
    unsentOf("123", store).add(entry("of-another"));
    store.setItem("wainscot-cook/12/broken", "{");
    store.setItem("something-else", "1");
    mine.add(entry("mine-alone"));
    expect(mine.all().map((e) => e.key)).toEqual(["mine-alone"]);
  });
});
