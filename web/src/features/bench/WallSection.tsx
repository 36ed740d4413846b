import { useMemo, useState } from "react";
import type { FormulationChoices } from "~/api/client";
import { told } from "~/shared/format";
import { Loading, Problem, StaleNote } from "~/shared/states";
import { useMedia, WIDE } from "~/shared/useMedia";
import { useStable } from "~/shared/useStable";
import { type BoardFacts, boardsOf, marksOf } from "~/shared/wall/boards";
import type { Bounding } from "~/shared/wall/Grips";
import { Wall } from "~/shared/wall/Wall";
import { Button } from "~/ui";
import { Toggle } from "~/ui/Toggle";
import { BalanceView } from "./BalanceView";
import { EmptyBench } from "./EmptyBench";
import { MatrixView } from "./MatrixView";
import type { Proposals } from "./proposals/useProposals";
import { RobustView } from "./robust/RobustView";
import { Legend } from "./Summary";
import { TableView } from "./TableView";
import type { BenchState } from "./useBench";
import type { Live } from "./useLive";
import type { LookState } from "./useLook";
import { useSum } from "./useSum";
import type { Ways } from "./useWays";
import { VIEWS, type View } from "./views";

/** The recipe's verdicts over its lines: the wall, or the same as a table, a matrix, a balance. */
export function WallSection({
  recipeId,
  typed,
  bench,
  look,
  ways,
  choices,
  boards,
  tones,
  proposals,
  live,
  bounding,
  view,
  onView,
  selected,
  onSelect,
  onOpen,
  highlight,
  onHighlight,
}: {
  recipeId: number;
  /** What stands in the boxes, as it is asked for. */
  typed: string;
  bench: BenchState;
  look: LookState;
  ways: Ways;
  choices: FormulationChoices | undefined;
  boards: BoardFacts[];
  tones: Readonly<Record<string, string>>;
  /** The answers of a formulation; the chosen one is drawn while they are looked at. */
  proposals: Proposals;
  /** What bounds come to that are being moved; drawn while there is an answer. */
  live: Live;
  bounding: Bounding | null;
  view: View;
  onView: (view: View) => void;
  selected: string | null;
  onSelect: (key: string) => void;
  /** Show what was selected, where it has no room beside the wall. */
  onOpen: () => void;
  highlight: number | null;
  onHighlight: (line: number | null) => void;
}) {
  const wide = useMedia(WIDE);
  const sum = useSum(boards, !bench.stale && bench.errors.size === 0);
  const [pointed, setPointed] = useState<string | null>(null);
  const { analysis, content } = bench;
  const { at, analyses } = proposals;
  const after = proposals.on ? (analyses[at] ?? null) : (live.answer?.analysis ?? null);
  const drawn = useMemo(() => (after ? boardsOf(after, tones) : boards), [after, boards, tones]);
  // What the analyses were of is in what was asked for them: the list is new at every drawing.
  const others = useStable(analyses);
  const marks = useMemo(
    () => (after ? marksOf(boards, others, at) : null),
    [after, boards, others, at],
  );
  if (bench.analysisError && !analysis) {
    return (
      <Problem what="the wall" error={bench.analysisError} retry={() => bench.retryAnalysis()} />
    );
  }
  if (content.lines.length === 0 && !after) {
    return (
      <EmptyBench
        choices={choices}
        onBegin={ways.startFrom}
        onKept={ways.startWith}
        problem={ways.problem}
      />
    );
  }
  const shown = analysis ?? after;
  if (!shown) return <Loading what="the wall" />;
  // Where boards lie a pointer passes over them while the page is moved: only what was chosen is read out, so
  // that nothing moves away under the finger.
  const readout = drawn.find((b) => b.key === ((wide ? pointed : null) ?? selected));
  return (
    <>
      <p role="status" className="sr-only">
        {sum}
      </p>
      <div className="mb-0.5 flex min-h-7 flex-wrap items-center gap-2 wide:h-7 wide:flex-nowrap">
        <p className="flex min-w-0 flex-1 basis-80 gap-2 wide:truncate" aria-hidden="true">
          {readout && view === "wall" ? (
            <>
              <b>{readout.name}</b>
              <span className="wide:truncate">
                {told(readout.words)}
                {marks && `; now ${boards.find((b) => b.key === readout.key)?.figure}`}
              </span>
            </>
          ) : (
            !bench.stale && <Legend boards={drawn} />
          )}
        </p>
        {live.answer && !proposals.on && (
          <span className="shrink-0 border-verdigris border-l-[3px] pl-2">
            With your bounds
            <span className="text-soft">{live.answer.settled ? "" : ", amounts not rounded"}</span>
          </span>
        )}
        {bench.stale && <StaleNote why={bench.stale} />}
        {readout && !wide && view === "wall" && (
          <Button small onClick={onOpen}>
            Where it comes from
          </Button>
        )}
        <Toggle label="View" value={view} onChange={onView} options={VIEWS} small />
      </div>
      <div data-stale={bench.stale !== ""} className="min-h-0 flex-1">
        <div className="figure h-full">
          {view === "wall" && (
            <Wall
              boards={drawn}
              marks={marks}
              selected={selected}
              onSelect={onSelect}
              highlight={highlight}
              pointed={pointed}
              onPoint={setPointed}
              bounding={bounding}
            />
          )}
          {view === "table" && (
            <TableView
              analysis={shown}
              after={after}
              basis={look.basis}
              selected={selected}
              onSelect={onSelect}
            />
          )}
          {view === "lines" && (
            <MatrixView
              analysis={shown}
              lines={content.lines}
              selected={selected}
              onSelect={onSelect}
              highlight={highlight}
            />
          )}
          {view === "balance" && (
            <BalanceView
              analysis={shown}
              choices={choices}
              way={look.way}
              onWay={ways.choose}
              onRescale={ways.rescale}
              problem={ways.problem}
            />
          )}
          {view === "robust" && (
            <RobustView recipeId={recipeId} typed={typed} tones={tones} onHighlight={onHighlight} />
          )}
        </div>
      </div>
    </>
  );
}
