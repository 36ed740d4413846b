import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Page } from "~/ui/Page";
import { InvoiceList } from "./InvoiceList";

/** The invoices of all clients. */
export default function InvoicesPage() {
  useTitle("Invoices");
  const found = useQuery({
    queryKey: keyOf("invoices"),
    queryFn: () => take(api.GET("/api/invoices")),
    staleTime: 0,
  });
  if (found.isPending) return <Loading what="the invoices" />;
  if (!found.data)
    return <Problem what="the invoices" error={found.error} retry={() => found.refetch()} />;
  const { invoices, open, more } = found.data;
  return (
    <Page className="mx-auto w-full max-w-5xl p-4 mid:p-6">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page">Invoices</h1>
        {invoices.length > 0 && (
          <a href="/papers/invoices.csv" download className="ml-auto underline">
            As a table (CSV)
          </a>
        )}
      </div>
      <p className="mb-3 text-soft">
        {open.length > 0 ? `Not paid yet: ${open.join(" and ")}. ` : ""}Each has the next number and
        stays as it was given out. Tax, days to pay and where to pay are set under{" "}
        <Link to="/practice#invoices" className="underline">
          Practice
        </Link>
        .
      </p>
      {invoices.length === 0 ? (
        <Empty>
          No invoice yet. They are written on a client’s page: open a case and choose its client.
        </Empty>
      ) : (
        <InvoiceList found={invoices} whose />
      )}
      {more && <p className="mt-2 text-soft">The older ones stand in the table.</p>}
    </Page>
  );
}
