import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { UseFormReturn } from "react-hook-form";
import { api, type BagLabel, type LabelMeaning, type Schemas, take } from "~/api/client";
import { figure, number, percent, spelled } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Trace } from "~/shared/trace/Trace";
import { Term } from "~/shared/words/Term";
import { TextInput } from "~/ui";
import { Select } from "~/ui/Select";
import { BagText } from "./BagText";
import type { OwnFoodForm } from "./OwnFoodDialog";

export type Guarantee = BagLabel["figures"][number]["guarantee"];
type Label = Schemas["PackLabelRequest"];

/** The lines of an analysis as a bag prints them, and whether a label may leave one out. */
const ANALYSIS = [
  { id: "protein", name: "Protein", optional: false },
  { id: "fat", name: "Fat", optional: false },
  { id: "fibre", name: "Crude fibre", optional: false },
  { id: "moisture", name: "Moisture", optional: false },
  { id: "ash", name: "Ash", optional: true },
] as const;
const ENERGY = [
  { id: "kcal_per_kg", name: "kcal per kg" },
  { id: "kcal_per_cup", name: "kcal per cup" },
  { id: "cup_grams", name: "Grams of a cup" },
] as const;
export type Line = (typeof ANALYSIS)[number]["id"];
export type LabelFigure = Line | (typeof ENERGY)[number]["id"];

const KINDS: { id: Guarantee; label: string }[] = [
  { id: "min", label: "at least" },
  { id: "max", label: "at most" },
  { id: "average", label: "on average" },
];
const SAID: Record<Guarantee, string> = { min: "at least", max: "at most", average: "on average" };

/** The label as the server takes it. A figure that is not there is sent as such only where it may be
 * left out; the form asks for the others. */
export function labelOf(form: OwnFoodForm): Label {
  const { protein, fat, fibre, moisture, ash, kcal_per_kg, kcal_per_cup, cup_grams } = form;
  return {
    protein: figure(protein) ?? Number.NaN,
    fat: figure(fat) ?? Number.NaN,
    fibre: figure(fibre) ?? Number.NaN,
    moisture: figure(moisture) ?? Number.NaN,
    ash: figure(ash),
    kcal_per_kg: figure(kcal_per_kg),
    kcal_per_cup: figure(kcal_per_cup),
    cup_grams: figure(cup_grams),
    dry_matter: form.basis === "dry",
    method: form.method,
    guarantees: form.guarantees,
  };
}

/** The panel of a bag, drawn to be typed into, and beside it what it means while that is done. */
export function Panel({
  form,
  children,
}: {
  form: UseFormReturn<OwnFoodForm>;
  /** What else stands on the bag, under the panel. */
  children: ReactNode;
}) {
  const now = form.watch();
  const body = labelOf(now);
  const ready = ANALYSIS.every(({ id, optional }) => optional || figure(now[id]) !== null);
  const meaning = useQuery({
    queryKey: keyOf("label", body),
    queryFn: () => take(api.POST("/api/own-foods/label", { body })),
    enabled: ready,
    retry: false,
  });
  function fill(bag: BagLabel) {
    for (const { name, printed, guarantee } of bag.figures) {
      const id = ANALYSIS.find((line) => line.id === name)?.id;
      if (!id) continue;
      form.setValue(id, String(printed), { shouldDirty: true });
      form.setValue(`guarantees.${id}`, guarantee, { shouldDirty: true });
    }
    for (const { id } of ENERGY) {
      const value = bag[id];
      // What is not on the bag stays as it was typed.
      if (value != null) form.setValue(id, String(value), { shouldDirty: true });
    }
    form.setValue("basis", bag.dry_matter ? "dry" : "fed", { shouldDirty: true });
    if (bag.ingredients) form.setValue("ingredients", bag.ingredients, { shouldDirty: true });
  }
  return (
    <div className="grid gap-x-6 gap-y-4 mid:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div className="flex min-w-0 flex-col gap-3">
        <section
          aria-label="The panel of the bag"
          className="border-2 border-ink bg-sheet px-3 pb-1"
        >
          <div className="flex items-baseline justify-between gap-2 border-ink border-b-2 py-1">
            <h3 className="font-semibold font-title">
              <Term id="guaranteed-analysis">Analysis</Term>
            </h3>
            <Select
              label="Basis of the label"
              value={now.basis}
              onChange={(basis) => form.setValue("basis", basis, { shouldDirty: true })}
              options={[
                { id: "fed", label: "as fed" },
                { id: "dry", label: "on dry matter" },
              ]}
              className="border-transparent"
            />
          </div>
          {ANALYSIS.map(({ id, name, optional }) => (
            <Row
              key={id}
              form={form}
              id={id}
              label={`${spelled(name)}, ${SAID[now.guarantees[id]]}, %`}
              required={!optional}
              unit="%"
            >
              <span className="min-w-0">
                {spelled(name)}
                {optional && <span className="text-data text-soft"> if it says</span>}
              </span>
              <Select
                label={`What the figure of ${spelled(name).toLowerCase()} is`}
                value={now.guarantees[id]}
                onChange={(kind) => form.setValue(`guarantees.${id}`, kind, { shouldDirty: true })}
                options={KINDS}
                className="ml-auto border-transparent text-soft"
              />
            </Row>
          ))}
          <h3 className="border-ink border-t-2 pt-1 font-semibold font-title">Energy</h3>
          {ENERGY.map(({ id, name }) => (
            <Row
              key={id}
              form={form}
              id={id}
              label={name}
              required={false}
              unit={id === "cup_grams" ? "g" : "kcal"}
            >
              <span>{name}</span>
            </Row>
          ))}
          <div className="flex items-center justify-between border-line border-t">
            <span className="text-soft">where it says none, by</span>
            <Select
              label="Energy by"
              value={now.method}
              onChange={(method) => form.setValue("method", method, { shouldDirty: true })}
              options={[
                { id: "modified-atwater", label: "Modified Atwater" },
                { id: "nrc-predictive", label: "NRC predictive" },
              ]}
              className="border-transparent"
            />
          </div>
        </section>
        {children}
      </div>
      <div className="flex min-w-0 flex-col gap-3">
        <BagText onRead={fill} />
        {meaning.error && (
          <p role="alert" className="text-madder">
            {meaning.error.message}
          </p>
        )}
        {meaning.data ? (
          <Meaning of={meaning.data} />
        ) : (
          <p className="text-data text-soft">
            Copy the figures as they are printed: protein, fat, fibre and moisture at least. What
            they come to stands here while you type.
          </p>
        )}
      </div>
    </div>
  );
}

