import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, take } from "~/api/client";
import { foodWeight, number, percent, spelled, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { useDraft } from "~/shared/saving/useDraft";
import { useCase } from "~/shared/useCase";
import { useSettled } from "~/shared/useSettled";
import { Button, Field, TextInput } from "~/ui";

/** Under this share of the target there is nothing to decide. */
const SAME = 0.01;

/** How much of a bought diet the dog eats, and whether that is what its fresh recipe is to bring. */
export function Eaten({ food }: { food: { id: string; name: string } }) {
  const current = useCase();
  const saving = useDraft("case", current.id, current);
  const [typed, setTyped] = useState("");
  const quantity = useSettled(typed).trim();
  const asked = quantity !== "";
  const found = useQuery({
    queryKey: keyOf("eaten", current.id, food.id, quantity),
    queryFn: () =>
      take(
        api.POST("/api/cases/{id}/eaten", {
          params: { path: { id: current.id } },
          body: { food: food.id, quantity },
        }),
      ),
    placeholderData: keepPreviousData,
    enabled: asked,
    retry: false,
  });
  const eaten = asked && !found.isError ? found.data : undefined;
  const kcal = eaten ? Math.round(eaten.kcal) : 0;
  const kcalText = number(kcal);
  const off = eaten && Math.abs(eaten.off_target) > SAME;
  function makeTarget() {
    saving.change([
      { path: "energy_method", value: "kcal_per_day" },
      { path: "kcal_per_day", value: kcal },
      { path: "energy_reason", value: `Eats ${quantity} of ${food.name}: ${kcalText} kcal a day` },
    ]);
    void saving.draft.flush();
    const action = { label: "Undo", onClick: () => saving.draft.undo() };
    notice(`The energy target is ${kcalText} kcal a day.`, { action });
  }
  const error = asked && found.error instanceof ApiError ? found.error.message : undefined;
  return (
    <div className="flex flex-col gap-1">
      <Field id="eaten" label="It eats of it a day" {...(error ? { error } : {})}>
        <TextInput
          id="eaten"
          value={typed}
          maxLength={60}
          placeholder="2 1/2 cups, or 180 g"
          onChange={(e) => setTyped(e.target.value)}
        />
      </Field>
      {eaten && (
        <div role="status" className="flex flex-col items-start gap-1">
          <p>
            <b>{kcalText} kcal a day</b>, {foodWeight(eaten.grams)}
            {eaten.stated_kcal !== null && (
              <span className="text-soft">
                {" "}
                ({number(eaten.stated_kcal)} kcal as {spelled(eaten.name)} states it)
              </span>
            )}
            .{" "}
            {off
              ? `The energy target is ${number(eaten.target_kcal)}: it eats ${percent(Math.abs(eaten.off_target))} ${eaten.off_target > 0 ? "more" : "less"}.`
              : "That is its energy target."}
          </p>
          {!eaten.sure && <p className="text-data text-madder">{told(eaten.basis)}: weigh it.</p>}
          {off && (
            <Button small onClick={makeTarget}>
              Make {kcalText} kcal its target
            </Button>
          )}
          {off && (
            <p className="text-data text-soft">
              Only where it keeps its weight on it. The fresh recipe brings what the target says.
            </p>
          )}
        </div>
      )}
    </div>
  );
}
