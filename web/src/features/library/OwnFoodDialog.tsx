import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { UseFormReturn } from "react-hook-form";
import { api, type BagLabel, type OwnFood, take } from "~/api/client";
import { decimal, figure, number, percent, spelled } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { Loading } from "~/shared/states";
import { Trace } from "~/shared/trace/Trace";
import { Term } from "~/shared/words/Term";
import { Button, Dialog, Field } from "~/ui";
import { Select } from "~/ui/Select";
import { Toggle } from "~/ui/Toggle";
import { BagText } from "./BagText";

const LABEL = [
  ["protein", "Protein, at least, %"],
  ["fat", "Fat, at least, %"],
  ["fibre", "Fibre, at most, %"],
  ["moisture", "Moisture, at most, %"],
  ["ash", "Ash, %"],
  ["kcal_per_kg", "kcal per kg"],
  ["kcal_per_cup", "kcal per cup"],
  ["cup_grams", "Grams of a cup"],
] as const;
const OPTIONAL = new Set(["ash", "kcal_per_kg", "kcal_per_cup", "cup_grams"]);
type LabelFigure = (typeof LABEL)[number][0];

/** What the form holds; figures of the label as they are typed. */
interface OwnFoodForm extends Record<LabelFigure, string> {
  by: "label" | "values";
  name: string;
  ingredients: string;
  basis: "fed" | "dry";
  method: "modified-atwater" | "nrc-predictive";
  values: string;
}

function formOf(existing: OwnFood | undefined): OwnFoodForm {
  const origin = (existing?.origin ?? {}) as Record<string, unknown>;
  const byValues = existing !== undefined && origin.by !== "label";
  const said = (id: LabelFigure) => (origin[id] == null ? "" : String(origin[id]));
  return {
    by: byValues ? "values" : "label",
    name: existing?.name ?? "",
    ingredients: existing?.ingredients ?? "",
    protein: said("protein"),
    fat: said("fat"),
    fibre: said("fibre"),
    moisture: said("moisture"),
    ash: said("ash"),
    kcal_per_kg: said("kcal_per_kg"),
    kcal_per_cup: said("kcal_per_cup"),
    cup_grams: said("cup_grams"),
    basis: origin.dry_matter ? "dry" : "fed",
    method: origin.method === "nrc-predictive" ? "nrc-predictive" : "modified-atwater",
    values: byValues
      ? Object.entries(existing.values)
          .map(([tag, value]) => `${tag} ${value}`)
          .join("\n")
      : "ENERC 350\nPROCNT 20\n",
  };
}

/** The label as the server takes it. A figure that is not there is sent as such only where it may be
 * left out; the form asks for the others. */
function labelOf(form: OwnFoodForm) {
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
  };
}

/** Add or edit an own food: from its pack label, or by values per 100 g. */
export function OwnFoodDialog({
  ownId,
  onClose,
  onSaved,
}: {
  ownId?: number;
  onClose: () => void;
  onSaved: (food: OwnFood) => void;
}) {
  const existing = useQuery({
    queryKey: keyOf("own-food", ownId),
    queryFn: () => take(api.GET("/api/own-foods/{id}", { params: { path: { id: ownId ?? 0 } } })),
    enabled: ownId !== undefined,
  });
  return (
    <Dialog open onClose={onClose} title={ownId === undefined ? "Own food" : "Edit own food"} wide>
      {ownId !== undefined && !existing.data ? (
        <Loading what="the food" />
      ) : (
        <OwnFoodFields existing={existing.data} onClose={onClose} onSaved={onSaved} />
      )}
    </Dialog>
  );
}

function OwnFoodFields({
  existing,
  onClose,
  onSaved,
}: {
  existing: OwnFood | undefined;
  onClose: () => void;
  onSaved: (food: OwnFood) => void;
}) {
  const client = useQueryClient();
  const food = useServerForm({
    defaults: formOf(existing),
    keptAs: `own-food ${existing ? `${existing.id} ${existing.version}` : "new"}`,
    send: (form: OwnFoodForm) => {
      const body = {
        name: form.name,
        ingredients: form.ingredients,
        version: existing?.version ?? null,
        ...(form.by === "label" ? { label: labelOf(form) } : { values: parseValues(form.values) }),
      };
      return existing
        ? take(api.PUT("/api/own-foods/{id}", { params: { path: { id: existing.id } }, body }))
        : take(api.POST("/api/own-foods", { body }));
    },
    onSaved: (saved) => {
      void forget(client, "foods");
      onSaved(saved);
    },
  });
  const { form } = food;
  const by = form.watch("by");
  return (
    <Form
      of={food}
      className="flex flex-col gap-3"
      actions={
        <>
          <Button kind="solid" type="submit" disabled={food.pending}>
            Save
          </Button>
          <Button
            onClick={() => {
              food.forget();
              onClose();
            }}
          >
            Cancel
          </Button>
        </>
      }
    >
      <div className="flex gap-4">
        <TextField form={form} id="own-name" name="name" label="Name" required className="w-72" />
        <div className="flex flex-col gap-1">
          <span className="font-medium">Entered</span>
          <Toggle
            label="Entered"
            value={by}
            onChange={(way) => form.setValue("by", way)}
            options={[
              { id: "label", label: "From the label" },
              { id: "values", label: "By values" },
            ]}
          />
        </div>
      </div>
      {by === "label" ? (
        <LabelFields form={form} />
      ) : (
        <Field
          id="own-values"
          label="Values per 100 g as fed"
          hint="One nutrient a line: key and number in the library's unit, for example CA 250. What is left out is unknown, not zero."
        >
          <textarea
            id="own-values"
            rows={8}
            {...form.register("values")}
            className="rounded-corner border border-edge bg-sheet p-2 font-mono text-data"
          />
        </Field>
      )}
      <Field
        id="own-ingredients"
        label="Ingredient statement"
        hint="Kept as printed and searched for what a dog may react to."
      >
        <textarea
          id="own-ingredients"
          rows={2}
          {...form.register("ingredients")}
          className="rounded-corner border border-edge bg-sheet p-2"
        />
      </Field>
      {existing && (
        <p className="text-data text-soft">
          This is revision {existing.revision}. Saving makes revision {(existing.revision ?? 1) + 1}
          ; the earlier one is kept.
        </p>
      )}
    </Form>
  );
}

