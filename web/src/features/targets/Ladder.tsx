import type { Case } from "~/api/client";
import { figureText, sentence, spelled, told, unitText } from "~/shared/format";
import { Button } from "~/ui";
import { ConflictCard, LimitForm } from "./decisions";
import type { Conflict, Draft, End, Limit, Origin } from "./limits";
import { isFloor, LAYER_WORDS, layerOf, Sign } from "./marks";

const SETS: Record<Origin["which"], string> = {
  min: "at least",
  recommended: "recommended",
  max: "at most",
  safe: "never above",
};

/** One window: every layer with what it rests on, two that cross, and an end moved with a reason and a name. */
export function Ladder({
  limit,
  conflict,
  narrow,
  current,
  end,
  onDraft,
  onClose,
}: {
  limit: Limit;
  conflict: Conflict | undefined;
  narrow: string | undefined;
  current: Case;
  end: End | null;
  onDraft: (draft: Draft | null) => void;
  onClose: () => void;
}) {
  const unit = limit.unit === "ratio" ? "" : ` ${unitText(limit.unit)}`;
  return (
    <section aria-label={`Window of ${limit.name}`} className="flex flex-col gap-3">
      <div className="flex items-start justify-between gap-2">
        <div>
          <h2 className="text-name">{spelled(limit.name)}</h2>
          <p className="text-data text-soft">
            {unit ? `${unit.trim()} per 1000 kcal` : "a ratio"}
            {limit.min_per_day !== null && unit && (
              <>
                ; a day at least {figureText(limit.min_per_day)}
                {limit.max_per_day !== null && `, at most ${figureText(limit.max_per_day)}`}
              </>
            )}
            {limit.opening !== null &&
              limit.opening >= 1 &&
              `; the most is ${figureText(limit.opening)} times the least`}
          </p>
        </div>
        <Button kind="quiet" onClick={onClose}>
          Conditions
        </Button>
      </div>
      {narrow && (
        <p className="border-oak stile">
          <b>A narrow window.</b> {told(sentence(narrow))}.
        </p>
      )}
      {conflict && (
        <section aria-label="Conflict">
          <ConflictCard conflict={conflict} current={current} />
        </section>
      )}
      <ul>
        {limit.origin.map((o) => (
          <li
            key={`${o.which} ${o.source} ${o.printed}`}
            className="flex gap-2 border-line border-t py-1"
          >
            <Sign layer={layerOf(o)} floor={isFloor(o)} />
            <div className="min-w-0 flex-1">
              <div className={`flex justify-between gap-2 ${o.overridden_by ? "text-soft" : ""}`}>
                <span className={o.overridden_by ? "line-through" : ""}>
                  {SETS[o.which]}, {o.source}
                </span>
                <b className="whitespace-nowrap">
                  {o.value == null ? "no limit" : `${figureText(o.value)}${unit}`}
                </b>
              </div>
              <p className="text-label text-soft">
                {LAYER_WORDS[layerOf(o)]}: {o.printed}
                {o.overridden_by && `; gives way to ${o.overridden_by}`}
                {o.checked ? "" : "; not yet checked against the publication"}
              </p>
              <details className="text-label text-soft">
                <summary className="cursor-pointer">Where it is from</summary>
                <p>
                  {o.citation}, confidence {o.confidence}. {sentence(o.note)}
                </p>
              </details>
            </div>
          </li>
        ))}
        {limit.rises.map((rise) => (
          <li key={rise.source} className="border-line border-t py-1 text-data">
            {rise.strength === "advised" ? "Advised to rise" : "Rises"}: {rise.words}.{" "}
            <span className="text-soft">
              {rise.source}; confidence {rise.confidence}
            </span>
          </li>
        ))}
      </ul>
      <LimitForm key={limit.key} limit={limit} current={current} end={end} onDraft={onDraft} />
    </section>
  );
}
