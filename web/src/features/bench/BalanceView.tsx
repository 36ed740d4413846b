import { useState } from "react";
import type { Analysis, FormulationChoices, Ratio } from "~/api/client";
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
        <ul>
          {analysis.ratios.map((ratio) => (
            <li key={ratio.key} className="border-line border-b pb-1.5">
              <div className="flex justify-between gap-2">
                <details>
                  <summary className="cursor-pointer">{ratio.name}</summary>
                  <p className="text-label text-soft">
                    {ratio.bounds_source || "no published window"}
                  </p>
                </details>
                <span className="whitespace-nowrap">
                  <b className={ratio.outside ? "text-madder" : ""}>
                    {ratio.value === null && ratio.least != null
                      ? `${told(ratio.least, ratio.share)} to ${ratio.most == null ? "?" : told(ratio.most, ratio.share)}`
                      : told(ratio.value, ratio.share)}
                  </b>{" "}
                  <span className="text-soft">
                    {ratio.low != null || ratio.high != null
                      ? `in ${told(ratio.low, ratio.share)} to ${told(ratio.high, ratio.share)}`
                      : ratio.status === "no limit"
                        ? ""
                        : ratio.status}
                  </span>
                </span>
              </div>
              {(ratio.low != null || ratio.high != null) && <Opening of={ratio} />}
            </li>
          ))}
        </ul>
      </section>
      <section aria-label="Amino acids">
        <h3 className="mb-1 font-semibold">Amino acids beside lysine</h3>
        {limiting ? (
          <>
            <p className="mb-1">
              Most limiting: <b>{limiting.name}</b>, {percent(limiting.of_minimum)} of its minimum.
            </p>
            <p className="mb-1 text-soft">
              The line is the minimum. Right: per lysine here, and as the standard has it.
            </p>
            <ul>
              {analysis.amino_pattern.map((a) => (
                <li key={a.key} className="grid grid-cols-[1fr_4rem_4.5rem] items-center gap-x-2">
                  <span className="truncate" title={a.name}>
                    {a.name}
                    <span className="sr-only">, {percent(a.of_minimum)} of its minimum</span>
                  </span>
                  <Rung share={a.of_minimum} />
                  <span className="text-right">
                    {number(a.per_lysine, 2)}{" "}
                    <span className="text-soft">{number(a.wanted, 2)}</span>
                  </span>
                </li>
              ))}
            </ul>
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

function told(value: number | null | undefined, share: boolean | undefined): string {
  if (value == null) return "–";
  return share ? percent(value) : number(value, 2);
}

/** A ratio in its window: the opening is what it may be, the mark where it stands; dashed while it is not known. */
function Opening({ of }: { of: Ratio }) {
  const { low, high, value, least, most } = of;
  const end = 1.25 * Math.max(low ?? 0, high ?? 0, value ?? 0, least ?? 0, most ?? 0);
  const at = (x: number) => `${Math.min(100, (x / end) * 100)}%`;
  const width = (from: number, to: number) => `${Math.max(0, ((to - from) / end) * 100)}%`;
  const from = low ?? 0;
  const to = high ?? end;
  return (
    <div className="relative my-1 h-3 bg-groove" aria-hidden="true">
      <div
        className="absolute inset-y-0 bg-oak-pale"
        style={{ left: at(from), width: width(from, to) }}
      />
      {[low, high].map(
        (edge) =>
          edge != null && (
            <div
              key={edge}
              className="absolute -inset-y-0.5 border-ink border-l-2"
              style={{ left: at(edge) }}
            />
          ),
      )}
      {value != null ? (
        <div
          className={`absolute -inset-y-1 w-1.5 -translate-x-1/2 ${of.outside ? "bg-madder" : "bg-ink"}`}
          style={{ left: at(value) }}
        />
      ) : (
        least != null && (
          <div
            className="absolute inset-y-0 border border-ink border-dashed"
            style={{ left: at(least), width: width(least, most ?? end) }}
          />
        )
      )}
    </div>
  );
}

const LONGEST = 3;

/** An amino acid: the bar fills to what there is of its minimum, the line is all of it. */
function Rung({ share }: { share: number }) {
  return (
    <span className="relative block h-2.5 bg-groove" aria-hidden="true">
      <span
        className={`absolute inset-y-0 left-0 ${share < 1 ? "bg-oak-deep" : "bg-oak-pale"}`}
        style={{ width: `${(Math.min(share, LONGEST) / LONGEST) * 100}%` }}
      />
      <span
        className="absolute -inset-y-0.5 border-ink border-l-2"
        style={{ left: `${100 / LONGEST}%` }}
      />
    </span>
  );
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
