import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, type BagLabel, take } from "~/api/client";
import { Button } from "~/ui";

/** The text of a bag, pasted: what was read of it, and what was not. */
export function BagText({
  onRead,
}: {
  /** Fill the form with what was read. */
  onRead: (bag: BagLabel) => void;
}) {
  const [text, setText] = useState("");
  const reading = useMutation({
    mutationFn: (pasted: string) =>
      take(api.POST("/api/own-foods/bag", { body: { text: pasted } })),
    onSuccess: onRead,
  });
  const { data: bag, error } = reading;
  const field = error instanceof ApiError && error.field ? `The ${error.field} ` : "";
  return (
    <div className="flex flex-col gap-2">
      <label htmlFor="bag-text" className="font-medium">
        Text of the bag
      </label>
      <textarea
        id="bag-text"
        rows={3}
        value={text}
        placeholder={
          "Crude protein (min) 26 %, crude fat (min) 15 % … 3650 kcal/kg, 370 kcal/cup. Ingredients: …"
        }
        onChange={(e) => setText(e.target.value)}
        onPaste={(e) => {
          const pasted = e.clipboardData.getData("text/plain");
          if (text.trim() || !pasted.trim()) return;
          e.preventDefault();
          setText(pasted);
          reading.mutate(pasted);
        }}
        className="rounded-corner border border-edge bg-sheet p-2"
      />
      <div className="flex flex-wrap items-center gap-2">
        <Button
          disabled={!text.trim()}
          busy={reading.isPending}
          onClick={() => reading.mutate(text)}
        >
          {reading.isPending ? "Reading…" : "Read it into the panel"}
        </Button>
      </div>
      {error && (
        <p role="alert" className="text-madder">
          {field}
          {error.message}.
        </p>
      )}
      {bag && (
        <section aria-label="What was read" className="border-oak stile flex flex-col gap-1">
          <p className="text-data text-soft">
            Energy{" "}
            {bag.kcal_per_kg || bag.kcal_per_cup
              ? `as the bag says${bag.energy ? `, ${bag.energy}` : ""}`
              : "not on it: estimated"}
            . {bag.ingredient_list.length} ingredients
            {bag.allergens.length > 0 &&
              `; holds ${bag.allergens.map((a) => `${a.group} (“${a.word}”)`).join(", ")}`}
            .
          </p>
          {bag.warnings.map((warning) => (
            <p key={warning}>{warning}</p>
          ))}
          {bag.unread.length > 0 && (
            <p>
              <b>Not taken:</b> {bag.unread.map((x) => `“${x}”`).join(", ")}. What of it is a
              nutrient is entered by values.
            </p>
          )}
        </section>
      )}
    </div>
  );
}
