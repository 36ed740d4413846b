import { describe, expect, it } from "vitest";
import { fillOf, spans } from "./fill";

const part = (line: number, share: number, tone: string) => ({ line, share, tone });

/** Every colour by the name of its variable. */
const named = (variable: string) => `var(${variable})`;

describe("a fill", () => {
  it("gives each ingredient its share of what is drawn, without a gap", () => {
    const found = spans([part(3, 0.3, "w0"), part(1, 0.5, "w3"), part(0, 0.2, "i0")]);
    expect(found.map(({ from, to }) => [from, to].map((x) => Math.round(x * 100)))).toEqual([
      [0, 30],
      [30, 80],
      [80, 100],
    ]);
  });

  it("is filled to its end where thin shares were left out", () => {
    const found = spans([part(0, 0.4, "w0"), part(1, 0.4, "w1")]);
    expect(found.at(-1)?.to).toBeCloseTo(1);
  });

  it("puts a grain where its ingredient lies, counted from the top where boards stand", () => {
    const lines = [part(0, 0.25, "w0"), part(1, 0.5, "w3"), part(2, 0.25, "i0")];
    // A quarter free above, a quarter below: the middle.
    expect(fillOf(lines, true, null, named).background).toContain(
      "var(--figure-w3) 0 50.0% / 100% 50.0%",
    );
    const atFloor = [part(1, 0.5, "w3"), part(2, 0.5, "i0")];
    expect(fillOf(atFloor, true, null, named).background).toContain("0 100.0% / 100% 50.0%");
    expect(fillOf(atFloor, false, null, named).background).toContain("0.0% 0 / 50.0% 100%");
  });

  it("draws neighbours of one tone as one piece, but for the line that is looked at", () => {
    const lines = [part(0, 0.2, "w0"), part(1, 0.3, "w8"), part(2, 0.1, "w8"), part(3, 0.4, "w0")];
    const stops = (lit: number | null) =>
      String(fillOf(lines, true, lit, named).background).match(/--tone-w8/g)?.length;
    expect([stops(null), stops(0), stops(1), stops(2)]).toEqual([1, 1, 2, 2]);
    const { background } = fillOf(lines, true, null, named);
    expect(background).toContain("var(--tone-w8) 20.0% 59.4%");
  });

  it("lets the others step back while one line is looked at", () => {
    const lines = [part(0, 0.5, "w0"), part(1, 0.5, "w3")];
    const { background } = fillOf(lines, true, 0, named);
    expect(background).toContain("color-mix(in srgb, var(--tone-w3) 30%");
    expect(background).not.toContain("color-mix(in srgb, var(--tone-w0)");
    expect(background).not.toContain("--figure-w3");
  });
});
