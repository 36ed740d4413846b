import { api, type Batch, take } from "~/api/client";
import { Addresses } from "~/shared/Addresses";
import { keyOf } from "~/shared/keys";
import { useCase } from "~/shared/useCase";

/** As long as its boxes keep frozen: the code on their labels leads there. */
const LASTS = 60;

/** Addresses by which the owner cooks this batch without an account. */
export function OwnersLinks({ batch }: { batch: Batch }) {
  const path = { id: batch.id };
  return (
    <Addresses
      owner={useCase().client}
      kept={keyOf("cook-links", batch.id)}
      words="The page leads through the steps of this batch on a phone, without an account, and keeps its boxes. What is put down there is seen here."
      load={() => take(api.GET("/api/batches/{id}/cook-links", { params: { path } }))}
      make={(send) =>
        take(
          api.POST("/api/batches/{id}/cook-links", {
            params: { path },
            body: { days: LASTS, send },
          }),
        )
      }
      close={(id) => take(api.DELETE("/api/cook-links/{id}", { params: { path: { id } } }))}
    />
  );
}
