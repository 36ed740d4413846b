import type { ReactNode } from "react";
import { type Conventions, setConventions } from "./conventions";

/** What stands inside is written by these conventions. Every page stands in one of these: in that of the
 * practice, or in that of a client. */
export function Written({ by, children }: { by: Conventions; children: ReactNode }) {
  // Before anything inside is drawn.
  setConventions(by);
  return children;
}
