import type { FormulationChoices } from "~/api/client";
import { PANELS } from "~/shared/wall/boards";
import { Button } from "~/ui";

/** An empty recipe: how to begin, or a first draft after a way of feeding. */
export function EmptyBench({
  ways,
  onTemplate,
  problem,
}: {
  ways: FormulationChoices["ways"];
  onTemplate: (way: string) => void;
  problem: string;
}) {
  return (
    <div className="relative flex h-full flex-col">
      <EmptyWall />
      <div className="relative m-auto flex max-w-xl flex-col items-center gap-3 bg-paper px-4 py-2 text-center">
        <p className="text-soft">
          The wall fills as the recipe does. Press <kbd>/</kbd> and type an ingredient with its
          amount, for example “200 g chicken thigh”.
        </p>
        {ways.length > 0 && (
          <>
            <p>Or start from a way of feeding, scaled to this dog:</p>
            <div className="flex flex-wrap justify-center gap-2">
              {ways.map((way) => (
                <Button key={way.id} title={way.words} onClick={() => onTemplate(way.id)}>
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
        {problem && (
          <p role="alert" className="text-madder">
            {problem}
          </p>
        )}
      </div>
    </div>
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
