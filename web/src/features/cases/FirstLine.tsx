import type { Chip, FirstLine as Read } from "~/api/client";
import { told } from "~/shared/format";
import { Button } from "~/ui";

/** What stands in boxes of the form, where it can be changed. */
const IN_BOXES = new Set<Chip["kind"]>(["name", "owner", "weight", "breed"]);

/** The facts of a first line to confirm: each can be left out, a diagnosis asks for its stage; what was not taken stands
 * under them as it was said. */
export function FirstLine({
  read,
  leftOut,
  stages,
  onLeaveOut,
  onStage,
}: {
  read: Read;
  leftOut: readonly string[];
  stages: Readonly<Record<string, string>>;
  onLeaveOut: (chip: string, out: boolean) => void;
  onStage: (chip: string, stage: string) => void;
}) {
  const chips = read.chips.filter((c) => !IN_BOXES.has(c.kind));
  if (chips.length === 0 && read.not_taken.length === 0) return null;
  return (
    <div className="flex flex-col gap-2">
      <ul aria-label="Taken from the line" className="flex flex-wrap gap-1.5">
        {chips.map((chip) => {
          const out = leftOut.includes(chip.id);
          const asks = chip.stages.length > 0 && !out;
          const stage = stages[chip.id] ?? "";
          return (
            <li
              key={chip.id}
              className={`border px-2 py-0.5 ${asks && stage === "" ? "border-ink border-dashed" : "border-edge"} ${asks ? "basis-full" : ""}`}
            >
              <span className={out ? "text-soft line-through" : ""}>{told(chip.says)}</span>
              <Button
                kind="quiet"
                aria-label={out ? `Take ${chip.says} back` : `Leave out ${chip.says}`}
                onClick={() => onLeaveOut(chip.id, !out)}
              >
                {out ? "↶" : "×"}
              </Button>
              {asks && (
                <fieldset className="flex flex-wrap items-center gap-x-3 gap-y-1 pb-1">
                  <legend className="sr-only">Stage of {chip.says}</legend>
                  <b>which stage?</b>
                  {chip.stages.map((s) => (
                    <label key={s.id} className="flex items-center gap-1">
                      <input
                        type="radio"
                        name={`stage-${chip.id}`}
                        className="accent-verdigris"
                        checked={stage === s.id}
                        onChange={() => onStage(chip.id, s.id)}
                      />
                      {told(s.name)}
                    </label>
                  ))}
                </fieldset>
              )}
            </li>
          );
        })}
      </ul>
      {read.not_taken.length > 0 && (
        <div>
          <p className="text-data text-soft">Not taken; it goes into the notes of the case:</p>
          <ul aria-label="Not taken from the line" className="text-data">
            {read.not_taken.map((n) => (
              <li key={`${n.text} ${n.why}`} className="border-edge border-l-2 border-dashed pl-2">
                “{n.text}” <span className="text-soft">{told(n.why)}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}
