/** The tone that stands for every food after the eighth. */
export const OTHERS = "w8";

const WOODS = 8;
const INLAYS = 4;

interface Ingredient {
  food: string;
  supplement: boolean;
  kcal: number | null;
}

/** What each food is drawn in: as the recipe has it; what it does not have yet, because it is not stored, is
 * given the first tone that nothing has, as the server will. */
export function tonesOf(
  known: Readonly<Record<string, string>>,
  ingredients: readonly Ingredient[],
): Readonly<Record<string, string>> {
  const found: Record<string, string> = { ...known };
  const fresh = ingredients
    .filter((i) => found[i.food] === undefined)
    .sort((a, b) => (b.kcal ?? 0) - (a.kcal ?? 0));
  for (const { food, supplement } of fresh) {
    if (found[food] !== undefined) continue;
    const count = supplement ? INLAYS : WOODS;
    const names = Array.from({ length: count }, (_, n) => `${supplement ? "i" : "w"}${n}`);
    const had = new Set(Object.values(found));
    const last = supplement ? `i${INLAYS - 1}` : OTHERS;
    found[food] = names.find((name) => !had.has(name)) ?? last;
  }
  return found;
}

/** Where a tone lies in a board: the lower the nearer to the floor. */
export function layer(tone: string): number {
  return (tone.startsWith("i") ? 100 : 0) + Number(tone.slice(1));
}
