import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import type { ClientFoodsSaid } from "~/api/client";
import { AddFood } from "~/shared/foods/AddFood";
import { spelled } from "~/shared/format";
import { clientFoodsQuery, useSaid } from "~/shared/sourcing/useSaid";
import { Problem } from "~/shared/states";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";

const MARKS: { id: ClientFoodsSaid["mark"]; label: string }[] = [
  { id: "can-get", label: "can get" },
  { id: "special-order", label: "has to order" },
  { id: "cannot-get", label: "cannot get" },
  { id: "will-not-use", label: "will not use" },
];

/** What the owner can get, has to order, cannot get or will not use; it holds for all of the owner’s dogs. */
export function ClientFoods({ caseId, client }: { caseId: number; client: string }) {
  const search = useRef<HTMLInputElement>(null);
  const marks = useQuery(clientFoodsQuery(caseId));
  const said = useSaid(caseId);
  const all = marks.data ?? [];
  return (
    <section className="mt-8 flex max-w-xl flex-col gap-2">
      <h2>What {client} can get and will use</h2>
      <p className="text-soft">
        What cannot be got or will not be used is never proposed; what has to be ordered is a second
        choice. Buy, on the bench, asks for every food of a recipe.
      </p>
      {marks.isSuccess && all.length === 0 && <p className="text-soft">Nothing is marked.</p>}
      <ul>
        {all.map((m) => (
          <li key={m.food} className="flex items-center gap-3 border-line border-b py-1">
            <span>{spelled(m.name)}</span>
            <span className="ml-auto text-data text-soft">
              {m.days !== null && `${m.days} ${m.days === 1 ? "day" : "days"} before`}
            </span>
            <Select
              label={`Mark of ${m.name}`}
              value={m.mark as ClientFoodsSaid["mark"]}
              onChange={(mark) => said.mutate({ foods: [m.food], mark })}
              options={MARKS}
              className="w-36"
            />
            <Button
              kind="quiet"
              onClick={() => said.mutate({ foods: [m.food], mark: "not-asked" })}
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {marks.error && <Problem what="what was said" error={marks.error} retry={marks.refetch} />}
      <AddFood
        inputRef={search}
        caseId={caseId}
        placeholder="Mark a food: “chicken liver”"
        label="Mark a food"
        onAdd={(food) => said.mutate({ foods: [food.id], mark: "will-not-use" })}
      />
    </section>
  );
}
