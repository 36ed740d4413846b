import { useOutletContext } from "react-router";
import type { Case } from "~/api/client";

/** The case whose frame this page stands in. */
export function useCase(): Case {
  return useOutletContext<Case>();
}
