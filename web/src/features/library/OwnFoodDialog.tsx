import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type OwnFood, take } from "~/api/client";
import { decimal } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { Loading } from "~/shared/states";
import { Button, Dialog, Field } from "~/ui";
import { Toggle } from "~/ui/Toggle";
import { type Guarantee, type LabelFigure, type Line, labelOf, Panel } from "./Panel";

/** What the form holds; figures of the label as they are typed. */
export interface OwnFoodForm extends Record<LabelFigure, string> {
  by: "label" | "values";
  name: string;
  ingredients: string;
  basis: "fed" | "dry";
  method: "modified-atwater" | "nrc-predictive";
  guarantees: Record<Line, Guarantee>;
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
    // As labels have it, where nobody said.
    guarantees: {
      protein: "min",
      fat: "min",
      fibre: "max",
      moisture: "max",
      ash: "average",
      ...(origin.guarantees as Partial<Record<Line, Guarantee>> | undefined),
    },
    values: byValues
      ? Object.entries(existing.values)
          .map(([tag, value]) => `${tag} ${value}`)
          .join("\n")
      : "ENERC 350\nPROCNT 20\n",
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
  const statement = (
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
  );
  return (
    <Form
      of={food}
      className="flex flex-col gap-3"
      actions={
        <>
          <Button kind="solid" type="submit" busy={food.pending}>
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
        <Panel form={form}>{statement}</Panel>
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
      {by === "values" && statement}
      {existing && (
        <p className="text-data text-soft">
          This is revision {existing.revision}. Saving makes revision {(existing.revision ?? 1) + 1}
          ; the earlier one is kept.
        </p>
      )}
    </Form>
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
