import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type ClientFoodsSaid, take } from "~/api/client";
import { forget, keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";

export type Said = ClientFoodsSaid["mark"];

/** What the client said of foods. */
export const clientFoodsQuery = (caseId: number) =>
  queryOptions({
    queryKey: keyOf("client-foods", caseId),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/client-foods", { params: { path: { id: caseId } } })),
  });

/** Say of foods whether the owner can get them; kept for the client, whatever the recipe. */
export function useSaid(caseId: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { foods: string[]; mark: Said; days?: number | null }) =>
      take(api.POST("/api/cases/{id}/client-foods", { params: { path: { id: caseId } }, body })),
    onSuccess: (all) => {
      cache.setQueryData(keyOf("client-foods", caseId), all);
      return forget(cache, "clientFoods");
    },
    onError: (error) => notice(error.message),
  });
}
