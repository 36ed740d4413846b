import { type ComponentProps, memo, useDeferredValue, useMemo } from "react";
import type { Case, Help, Recipe } from "~/api/client";
import type { BoardFacts } from "~/shared/wall/boards";
import { Toggle } from "~/ui/Toggle";
import { AdjustPanel } from "./AdjustPanel";
import { Drawer } from "./Drawer";
import { Summary } from "./Summary";
import type { Adjust } from "./useAdjust";
import type { BenchState } from "./useBench";
import type { Live } from "./useLive";
import type { LookState } from "./useLook";
import { VersionsPanel } from "./VersionsPanel";
import { SIDES, type Side } from "./views";

/** Beside the lines: one nutrient in detail, the adjustment, or the versions. */
export function SidePanel({
  side,
  onSide,
  bench,
  look,
  adjust,
  recipe,
  current,
  selected,
  onSelect,
  onHighlight,
  onHelp,
  boards,
  live,
  onShow,
  onBegin,
}: {
  side: Side;
  onSide: (side: Side) => void;
  bench: BenchState;
  look: LookState;
  adjust: Adjust;
  recipe: Recipe;
  current: Case;
  selected: string | null;
  onSelect: (key: string) => void;
  onHighlight: (line: number | null) => void;
  onHelp: (help: Help) => void;
  boards: readonly BoardFacts[];
  live: Live;
  /** Look at the answers of a formulation. */
  onShow: () => void;
  /** Begin the recipe with these foods. */
  onBegin: (foods: string[]) => void;
}) {
  const { analysis, content } = bench;
  const shown = content.lines.length > 0 ? analysis : undefined;
  const { typed, stale } = bench;
  // The wall first: what stands beside the lines may come a moment later.
  const later = useDeferredValue(useMemo(() => ({ shown, typed, stale }), [shown, typed, stale]));
  return (
    <>
      <div className="mb-2 flex shrink-0 items-center">
        <Toggle label="Side panel" value={side} onChange={onSide} options={SIDES} small />
      </div>
      {side === "adjust" && (
        <AdjustPanel
          caseId={current.id}
          adjust={adjust}
          content={content}
          typed={bench.typed}
          hasErrors={bench.errors.size > 0}
          boards={boards}
          grams={analysis?.recipe.lines.map((line) => line.grams) ?? []}
          selected={selected}
          live={live}
          onShow={onShow}
          onBegin={onBegin}
        />
      )}
      {side === "versions" && (
        <VersionsPanel
          recipe={recipe}
          typed={bench.typed}
          saved={bench.saved}
          onRestored={(stored) => bench.saving.draft.took(stored)}
        />
      )}
      {side === "detail" && later.shown && (
        <Detail
          analysis={later.shown}
          typed={later.typed}
          stale={later.stale}
          recipeId={recipe.id}
          selected={selected}
          basis={look.basis}
          onSelect={onSelect}
          onHighlight={onHighlight}
          onHelp={onHelp}
        />
      )}
    </>
  );
}

/** What is to be looked at: one nutrient, or all that are not right. */
const Detail = memo(function Detail({
  analysis,
  stale,
  selected,
  onSelect,
  ...drawer
}: Omit<ComponentProps<typeof Drawer>, "selected"> & {
  stale: string;
  selected: string | null;
  onSelect: (key: string) => void;
}) {
  return (
    <div data-stale={stale !== ""}>
      <div className="figure">
        {selected ? (
          <Drawer {...drawer} analysis={analysis} selected={selected} />
        ) : (
          <Summary analysis={analysis} basis={drawer.basis} onSelect={onSelect} />
        )}
      </div>
    </div>
  );
});
