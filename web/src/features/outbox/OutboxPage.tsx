import { useQuery } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { clock, day } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Page } from "~/ui/Page";

/** What was written to vets and owners, as they would have it. Nothing leaves this machine. */
export default function OutboxPage() {
  useTitle("Outbox");
  const found = useQuery({
    queryKey: keyOf("outbox"),
    queryFn: () => take(api.GET("/api/outbox")),
    staleTime: 0,
  });
  if (found.isPending) return <Loading what="the outbox" />;
  if (!found.data)
    return <Problem what="the outbox" error={found.error} retry={() => found.refetch()} />;
  return (
    <Page className="mx-auto w-full max-w-5xl p-4 mid:p-6">
      <h1 className="text-page">Outbox</h1>
      <p className="mb-3 text-soft">
        This installation has no mail server: what would be sent stands here, and each link can be
        opened as its receiver would open it.
      </p>
      {found.data.length === 0 && (
        <Empty>
          Nothing was sent yet. What goes to a vet or an owner stands here, newest first.
        </Empty>
      )}
      <ul className="border-line border-t">
        {found.data.map((mail) => (
          <li key={mail.id} className="border-line border-b py-2.5">
            <p className="flex flex-wrap items-baseline gap-x-3 wrap-anywhere">
              <b>{mail.subject}</b>
              <span>
                to {mail.to_name} <span className="text-soft">{mail.to_address}</span>
              </span>
              <span className="ml-auto text-data text-soft">
                {day(mail.at)}, {clock(mail.at)}
              </span>
            </p>
            <p className="mt-1 max-w-3xl whitespace-pre-line">{mail.text}</p>
            {mail.link && (
              <p className="mt-1">
                <a href={mail.link} target="_blank" rel="noreferrer" className="underline">
                  Open it as {mail.to_name}
                </a>
              </p>
            )}
          </li>
        ))}
      </ul>
    </Page>
  );
}
