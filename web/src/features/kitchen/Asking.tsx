import { type ReactNode, useId } from "react";
import type { CookSource, Kitchen } from "~/api/client";
import { AmountBox } from "~/shared/amounts/boxes";
import { foodWeight, spelled } from "~/shared/format";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";
import { sourceId, type Typed } from "./asked";

const BY: { id: Typed["by"]; label: string }[] = [
  { id: "days", label: "for so many days" },
  { id: "portions", label: "so many meals" },
  { id: "vessels", label: "as much as the vessels hold" },
  { id: "on-hand", label: "all that is there of" },
];

type Change = (part: Partial<Typed>) => void;

/** What is asked of a batch: how much, of what, in what, for whom, kept where. */
export function Asking({
  kitchen,
  source,
  typed,
  change,
}: {
  kitchen: Kitchen;
  source: CookSource;
  typed: Typed;
  change: Change;
}) {
  return (
    <section aria-label="What is asked" className="flex flex-col gap-4">
      <Group title="Recipe">
        {kitchen.sources.length > 1 ? (
          <Select
            label="Recipe"
            className="w-full"
            value={sourceId(source)}
            onChange={(id) => change({ source: id, packs: {}, line: null })}
            options={kitchen.sources.map((s) => ({
              id: sourceId(s),
              label: s.draft ? `${s.name}, draft` : `${s.name}, issued`,
            }))}
          />
        ) : (
          <p className="font-medium">{source.name}</p>
        )}
        <p className={source.draft ? "border-madder stile" : "text-data text-soft"}>
          {source.draft ? (
            <>
              <b className="font-semibold">Draft:</b> nobody signed it, and its owner has another
              one or none.
            </>
          ) : (
            <>
              {source.edition}. {source.approved}
              {source.changed && " The recipe on the bench is another one by now."}
            </>
          )}
        </p>
      </Group>
      <HowMuch source={source} typed={typed} change={change} />
      <Vessels kitchen={kitchen} typed={typed} change={change} />
      {kitchen.mates.length > 0 && <Eaters kitchen={kitchen} typed={typed} change={change} />}
      <Group title="Water and heat">
        <Figure
          label="Water that stays in it"
          unit="g"
          value={typed.water}
          onChange={(water) => change({ water })}
        />
        <div className="flex flex-wrap items-center gap-2">
          <Select
            label="How it is covered"
            value={typed.cover}
            onChange={(cover) => change({ cover })}
            options={kitchen.covers.map((c) => ({ id: c.id, label: c.name }))}
          />
          <Figure
            label="for"
            unit="minutes"
            value={typed.minutes}
            onChange={(minutes) => change({ minutes })}
          />
        </div>
      </Group>
      <Packs source={source} typed={typed} change={change} />
      <Group title="Scales">
        <Figure
          label="Kitchen scale shows"
          unit="g"
          value={typed.coarse}
          onChange={(coarse) => change({ coarse })}
        />
        <Figure
          label="Fine scale shows"
          unit="g"
          value={typed.fine}
          placeholder="none"
          onChange={(fine) => change({ fine })}
        />
      </Group>
      <Group title="Free room">
        <Figure
          label="Fridge"
          unit="l"
          value={typed.fridge}
          placeholder="?"
          onChange={(fridge) => change({ fridge })}
        />
        <Figure
          label="Freezer"
          unit="l"
          value={typed.freezer}
          placeholder="?"
          onChange={(freezer) => change({ freezer })}
        />
        <Select
          label="Frozen in"
          value={typed.shape}
          onChange={(shape) => change({ shape })}
          options={kitchen.shapes.map((s) => ({ id: s.id, label: `in ${s.name}` }))}
        />
        <Select
          label="What the food is like"
          placeholder="What the food is like"
          className="max-w-full"
          value={typed.density}
          onChange={(density) => change({ density })}
          options={kitchen.densities.map((d) => ({ id: d.id, label: d.name }))}
        />
      </Group>
    </section>
  );
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="flex min-w-0 flex-col gap-1.5 border-line border-t pt-1.5">
      <legend className="pr-2 text-data text-soft">{title}</legend>
      {children}
    </fieldset>
  );
}

