/** Changes on their way to the server, and the steps that undo takes back: what they are, and how one follows
 * from another. */

import { type Fields, inside, valueAt, withValue } from "./fields";

export interface FieldChange {
  path: string;
  value: unknown;
  /** What the field stood at when it was changed. */
  was: unknown;
}

export interface Pending extends FieldChange {
  /** Changes of one step are sent together or not at all. */
  step: number;
  /** The name to keep the record under, as it was, before this step is made. */
  keepAs?: string;
  /** The row it lies in, as it was known: it may be taken away elsewhere before this arrives. */
  row?: Row;
}

export interface Row {
  at: string;
  fields: Fields;
}

export interface Collision {
  path: string;
  stored: unknown;
  yours: unknown;
}

export type Outcome<R> =
  | { kind: "saved"; record: R }
  | { kind: "refused"; path: string; message: string }
  | { kind: "collided"; collisions: Collision[] }
  | { kind: "unreachable"; message: string }
  | { kind: "gone"; message: string };

export interface Move {
  path: string;
  from: unknown;
  to: unknown;
}

/** What undo takes back at once. */
export interface Step {
  moves: Move[];
  /** Edits of one box in a row are one step; this names the box. */
  merge: string | null;
}

/** What is kept of a draft while the page is away. */
export interface Kept {
  pending: Pending[];
  past: Step[];
  future: Step[];
  /** What the page needs beside the fields: names of foods that no server has sent with the record yet. */
  beside: Record<string, unknown>;
}

/** Moves of a step with one more: the same place moves on, a place inside one grows with it. */
export function joined(moves: Move[], move: Move): Move[] {
  const at = moves.find((m) => m.path === move.path);
  if (at) return moves.map((m) => (m === at ? { ...m, to: move.to } : m));
  const outer = moves.find((m) => inside(move.path, m.path) !== null && m.to !== null);
  if (outer) {
    const rest = inside(move.path, outer.path) ?? "";
    const to = withValue(outer.to as Fields, rest, move.to);
    return moves.map((m) => (m === outer ? { ...m, to } : m));
  }
  return [...moves, move];
}

/** A change that waits, when something inside what it began from was stored: it begins from that. */
export function rebased(change: Pending, batch: readonly Pending[], now: Fields): Pending {
  let { was } = change;
  for (const { path } of batch) {
    const rest = inside(path, change.path);
    if (rest !== null && was !== null) {
      was = withValue(was as Fields, rest, valueAt(now, path) ?? null);
    }
  }
  return was === change.was ? change : { ...change, was };
}
