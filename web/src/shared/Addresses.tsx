import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { day } from "~/shared/format";
import { Loading, Problem } from "~/shared/states";
import { Button } from "~/ui";

interface Address {
  id: number;
  path: string;
  expires: string;
  open: boolean;
}

/** Addresses that open something without an account: made, written to the owner, taken back. */
export function Addresses({
  kept,
  words,
  owner,
  load,
  make,
  close,
}: {
  /** The key they are kept by. */
  kept: readonly unknown[];
  /** What they open. */
  words: string;
  /** Whom one can be written to; nobody where it is left out. */
  owner?: { name: string; email: string };
  load: () => Promise<Address[]>;
  make: (send: boolean) => Promise<Address>;
  close: (id: number) => Promise<Address>;
}) {
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: kept });
  const found = useQuery({ queryKey: kept, queryFn: load });
  const made = useMutation({ mutationFn: make, onSuccess: again });
  const closed = useMutation({ mutationFn: close, onSuccess: again });
  const error = made.error ?? closed.error;
  if (found.isPending) return <Loading what="the addresses" />;
  if (!found.data)
    return <Problem what="the addresses" error={found.error} retry={() => found.refetch()} />;
  return (
    <div className="mt-2 flex max-w-2xl flex-col gap-2">
      <p className="text-soft">{words}</p>
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
                <button type="button" className="underline" onClick={() => closed.mutate(link.id)}>
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
        <Button busy={made.isPending} onClick={() => made.mutate(false)}>
          Make an address
        </Button>
        {owner && (
          <Button
            disabled={!owner.email}
            busy={made.isPending}
            title={owner.email || "There is no e-mail address of the owner"}
            onClick={() => made.mutate(true)}
          >
            Make one and write to {owner.name}
          </Button>
        )}
      </p>
      {error && (
        <p role="alert" className="border-madder stile">
          {error.message}.
        </p>
      )}
    </div>
  );
}
