import { useNavigate } from "react-router";
import type { Case, Help, Recipe } from "~/api/client";
import { Toggle } from "~/ui/Toggle";
import { AdjustPanel } from "./AdjustPanel";
import { Drawer } from "./Drawer";
import type { BenchLine } from "./editor";
import { Summary } from "./Summary";
import type { Adjust } from "./useAdjust";
import type { BenchState } from "./useBench";
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
  onAccept,
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
  onAccept: (lines: BenchLine[]) => void;
}) {
  const navigate = useNavigate();
  const { analysis, content } = bench;
  const shown = content.lines.length > 0 ? analysis : undefined;
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
          analysis={analysis}
          hasErrors={bench.errors.size > 0}
          onAccept={onAccept}
          onDecide={() => navigate(`/cases/${current.id}/targets`)}
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
      {side === "detail" && shown && (
        <div data-stale={bench.stale !== ""}>
          <div className="figure">
            {selected ? (
              <Drawer
                recipeId={recipe.id}
                selected={selected}
                analysis={shown}
                typed={bench.typed}
                basis={look.basis}
                onHighlight={onHighlight}
                onHelp={onHelp}
              />
            ) : (
              <Summary analysis={shown} basis={look.basis} onSelect={onSelect} />
            )}
          </div>
        </div>
      )}
    </>
  );
}
