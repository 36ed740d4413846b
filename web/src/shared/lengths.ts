import type { PlanAnalysis } from "~/api/client";

/** The lengths of a change-over, to choose from. */
export function lengthsOf(schedules: PlanAnalysis["schedules"]): { id: string; label: string }[] {
  return [
    { id: "0", label: "at once" },
    ...schedules.map((s) => ({ id: String(s.days), label: `over ${s.days} days, ${s.name}` })),
  ];
}
