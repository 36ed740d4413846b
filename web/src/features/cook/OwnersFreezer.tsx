import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { Freezer } from "~/features/kitchen/Freezer";
import { keyOf } from "~/shared/keys";

/** The same for whoever holds the owner's address: what is in the freezer, what is taken out tonight. */
export function OwnersFreezer({ token }: { token: string }) {
  const client = useQueryClient();
  const key = keyOf("freezer", "link", token);
  const path = { token };
  const found = useQuery({
    queryKey: key,
    queryFn: () => take(api.GET("/api/cook/{token}/boxes", { params: { path } })),
  });
  const save = useMutation({
    mutationFn: (to: { id: number; version: number; from: string; gone: number[] }) =>
      take(
        api.POST("/api/cook/{token}/boxes", {
          params: { path },
          body: {
            batch: to.id,
            boxes: { feed_from: to.from, gone: to.gone, version: to.version },
          },
        }),
      ),
    onSuccess: (stock) => client.setQueryData(key, stock),
    onError: () => client.invalidateQueries({ queryKey: key }),
  });
  if (!found.data) return null;
  return (
    <Freezer
      stock={found.data}
      busy={save.isPending}
      problem={save.error?.message ?? ""}
      say={(batch, from, gone) => save.mutate({ id: batch.id, version: batch.version, from, gone })}
      calendar={`/cook/${token}/boxes.ics`}
    />
  );
}
