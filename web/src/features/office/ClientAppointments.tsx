import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { Button } from "~/ui";
import { AppointmentDialog } from "./AppointmentDialog";
import { AppointmentList } from "./Appointments";

/** When one meets an owner: what is ahead, and what was. */
export function ClientAppointments({
  id,
  dogs,
}: {
  id: number;
  dogs: readonly { case: number; name: string }[];
}) {
  const [making, setMaking] = useState(false);
  const found = useQuery({
    queryKey: keyOf("appointments", id),
    queryFn: () => take(api.GET("/api/clients/{id}/appointments", { params: { path: { id } } })),
  });
  const every = found.data?.appointments ?? [];
  return (
    <section className="mb-6" aria-label="Appointments">
      <div className="flex items-center gap-3 border-line border-b pb-1">
        <h2>Appointments</h2>
        {dogs.length > 0 && (
          <Button small className="ml-auto" onClick={() => setMaking(true)}>
            New appointment
          </Button>
        )}
      </div>
      {found.isPending ? (
        <Loading what="the appointments" />
      ) : found.error ? (
        <Problem what="the appointments" error={found.error} retry={() => found.refetch()} />
      ) : every.length === 0 ? (
        <p className="py-1.5 text-soft">None yet. What is ahead stands on the desk as well.</p>
      ) : (
        <AppointmentList found={every} />
      )}
      {making && <AppointmentDialog dogs={dogs} onClose={() => setMaking(false)} />}
    </section>
  );
}
