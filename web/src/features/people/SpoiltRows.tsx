import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type SpoiltRow, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Empty, Loading, Problem } from "~/shared/states";
import { Button, Dialog } from "~/ui";

/** What is left of a row when what cannot be read is set aside. */
const AFTER = {
  food: "The food stays, and nothing is known of it until its values are entered anew.",
  note: "Its strengths and measures are those of the table again, until yours are entered anew.",
  shelf: "It stands on the shelf no more; recipes that hold it say so. Enter its label anew.",
  standard: "The copy is gone; cases that stand on it say so. Copy the standard anew.",
} as const;
const CALLED = {
  food: "own food",
  note: "noted of a food",
  shelf: "on the shelf",
  standard: "own standard",
};

/** What of the practice's library cannot be read, told and set aside one by one. */
export function SpoiltRows() {
  const client = useQueryClient();
  const [asked, setAsked] = useState<SpoiltRow | null>(null);
  const found = useQuery({
    queryKey: keyOf("spoilt"),
    queryFn: () => take(api.GET("/api/spoilt")),
    staleTime: 0,
  });
  const setting = useMutation({
    mutationFn: ({ id, kind }: SpoiltRow) =>
      take(api.DELETE("/api/spoilt/{id}/{kind}", { params: { path: { id, kind } } })),
    onSuccess: () => {
      setAsked(null);
      notice("Set aside; what stood there is kept under Who did what.");
      client.invalidateQueries();
    },
    onError: (error) => notice(error.message),
  });
  if (found.isPending) return <Loading what="what cannot be read" />;
  if (!found.data)
    return <Problem what="what cannot be read" error={found.error} retry={() => found.refetch()} />;
  if (found.data.rows.length === 0) return <Empty>Everything in your library can be read.</Empty>;
  return (
    <>
      <p className="mb-2 max-w-prose">
        Nothing is computed with these until they are set aside and entered anew.
      </p>
      <ul className="border-line border-t">
        {found.data.rows.map((row) => (
          <li
            key={`${row.kind} ${row.id}`}
            className="flex flex-wrap items-baseline gap-x-3 border-line border-b py-1.5 wrap-anywhere"
          >
            <span className="min-w-0 flex-1 basis-80">
              <b>{row.name}</b> <span className="text-soft">{CALLED[row.kind]}</span>
              <span className="block">{row.why}</span>
              <span className="block text-soft">stands there: {row.held}</span>
            </span>
            <Button small onClick={() => setAsked(row)}>
              Set aside
            </Button>
          </li>
        ))}
      </ul>
      <Dialog open={asked !== null} onClose={() => setAsked(null)} title={asked?.name ?? ""}>
        {asked && (
          <>
            <p className="mb-3">{AFTER[asked.kind]}</p>
            <Button busy={setting.isPending} onClick={() => setting.mutate(asked)}>
              Set it aside
            </Button>
          </>
        )}
      </Dialog>
    </>
  );
}
