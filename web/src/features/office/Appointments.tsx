import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { type Appointment, api, take } from "~/api/client";
import { day, nearDay } from "~/shared/format";
import { forget } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { AppointmentDialog } from "./AppointmentDialog";

/** Appointments day by day, each on a peg at its hour. */
export function AppointmentList({
  found,
  near = false,
}: {
  found: readonly Appointment[];
  /** They are of these weeks: days go by their weekday. */
  near?: boolean;
}) {
  const days = [...new Set(found.map((a) => a.on))];
  return (
    <ul>
      {days.map((on) => (
        <li
          key={on}
          className="grid grid-cols-1 items-baseline gap-x-4 border-line border-b py-1 mid:grid-cols-[11rem_minmax(0,1fr)]"
        >
          <span className="font-semibold">{near ? nearDay(on) : day(on)}</span>
          <ul>
            {found
              .filter((a) => a.on === on)
              .map((a) => (
                <Peg key={a.id} of={a} />
              ))}
          </ul>
        </li>
      ))}
    </ul>
  );
}

function Peg({ of }: { of: Appointment }) {
  const client = useQueryClient();
  const [moving, setMoving] = useState(false);
  const move = useRef<HTMLButtonElement>(null);
  const off = useMutation({
    mutationFn: ({ version, next }: { version: number; next: boolean }) =>
      take(
        api.POST("/api/appointments/{id}/off", {
          params: { path: { id: of.id } },
          body: { off: next, version },
        }),
      ),
    onSuccess: (now) => {
      void forget(client, "appointments");
      move.current?.focus();
      if (now.off)
        notice(`${of.dog}, ${of.what}: called off.`, {
          action: {
            label: "Take it back",
            onClick: () => off.mutate({ version: now.version, next: false }),
          },
        });
    },
    onError: (error) => notice(error.message),
  });
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 py-0.5 wrap-anywhere">
      <span
        className={`min-w-28 border-l-4 pl-2 tabular-nums ${of.off ? "border-line text-soft line-through" : of.over ? "border-line text-soft" : of.clashes.length > 0 ? "border-madder" : "border-oak"}`}
      >
        {of.at} – {of.until}
      </span>
      <span className={of.off ? "text-soft line-through" : ""}>
        <Link to={`/cases/${of.case}`} className="font-semibold underline underline-offset-2">
          {of.dog}
        </Link>
        , {of.what.toLowerCase()}
      </span>
      <span className="text-soft">
        {[of.client, of.note].filter(Boolean).join("; ")}
        {of.off && "; called off"}
      </span>
      {of.clashes.length > 0 && (
        <span className="text-madder">at the same time: {of.clashes.join(", ")}</span>
      )}
      <span className="ml-auto flex items-baseline gap-3 text-data">
        <a
          href={`/papers/appointments/${of.id}.ics`}
          download
          className="underline"
          aria-label={`Calendar file: ${of.dog}, ${of.what}`}
        >
          Calendar file
        </a>
        <button
          ref={move}
          type="button"
          className="underline"
          aria-label={`Move: ${of.dog}, ${of.what}`}
          onClick={() => setMoving(true)}
        >
          Move
        </button>
        {!of.off && !of.over && (
          <button
            type="button"
            className="underline"
            aria-label={`Call off: ${of.dog}, ${of.what}`}
            aria-disabled={off.isPending}
            onClick={() => !off.isPending && off.mutate({ version: of.version, next: true })}
          >
            Call off
          </button>
        )}
      </span>
      {moving && (
        <AppointmentDialog
          dogs={[{ case: of.case, name: of.dog }]}
          moved={of}
          onClose={() => setMoving(false)}
        />
      )}
    </li>
  );
}
