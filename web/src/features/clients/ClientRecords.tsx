import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, type Erasure, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Loading, Problem } from "~/shared/states";
import { Button, Dialog } from "~/ui";

/** What is kept of a client: as a file to give to her, or taken away for good. */
export function ClientRecords({ id, name }: { id: number; name: string }) {
  const [asked, setAsked] = useState(false);
  return (
    <section className="mt-6">
      <h2 className="mb-2">All that is kept of {name}</h2>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <a href={`/api/clients/${id}/records`} download className="underline">
          Download it as a file
        </a>
        <Button small onClick={() => setAsked(true)}>
          Erase…
        </Button>
        <span className="text-data text-soft">
          The file holds the rows as JSON and CSV, the case files and the papers of what was issued.
        </span>
      </div>
      <Dialog open={asked} onClose={() => setAsked(false)} title={`Erase ${name}`}>
        {asked && <Erase id={id} onClose={() => setAsked(false)} />}
      </Dialog>
    </section>
  );
}

function Erase({ id, onClose }: { id: number; onClose: () => void }) {
  const found = useQuery({
    queryKey: keyOf("erasure", id),
    queryFn: () => take(api.GET("/api/clients/{id}/erasure", { params: { path: { id } } })),
    staleTime: 0,
    retry: false,
  });
  if (found.isPending) return <Loading what="what there is" />;
  if (!found.data)
    return <Problem what="what there is" error={found.error} retry={() => found.refetch()} />;
  return <EraseForm id={id} found={found.data} onClose={onClose} />;
}

function EraseForm({ id, found, onClose }: { id: number; found: Erasure; onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { records } = found;
  const erasing = useServerForm({
    defaults: { name: "", reason: "" },
    send: (body: { name: string; reason: string }) =>
      take(api.POST("/api/clients/{id}/erasure", { params: { path: { id } }, body })),
    onSaved: () => {
      navigate("/cases");
      client.removeQueries({ queryKey: keyOf("client", id) });
      client.invalidateQueries();
      notice("Erased.");
    },
  });
  return (
    <Form
      of={erasing}
      actions={
        <>
          <Button type="submit" busy={erasing.pending}>
            {erasing.pending ? "Erasing…" : "Erase for good"}
          </Button>
          <Button onClick={onClose}>Keep it</Button>
        </>
      }
    >
      <p className="max-w-prose">
        This takes away {counted(records)}. <b>It cannot be undone.</b> Download it as a file first
        if it may be wanted.
      </p>
      {records.signed > 0 && (
        <p role="alert" className="max-w-prose border-madder border-l-4 pl-3">
          {some(records.signed, "version")} of these plans went to a vet or to the owner. How long
          such records must be kept is for the rules of your profession: look there first.
        </p>
      )}
      <p className="max-w-prose text-data text-soft">
        What stays: that something was done, when and by whom of your practice (
        {some(records.trail, "line")} of the audit trail, without what they told); the reason you
        give; own foods, prices and your shelf, which are the practice’s;{" "}
        {records.invoices > 0 &&
          `${some(records.invoices, "invoice")} as given out, with the name, for the books; `}
        backups made until today, until they run out.
      </p>
      <TextField form={erasing.form} name="reason" label="Why" required maxLength={400} />
      <TextField
        form={erasing.form}
        name="name"
        label={`Type ${found.name} to erase`}
        required
        autoComplete="off"
      />
    </Form>
  );
}

function some(count: number, what: string, several = `${what}s`): string {
  return `${count} ${count === 1 ? what : several}`;
}

function counted(records: Erasure["records"]): string {
  const all = [
    some(records.dogs, "dog"),
    some(records.cases, "case"),
    some(records.recipes, "recipe"),
    some(records.batches, "batch", "batches"),
    `${some(records.days, "day")} and values put down`,
    some(records.mails, "mail"),
  ];
  return `${all.slice(0, -1).join(", ")} and ${all[all.length - 1]}`;
}