/** A figure with its label before it and its unit behind it. */
function Figure({
  label,
  unit,
  value,
  onChange,
  placeholder,
}: {
  label: string;
  unit: string;
  value: string;
  onChange: (value: string) => void;
  placeholder?: string;
}) {
  const id = useId();
  return (
    <div className="flex items-center gap-2">
      <label htmlFor={id}>{label}</label>
      <AmountBox
        id={id}
        value={value}
        placeholder={placeholder}
        onChange={(e) => onChange(e.target.value)}
        className="ml-auto w-20"
      />
      <span className="w-12 text-data text-soft">{unit}</span>
    </div>
  );
}

function HowMuch({ source, typed, change }: { source: CookSource; typed: Typed; change: Change }) {
  const unit = { days: "days", portions: "meals", "on-hand": "g", vessels: "" }[typed.by];
  return (
    <Group title="How much">
      <Select
        label="How much is made"
        className="w-full"
        value={typed.by}
        onChange={(by) => change({ by, line: by === "on-hand" ? (typed.line ?? 0) : typed.line })}
        options={BY}
      />
      {typed.by === "on-hand" && (
        <Select
          label="What is on hand"
          className="w-full"
          value={String(typed.line ?? 0)}
          onChange={(line) => change({ line: Number(line) })}
          options={source.lines.map((line, i) => ({ id: String(i), label: spelled(line.name) }))}
        />
      )}
      {typed.by !== "vessels" && (
        <Figure
          label={typed.by === "on-hand" ? "There is" : "Make it"}
          unit={unit}
          value={typed.amount}
          onChange={(amount) => change({ amount })}
        />
      )}
    </Group>
  );
}

