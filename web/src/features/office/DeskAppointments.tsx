import type { UseQueryResult } from "@tanstack/react-query";
import type { Appointments } from "~/api/client";
import { AppointmentList } from "./Appointments";

/** So many stand above what is due. */
const SHOWN = 6;

/** Whom one meets today and in the two weeks after; nothing where nobody. */
export function DeskAppointments({ found }: { found: UseQueryResult<Appointments> }) {
  if (found.error)
    return (
      <p role="alert" className="mt-3 border-madder stile">
        The appointments cannot be read: {found.error.message}{" "}
        <button type="button" className="underline" onClick={() => found.refetch()}>
          Try again
        </button>
      </p>
    );
  const every = found.data?.appointments ?? [];
  if (every.length === 0) return null;
  return (
    <section aria-label="Appointments" className="mt-4">
      <h2 className="border-ink border-b-2 font-semibold text-part">
        Appointments{" "}
        <span className="font-normal text-soft">{every.filter((a) => !a.off).length || ""}</span>
      </h2>
      <AppointmentList found={every.slice(0, SHOWN)} near />
      {every.length > SHOWN && (
        <details>
          <summary className="cursor-pointer py-1 text-soft">
            {every.length - SHOWN} later in these two weeks
          </summary>
          <AppointmentList found={every.slice(SHOWN)} near />
        </details>
      )}
    </section>
  );
}
