/** How the recipe is drawn above the lines. */
export type View = "wall" | "table" | "lines" | "balance";

export const VIEWS: { id: View; label: string }[] = [
  { id: "wall", label: "Wall" },
  { id: "table", label: "Table" },
  { id: "lines", label: "By ingredient" },
  { id: "balance", label: "Balance" },
];

/** What stands beside the lines. */
export type Side = "detail" | "adjust" | "versions";

export const SIDES: { id: Side; label: string }[] = [
  { id: "detail", label: "Detail" },
  { id: "adjust", label: "Adjust" },
  { id: "versions", label: "Versions" },
];
