import { QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { Cache } from "./cache";

/** A question whose answers come when the test says so. */
function asked(key: readonly unknown[]) {
  const cache = new Cache();
  const answers: ((words: string) => void)[] = [];
  const observer = new QueryObserver(cache, {
    queryKey: key,
    queryFn: () => new Promise<string>((resolve) => answers.push(resolve)),
    retry: false,
  });
  observer.subscribe(() => {});
  const settled = async () => {
    for (let i = 0; i < 10; i++) await Promise.resolve();
  };
  return { cache, answers, data: () => cache.getQueryData(key), settled };
}

test("a first answer that was asked before a change is asked anew", async () => {
  const { cache, answers, data, settled } = asked(["sheets", 1]);
  expect(answers).toHaveLength(1);
  void cache.invalidateQueries({ queryKey: ["sheets"] });
  await settled();
  expect(answers).toHaveLength(2);
  answers[0]?.("before the change");
  await settled();
  expect(data()).toBeUndefined();
  answers[1]?.("after the change");
  await expect.poll(data).toBe("after the change");
});

test("an answer that is on its way does not come over what was put in since", async () => {
  const { cache, answers, data, settled } = asked(["follow", 1]);
  cache.setQueryData(["follow", 1], "stored");
  answers[0]?.("asked before it was stored");
  await settled();
  expect(data()).toBe("stored");
});
