import { useQuery } from "@tanstack/react-query";
import type { Session } from "~/api/client";
import { sessionQuery } from "./queries";

/** Whether who works here does this kind of work; the server refuses it otherwise. */
export function useMay(work: Session["may"][number]): boolean {
  return useQuery(sessionQuery).data?.may.includes(work) ?? false;
}
