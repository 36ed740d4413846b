import type { Robustness } from "~/api/client";
import { percent, spelled, told } from "~/shared/format";
import { boundsText, byTable, type Chance, ofHundred } from "./chance";

type Doubt = Robustness["doubts"][number];

const CAUSES: Record<Doubt["inputs"][number]["cause"], string> = {
  content: "from one purchase to the next",
  table: "the table’s own mean",
  label: "what the pack says",
  measuring: "measuring",
  cooking: "what cooking leaves",
  owner: "left out, halved, too much",
  swap: "another food in its place",
};

/** One limit: how surely it holds, what its doubt comes from, and the cheapest way to be surer. */
export function Doubts({
  limit,
  doubts,
  onHighlight,
}: {
  limit: Chance | undefined;
  doubts: readonly Doubt[];
  onHighlight: (line: number | null) => void;
}) {
  if (!limit)
    return (
      <section aria-label="How surely it holds">
        <p className="text-soft">Every limit that the recipe meets holds in 95 of 100 batches.</p>
      </section>
    );
  const doubt = doubts.find((d) => d.key === limit.key);
  return (
    <section aria-label="How surely it holds" className="min-w-0">
      <h3 className="font-semibold">{spelled(limit.name)}</h3>
      <p className="text-data text-soft">
        {boundsText(limit)}
        {limit.unit !== "ratio" && " per 1000 kcal"}
      </p>
      {byTable(limit) ? (
        <dl className="mt-1 grid grid-cols-[1fr_auto] gap-x-3">
          {(["batch", "week", "month"] as const).map((span) => (
            <div key={span} className="contents">
              <dt>{{ batch: "a batch", week: "a week", month: "four weeks" }[span]}</dt>
              <dd className="text-right">
                <b>{ofHundred(limit[span].share)}</b> of 100
                <span className="text-label text-soft"> ±{percent(limit[span].error)}</span>
              </dd>
            </div>
          ))}
          {limit.day && (
            <>
              <dt>a single day, its ceiling</dt>
              <dd className="text-right">
                <b>{ofHundred(limit.day.share)}</b> of 100
                <span className="text-label text-soft"> ±{percent(limit.day.error)}</span>
              </dd>
            </>
          )}
        </dl>
      ) : (
        <p className="mt-1">By its tables it is {limit.status}: that is mended first.</p>
      )}
      {limit.of_known && (
        <p className="text-data text-soft">
          Some foods have no value for it: what they hold counts as nothing here, so it holds at
          least so often.
        </p>
      )}
      {limit.no_ceiling && (
        <p className="text-data text-soft">
          Its ceiling is not looked at: nothing bounds what is not known.
        </p>
      )}
      {doubt && (
        <>
          <h4 className="mt-3 font-semibold">What the doubt comes from</h4>
          <ul className="flex flex-col gap-1">
            {doubt.inputs.map((i) => (
              <li
                key={`${i.line} ${i.cause}`}
                onPointerEnter={() => onHighlight(i.line)}
                onPointerLeave={() => onHighlight(null)}
              >
                <div className="flex justify-between gap-2">
                  <span className="min-w-0">
                    {spelled(i.name)}
                    <span className="text-data text-soft">, {CAUSES[i.cause]}</span>
                  </span>
                  <b className="whitespace-nowrap">{percent(i.share)}</b>
                </div>
                <div className="h-1.5 bg-groove">
                  <div
                    className={i.averages ? "h-1.5 bg-oak" : "h-1.5 bg-oak-deep"}
                    style={{ width: `${i.share * 100}%` }}
                  />
                </div>
              </li>
            ))}
          </ul>
          <p className="mt-1 text-label text-soft">
            Shares of the variance of a batch. Pale: evens out over batches; dark: the same every
            time.
          </p>
          {doubt.cheapest && (
            <p className="mt-2 border-verdigris stile">
              <b>To be surer:</b> {told(doubt.cheapest.words)}.
            </p>
          )}
        </>
      )}
    </section>
  );
}