function Row({
  form,
  id,
  label,
  unit,
  required,
  children,
}: {
  form: UseFormReturn<OwnFoodForm>;
  id: LabelFigure;
  label: string;
  unit: string;
  required: boolean;
  children: ReactNode;
}) {
  const error = form.getFieldState(id, form.formState).error?.message;
  return (
    <div className="border-line border-t first-of-type:border-0">
      <div className="flex items-center gap-2 py-px">
        <span className="flex min-w-0 flex-1 items-center gap-2">{children}</span>
        <TextInput
          {...form.register(id)}
          id={`own-${id}`}
          aria-label={label}
          inputMode="decimal"
          required={required}
          aria-invalid={!!error}
          aria-describedby={error ? `own-${id}-error` : undefined}
          className="w-20 bg-paper text-right"
        />
        <span className="w-7 text-label text-soft">{unit}</span>
      </div>
      {error && (
        <p id={`own-${id}-error`} role="alert" className="pb-1 text-data text-madder">
          {error}
        </p>
      )}
    </div>
  );
}

const PARTS = [
  { tag: "PROCNT", name: "Protein", fill: "var(--wood-1)" },
  { tag: "FAT", name: "Fat", fill: "var(--wood-2)" },
  { tag: "CHOCDF", name: "Carbohydrate", fill: "var(--wood-3)" },
] as const;

/** What a label means: energy and what it comes from, and what there is in 1000 kcal, at least and at most. */
function Meaning({ of }: { of: LabelMeaning }) {
  const most = Math.max(...Object.values(of.per_1000_kcal).map((range) => range.most), 1);
  const open = PARTS.some(({ tag }) => of.may_exceed[tag]);
  return (
    <section aria-label="What it means" className="flex flex-col gap-2">
      <p>
        <b>{number(of.kcal_per_kg)} kcal/kg</b> as fed, carbohydrate{" "}
        <b>{number(of.carbohydrate_g, 1)} %</b> by difference.
      </p>
      <div>
        <p className="text-data text-soft">In 1000 kcal</p>
        {PARTS.map(({ tag, name, fill }) => {
          const { least: low, most: high } = of.per_1000_kcal[tag] ?? { least: 0, most: 0 };
          return (
            <div key={tag} className="grid grid-cols-[6rem_1fr_6.5rem] items-center gap-2">
              <span>{name}</span>
              <svg
                viewBox="0 0 100 10"
                preserveAspectRatio="none"
                className="h-3.5 w-full"
                aria-hidden="true"
              >
                <defs>
                  <pattern
                    id={`open-${tag}`}
                    width="2"
                    height="10"
                    patternUnits="userSpaceOnUse"
                    patternTransform="skewX(-20)"
                  >
                    <path d="M 0.5 0 V 10" stroke="var(--wood-edge)" strokeWidth="0.6" />
                  </pattern>
                </defs>
                <rect width="100" height="10" fill="var(--groove)" />
                <rect width={(low / most) * 100} height="10" fill={fill} />
                <rect
                  x={(low / most) * 100}
                  width={((high - low) / most) * 100}
                  height="10"
                  fill={`url(#open-${tag})`}
                />
              </svg>
              <span className="text-right">
                {high > low ? `${number(low)} to ${number(high)} g` : `${number(low)} g`}
              </span>
            </div>
          );
        })}
      </div>
      {open && (
        <p className="text-data text-soft">
          “At least” is a promise, not a measurement: a ceiling is judged by the higher figure, a
          minimum by the lower. Hatched is what may be there more (twice the usual margin, a working
          figure).
        </p>
      )}
      <p className="text-data text-soft">
        Energy from protein {percent(of.energy_shares.PROCNT)}, fat {percent(of.energy_shares.FAT)},
        carbohydrate {percent(of.energy_shares.CHOCDF)}. On dry matter: protein{" "}
        {number(of.dry_matter.protein, 1)} %, fat {number(of.dry_matter.fat, 1)} %,{" "}
        {spelled("fibre")} {number(of.dry_matter.fibre, 1)} %, as printed.
      </p>
      <Trace steps={of.steps} />
    </section>
  );
}
