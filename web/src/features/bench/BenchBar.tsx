import { useState } from "react";
import type { Case, Recipe } from "~/api/client";
import { UndoRedo } from "~/shared/saving/SavingNote";
import { Button } from "~/ui";
import { LookMenu } from "./LookMenu";
import { RecipeMenu } from "./RecipeMenu";
import { ThumbDialog } from "./ThumbDialog";
import { DaysInput, EnergyGauge } from "./Toolbar";
import type { BenchState } from "./useBench";
import type { LookState } from "./useLook";

/** The bar over the wall: how the recipe is looked at, what it feeds, whether it is saved. */
export function BenchBar({
  bench,
  look,
  recipe,
  current,
  onHelp,
  onBuy,
}: {
  bench: BenchState;
  look: LookState;
  recipe: Recipe;
  current: Case;
  onHelp: () => void;
  /** Undefined while there is nothing to buy. */
  onBuy: (() => void) | undefined;
}) {
  const { analysis, content, dispatch } = bench;
  const { saved } = bench;
  const [thumb, setThumb] = useState(false);
  return (
    <div className="flex flex-wrap items-center gap-x-1.5 gap-y-1 whitespace-nowrap border-line border-b px-4 py-1.5">
      <RecipeMenu
        recipe={recipe}
        saving={bench.saving}
        saved={bench.saved}
        onThumb={() => setThumb(true)}
      />
      <LookMenu look={look} named={analysis?.requirements} />
      {analysis && (
        <div data-stale={bench.stale !== ""}>
          <div className="figure">
            <EnergyGauge analysis={analysis} />
          </div>
        </div>
      )}
      <div className="flex items-center gap-1.5">
        <span className="text-soft">feeds</span>
        <DaysInput
          value={content.coversDays}
          onChange={(coversDays) => dispatch({ type: "days", coversDays })}
        />
        <span className="text-soft">{content.coversDays === 1 ? "day" : "days"}</span>
      </div>
      <div className="ml-auto flex items-center gap-1">
        <UndoRedo saving={bench.saving} everywhere />
        <Button
          kind="quiet"
          title="What to buy, and whether it can be had"
          disabled={onBuy === undefined}
          onClick={onBuy}
        >
          Buy
        </Button>
        <a
          href={`/papers/recipes/${recipe.id}/sheet`}
          target="_blank"
          rel="noreferrer"
          title={saved ? "The sheet for the kitchen, as it is saved" : "Saving first"}
          // What is printed is what is stored.
          aria-disabled={!saved}
          onClick={(e) => !saved && e.preventDefault()}
          className="inline-flex h-8 items-center rounded-corner px-3 font-medium hover:bg-groove aria-disabled:opacity-50"
        >
          Sheet
        </a>
        <a
          href={`/api/cases/${current.id}/file?recipe=${recipe.id}`}
          download={`${current.dog.name}.json`}
          title="Save the case with this recipe as a case file"
          className="inline-flex h-8 items-center rounded-corner px-2 hover:bg-groove"
        >
          File
        </a>
        <Button kind="quiet" aria-label="Shortcuts" onClick={onHelp}>
          ?
        </Button>
      </div>
      {thumb && (
        <ThumbDialog
          recipeId={recipe.id}
          typed={bench.typed}
          onAdd={(line) => {
            dispatch({ type: "add", line });
            setThumb(false);
          }}
          onClose={() => setThumb(false)}
        />
      )}
    </div>
  );
}
