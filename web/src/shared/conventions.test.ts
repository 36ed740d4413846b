import { afterEach, expect, it } from "vitest";
import table from "../../../tests/fixtures/conventions.csv?raw";
import { type Conventions, DEFAULT, setConventions } from "./conventions";
import * as written from "./format";

afterEach(() => setConventions(DEFAULT));

/** The table that the core is held to too. */
const ROWS = table
  .trim()
  .split("\n")
  .slice(1)
  .map((line) => [...line.matchAll(/(?:^|,)(?:"([^"]*)"|([^,]*))/g)].map((m) => m[1] ?? m[2] ?? ""))
  .map(([what = "", conventions = "", value = "", expected = ""]) => ({
    what,
    conventions,
    value,
    expected,
  }));

const AMERICAN = { fibre: "fiber", sulphate: "sulfate", ug: "µg" };
const BRITISH = { yogurt: "yoghurt", fiber: "fibre", ug: "µg" };

const figure = (text: string) => (text === "" ? null : Number(text));

const WRITE: Record<string, (value: string) => string> = {
  share: (value) => written.percent(figure(value)),
  body: (value) => written.bodyWeight(figure(value)),
  food: (value) => written.foodWeight(Number(value)),
  both: (value) => written.bothWeights(Number(value)),
  temperature: (value) => written.temperature(Number(value)),
  day: (value) => written.day(value),
  longday: (value) => written.day(value, true),
  when: written.when,
  money: (value) => written.money(figure(value)),
  told: written.told,
  spelled: written.spelled,
};

it("reads the table", () => {
  expect(ROWS.length).toBeGreaterThan(50);
});

it.each(ROWS)("writes $what $value ($conventions) as $expected", (row) => {
  const said = Object.fromEntries(
    row.conventions.split(";").flatMap((pair) => (pair ? [pair.split("=")] : [])),
  ) as Partial<Conventions>;
  const words = said.spelling === "american" ? AMERICAN : BRITISH;
  setConventions({ ...DEFAULT, ...said, words });
  const [kind = "", decimals = "0"] = row.what.split(":");
  const found =
    kind === "number"
      ? written.number(figure(row.value), Number(decimals))
      : WRITE[kind]?.(row.value);
  expect(found?.replaceAll("\u202f", " ")).toBe(row.expected.replaceAll("\u202f", " "));
});
