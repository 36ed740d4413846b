import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { api, take } from "~/api/client";
import { AddFood } from "~/shared/foods/AddFood";
import { forget, keyOf } from "~/shared/keys";
import { profileQuery } from "~/shared/queries";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";

type Mark = "cannot-get" | "will-not-use" | "fine";

const MARKS: { id: Mark; label: string }[] = [
  { id: "cannot-get", label: "cannot get" },
  { id: "will-not-use", label: "will not use" },
];

/** What the owner cannot get or will not use: shown on the bench, suggested last. */
export function ClientFoods({ caseId, client }: { caseId: number; client: string }) {
  const cache = useQueryClient();
  const search = useRef<HTMLInputElement>(null);
  const marks = useQuery({
    queryKey: keyOf("client-foods", caseId),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/client-foods", { params: { path: { id: caseId } } })),
  });
  const set = useMutation({
    mutationFn: (body: { food: string; mark: Mark }) =>
      take(api.POST("/api/cases/{id}/client-foods", { params: { path: { id: caseId } }, body })),
    onSuccess: (all) => {
      cache.setQueryData(keyOf("client-foods", caseId), all);
      void forget(cache, "clientFoods");
    },
  });
  return (
    <section className="mt-8 flex max-w-xl flex-col gap-2">
      <h2>What {client} cannot get or will not use</h2>
      {(marks.data ?? []).length === 0 && <p className="text-soft">Nothing is marked.</p>}
      <ul>
        {(marks.data ?? []).map((m) => (
          <li key={m.food} className="flex items-center gap-3 border-line border-b py-1">
            <FoodName id={m.food} />
            <Select
              label={`Mark of ${m.food}`}
              value={m.mark}
              onChange={(mark) => set.mutate({ food: m.food, mark })}
              options={MARKS}
              className="ml-auto w-36"
            />
            <Button kind="quiet" onClick={() => set.mutate({ food: m.food, mark: "fine" })}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {(marks.error ?? set.error) && (
        <p role="alert" className="text-madder">
          {(marks.error ?? set.error)?.message}
        </p>
      )}
      <AddFood
        inputRef={search}
        caseId={caseId}
        placeholder="Mark a food: “chicken liver”"
        label="Mark a food"
        onAdd={(food) => set.mutate({ food: food.id, mark: "will-not-use" })}
      />
    </section>
  );
}

function FoodName({ id }: { id: string }) {
  const profile = useQuery(profileQuery(id));
  return <span>{profile.data?.name ?? id}</span>;
}
