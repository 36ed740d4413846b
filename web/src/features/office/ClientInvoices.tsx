import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { useMay } from "~/shared/useMay";
import { Button } from "~/ui";
import { InvoiceDialog } from "./InvoiceDialog";
import { InvoiceList } from "./InvoiceList";

/** What a client was charged. */
export function ClientInvoices({ id }: { id: number }) {
  const [writing, setWriting] = useState(false);
  const writes = useMay("formulate");
  const found = useQuery({
    queryKey: keyOf("invoices", id),
    queryFn: () => take(api.GET("/api/clients/{id}/invoices", { params: { path: { id } } })),
  });
  return (
    <section className="mb-6" aria-label="Invoices">
      <div className="flex items-center gap-3 pb-1">
        <h2>Invoices</h2>
        <Link to="/invoices" className="text-data underline">
          of all clients
        </Link>
        {writes && (
          <Button
            small
            className="ml-auto"
            aria-disabled={!found.data}
            onClick={() => found.data && setWriting(true)}
          >
            New invoice
          </Button>
        )}
      </div>
      {found.isPending ? (
        <Loading what="the invoices" />
      ) : found.data === undefined ? (
        <Problem what="the invoices" error={found.error} retry={() => found.refetch()} />
      ) : found.data.invoices.length === 0 ? (
        <p className="border-line border-t py-1.5 text-soft">
          None yet. Tax and where to pay are set under{" "}
          <Link to="/practice#invoices" className="underline">
            Practice
          </Link>
          .
        </p>
      ) : (
        <InvoiceList found={found.data.invoices} />
      )}
      {writing && found.data && (
        <InvoiceDialog client={id} found={found.data} onClose={() => setWriting(false)} />
      )}
    </section>
  );
}
