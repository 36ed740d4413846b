import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  api,
  type ClientFoodMark,
  type FormulationChoices,
  type TermRead,
  take,
} from "~/api/client";
import { spelled, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { clientFoodsQuery, useSaid } from "~/shared/sourcing/useSaid";
import { Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { Button, Dialog } from "~/ui";

const HAD: Partial<Record<ClientFoodMark["mark"], string>> = {
  "can-get": "can get",
  "special-order": "to be ordered",
};

/** What a bought diet is made of, term by term, and which whole foods the owner can buy instead. */
export function MadeOf({
  food,
  choices,
  onUse,
}: {
  food: { id: string; name: string };
  choices: FormulationChoices;
  /** The foods that were ticked, in the order of the bag; alone: no other food is to come in. */
  onUse: (foods: string[], alone: boolean) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button small className="self-start" onClick={() => setOpen(true)}>
        What it is made of…
      </Button>
      {open && (
        <Dialog open wide onClose={() => setOpen(false)} title={`What ${food.name} is made of`}>
          <Terms
            foodId={food.id}
            choices={choices}
            onUse={(foods, alone) => {
              onUse(foods, alone);
              setOpen(false);
            }}
          />
        </Dialog>
      )}
    </>
  );
}

function Terms({
  foodId,
  choices,
  onUse,
}: {
  foodId: string;
  choices: FormulationChoices;
  onUse: (foods: string[], alone: boolean) => void;
}) {
  const terms = useQuery({
    queryKey: keyOf("terms", foodId),
    queryFn: () =>
      take(api.GET("/api/foods/{food_id}/terms", { params: { path: { food_id: foodId } } })),
  });
  const [chosen, setChosen] = useState<Record<string, boolean>>({});
  const { id: caseId } = useCase();
  const marks = useQuery(clientFoodsQuery(caseId));
  const said = useSaid(caseId);
  const [noted, setNoted] = useState(false);
  const [alone, setAlone] = useState(false);
  const whyNot = new Map(choices.allowed.map((a) => [a.food, a.why_not]));
  const had = new Map((marks.data ?? []).map((m) => [m.food, HAD[m.mark]]));
  if (terms.isPending) return <Loading what="its ingredients" />;
  if (terms.isError) return <Problem error={terms.error} retry={() => terms.refetch()} />;
  if (terms.data.length === 0)
    return <p>No ingredient statement is known of it: enter it as an own food, from its bag.</p>;
  /** The first that may be had stands for a main ingredient, until somebody says otherwise. */
  const isOn = (term: TermRead, food: string, i: number) =>
    chosen[food] ?? (term.main && i === 0 && !whyNot.get(food));
  const ticked = terms.data.flatMap((term) =>
    term.stand_ins.filter(({ food }, i) => isOn(term, food, i)).map(({ food }) => food),
  );
  return (
    <div className="flex flex-col gap-3">
      <p className="text-soft">
        In the order of the bag, by weight as it went in. Tick what the owner can buy: the fresh
        recipe is built of it, with the same energy and split. From the salt on there is about 1 %
        or less of anything.
      </p>
      <ol className="flex flex-col">
        {terms.data.map((term) => (
          <li key={term.place} className="border-line border-t py-1">
            <p>
              <span className="mr-2 text-soft">{term.place}</span>
              <b className="font-semibold">{term.text}</b>
              {term.term ? (
                <span className="text-soft">
                  : {told(term.term.definition)}
                  {term.term.of && ` (${term.term.of})`}
                </span>
              ) : (
                <span className="text-madder"> is not known here: ask what it is.</span>
              )}
            </p>
            {term.term && (term.term.hidden || term.term.caution) && (
              <p className="pl-5 text-data text-soft">
                {term.term.hidden && `May hide: ${told(term.term.hidden)}. `}
                {term.term.caution && `Mind: ${told(term.term.caution)}.`}
              </p>
            )}
            <div className="flex flex-wrap gap-x-4 pl-5">
              {term.stand_ins.map(({ food, name }, i) => {
                const not = whyNot.get(food);
                return (
                  <label key={food} className="flex items-center gap-1.5">
                    <input
                      type="checkbox"
                      className="accent-verdigris"
                      disabled={Boolean(not)}
                      checked={!not && isOn(term, food, i)}
                      onChange={(e) => setChosen({ ...chosen, [food]: e.target.checked })}
                    />
                    {spelled(name)}
                    {had.get(food) && (
                      <span className="text-data text-soft">({had.get(food)})</span>
                    )}
                    {not && <span className="text-data text-madder"> ({not})</span>}
                  </label>
                );
              })}
              {term.term?.note && (
                <span className="text-data text-soft">{told(term.term.note)}</span>
              )}
            </div>
          </li>
        ))}
      </ol>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-verdigris"
          checked={noted}
          onChange={(e) => setNoted(e.target.checked)}
        />
        The owner was asked and can buy the ticked ones: note it
      </label>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-verdigris"
          checked={alone}
          onChange={(e) => setAlone(e.target.checked)}
        />
        No other food, only supplements beside them
      </label>
      <Button
        kind="solid"
        className="self-start"
        disabled={ticked.length === 0}
        onClick={() => {
          const foods = [...new Set(ticked)];
          const fresh = foods.filter((food) => !had.has(food));
          if (noted && fresh.length > 0) said.mutate({ foods: fresh, mark: "can-get" });
          onUse(foods, alone);
        }}
      >
        Build it of these
      </Button>
    </div>
  );
}
