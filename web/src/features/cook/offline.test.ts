import { describe, expect, it } from "vitest";
import type { Cook } from "~/api/client";
import { Memory } from "./memory";
import { batchKept, forgetAllBatches, forgetBatch, keepBatch } from "./offline";

const cook = (number: number) => ({ number }) as Cook;

describe("a batch that is kept here", () => {
  it("is the last one told", () => {
    const store = new Memory();
    expect(batchKept("7", store)).toBeUndefined();
    keepBatch("7", cook(1), store);
    keepBatch("7", cook(2), store);
    keepBatch("8", cook(5), store);
    expect(batchKept("7", store)?.number).toBe(2);
    forgetBatch("7", store);
    expect(batchKept("7", store)).toBeUndefined();
    expect(batchKept("8", store)?.number).toBe(5);
  });

  it("does not fill the browser, and is gone with whoever signs out", () => {
    const store = new Memory();
    store.setItem("wainscot-cook/7/e-1", "{}");
    for (let i = 0; i < 12; i++) keepBatch(String(i), cook(i), store);
    const kept = () => [...Array(12).keys()].filter((i) => batchKept(String(i), store));
    expect(kept()).toHaveLength(5);
    expect(kept()).toContain(11);
    forgetAllBatches(store);
    expect(kept()).toHaveLength(0);
    // What is not sent yet is not a copy: it stays.
    expect(store.getItem("wainscot-cook/7/e-1")).toBe("{}");
  });

  it("may be unreadable", () => {
    const store = new Memory();
    store.setItem("wainscot-cook-batch/7", "{half");
    expect(batchKept("7", store)).toBeUndefined();
    keepBatch("8", cook(1), store);
    expect(batchKept("8", store)?.number).toBe(1);
  });
});
