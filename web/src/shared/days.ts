/** Days as the boxes have them: 2026-11-29. */

const MS_OF_A_DAY = 86_400_000;

/** Today, here. */
export function today(): string {
  const now = new Date();
  const two = (n: number) => String(n).padStart(2, "0");
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}

/** A date as a count of days. */
export function dayNumber(date: string): number {
  return Date.parse(`${date}T00:00:00Z`) / MS_OF_A_DAY;
}

/** The date of a count of days. */
export function dateOf(n: number): string {
  return new Date(n * MS_OF_A_DAY).toISOString().slice(0, 10);
}
