import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, type Food, take } from "~/api/client";
import { AddFood } from "~/shared/foods/AddFood";
import { Problem } from "~/shared/states";
import { Button, Dialog } from "~/ui";
import { Toggle } from "~/ui/Toggle";
import { type BenchLine, lineOf } from "./editor";

type Keep = "energy" | "protein";

/** Replace a line by another food in the amount that keeps its energy or its protein. */
export function ReplaceDialog({
  recipeId,
  caseId,
  typed,
  line,
  position,
  onReplace,
  onClose,
}: {
  recipeId: number;
  caseId: number;
  typed: string;
  line: BenchLine;
  position: number;
  onReplace: (line: BenchLine, adjust: boolean) => void;
  onClose: () => void;
}) {
  const search = useRef<HTMLInputElement>(null);
  const [keep, setKeep] = useState<Keep>("energy");
  const found = useMutation({
    mutationFn: (food: Food) =>
      take(
        api.POST("/api/recipes/{id}/substitute", {
          params: { path: { id: recipeId } },
          body: { ...JSON.parse(typed), line: position, food: food.id, keep },
        }),
      ),
  });
  const next = found.data;
  function replaced(): BenchLine | null {
    if (!next) return null;
    const { food, name, quantity, methods } = next;
    // In the place of the old line, with its note, but not its method: that was for another food.
    const made = lineOf({ food, name, methods, text: quantity, note: line.note });
    return { ...made, key: line.key };
  }
  function use(adjust: boolean) {
    const changed = replaced();
    if (changed) onReplace(changed, adjust);
  }
  return (
    <Dialog open onClose={onClose} title={`Replace ${line.name}`}>
      <div className="flex min-h-72 flex-col gap-3">
        <Toggle
          label="What the new amount keeps"
          value={keep}
          onChange={setKeep}
          options={[
            { id: "energy", label: "Same energy" },
            { id: "protein", label: "Same protein" },
          ]}
        />
        <AddFood
          inputRef={search}
          caseId={caseId}
          label="Replace by"
          placeholder="Turkey thigh, rabbit, cod…"
          below
          onAdd={(food) => found.mutate(food)}
        />
        {found.isError && <Problem error={found.error} />}
        {next && (
          <>
            <p>
              <b>{next.name}</b>, {next.quantity}
            </p>
            {next.why_not && (
              <p role="alert" className="border-madder stile text-madder">
                Not for this dog: {next.why_not}.
              </p>
            )}
            <div className="flex gap-2">
              <Button kind="solid" onClick={() => use(true)}>
                Replace and adjust the rest
              </Button>
              <Button onClick={() => use(false)}>Only replace</Button>
            </div>
          </>
        )}
      </div>
    </Dialog>
  );
}
