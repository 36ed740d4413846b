import { useEffect, useMemo, useState } from "react";
import type { Look, Recipe } from "~/api/client";
import { told } from "~/shared/format";
import { Problem, StaleNote } from "~/shared/states";
import { type BoardFacts, boardsOf, withOpen } from "~/shared/wall/boards";
import { tonesOf } from "~/shared/wall/tones";
import { Wall } from "~/shared/wall/Wall";
import type { Content } from "../editor";
import { EnergyGauge } from "../Toolbar";
import { useAnalysis } from "../useAnalysis";
import { countOf } from "../useSum";

const TOLD = ["short", "unproven", "over", "above safe limit", "off advice", "met"] as const;

function Sum({ boards }: { boards: readonly BoardFacts[] }) {
  const counts = countOf(boards);
  const parts = TOLD.flatMap((status) =>
    counts.has(status) ? [`${counts.get(status)} ${status}`] : [],
  );
  return <span className="text-soft">{parts.join(", ")}</span>;
}

/** The wall of what is read so far, with what open weights could still change. */
export function BringWall({
  recipe,
  look,
  content,
  uncounted,
  ranges,
  onWrong,
}: {
  recipe: Recipe;
  look: Look;
  content: Content;
  /** How many lines cannot be computed yet. */
  uncounted: number;
  ranges: Readonly<Record<string, readonly number[]>>;
  /** Amounts that cannot be read, by the key of their line. */
  onWrong: (wrong: ReadonlyMap<string, string>) => void;
}) {
  const { analysis, errors, stale, error, retry } = useAnalysis(recipe.id, content, look);
  const [selected, setSelected] = useState<string | null>(null);
  const [pointed, setPointed] = useState<string | null>(null);
  const wrong = JSON.stringify(
    [...errors].map(([i, e]) => [content.lines[i]?.key ?? "", e.message]),
  );
  useEffect(() => onWrong(new Map(JSON.parse(wrong))), [wrong, onWrong]);
  const boards = useMemo(() => {
    if (!analysis) return [];
    const drawn = boardsOf(analysis, tonesOf(recipe.tones, analysis.recipe.lines));
    return withOpen(drawn, ranges);
  }, [analysis, recipe.tones, ranges]);
  const readout = boards.find((b) => b.key === (pointed ?? selected));
  return (
    <section
      aria-label="The wall"
      className="flex flex-col border-ink border-t-2 px-4 pt-1 wide:h-64 wide:shrink-0"
    >
      <div className="flex min-h-6 flex-wrap items-center gap-x-3 wide:flex-nowrap">
        {analysis && <EnergyGauge analysis={analysis} />}
        {uncounted > 0 && (
          <span className="border-madder border-l-[3px] pl-2">
            {uncounted === 1 ? "1 line is" : `${uncounted} lines are`} not counted yet
          </span>
        )}
        {stale && <StaleNote why={stale} />}
        <p className="min-w-0 flex-1 text-data wide:truncate">
          {readout ? (
            <>
              <b>{readout.name}</b> {told(readout.words)}
            </>
          ) : Object.keys(ranges).length > 0 ? (
            <span className="text-soft">hatched: what the open weights could still change</span>
          ) : (
            <Sum boards={boards} />
          )}
        </p>
      </div>
      {error && !analysis && <Problem what="the wall" error={error} retry={() => void retry()} />}
      {content.lines.length === 0 && (
        <p className="text-soft">Nothing can be computed yet: no line has a food and an amount.</p>
      )}
      <div data-stale={stale !== ""} className="min-h-0 flex-1">
        <div className="figure h-full">
          {analysis && content.lines.length > 0 && (
            <Wall
              boards={boards}
              selected={selected}
              onSelect={setSelected}
              highlight={null}
              pointed={pointed}
              onPoint={setPointed}
            />
          )}
        </div>
      </div>
    </section>
  );
}
