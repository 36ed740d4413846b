import type { ReactNode } from "react";
import { Stale } from "~/shared/states";
import { useLasting } from "~/shared/useLasting";
import type { Saving } from "./useDraft";

/** A change that is stored within this is not announced. */
const PATIENCE_MS = 400;

/** Figures that are computed from what is stored: grey, with the reason, while something else stands in the
 * boxes. */
export function StaleWhile({ saving, children }: { saving: Saving; children: ReactNode }) {
  const { pending, errors, collisions, unreachable } = saving.state;
  const stale = useLasting(pending.length > 0, PATIENCE_MS);
  const why = unreachable
    ? "the server cannot be reached"
    : Object.keys(errors).length > 0 || collisions.length > 0
      ? "a change is not stored"
      : "a change is on its way";
  return <Stale why={stale ? `for what was stored before: ${why}` : ""}>{children}</Stale>;
}
