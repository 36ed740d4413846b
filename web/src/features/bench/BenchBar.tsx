import type { Case, Recipe } from "~/api/client";
import { BASES } from "~/shared/format";
import { UndoRedo } from "~/shared/saving/SavingNote";
import { Button, Select } from "~/ui";
import { DaysInput, EnergyGauge } from "./Toolbar";
import type { BenchState } from "./useBench";
import type { LookState, Policy } from "./useLook";

const POLICIES: { id: Policy; label: string }[] = [
  { id: "graded", label: "Graded" },
  { id: "strict", label: "Strict" },
  { id: "cautious", label: "Cautious" },
];

const NONE = "none";

/** The bar over the wall: how the recipe is looked at, what it feeds, whether it is saved. */
export function BenchBar({
  bench,
  look,
  recipe,
  current,
  onHelp,
}: {
  bench: BenchState;
  look: LookState;
  recipe: Recipe;
  current: Case;
  onHelp: () => void;
}) {
  const { analysis, content, dispatch } = bench;
  const { saved } = bench;
  // The case's own standard may be one that the list does not name as such.
  const known = look.choices.some((c) => c.id === look.standard);
  const choices = known
    ? look.choices
    : [{ id: look.standard, label: analysis?.requirements ?? look.standard }, ...look.choices];
  return (
    <div className="flex items-center gap-1.5 whitespace-nowrap border-line border-b px-4 py-1.5">
      <Select
        label="Standard and life stage"
        value={look.standard}
        onChange={look.setStandard}
        options={choices}
        className="w-36 shrink-0"
      />
      <Select
        label="Second standard on the wall"
        value={look.second || NONE}
        onChange={(id) => look.setSecond(id === NONE ? "" : id)}
        options={[{ id: NONE, label: "beside: –" }, ...choices]}
        className="w-24 shrink-0"
      />
      <Select
        label="How estimates count"
        value={look.policy}
        onChange={look.setPolicy}
        options={POLICIES}
        className="w-24 shrink-0"
      />
      <Select
        label="Basis"
        value={look.basis}
        onChange={look.setBasis}
        options={BASES}
        className="w-[7.5rem] shrink-0"
      />
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
        <a
          href={`/papers/recipes/${recipe.id}/sheet`}
          target="_blank"
          rel="noreferrer"
          title={saved ? "The sheet for the kitchen, as it is saved" : "Saving first"}
          // What is printed is what is stored.
          aria-disabled={!saved}
          onClick={(e) => !saved && e.preventDefault()}
          className="inline-flex h-8 items-center rounded px-3 font-medium hover:bg-groove aria-disabled:opacity-50"
        >
          Sheet
        </a>
        <a
          href={`/api/cases/${current.id}/file?recipe=${recipe.id}`}
          download={`${current.dog.name}.json`}
          title="Save the case with this recipe as a case file"
          className="inline-flex h-8 items-center rounded px-2 hover:bg-groove"
        >
          File
        </a>
        <Button kind="quiet" aria-label="Shortcuts" onClick={onHelp}>
          ?
        </Button>
      </div>
    </div>
  );
}
