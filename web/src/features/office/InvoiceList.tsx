import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Invoice, take } from "~/api/client";
import { today } from "~/shared/days";
import { day } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { useMay } from "~/shared/useMay";
import { Button, Dialog } from "~/ui";

/** Invoices as they stand: open, late, paid, void. */
export function InvoiceList({
  found,
  whose = false,
}: {
  found: readonly Invoice[];
  /** Say to whom each is. */
  whose?: boolean;
}) {
  return (
    <ul className="border-line border-t">
      {found.map((invoice) => (
        <Row key={invoice.id} of={invoice} whose={whose} />
      ))}
    </ul>
  );
}

function Row({ of, whose }: { of: Invoice; whose: boolean }) {
  const client = useQueryClient();
  const [voiding, setVoiding] = useState(false);
  const writes = useMay("formulate");
  const paid = useMutation({
    mutationFn: ({ on, version }: { on: string | null; version: number }) =>
      take(
        api.POST("/api/invoices/{id}/paid", {
          params: { path: { id: of.id } },
          body: { on, version },
        }),
      ),
    onSuccess: (now) => {
      void forget(client, "invoices");
      if (now.paid)
        notice(`Invoice ${of.number} is paid.`, {
          action: {
            label: "Take it back",
            onClick: () => paid.mutate({ on: null, version: now.version }),
          },
        });
    },
    onError: (error) => {
      void forget(client, "invoices");
      notice(error.message);
    },
  });
  return (
    <li className="flex flex-wrap items-baseline gap-x-4 border-line border-b py-1.5 wrap-anywhere">
      <a
        href={`/papers/invoices/${of.id}`}
        target="_blank"
        rel="noreferrer"
        className={`font-semibold tabular-nums underline underline-offset-2 ${of.void ? "line-through" : ""}`}
      >
        {of.number}
      </a>
      <span>{day(of.on)}</span>
      {whose && (
        <span>
          {of.client === null ? (
            of.to
          ) : (
            <Link to={`/clients/${of.client}`} className="underline underline-offset-2">
              {of.to}
            </Link>
          )}
        </span>
      )}
      <Standing of={of} />
      <span className="ml-auto tabular-nums">{of.total}</span>
      <span className="flex w-44 justify-end gap-3 text-data">
        {writes && !of.void && of.paid === null && (
          <>
            <button
              type="button"
              className="underline"
              aria-label={`Paid today: invoice ${of.number}`}
              aria-disabled={paid.isPending}
              onClick={() => !paid.isPending && paid.mutate({ on: today(), version: of.version })}
            >
              Paid today
            </button>
            <button
              type="button"
              className="underline"
              aria-label={`Void… invoice ${of.number}`}
              onClick={() => setVoiding(true)}
            >
              Void…
            </button>
          </>
        )}
        {writes && of.paid !== null && (
          <button
            type="button"
            className="underline"
            aria-label={`Not paid: invoice ${of.number}`}
            onClick={() => !paid.isPending && paid.mutate({ on: null, version: of.version })}
          >
            Not paid
          </button>
        )}
      </span>
      {voiding && <VoidDialog of={of} onClose={() => setVoiding(false)} />}
    </li>
  );
}

function Standing({ of }: { of: Invoice }) {
  if (of.void) return <span className="text-soft">void: {of.void}</span>;
  if (of.paid) return <span className="text-soft">paid on {day(of.paid)}</span>;
  return of.late ? (
    <span className="text-madder">to be paid by {day(of.due)}, which is over</span>
  ) : (
    <span>to be paid by {day(of.due)}</span>
  );
}

function VoidDialog({ of, onClose }: { of: Invoice; onClose: () => void }) {
  const client = useQueryClient();
  const form = useServerForm({
    defaults: { reason: "" },
    send: ({ reason }: { reason: string }) =>
      take(
        api.POST("/api/invoices/{id}/void", {
          params: { path: { id: of.id } },
          body: { reason, version: of.version },
        }),
      ),
    onSaved: () => {
      void forget(client, "invoices");
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} title={`Declare invoice ${of.number} void`}>
      <Form
        of={form}
        actions={
          <>
            <Button kind="solid" type="submit" busy={form.pending}>
              Declare it void
            </Button>
            <Button onClick={onClose}>Let it stand</Button>
          </>
        }
      >
        <p>
          Its number stays taken, and the reason stands on it from now on. It cannot be taken back:
          write a new one instead.
        </p>
        <TextField
          form={form.form}
          name="reason"
          label="Why"
          required
          maxLength={300}
          className="w-full"
        />
      </Form>
    </Dialog>
  );
}
