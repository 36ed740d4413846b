import { useState } from "react";
import type { Cook } from "~/api/client";
import { decimal } from "~/shared/format";
import { TextInput } from "~/ui";
import { Big, entryKey } from "./parts";
import type { Cooking } from "./useCooking";

/** One level cup of the finished food on the scale: from then on a meal is told in it, too. */
export function Cup({ cook, cooking }: { cook: Cook; cooking: Cooking }) {
  const [grams, setGrams] = useState("");
  const [ml, setMl] = useState(() => (cook.conventions.measures === "us" ? "237" : "250"));
  const weight = decimal(grams);
  const holds = decimal(ml);
  const sound = weight > 0 && holds > 0;
  return (
    <form
      aria-label="A cup of it"
      className="mt-4 flex w-full flex-wrap items-center gap-x-3 gap-y-2 border-line border-t pt-3 text-part"
      onSubmit={(event) => {
        event.preventDefault();
        if (!sound) return;
        cooking.put({ key: entryKey(), kind: "cup", grams: weight, ml: holds });
      }}
    >
      <label htmlFor="cup-g">One level cup of it weighs, g</label>
      <TextInput
        id="cup-g"
        inputMode="decimal"
        value={grams}
        onChange={(e) => setGrams(e.target.value)}
        className="h-12 w-24 text-right"
      />
      <label htmlFor="cup-ml">and holds, ml</label>
      <TextInput
        id="cup-ml"
        inputMode="decimal"
        value={ml}
        onChange={(e) => setMl(e.target.value)}
        className="h-12 w-24 text-right"
      />
      <Big type="submit" disabled={!sound}>
        Put the cup down
      </Big>
    </form>
  );
}
