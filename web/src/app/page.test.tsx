import { Suspense } from "react";
import { renderToString } from "react-dom/server";
import { expect, test } from "vitest";
import { coded } from "./page";

const shown = (Page: React.ComponentType) =>
  renderToString(
    <Suspense fallback="it loads">
      <Page />
    </Suspense>,
  );

test("a page whose code is there is drawn at once; another one says that it loads", async () => {
  const Desk = coded(() => Promise.resolve({ default: () => <p>the desk</p> }));
  expect(shown(Desk)).toContain("it loads");
  await Desk.ahead();
  expect(shown(Desk)).toBe("<!--$--><p>the desk</p><!--/$-->");
});

test("code that cannot be fetched is asked for again where the page is shown", async () => {
  let asked = 0;
  const Desk = coded((): Promise<{ default: () => string }> => {
    asked += 1;
    return Promise.reject(new Error("no network"));
  });
  await expect(Desk.ahead()).rejects.toThrow("no network");
  shown(Desk);
  expect(asked).toBe(2);
});
