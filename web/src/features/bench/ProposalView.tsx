import { useEffect, useMemo, useRef, useState } from "react";
import type { Analysis, Change } from "~/api/client";
import { number, percent, spelled, told } from "~/shared/format";
import { Button } from "~/ui";
import type { BenchLine } from "./editor";
import { changeKey, differences, type Run, withChanges } from "./useAdjust";

/** What a formulation proposes, line by line; nothing is changed until it is accepted. */
export function ProposalView({
  run,
  stale,
  analysis,
  onAccept,
  onLeave,
  onDecide,
  onAllow,
}: {
  run: Run;
  stale: boolean;
  analysis: Analysis | undefined;
  onAccept: (lines: BenchLine[]) => void;
  onLeave: () => void;
  onDecide: () => void;
  onAllow: (food: string) => void;
}) {
  const proposal = run.proposal;
  const changes = useMemo(
    () => (proposal?.changes ?? []).filter((c) => c.kind !== "kept"),
    [proposal],
  );
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const accept = useRef<HTMLButtonElement>(null);
  useEffect(() => accept.current?.focus(), []);
  if (!proposal) return null;
  const before = proposal.passes.find((p) => p.goal === "minimums")?.value;
  const chosen = new Set(changes.map(changeKey).filter((key) => !left.has(key)));
  const moved = analysis && proposal.after ? differences(analysis, proposal.after) : [];
  return (
    <section aria-label="Proposal" className="flex flex-col gap-3 border-line border-t pt-3">
      <p
        role="status"
        className={`stile ${proposal.state === "met" ? "border-verdigris" : "border-madder"}`}
      >
        <b>{told(proposal.words)}</b>
      </p>
      {stale && (
        <p role="alert" className="text-data text-madder">
          The recipe was changed since. Find the amounts again.
        </p>
      )}
      {changes.length > 0 && (
        <>
          <ul aria-label="Changes" className="flex flex-col">
            {changes.map((change) => (
              <ChangeRow
                key={changeKey(change)}
                change={change}
                checked={!left.has(changeKey(change))}
                onChange={(on) =>
                  setLeft((now) => {
                    const next = new Set(now);
                    if (on) next.delete(changeKey(change));
                    else next.add(changeKey(change));
                    return next;
                  })
                }
              />
            ))}
          </ul>
          {left.size > 0 && (
            <p className="text-data text-soft">
              With changes left out the limits may not hold; the wall tells.
            </p>
          )}
          <div className="flex gap-2">
            <Button
              ref={accept}
              kind="solid"
              disabled={stale || chosen.size === 0}
              onClick={() => onAccept(withChanges(run.lines, proposal.changes, chosen))}
            >
              {left.size === 0 ? "Accept all" : `Accept ${chosen.size}`}
            </Button>
            <Button kind="quiet" onClick={onLeave}>
              Keep mine
            </Button>
          </div>
        </>
      )}
      {proposal.state === "met" && changes.length === 0 && (
        <p className="text-soft">The recipe is as it should be; nothing to change.</p>
      )}
      {proposal.state === "undecided" && (
        <Button onClick={onDecide} className="self-start">
          Decide in the targets
        </Button>
      )}
      {moved.length > 0 && (
        <details>
          <summary className="cursor-pointer">Before and after ({moved.length})</summary>
          <ul className="text-data">
            {moved.map((m) => (
              <li key={m.key} className="flex justify-between">
                <span>{m.name}</span>
                <span>
                  <span className="text-soft">{m.from} →</span> {m.to}
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {proposal.conflicts.map((conflict) => (
        <div key={conflict.words} className="flex flex-col gap-1">
          <h3 className="font-semibold">These cannot hold together</h3>
          <ul className="list-disc pl-5 text-data">
            {conflict.members.map((m) => (
              <li key={m.words}>{m.words}</li>
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
                  <li key={text}>{text}</li>
                ))}
              </ul>
            </>
          )}
          {conflict.ways_out.length > 0 && (
            <>
              <h3 className="font-semibold">Any one of these would make it possible</h3>
              <ul className="list-disc pl-5 text-data">
                {conflict.ways_out.map((way) => (
                  <li key={way.text}>{way.text}</li>
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
                  {spelled(food.name)}, {food.text}
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
      {proposal.binding.length > 0 && (
        <details open>
          <summary className="cursor-pointer">
            What holds it back ({proposal.binding.length})
          </summary>
          <ul className="list-disc pl-5 text-data">
            {proposal.binding.map((b) => (
              <li key={b.key + b.bound}>{b.words}</li>
            ))}
          </ul>
        </details>
      )}
      {proposal.passes.length > 0 && (
        <details>
          <summary className="cursor-pointer">How it was found</summary>
          <ol className="list-decimal pl-5 text-data">
            {proposal.passes.map((pass) => (
              <li key={`${pass.goal}${pass.seconds}`}>
                {pass.name}: {number(pass.value, 3)}
                <span className="text-soft">
                  {pass.proved ? "" : ", not proved best"}, {number(pass.seconds, 2)} s
                </span>
              </li>
            ))}
          </ol>
        </details>
      )}
    </section>
  );
}

function ChangeRow({
  change,
  checked,
  onChange,
}: {
  change: Change;
  checked: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <li className="border-line border-b py-0.5">
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          className="accent-verdigris"
          checked={checked}
          onChange={(e) => onChange(e.target.checked)}
        />
        <span className="min-w-0 flex-1 truncate">
          <span className="inline-block w-4 text-soft">
            {change.kind === "added" ? "+" : change.kind === "removed" ? "−" : "±"}
          </span>
          {change.name}
        </span>
        <span className="shrink-0 text-right">
          {change.kind === "removed" ? (
            <s>{told(change.before)}</s>
          ) : (
            <>
              {change.before_grams > 0 && (
                <span className="text-soft">{told(change.before)} → </span>
              )}
              <b>{change.after}</b>
            </>
          )}
        </span>
      </label>
      {change.why && <p className="pl-6 text-data text-soft">{told(change.why)}</p>}
    </li>
  );
}
