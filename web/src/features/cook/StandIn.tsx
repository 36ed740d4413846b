import { useState } from "react";
import { AmountBox } from "~/shared/amounts/boxes";
import { decimal } from "~/shared/format";
import type { Fault, useScale } from "./useScale";

const FAULTS: { id: Fault; label: string }[] = [
  { id: "disconnect", label: "it is gone" },
  { id: "tare-lost", label: "it was off: tare lost" },
  { id: "battery", label: "battery low" },
  { id: "ounces", label: "unit key: ounces" },
  { id: "stuck", label: "it is stuck" },
  { id: "draught", label: "a draught" },
  { id: "twice", label: "messages twice" },
  { id: "backwards", label: "messages in the wrong order" },
  { id: "late", label: "messages late" },
];

/** The hand on the stand-in scale: what lies on it in truth, and what goes wrong with it. */
export function StandIn({ scale }: { scale: ReturnType<typeof useScale> }) {
  const [on, setOn] = useState("0");
  const [wrong, setWrong] = useState<ReadonlySet<Fault>>(new Set());
  const [why, setWhy] = useState("");
  const tell = (work: Promise<void>) =>
    work.then(() => setWhy("")).catch((error: Error) => setWhy(error.message));
  const put = (grams: number) => {
    const next = Math.max(0, Math.round(grams * 100) / 100);
    setOn(String(next));
    void tell(scale.act({ do: "put", grams: next }));
  };
  const now = decimal(on);
  const base = Number.isFinite(now) ? now : 0;
  return (
    <details className="w-full border-line border-t pt-2 text-data">
      <summary className="min-h-12 cursor-pointer content-center text-soft">
        Stand-in scale: the hand and the faults
      </summary>
      <form
        className="flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (Number.isFinite(now)) put(now);
        }}
      >
        <label htmlFor="hand">On it lie, g</label>
        <AmountBox
          id="hand"
          value={on}
          onChange={(e) => setOn(e.target.value)}
          className="h-12 w-24"
        />
        <button type="submit" className="h-12 rounded-corner border border-edge px-3">
          Put
        </button>
        {[1, 10, 100].map((grams) => (
          <button
            key={grams}
            type="button"
            className="h-12 min-w-12 rounded-corner border border-edge px-2"
            onClick={() => put(base + grams)}
          >
            +{grams}
          </button>
        ))}
        <button
          type="button"
          className="h-12 rounded-corner border border-edge px-3"
          onClick={() => put(0)}
        >
          Clear it
        </button>
      </form>
      <fieldset className="mt-2 flex flex-wrap gap-x-4">
        <legend className="text-soft">What goes wrong</legend>
        {FAULTS.map((fault) => (
          <label key={fault.id} className="flex min-h-12 items-center gap-1.5">
            <input
              type="checkbox"
              checked={wrong.has(fault.id)}
              onChange={(e) => {
                const next = new Set(wrong);
                // What happens once leaves no trace in a switch.
                if (e.target.checked && fault.id !== "tare-lost") next.add(fault.id);
                else next.delete(fault.id);
                setWrong(next);
                void tell(scale.act({ do: "fault", fault: fault.id, on: e.target.checked }));
              }}
            />
            {fault.label}
          </label>
        ))}
      </fieldset>
      {why && (
        <p role="alert" className="text-madder">
          {why}.
        </p>
      )}
    </details>
  );
}
