import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Robustness, type SwapClass, take } from "~/api/client";
import { spelled, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Swatch } from "~/shared/wall/Swatch";
import { OTHERS } from "~/shared/wall/tones";

type Line = Robustness["carrying"]["lines"][number];

const CHANGES: Record<Line["changes"][number]["change"], string> = {
  without: "Without it",
  half: "Half of it",
  twice: "Twice of it",
};
const SHOWN = 4;

/** What every line carries: the three the diet cannot live without first, then the others. */
export function Carried({
  recipeId,
  asked,
  carrying,
  words,
  tones,
  onHighlight,
}: {
  recipeId: number;
  /** What was asked of the kitchens. */
  asked: string;
  carrying: Robustness["carrying"];
  words: string;
  tones: Readonly<Record<string, string>>;
  onHighlight: (line: number | null) => void;
}) {
  const heavy = new Set(carrying.most.map((c) => c.line));
  const rest = carrying.lines.filter((c) => !heavy.has(c.line));
  const list = (lines: readonly Line[]) => (
    <ul className="flex flex-col gap-2">
      {lines.map((line) => (
        <li
          key={line.line}
          onPointerEnter={() => onHighlight(line.line)}
          onPointerLeave={() => onHighlight(null)}
          className="border-line border-t pt-1"
        >
          <p className="font-semibold">
            <Swatch tone={tones[line.food] ?? OTHERS} /> {spelled(line.name)}
          </p>
          <dl className="grid grid-cols-[5.5rem_minmax(0,1fr)] gap-x-2 text-data">
            {line.changes.map(({ change, breaches }) => (
              <div key={change} className="contents">
                <dt className="text-soft">{CHANGES[change]}</dt>
                <dd>{breachesText(breaches)}</dd>
              </div>
            ))}
          </dl>
          <Others recipeId={recipeId} asked={asked} line={line.line} />
        </li>
      ))}
    </ul>
  );
  return (
    <section aria-label="Without it, double it" className="min-w-0">
      <p className="mb-2 max-w-prose text-data">{told(words)}</p>
      {heavy.size > 0 && <h3 className="font-semibold">It cannot live without</h3>}
      {list(carrying.most)}
      {rest.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer">The other {rest.length}</summary>
          {list(rest)}
        </details>
      )}
    </section>
  );
}

/** What breaks where the owner takes another food of the same kind: asked for line by line, for it takes a while. */
function Others({ recipeId, asked, line }: { recipeId: number; asked: string; line: number }) {
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: keyOf("robustness", recipeId, asked, line),
    queryFn: () =>
      take(
        api.POST("/api/recipes/{id}/swaps", {
          params: { path: { id: recipeId } },
          body: { ...JSON.parse(asked), line },
        }),
      ),
    enabled: open,
    gcTime: 10_000,
  });
  if (!open)
    return (
      <button type="button" className="text-data underline" onClick={() => setOpen(true)}>
        Another of its kind?
      </button>
    );
  return (
    <p role="status" className="text-data">
      {found.data ? swapText(found.data) : (found.error?.message ?? "Looking at its kind…")}
    </p>
  );
}

/** "Of 12 others of its kind 9 would do. Worst: cod: zinc at 60 % of its least". */
function swapText(of: SwapClass): string {
  if (of.members === 0) return "Nothing else of its kind is known: do not swap it.";
  const sound = `Of ${of.members} others of its kind ${of.sound} would do as much as the tables say.`;
  if (!of.worst) return sound;
  const { name, breaches, unknown } = of.worst;
  const lost = [
    ...(breaches.length > 0 ? [breachesText(breaches)] : []),
    ...(unknown.length > 0 ? [`not known: ${unknown.map((n) => spelled(n)).join(", ")}`] : []),
  ];
  return `${sound} The worst: ${spelled(name)}: ${lost.join("; ")}.`;
}

/** "zinc at 34 % of its least, selenium at 60 % of its least, 3 more". */
function breachesText(breaches: Line["changes"][number]["breaches"]): string {
  if (breaches.length === 0) return "nothing breaks";
  const said = breaches.slice(0, SHOWN).map((b) => told(spelled(b.words)));
  const more = breaches.length - said.length;
  return [...said, ...(more > 0 ? [`${more} more`] : [])].join(", ");
}
