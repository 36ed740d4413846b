import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { forget } from "~/shared/keys";
import { freezerQuery } from "~/shared/queries";
import { Problem } from "~/shared/states";
import { Freezer } from "./Freezer";

/** The freezer of a case's household, for the practice. */
export function CaseFreezer({ caseId }: { caseId: number }) {
  const client = useQueryClient();
  const found = useQuery(freezerQuery(caseId));
  const save = useMutation({
    mutationFn: (to: { id: number; version: number; from: string; gone: number[] }) =>
      take(
        api.POST("/api/batches/{id}/boxes", {
          params: { path: { id: to.id } },
          body: { feed_from: to.from, gone: to.gone, version: to.version },
        }),
      ),
    onSettled: () => forget(client, "batch"),
  });
  if (found.isPending) return null;
  if (!found.data)
    return <Problem what="the freezer" error={found.error} retry={() => found.refetch()} />;
  return (
    <Freezer
      stock={found.data}
      busy={save.isPending || found.isFetching}
      problem={save.error?.message ?? ""}
      say={(batch, from, gone) => save.mutate({ id: batch.id, version: batch.version, from, gone })}
      calendar={`/papers/cases/${caseId}/freezer.ics`}
    />
  );
}
