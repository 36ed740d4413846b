import { describe, expect, it } from "vitest";
import type { Answer } from "~/api/client";
import { lineOf } from "../editor";
import { change } from "../made.test-support";
import { aimed, summary, surely, unpricedIn } from "./Cards";
import { rowsOf } from "./ChangesTable";
import { changesOf } from "./useProposals";

function answer(of: Partial<Answer>): Answer {
  return {
    id: "nearest",
    name: "Nearest",
    words: "",
    state: "met",
    changes: [],
    distance: 0.134,
    supplements: 2,
    cost: null,
    unpriced: 0,
    holds: null,
    stands: null,
    levels: {},
    ...of,
  } as Answer;
}

const lines = ["rice", "beef"].map((name) =>
  lineOf({ food: `own:${name}`, name, text: "100 g", methods: [] }),
);
const rice = change({ line: 0, food: "own:rice", kind: "changed", after: "80 g" });
const zinc = change({ food: "supp:zinc", name: "Zinc", kind: "added", after: "1/2 tablet" });
const salt = change({ food: "supp:salt", name: "Salt", kind: "added", after: "1/4 tsp" });

describe("answers beside each other", () => {
  const one = answer({ changes: [rice, change({ line: 1, food: "own:beef" }), zinc] });
  const two = answer({ id: "fewest", changes: [change({ line: 0, kind: "removed" }), salt] });

  it("have a row for every line and for what the chosen one adds", () => {
    const rows = rowsOf(lines, [one, two], 0);
    expect(rows.map((row) => row.name)).toEqual(["rice", "beef", "Zinc"]);
    expect(rows[0]?.in.map((c) => c?.kind)).toEqual(["changed", "removed"]);
    // What the other does not name it does not hold.
    expect(rows[2]?.in.map((c) => c?.after)).toEqual(["1/2 tablet", undefined]);
    expect(rowsOf(lines, [one, two], 1).map((row) => row.name)).toEqual(["rice", "beef", "Salt"]);
  });

  it("count what changes, not what is kept", () => {
    expect(changesOf(one)).toEqual([rice, zinc]);
  });
});

describe("a card", () => {
  it("says what it is made of, and a price only where one is known", () => {
    expect(summary(answer({}))).toMatch(/^2 supplements, 13\s%\sfrom other foods$/u);
    const all = summary(answer({ supplements: 1, cost: 1.5, cost_at_most: 1.5 }));
    expect(all).toMatch(/^1 supplement, .*1\.50 a day$/);
    const some = summary(answer({ supplements: 1, cost: 1.5, unpriced: 3, cost_at_most: 2.25 }));
    expect(some).toMatch(/1\.50 to .*2\.25 a day$/);
    expect(unpricedIn(answer({ cost: 1.5, unpriced: 3 }))).toMatch(/^3 of its foods have no price/);
    expect(unpricedIn(answer({ cost: 1.5 })) + unpricedIn(answer({ unpriced: 3 }))).toBe("");
  });

  it("says what it aims at, what it misses, and what that costs beside the first", () => {
    const aim = { target: 0.95, missed: ["Copper"], grams: 33.4, supplements: -1, cost: 0.31 };
    expect(aimed(aim)).toMatch(
      /^each limit in 95 of 100 batches, but for copper; a day 33 g more, 1 supplement less, .*0\.31 more than the first$/i,
    );
    expect(aimed({ target: 0.9, missed: [], grams: 0.2, supplements: 0, cost: null })).toBe(
      "each limit in 90 of 100 batches",
    );
  });

  it("says how surely, and of how many limits where some are open", () => {
    const weakest = { key: "ZN", name: "Zinc", share: 0.84 };
    const holds = { share: 0.47, limits: 40, open_limits: 0, batches: 400, weakest };
    expect(surely(answer({ holds }))).toBe(
      "holds in 47 of 100 batches if nothing is left out; weakest Zinc, 84",
    );
    expect(surely(answer({ holds: { ...holds, open_limits: 3, weakest: null } }))).toBe(
      "holds in 47 of 100 batches if nothing is left out, of the 40 limits it meets",
    );
    expect(surely(answer({}))).toBe("");
  });
});
