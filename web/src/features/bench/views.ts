/** How the recipe is drawn above the lines. */
export type View = "wall" | "table" | "lines" | "balance" | "robust";

export const VIEWS: { id: View; label: string }[] = [
  { id: "wall", label: "Wall" },
  { id: "table", label: "Table" },
  { id: "lines", label: "By ingredient" },
  { id: "balance", label: "Balance" },
  { id: "robust", label: "In a kitchen" },
];

/** Where there is no room for all of the bench, one part of it is shown. */
export type Pane = "recipe" | "wall" | "side";

export const PANES: { id: Pane; label: string }[] = [
  { id: "recipe", label: "Recipe" },
  { id: "wall", label: "Wall" },
  { id: "side", label: "Adjust" },
];

/** What stands beside the lines. */
export type Side = "detail" | "adjust" | "versions";

export const SIDES: { id: Side; label: string }[] = [
  { id: "detail", label: "Detail" },
  { id: "adjust", label: "Adjust" },
  { id: "versions", label: "Versions" },
];
