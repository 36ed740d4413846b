import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type Analysis, api, type Help, type Origin, take } from "~/api/client";
import {
  BASES,
  type Basis,
  number,
  percent,
  ratioText,
  spelled,
  told,
  unitText,
} from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { Trace } from "~/shared/trace/Trace";
import { openAbove } from "~/shared/wall/boards";

import { HelpList } from "./HelpList";

/** Everything about one nutrient: status in words, who brings it, limits with origin, trace. */
export function Drawer({
  recipeId,
  selected,
  analysis,
  typed,
  basis,
  onHighlight,
  onHelp,
}: {
  recipeId: number;
  selected: string;
  analysis: Analysis;
  typed: string;
  basis: Basis;
  onHighlight: (line: number | null) => void;
  onHelp: (help: Help) => void;
}) {
  const ratio = analysis.ratios.find((r) => r.key === selected);
  const nutrient = analysis.nutrients.find((n) => n.key === selected);
  const explained = useQuery({
    queryKey: keyOf("explain", recipeId, selected, typed),
    queryFn: () =>
      take(
        api.POST("/api/recipes/{id}/explain", {
          params: { path: { id: recipeId } },
          body: { ...JSON.parse(typed), key: selected },
        }),
      ),
    enabled: !!nutrient,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
  if (ratio) {
    return (
      <aside aria-label={ratio.name} className="flex flex-col gap-3">
        <h2>{ratio.name}</h2>
        <p>
          <b>{ratioText(ratio)}</b>, {ratio.status}
          {ratio.unknown_lines > 0 &&
            ` (${ratio.unknown_lines} ingredient${ratio.unknown_lines > 1 ? "s have" : " has"} no value for a part of it)`}
        </p>
        <p className="text-soft">{ratio.formula}, by mass</p>
        <Origins origins={ratio.origin} />
      </aside>
    );
  }
  if (!nutrient) return null;
  const unit = unitText(nutrient.unit);
  const gap =
    nutrient.status === "short" || nutrient.status === "unproven"
      ? ((nutrient.min ?? 0) - (nutrient.per_1000_kcal ?? 0)) / (nutrient.min || 1)
      : 0;
  const stale = explained.data?.key !== selected;
  return (
    <aside aria-label={nutrient.name} className="flex flex-col gap-3">
      <div>
        <h2>{spelled(nutrient.name)}</h2>
        <p>
          {nutrient.status === "short" && (
            <>
              <b className="text-madder">Short by {percent(gap)}.</b>{" "}
              {nutrient.unknown_lines === 0 && "Every ingredient has a value."}
            </>
          )}
          {nutrient.status === "unproven" && !nutrient.maximum_unproven && (
            <>
              <b>Unproven.</b> What is known falls {percent(gap)} short, and what is not known may
              fill it or not.
            </>
          )}
          {nutrient.status === "unproven" && nutrient.maximum_unproven && (
            <>
              <b>Unproven.</b> What is known is under the ceiling, and what is not known may pass
              it.
            </>
          )}
          {nutrient.status === "off advice" && (
            <>
              <b>Off advice.</b> Every limit holds; {nutrient.set_by?.source ?? "an advice"} would
              rather see {number(nutrient.against, nutrient.decimals)} {unit}.
            </>
          )}
          {nutrient.status === "met" && <b>Met.</b>}
          {nutrient.status === "over" && (
            <b className="text-madder">
              Over the maximum by {percent((nutrient.per_1000_kcal ?? 0) / (nutrient.max || 1) - 1)}
              .
            </b>
          )}
          {nutrient.status === "above safe limit" && (
            <b className="text-madder">
              Above the safe upper limit by{" "}
              {percent((nutrient.per_1000_kcal ?? 0) / (nutrient.against || 1) - 1)}. It can harm,
              whatever the standard prints.
            </b>
          )}
          {nutrient.status === "no limit" && "The standard sets no limit."}
          {nutrient.why && <span className="block text-data text-soft">{told(nutrient.why)}.</span>}
          {nutrient.rises && (
            <span className="block text-data">The minimum rises: {nutrient.rises}.</span>
          )}
        </p>
      </div>
      <table className="w-full">
        <tbody>
          {BASES.map((b) => (
            <tr key={b.id} className={b.id === basis ? "font-semibold" : ""}>
              <td>{b.id === "per_day" ? "Per day" : `Per ${b.unit.slice(1)}`}</td>
              <td className="text-right">
                {number(nutrient[b.id], nutrient.decimals)} {unit}
              </td>
            </tr>
          ))}
          {openAbove(nutrient) && (
            <tr>
              <td>At most, per 1000 kcal</td>
              <td className="text-right">
                {nutrient.most == null
                  ? "nothing bounds it"
                  : `${number(nutrient.most, nutrient.decimals)} ${unit}`}
              </td>
            </tr>
          )}
          {(nutrient.estimated_share ?? 0) > 0.1 && nutrient.most_likely != null && (
            <tr>
              <td>With the range of estimates</td>
              <td className="text-right">
                {number(nutrient.least_likely, nutrient.decimals)} to{" "}
                {number(nutrient.most_likely, nutrient.decimals)} {unit}
              </td>
            </tr>
          )}
          <tr>
            <td>Known by weight</td>
            <td className="text-right">{percent(nutrient.known_share)}</td>
          </tr>
          <tr>
            <td>Rests on estimates</td>
            <td className="text-right">{percent(nutrient.estimated_share)}</td>
          </tr>
        </tbody>
      </table>
      {(nutrient.status === "short" || nutrient.status === "unproven") && nutrient.min != null && (
        <HelpList
          key={selected}
          recipeId={recipeId}
          typed={typed}
          nutrient={selected}
          analysis={analysis}
          onAdd={onHelp}
        />
      )}
      <section>
        <h3 className="mb-1 font-semibold">Where it comes from</h3>
        {explained.isError && <Problem error={explained.error} retry={() => explained.refetch()} />}
        {explained.isPending && nutrient && <Loading what="sources" />}
        {explained.data && !stale && (
          <ul className="flex flex-col gap-1">
            {explained.data.lines.map((line) => (
              <li
                key={line.line}
                onPointerEnter={() => onHighlight(line.line)}
                onPointerLeave={() => onHighlight(null)}
              >
                <div className="flex justify-between gap-2">
                  <span className="truncate">{line.name}</span>
                  <span className="shrink-0">
                    {line.amount === null ? (
                      <span className="border-ink border-b border-dashed">unknown</span>
                    ) : (
                      <>
                        {number(line.amount, nutrient.decimals)} {unit}{" "}
                        <span className="inline-block w-11 text-right text-soft">
                          {percent(line.share)}
                        </span>
                      </>
                    )}
                  </span>
                </div>
                <div className="text-label text-soft leading-tight">
                  {line.grade === "analysed" ? "analysed" : `${line.grade}: ${line.provenance}`}
                  {line.confidence && line.grade !== "analysed"
                    ? ` (confidence ${line.confidence})`
                    : ""}
                </div>
              </li>
            ))}
          </ul>
        )}
      </section>
      {explained.data && !stale && <Origins origins={explained.data.origin} />}
      {explained.data && !stale && <Trace steps={explained.data.steps} />}
    </aside>
  );
}

function Origins({ origins }: { origins: Origin[] }) {
  if (origins.length === 0) return null;
  return (
    <section>
      <h3 className="mb-1 font-semibold">Limits</h3>
      <ul className="flex flex-col gap-1.5">
        {origins.map((origin) => (
          <li key={`${origin.which}${origin.source}`}>
            <div className="flex justify-between gap-2">
              <span>
                {origin.which === "min"
                  ? "Minimum"
                  : origin.which === "max"
                    ? "Maximum"
                    : "Recommended"}
              </span>
              <span>{origin.printed}</span>
            </div>
            <div className="text-label text-soft leading-tight">
              {origin.citation}. Confidence {origin.confidence}
              {origin.checked
                ? ", checked against the publication"
                : "; not yet checked against the publication"}
              {origin.note ? `. ${origin.note}` : ""}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
