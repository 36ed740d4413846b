import type { Proposal } from "~/api/client";
import { number, percent, spelled, told } from "~/shared/format";
import { Button } from "~/ui";

/** What cannot hold together, the ways out, and what would help. */
export function Conflicts({
  proposal,
  onAllow,
}: {
  proposal: Proposal;
  onAllow: (food: string) => void;
}) {
  const before = proposal.passes.find((p) => p.goal === "minimums")?.value;
  return (
    <>
      {proposal.conflicts.map((conflict) => (
        <div key={conflict.words} className="flex flex-col gap-1">
          <h3 className="font-semibold">These cannot hold together</h3>
          <ul className="list-disc pl-5 text-data">
            {conflict.members.map((m) => (
              <li key={m.words}>{told(m.words)}</li>
            ))}
          </ul>
          {!conflict.minimal && (
            <p className="text-data text-soft">
              The time ran out before the smallest such set was found.
            </p>
          )}
          {conflict.together.length > 0 && (
            <>
              <h3 className="font-semibold">No single one is enough; together the least is</h3>
              <ul className="list-disc pl-5 text-data">
                {conflict.together.map((text) => (
                  <li key={text}>{told(text)}</li>
                ))}
              </ul>
            </>
          )}
          {conflict.ways_out.length > 0 && (
            <>
              <h3 className="font-semibold">Any one of these would make it possible</h3>
              <ul className="list-disc pl-5 text-data">
                {conflict.ways_out.map((way) => (
                  <li key={way.text}>{told(way.text)}</li>
                ))}
              </ul>
              <p className="text-data text-soft">
                A limit that a condition sets gives way only with the attending vet.
              </p>
            </>
          )}
        </div>
      ))}
      {proposal.help.length > 0 && (
        <div>
          <h3 className="font-semibold">Foods that would help</h3>
          <ul className="text-data">
            {proposal.help.map((food) => (
              <li key={food.food} className="flex items-center justify-between gap-2">
                <span>
                  {spelled(food.name)}, {told(food.text)}
                  {before != null && before > 0 && food.shortfall_after != null && (
                    <span className="text-soft">
                      : closes {percent(1 - Math.min(food.shortfall_after / before, 1))} of what is
                      short
                    </span>
                  )}
                </span>
                <Button kind="quiet" small onClick={() => onAllow(food.food)}>
                  Allow
                </Button>
              </li>
            ))}
          </ul>
        </div>
      )}
      {proposal.state === "short" && proposal.help.length === 0 && (
        <p className="text-data text-soft">
          No food of the library that this dog may have would lower the gap. A supplement whose
          label strength is not entered yet may.
        </p>
      )}
    </>
  );
}

/** What a limit costs of the recipe, and how the first answer was found. */
export function HowFound({ proposal }: { proposal: Proposal }) {
  return (
    <div className="flex flex-col gap-1 py-1">
      {proposal.binding.length > 0 && (
        <div>
          <h3 className="font-semibold">What a limit costs</h3>
          <ul className="list-disc pl-5 text-data">
            {proposal.binding.map((b) => (
              <li key={b.key + b.bound}>{told(b.words)}</li>
            ))}
          </ul>
        </div>
      )}
      {proposal.passes.length > 0 && (
        <details>
          <summary className="cursor-pointer">How the first was found</summary>
          <ol className="list-decimal pl-5 text-data">
            {proposal.passes.map((pass) => (
              <li key={`${pass.goal}${pass.seconds}`}>
                {pass.name}: {number(pass.value, 3)}
                <span className="text-soft">{pass.proved ? "" : ", not proved best"}</span>
              </li>
            ))}
          </ol>
        </details>
      )}
    </div>
  );
}
