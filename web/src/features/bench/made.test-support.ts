import type { Change } from "~/api/client";

/** A change as tests make it. */
export function change(of: Partial<Change>): Change {
  return {
    line: null,
    food: "own:x",
    name: "X",
    kind: "kept",
    before_grams: 0,
    after_grams: 0,
    before: "",
    after: "",
    why: "",
    needs: [],
    least: "",
    without: "",
    kcal: 0,
    methods: [],
    ...of,
  };
}
