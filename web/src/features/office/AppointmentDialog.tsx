import { useQueryClient } from "@tanstack/react-query";
import { type Appointment, api, type Meeting, take } from "~/api/client";
import { day } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget } from "~/shared/keys";
import { Button, Dialog } from "~/ui";
import { Select } from "~/ui/Select";

export const MEETINGS: readonly { id: Meeting; label: string }[] = [
  { id: "first", label: "First consultation" },
  { id: "review", label: "Review" },
  { id: "weighing", label: "Weighing" },
  { id: "call", label: "Call" },
  { id: "visit", label: "Home visit" },
];

interface Written {
  case: string;
  kind: Meeting;
  on: string;
  at: string;
  minutes: string;
  note: string;
}

/** Make an appointment, or move one. */
export function AppointmentDialog({
  dogs,
  moved,
  onClose,
  onKept,
}: {
  /** Whose it can be: by the number of the case. */
  dogs: readonly { case: number; name: string }[];
  /** One that is there already. */
  moved?: Appointment;
  onClose: () => void;
  onKept?: (made: Appointment) => void;
}) {
  const client = useQueryClient();
  const making = useServerForm<Written, Appointment>({
    keptAs: `appointment-${moved ? `m${moved.id}` : dogs.map((d) => d.case).join("-")}`,
    defaults: {
      case: String(moved?.case ?? dogs[0]?.case ?? ""),
      kind: moved?.kind ?? "review",
      on: moved ? day(moved.on) : "",
      at: moved?.at ?? "",
      minutes: String(moved?.minutes ?? 45),
      note: moved?.note ?? "",
    },
    send: ({ case: id, minutes, ...asked }) => {
      const body = { ...asked, minutes: Number(minutes), version: moved?.version ?? null };
      return moved
        ? take(api.PUT("/api/appointments/{id}", { params: { path: { id: moved.id } }, body }))
        : take(
            api.POST("/api/cases/{id}/appointments", {
              params: { path: { id: Number(id) } },
              body,
            }),
          );
    },
    onSaved: (made) => {
      void forget(client, "appointments");
      onKept?.(made);
      onClose();
    },
  });
  const { form } = making;
  return (
    <Dialog open onClose={onClose} title={moved ? `Move: ${moved.what}` : "New appointment"}>
      <Form
        of={making}
        className="flex flex-col gap-3"
        actions={
          <>
            <Button kind="solid" type="submit" busy={making.pending}>
              {moved ? "Keep it so" : "Make it"}
            </Button>
            <Button
              onClick={() => {
                making.forget();
                onClose();
              }}
            >
              Cancel
            </Button>
          </>
        }
      >
        <div className="flex flex-wrap gap-3">
          {dogs.length > 1 && (
            <div className="flex flex-col gap-1">
              <span className="font-medium">Of</span>
              <Select
                label="Of"
                value={form.watch("case")}
                onChange={(id) => form.setValue("case", id)}
                options={dogs.map((d) => ({ id: String(d.case), label: d.name }))}
              />
            </div>
          )}
          <div className="flex flex-col gap-1">
            <span className="font-medium">For</span>
            <Select
              label="For"
              value={form.watch("kind")}
              onChange={(kind) => form.setValue("kind", kind)}
              options={[...MEETINGS]}
              className="w-44"
            />
          </div>
        </div>
        <div className="flex flex-wrap gap-3">
          <TextField
            form={form}
            id="met-on"
            name="on"
            label="Day"
            placeholder="3 Dec 2026"
            required
            className="w-36"
          />
          <TextField
            form={form}
            id="met-at"
            name="at"
            label="At"
            placeholder="14:30"
            required
            className="w-24"
          />
          <TextField
            form={form}
            id="met-minutes"
            name="minutes"
            label="Minutes"
            figure
            required
            className="w-20 text-right"
          />
        </div>
        <TextField
          form={form}
          id="met-note"
          name="note"
          label="Note"
          hint="Where, or what to bring: it stands in the calendar."
          maxLength={300}
          className="w-full"
        />
      </Form>
    </Dialog>
  );
}
