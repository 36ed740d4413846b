import { type KeyboardEvent, useEffect, useRef } from "react";
import { number, told } from "~/shared/format";
import { Button } from "~/ui";
import type { BenchLine } from "../editor";
import type { Run } from "../useAdjust";
import { aimed, Cards, surely, unpricedIn } from "./Cards";
import { ChangesTable } from "./ChangesTable";
import { Conflicts, HowFound, WantedAndGot } from "./Explained";
import { Steps } from "./Steps";
import { changesOf, type Proposals } from "./useProposals";

/** The answers to what was asked, beside each other; nothing is changed until one is taken. */
export function ProposalsView({
  run,
  proposals,
  tones,
  onTake,
  onBuy,
  onBack,
  onLeave,
  onDecide,
  onAllow,
  onPoint,
}: {
  run: Run;
  proposals: Proposals;
  tones: Readonly<Record<string, string>>;
  onTake: (lines: BenchLine[]) => void;
  /** See what would have to be bought for it, and whether it can be had. */
  onBuy: (lines: BenchLine[]) => void;
  /** Back to what was asked, with the answer kept. */
  onBack: () => void;
  onLeave: () => void;
  onDecide: () => void;
  onAllow: (food: string) => void;
  onPoint: (line: number | null) => void;
}) {
  const { proposal } = run;
  const region = useRef<HTMLElement>(null);
  const main = useRef<HTMLButtonElement>(null);
  useEffect(() => main.current?.focus({ preventScroll: true }), []);
  if (!proposal) return null;
  const { answers, at, chosen, left } = proposals;
  const changes = chosen ? changesOf(chosen) : [];
  const taken = changes.length - left.size;
  const explains =
    proposal.conflicts.length + proposal.help.length > 0 ||
    proposal.state === "short" ||
    !!proposal.matched;

  function onKeyDown(event: KeyboardEvent) {
    if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
    const target = event.target as HTMLElement;
    const number = Number(event.key);
    if (Number.isInteger(number) && answers[number - 1]) {
      event.preventDefault();
      proposals.choose(number - 1);
    } else if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
      event.preventDefault();
      const to = at + (event.key === "ArrowLeft" ? -1 : 1);
      if (answers[to]) proposals.choose(to);
    } else if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      const boxes = [...(region.current?.querySelectorAll<HTMLElement>("[type=checkbox]") ?? [])];
      const here = boxes.indexOf(target);
      const step = event.key === "ArrowDown" ? 1 : -1;
      const next = here < 0 ? boxes[0] : boxes[here + step];
      if (!next) return;
      event.preventDefault();
      next.focus();
    } else if (event.key === "Enter" && target.matches("[type=checkbox], [role=radio]")) {
      event.preventDefault();
      if (taken > 0) onTake(proposals.lines);
    } else if (event.key === "Escape") {
      onLeave();
    }
  }

  const days = proposal.days === 1 ? "a day" : `${Number(proposal.days.toFixed(1))} days`;
  return (
    <section
      ref={region}
      aria-label="Proposal"
      onKeyDown={onKeyDown}
      className="flex min-h-0 min-w-0 flex-1 flex-col"
    >
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-0.5 border-line border-b px-4 py-1">
        <p role="status" className={`stile ${stileOf(proposal.state)}`}>
          <b>{told(proposal.words)}</b>
        </p>
        <p className="text-data text-soft">
          {number(proposal.kcal_before)} kcal a day now
          {chosen && `, ${number(chosen.recipe.kcal_per_day)} with ${at + 1}, amounts for ${days}`}
          {chosen?.holds && `; it ${surely(chosen)}`}
          {chosen?.aim && `; aimed at ${aimed(chosen.aim)}`}
          {chosen && unpricedIn(chosen) && `; ${unpricedIn(chosen)}`}
        </p>
      </div>
      {answers.length > 0 && <Cards answers={answers} at={at} onChoose={proposals.choose} />}
      <div className="flex min-h-0 flex-1 flex-col wide:flex-row">
        {chosen && (
          <div className="min-h-0 min-w-0 flex-1 overflow-auto px-4">
            <Steps answers={answers} at={at} onChoose={proposals.choose} />
            {changes.length === 0 ? (
              <p className="py-2 text-soft">The recipe stays as it is.</p>
            ) : (
              <ChangesTable
                lines={run.lines}
                answers={answers}
                at={at}
                left={left}
                narrow={explains}
                tones={tones}
                onLeave={proposals.leave}
                onChoose={proposals.choose}
                onPoint={onPoint}
              />
            )}
            <HowFound proposal={proposal} />
          </div>
        )}
        {explains && (
          <aside
            aria-label="Why"
            className={`flex flex-col gap-2 overflow-auto border-line px-4 py-1.5 ${chosen ? "wide:w-72 wide:border-l" : "flex-1"}`}
          >
            {proposal.matched && <WantedAndGot matched={proposal.matched} answer={chosen} />}
            <Conflicts proposal={proposal} onAllow={onAllow} />
          </aside>
        )}
      </div>
      <div className="flex flex-wrap items-center gap-2 border-ink border-t-2 px-4 py-1.5">
        {proposal.state === "undecided" && (
          <Button ref={main} kind="solid" onClick={onDecide}>
            Decide in the targets
          </Button>
        )}
        {chosen && changes.length > 0 && (
          <Button
            ref={proposal.state === "undecided" ? undefined : main}
            kind={proposal.state === "undecided" ? "plain" : "solid"}
            disabled={taken === 0}
            onClick={() => onTake(proposals.lines)}
          >
            {left.size === 0 ? `Take ${at + 1}` : `Take ${taken} of ${changes.length} changes`}
          </Button>
        )}
        {chosen && <Button onClick={() => onBuy(proposals.lines)}>What to buy…</Button>}
        <Button
          ref={proposal.state === "undecided" || (chosen && changes.length > 0) ? undefined : main}
          kind="plain"
          onClick={onBack}
        >
          Ask otherwise
        </Button>
        <Button kind="quiet" onClick={onLeave}>
          Keep mine
        </Button>
        {left.size > 0 && (
          <p className="text-data text-soft">
            With changes left out limits may not hold; the wall tells.
          </p>
        )}
        {changes.length > 0 && (
          <p aria-hidden="true" className="ml-auto hidden text-data text-soft wide:block">
            {answers.length > 1 && (
              <>
                <kbd>1</kbd> to <kbd>{Math.min(answers.length, 9)}</kbd> look at one,{" "}
              </>
            )}
            <kbd>Enter</kbd> {proposal.state === "undecided" ? "decide" : "take it"}, <kbd>↑</kbd>{" "}
            <kbd>↓</kbd> <kbd>Space</kbd> a line, <kbd>Esc</kbd> keep mine
          </p>
        )}
      </div>
    </section>
  );
}

function stileOf(state: string): string {
  if (state === "not-finished") return "border-ink";
  return state === "met" ? "border-verdigris" : "border-madder";
}
