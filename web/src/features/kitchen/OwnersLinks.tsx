import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Batch, take } from "~/api/client";
import { day } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { Button } from "~/ui";

/** As long as its boxes keep frozen: the code on their labels leads there. */
const LASTS = 60;

/** Addresses by which the owner cooks this batch without an account: made, written to her, taken back. */
export function OwnersLinks({ batch }: { batch: Batch }) {
  const client = useQueryClient();
  const current = useCase();
  const key = keyOf("cook-links", batch.id);
  const again = () => client.invalidateQueries({ queryKey: key });
  const found = useQuery({
    queryKey: key,
    queryFn: () =>
      take(api.GET("/api/batches/{id}/cook-links", { params: { path: { id: batch.id } } })),
  });
  const make = useMutation({
    mutationFn: (send: boolean) =>
      take(
        api.POST("/api/batches/{id}/cook-links", {
          params: { path: { id: batch.id } },
          body: { days: LASTS, send },
        }),
      ),
    onSuccess: again,
  });
  const close = useMutation({
    mutationFn: (id: number) =>
      take(api.DELETE("/api/cook-links/{id}", { params: { path: { id } } })),
    onSuccess: again,
  });
  const error = make.error ?? close.error;
  if (found.isPending) return <Loading what="the addresses" />;
  if (!found.data)
    return <Problem what="the addresses" error={found.error} retry={() => found.refetch()} />;
  return (
    <div className="mt-2 flex max-w-2xl flex-col gap-2">
      <p className="text-soft">
        The page leads through the steps of this batch on a phone, without an account. What is put
        down there is seen here.
      </p>
      <ul>
        {found.data.map((link) => (
          <li key={link.id} className="flex flex-wrap items-baseline gap-3">
            {link.open ? (
              <>
                <a href={link.path} className="max-w-80 truncate underline">
                  {location.origin}
                  {link.path}
                </a>
                <span className="text-soft">opens until {day(link.expires)}</span>
                <button type="button" className="underline" onClick={() => close.mutate(link.id)}>
                  Take it back
                </button>
              </>
            ) : (
              <span className="text-soft">An address that opens nothing any more</span>
            )}
          </li>
        ))}
      </ul>
      <p className="flex flex-wrap gap-2">
        <Button disabled={make.isPending} onClick={() => make.mutate(false)}>
          Make an address
        </Button>
        <Button
          disabled={make.isPending || !current.client.email}
          title={current.client.email || "There is no e-mail address of the owner"}
          onClick={() => make.mutate(true)}
        >
          Make one and write to {current.client.name}
        </Button>
      </p>
      {error && (
        <p role="alert" className="border-madder stile">
          {error.message}.
        </p>
      )}
    </div>
  );
}
