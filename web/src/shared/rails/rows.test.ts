import { expect, test } from "vitest";
import { byPanel, stepped } from "./rows";

const ROWS = [
  { key: "protein", group: "energy" },
  { key: "arg", group: "amino" },
  { key: "lys", group: "amino" },
  { key: "ca", group: "minerals" },
];

test.each([
  ["ArrowDown", "arg", "lys"],
  ["ArrowDown", "ca", "ca"],
  ["ArrowUp", "protein", "protein"],
  ["ArrowRight", "protein", "arg"],
  ["ArrowRight", "ca", "ca"],
  ["ArrowLeft", "lys", "protein"],
  ["Home", "lys", "protein"],
  ["End", "arg", "ca"],
  ["x", "arg", undefined],
])("%s leads from %s to %s", (key, from, to) => {
  expect(stepped(key, ROWS, from)).toBe(to);
});

test("rows stand panel by panel", () => {
  const mixed = [ROWS[0], ROWS[1], ROWS[3], ROWS[2]].filter((x) => x !== undefined);
  expect(byPanel(mixed).map((x) => x.key)).toEqual(["protein", "arg", "lys", "ca"]);
});
