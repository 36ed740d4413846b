import { beforeEach, describe, expect, it } from "vitest";
import { ApiError, type Cook } from "~/api/client";
import { Memory } from "./memory";
import { sendAll, unsentOf } from "./unsent";

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

describe("sending what waits", () => {
  const taken = { number: 1 } as unknown as Cook;

  async function sent(answer: (keys: string[]) => number) {
    const unsent = unsentOf("12", new Memory());
    for (const key of ["one", "two", "three"]) unsent.add(entry(key));
    const asked: string[][] = [];
    const said: string[] = [];
    await sendAll(
      unsent,
      async (entries) => {
        const keys = entries.map((e) => e.key);
        asked.push(keys);
        const status = answer(keys);
        if (status !== 200) throw new ApiError(status, "", `no: ${status}`, null);
        return taken;
      },
      {
        taken: () => said.push("taken"),
        refused: (e) => said.push(`refused ${e.key}`),
        away: () => said.push("away"),
      },
    );
    return { asked, said, left: unsent.all().map((e) => e.key) };
  }

  it("takes one request for all of it", async () => {
    const { asked, said, left } = await sent(() => 200);
    expect(asked).toEqual([["one", "two", "three"]]);
    expect([said, left]).toEqual([["taken"], []]);
  });

  it("leaves out only what is refused", async () => {
    const { asked, said, left } = await sent((keys) => (keys.includes("two") ? 400 : 200));
    expect(asked).toEqual([["one", "two", "three"], ["one"], ["two"], ["three"]]);
    expect(said).toEqual(["taken", "refused two", "taken"]);
    expect(left).toEqual([]);
  });

  it("keeps all of it when the server does not answer", async () => {
    for (const status of [0, 401, 403, 429, 500, 503]) {
      const { said, left } = await sent(() => status);
      expect([said, left]).toEqual([["away"], ["one", "two", "three"]]);
    }
  });
});
