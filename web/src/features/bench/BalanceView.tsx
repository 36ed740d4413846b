import { useState } from "react";
import type { Analysis, FormulationChoices } from "~/api/client";
import { decimal, number, percent, spelled } from "~/shared/format";
import { Button, TextInput } from "~/ui";
import { Select } from "~/ui/Select";
import { FoodEnergy } from "./FoodEnergy";
import type { Way } from "./useWays";

const NONE = "none";
const OWN = "own";
const OWN_START = { meat: 50, starch: 25, vegetable: 25 };

/** Energy split, density, ratios, amino acids beside lysine, and the way of feeding's gauges. */
export function BalanceView({
  analysis,
  choices,
  way,
  onWay,
  onRescale,
  problem,
}: {
  analysis: Analysis;
  choices: FormulationChoices | undefined;
  way: Way;
  onWay: (way: Way) => void;
  onRescale: () => void;
  problem: string;
}) {
  const macros = analysis.macros;
  const limiting = analysis.amino_pattern[0];
  return (
    <div className="grid h-full grid-cols-[14rem_1fr_15rem_17rem] gap-6 overflow-auto text-data">
      <section aria-label="Energy split">
        <h3 className="mb-1 font-semibold">Share of energy</h3>
        {macros ? (
          <>
            {(["protein", "fat", "carbohydrate"] as const).map((key) => (
              <div key={key} className="mb-1">
                <div className="flex justify-between">
                  <span className="capitalize">{key}</span>
                  <b>{percent(macros[key])}</b>
                </div>
                <div className="h-2 bg-groove">
                  <div className="h-2 bg-oak" style={{ width: `${macros[key] * 100}%` }} />
                </div>
              </div>
            ))}
            <dl className="mt-2 grid grid-cols-[1fr_auto] gap-x-2">
              <dt>Energy density</dt>
              <dd className="text-right">{number(macros.kcal_per_gram, 2)} kcal/g</dd>
              <dt>Moisture</dt>
              <dd className="text-right">{percent(macros.moisture)}</dd>
              <dt>{spelled("Fibre")} in dry matter</dt>
              <dd className="text-right">
                {percent(macros.fibre_dry_matter)}
                {!macros.fibre_known && " or more"}
              </dd>
            </dl>
            <p className="mt-1 text-soft">{macros.source}</p>
          </>
        ) : (
          <p className="text-soft">The recipe brings no energy.</p>
        )}
      </section>
      <section aria-label="Ratios">
        <h3 className="mb-1 font-semibold">Ratios</h3>
        <table className="w-full">
          <tbody>
            {analysis.ratios.map((ratio) => {
              const { low, high, outside } = ratio;
              return (
                <tr key={ratio.key} className="border-line border-b align-top">
                  <td>
                    {ratio.name}
                    <div className="text-label text-soft">
                      {ratio.bounds_source || "no published window"}
                    </div>
                  </td>
                  <td className="whitespace-nowrap pl-2 text-right">
                    <b className={outside ? "text-madder" : ""}>
                      {ratio.share ? percent(ratio.value) : number(ratio.value, 2)}
                    </b>
                  </td>
                  <td className="whitespace-nowrap pl-2 text-right text-soft">
                    {low != null || high != null
                      ? `${bound(low, ratio.share)} to ${bound(high, ratio.share)}`
                      : ratio.status === "no limit"
                        ? ""
                        : ratio.status}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </section>
      <section aria-label="Amino acids">
        <h3 className="mb-1 font-semibold">Amino acids beside lysine</h3>
        {limiting ? (
          <>
            <p className="mb-1">
              Most limiting: <b>{limiting.name}</b>, {percent(limiting.of_minimum)} of its minimum.
            </p>
            <table className="w-full">
              <thead>
                <tr className="text-soft">
                  <th className="text-left font-normal">per lysine</th>
                  <th className="text-right font-normal">here</th>
                  <th className="text-right font-normal">standard</th>
                </tr>
              </thead>
              <tbody>
                {analysis.amino_pattern.map((a) => (
                  <tr key={a.key} className="border-line border-b">
                    <td>{a.name}</td>
                    <td className="text-right">{number(a.per_lysine, 2)}</td>
                    <td className="text-right">{number(a.wanted, 2)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        ) : (
          <p className="text-soft">Lysine has no value or the standard sets none.</p>
        )}
      </section>
      <div className="flex flex-col gap-4">
        {analysis.food_energy && <FoodEnergy found={analysis.food_energy} />}
        <WayOfFeeding
          analysis={analysis}
          choices={choices}
          way={way}
          onWay={onWay}
          onRescale={onRescale}
          problem={problem}
        />
      </div>
    </div>
  );
}

function bound(value: number | null | undefined, share: boolean | undefined): string | number {
  if (value == null) return "–";
  return share ? percent(value) : value;
}

function WayOfFeeding({
  analysis,
  choices,
  way,
  onWay,
  onRescale,
  problem,
}: {
  analysis: Analysis;
  choices: FormulationChoices | undefined;
  way: Way;
  onWay: (way: Way) => void;
  onRescale: () => void;
  problem: string;
}) {
  const options = [
    { id: NONE, label: "No proportions" },
    ...(choices?.ways ?? []).map((w) => ({ id: w.id, label: w.name })),
    { id: OWN, label: "Own proportions" },
  ];
  function choose(id: string) {
    if (id === OWN) onWay({ way: "", way_shares: OWN_START });
    else onWay({ way: id === NONE ? "" : id, way_shares: null });
  }
  return (
    <section aria-label="Way of feeding" className="flex flex-col gap-1.5">
      <h3 className="font-semibold">Way of feeding, by weight as fed</h3>
      <Select
        label="Proportions to keep to"
        value={way.way_shares ? OWN : way.way || NONE}
        onChange={choose}
        options={options}
      />
      {way.way_shares && (
        <OwnShares
          parts={choices?.parts ?? []}
          shares={way.way_shares}
          onChange={(way_shares) => onWay({ way: "", way_shares })}
        />
      )}
      {analysis.gauges.map((gauge) => {
        return (
          <div key={gauge.group}>
            <div className="flex justify-between gap-2">
              <span>{gauge.label}</span>
              <span className="whitespace-nowrap">
                <b className={gauge.off ? "text-madder" : ""}>{percent(gauge.share)}</b>{" "}
                <span className="text-soft">
                  of {gauge.at_least ? "at least " : ""}
                  {percent(gauge.wanted)}
                </span>
              </span>
            </div>
            <div className="relative h-2 bg-groove">
              <div className="h-2 bg-oak" style={{ width: `${Math.min(gauge.share, 1) * 100}%` }} />
              <div
                className="absolute top-0 h-2 border-ink border-l-2"
                style={{ left: `${gauge.wanted * 100}%` }}
              />
            </div>
          </div>
        );
      })}
      {analysis.gauges.length > 0 && (
        <>
          <Button onClick={onRescale} className="self-start">
            Rescale to what there is least of
          </Button>
          <p className="text-soft">A guide only: it changes no verdict. {analysis.way_caution}</p>
        </>
      )}
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
    </section>
  );
}

/** Own proportions, a box for each part; what is empty is not watched. */
function OwnShares({
  parts,
  shares,
  onChange,
}: {
  parts: FormulationChoices["parts"];
  shares: Record<string, number>;
  onChange: (shares: Record<string, number>) => void;
}) {
  const [typed, setTyped] = useState<Record<string, string>>(() =>
    Object.fromEntries(Object.entries(shares).map(([part, share]) => [part, String(share)])),
  );
  const wrong = Object.values(typed).some((text) => text.trim() !== "" && !(decimal(text) > 0));
  function put() {
    const kept = Object.entries(typed).filter(([, text]) => text.trim() !== "");
    if (!wrong && kept.length > 0)
      onChange(Object.fromEntries(kept.map(([part, text]) => [part, decimal(text)])));
  }
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="sr-only">Own proportions</legend>
      {parts.map((part) => (
        <div key={part.id} className="flex items-center justify-between gap-2">
          <label htmlFor={`share-${part.id}`}>{part.label}</label>
          <TextInput
            id={`share-${part.id}`}
            aria-label={`Share of ${part.label}`}
            inputMode="decimal"
            className="w-16 text-right"
            value={typed[part.id] ?? ""}
            onChange={(e) => setTyped({ ...typed, [part.id]: e.target.value })}
            onBlur={put}
            onKeyDown={(e) => e.key === "Enter" && put()}
          />
        </div>
      ))}
      {wrong && (
        <p role="alert" className="text-madder">
          A share is a number above 0; leave the box empty for none.
        </p>
      )}
    </fieldset>
  );
}
