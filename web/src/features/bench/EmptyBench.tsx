import type { FormulationChoices } from "~/api/client";
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
    <div className="m-auto flex max-w-xl flex-col items-center gap-3 text-center">
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
          <p className="text-[13px] text-soft">
            A starting point: its gaps are shown all the same, and press <kbd>a</kbd> to close them.
          </p>
        </>
      )}
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
    </div>
  );
}