function Vessels({ kitchen, typed, change }: { kitchen: Kitchen; typed: Typed; change: Change }) {
  const set = (i: number, part: Partial<Typed["vessels"][number]>) =>
    change({ vessels: typed.vessels.map((v, k) => (k === i ? { ...v, ...part } : v)) });
  const options = kitchen.vessels.map((v) => ({ id: v.id, label: v.name }));
  return (
    <Group title="Cooked in">
      {typed.vessels.length === 0 && (
        <p className="text-data text-soft">
          Choose what it is cooked in, to see what goes into each.
        </p>
      )}
      {typed.vessels.map((vessel, i) => (
        <div key={`${i}-${typed.vessels.length}`} className="flex items-center gap-1.5">
          <Select
            label={`Vessel ${i + 1}`}
            className="min-w-0 flex-1"
            value={vessel.vessel}
            onChange={(to) => set(i, { vessel: to })}
            options={options}
          />
          {typed.byShare && (
            <>
              <AmountBox
                aria-label={`Share of vessel ${i + 1}, %`}
                value={vessel.share}
                onChange={(e) => set(i, { share: e.target.value })}
                className="w-14"
              />
              <span className="text-data text-soft">%</span>
            </>
          )}
          <button
            type="button"
            aria-label={`Take vessel ${i + 1} away`}
            className="size-7 rounded-corner text-soft hover:bg-groove hover:text-madder"
            onClick={() => change({ vessels: typed.vessels.filter((_, k) => k !== i) })}
          >
            ×
          </button>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-3">
        <Button
          small
          disabled={typed.vessels.length >= 12}
          onClick={() => {
            const last = typed.vessels.at(-1)?.vessel ?? "pot-24";
            change({ vessels: [...typed.vessels, { vessel: last, share: "" }] });
          }}
        >
          + Vessel
        </Button>
        {typed.vessels.length > 1 && (
          <label className="flex items-center gap-1.5 text-data">
            <input
              type="checkbox"
              checked={typed.byShare}
              onChange={(e) => change({ byShare: e.target.checked })}
            />
            parted by percent
          </label>
        )}
      </div>
    </Group>
  );
}

function Eaters({ kitchen, typed, change }: { kitchen: Kitchen; typed: Typed; change: Change }) {
  return (
    <Group title="Other dogs at the pot">
      {kitchen.mates.map((mate) => {
        const eater = typed.eaters.find((e) => e.case === mate.case);
        const set = (part: Partial<Typed["eaters"][number]>) =>
          change({
            eaters: typed.eaters.map((e) => (e.case === mate.case ? { ...e, ...part } : e)),
          });
        return (
          <div key={mate.case} className="flex flex-col gap-1">
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={eater !== undefined}
                onChange={(e) =>
                  change({
                    eaters: e.target.checked
                      ? [...typed.eaters, { case: mate.case, kcal: "", recipe: null }]
                      : typed.eaters.filter((x) => x.case !== mate.case),
                  })
                }
              />
              {mate.name} eats from it
            </label>
            {eater && (
              <div className="ml-5 flex flex-col gap-1">
                <Figure
                  label="of the pot"
                  unit="kcal/day"
                  value={eater.kcal}
                  placeholder="the rest"
                  onChange={(kcal) => set({ kcal })}
                />
                {mate.recipes.length > 0 && (
                  <Select
                    label={`What ${mate.name} gets at serving`}
                    className="w-full"
                    value={String(eater.recipe ?? "")}
                    onChange={(id) => set({ recipe: id === "none" ? null : Number(id) })}
                    placeholder="no supplements of its own"
                    options={[
                      { id: "none", label: "no supplements of its own" },
                      ...mate.recipes.map((r) => ({
                        id: String(r.id),
                        label: `supplements of ${r.name}`,
                      })),
                    ]}
                  />
                )}
              </div>
            )}
          </div>
        );
      })}
    </Group>
  );
}

/** Packs and pieces that a line comes in, where it does. */
function Packs({ source, typed, change }: { source: CookSource; typed: Typed; change: Change }) {
  const count = Object.values(typed.packs).filter((p) => p.grams.trim() !== "").length;
  const list = useId();
  return (
    <details open={count > 0 ? true : undefined} className="border-line border-t pt-1.5">
      <summary className="cursor-pointer text-data text-soft">
        Packs{count > 0 ? `: ${count} ${count === 1 ? "line" : "lines"}` : ""}
      </summary>
      <p className="mt-1 text-data text-soft">
        What a pack weighs. The batch is made up to a tenth larger or smaller, so that the heaviest
        line is whole packs. Ticked: only whole ones of that line go in.
      </p>
      <ul className="mt-1 flex flex-col gap-1">
        {source.lines.map((line, i) => {
          const pack = typed.packs[i] ?? { grams: "", whole: false };
          const set = (part: Partial<typeof pack>) =>
            change({ packs: { ...typed.packs, [i]: { ...pack, ...part } } });
          return (
            <li key={`${line.food}-${i}`} className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate" title={spelled(line.name)}>
                {spelled(line.name)}
              </span>
              <AmountBox
                aria-label={`A pack of ${line.name}, g`}
                value={pack.grams}
                list={line.pieces.length > 0 ? `${list}-${i}` : undefined}
                onChange={(e) => set({ grams: e.target.value })}
                className="w-16"
              />
              <datalist id={`${list}-${i}`}>
                {line.pieces.map((piece) => (
                  <option key={piece.name} value={piece.grams}>
                    {piece.name}, {foodWeight(piece.grams)}
                  </option>
                ))}
              </datalist>
              <input
                type="checkbox"
                aria-label={`Only whole ones of ${line.name}`}
                checked={pack.whole}
                onChange={(e) => set({ whole: e.target.checked })}
              />
            </li>
          );
        })}
      </ul>
    </details>
  );
}
