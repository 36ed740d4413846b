import { useQuery } from "@tanstack/react-query";
import { RadioGroup } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import type { FormulationChoices } from "~/api/client";
import { spelled } from "~/shared/format";
import { keptRecipesQuery } from "~/shared/queries";
import { PANELS } from "~/shared/wall/boards";
import { Button } from "~/ui";

type TrialSource = NonNullable<FormulationChoices["trial"]>["proteins"][number];

/** An empty recipe: how to begin, a first draft after a way of feeding, or what a trial is built on. */
export function EmptyBench({
  choices,
  onBegin,
  onKept,
  problem,
}: {
  choices: FormulationChoices | undefined;
  onBegin: (way: string, foods?: string[]) => void;
  /** Begin with a recipe that the practice keeps. */
  onKept: (kept: number) => void;
  problem: string;
}) {
  const ways = choices?.ways ?? [];
  const trial = choices?.trial;
  const kept = useQuery(keptRecipesQuery).data ?? [];
  return (
    <div className="relative flex h-full flex-col overflow-auto">
      <EmptyWall />
      <div
        className={`relative m-auto flex flex-col items-center gap-3 bg-paper py-2 text-center ${trial ? "w-full" : "max-w-xl px-4"}`}
      >
        {trial ? (
          <TrialChoice trial={trial} onBegin={(foods) => onBegin("", foods)} />
        ) : (
          <>
            <p className="text-soft">
              The wall fills as the recipe does. Press <kbd>/</kbd> and type an ingredient with its
              amount, for example “200 g chicken thigh”, or <kbd>a</kbd> to have one made.
            </p>
            <Link
              to="bring"
              className="inline-flex h-8 items-center rounded-corner bg-ink px-3 font-medium text-sheet hover:opacity-90"
            >
              Bring in what the client cooks
            </Link>
            {kept.length > 0 && (
              <>
                <p>Or begin with a recipe of yours, scaled to this dog:</p>
                <div className="flex flex-wrap justify-center gap-2">
                  {kept.map((recipe) => (
                    <Button
                      key={recipe.id}
                      title={recipe.foods.map((food) => spelled(food)).join("; ")}
                      onClick={() => onKept(recipe.id)}
                    >
                      {recipe.name}
                    </Button>
                  ))}
                </div>
              </>
            )}
            {ways.length > 0 && (
              <>
                <p>Or start from a way of feeding, scaled to this dog:</p>
                <div className="flex flex-wrap justify-center gap-2">
                  {ways.map((way) => (
                    <Button key={way.id} title={way.words} onClick={() => onBegin(way.id)}>
                      {way.name}
                    </Button>
                  ))}
                </div>
                <p className="text-data text-soft">
                  A starting point: its gaps are shown all the same, and press <kbd>a</kbd> to close
                  them.
                </p>
              </>
            )}
          </>
        )}
        {problem && (
          <p role="alert" className="text-madder">
            {problem}
          </p>
        )}
      </div>
    </div>
  );
}

/** The protein and the starch of a trial are chosen before anything else. */
function TrialChoice({
  trial,
  onBegin,
}: {
  trial: NonNullable<FormulationChoices["trial"]>;
  onBegin: (foods: string[]) => void;
}) {
  const [protein, setProtein] = useState("");
  const [starch, setStarch] = useState("");
  return (
    <>
      <div className="flex w-full flex-wrap items-center justify-between gap-2 text-left">
        <p>
          A trial is built on one protein and one starch that the dog never ate. What its diet
          history does not name comes first.
        </p>
        <Button
          kind="solid"
          disabled={!protein || !starch}
          onClick={() => onBegin([protein, starch])}
        >
          Begin the trial’s recipe
        </Button>
      </div>
      <Sources label="Protein" sources={trial.proteins} value={protein} onChange={setProtein} />
      <Sources label="Starch" sources={trial.starches} value={starch} onChange={setStarch} />
    </>
  );
}

function Sources({
  label,
  sources,
  value,
  onChange,
}: {
  label: string;
  sources: readonly TrialSource[];
  value: string;
  onChange: (food: string) => void;
}) {
  return (
    <RadioGroup.Root
      aria-label={label}
      value={value}
      onValueChange={onChange}
      orientation="horizontal"
      className="flex w-full flex-wrap gap-1.5 text-left"
    >
      {sources.map((source) => {
        const [first] = source.foods;
        if (!first) return null;
        return (
          <RadioGroup.Item
            key={source.group}
            value={first.food}
            className="w-40 flex-auto border border-line bg-paper px-2 py-0.5 text-left leading-tight data-[state=checked]:border-ink data-[state=checked]:bg-sheet"
          >
            <b>{spelled(first.name)}</b>
            <span className="block text-data text-soft">
              {source.eaten ? `eaten: ${source.eaten}` : "not in the diet history"}
            </span>
            {source.crosses && (
              <span className="block text-data text-madder">
                may cross-react with {source.crosses}
              </span>
            )}
          </RadioGroup.Item>
        );
      })}
    </RadioGroup.Root>
  );
}

/** The wall without boards: where each group will stand, its rail and its floor. */
function EmptyWall() {
  return (
    <div aria-hidden="true" className="absolute inset-0 flex gap-2.5 max-wide:hidden">
      {PANELS.map((panel) => (
        <div key={panel.id} className="flex min-w-10 flex-1 flex-col">
          <div className="flex-1 border-soft border-b-2">
            <div className="h-1/2 border-edge border-b-2 border-dashed" />
          </div>
          <span className="truncate pt-0.5 text-label text-soft">{panel.label}</span>
        </div>
      ))}
    </div>
  );
}