/** The figures of a pack, and what they mean while they are typed. */
function LabelFields({ form }: { form: UseFormReturn<OwnFoodForm> }) {
  const now = form.watch();
  const body = labelOf(now);
  const ready = LABEL.every(([id]) => OPTIONAL.has(id) || figure(now[id]) !== null);
  const meaning = useQuery({
    queryKey: keyOf("label", body),
    queryFn: () => take(api.POST("/api/own-foods/label", { body })),
    enabled: ready,
    retry: false,
  });
  function fill(bag: BagLabel, use: "printed" | "usual") {
    const known = new Map<string, number | null>(bag.figures.map((f) => [f.name, f[use]]));
    for (const id of ["kcal_per_kg", "kcal_per_cup", "cup_grams"] as const) known.set(id, bag[id]);
    for (const [id] of LABEL) {
      const value = known.get(id);
      // What is not on the bag stays as it was typed.
      if (value != null) form.setValue(id, String(value), { shouldDirty: true });
    }
    form.setValue("basis", bag.dry_matter ? "dry" : "fed", { shouldDirty: true });
    if (bag.ingredients) form.setValue("ingredients", bag.ingredients, { shouldDirty: true });
  }
  return (
    <>
      <BagText onRead={fill} />
      <p className="text-data text-soft">
        Copy the <Term id="guaranteed-analysis">guaranteed analysis</Term> as it is printed. A
        figure “at least” may be more in the bag: what is reckoned from it is what the label
        promises, no more.
      </p>
      <div className="flex flex-wrap items-end gap-3">
        {LABEL.map(([id, text]) => (
          <TextField
            key={id}
            form={form}
            id={`own-${id}`}
            name={id}
            label={spelled(text)}
            required={!OPTIONAL.has(id)}
            figure
          />
        ))}
        <Select
          label="Basis of the label"
          value={now.basis}
          onChange={(basis) => form.setValue("basis", basis)}
          options={[
            { id: "fed", label: "As fed" },
            { id: "dry", label: "On dry matter" },
          ]}
        />
        <Select
          label="Energy by"
          value={now.method}
          onChange={(method) => form.setValue("method", method)}
          options={[
            { id: "modified-atwater", label: "Modified Atwater" },
            { id: "nrc-predictive", label: "NRC predictive" },
          ]}
        />
      </div>
      {meaning.error && (
        <p role="alert" className="text-madder">
          {meaning.error.message}
        </p>
      )}
      {meaning.data && (
        <div className="border-oak stile">
          <p>
            Carbohydrate <b>{number(meaning.data.carbohydrate_g, 1)} %</b> by difference,{" "}
            <b>{number(meaning.data.kcal_per_kg)} kcal/kg</b> as fed; energy from protein{" "}
            {percent(meaning.data.energy_shares.PROCNT)}, fat{" "}
            {percent(meaning.data.energy_shares.FAT)}, carbohydrate{" "}
            {percent(meaning.data.energy_shares.CHOCDF)}.
          </p>
          <p className="text-soft">
            On dry matter: protein {number(meaning.data.dry_matter.protein, 1)} %, fat{" "}
            {number(meaning.data.dry_matter.fat, 1)} %, {spelled("fibre")}{" "}
            {number(meaning.data.dry_matter.fibre, 1)} %.
          </p>
          <Trace steps={meaning.data.steps} />
        </div>
      )}
    </>
  );
}

/** "CA 250" a line; what cannot be read is left for the server to refuse by name. */
function parseValues(text: string): Record<string, number> {
  return Object.fromEntries(
    text
      .split("\n")
      .map((line) => line.trim().split(/[\s:=]+/))
      .filter(([tag]) => tag)
      .map(([tag = "", value = ""]) => [tag.toUpperCase(), decimal(value)]),
  );
}
