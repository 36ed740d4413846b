import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type ApiError, api, type OwnFood, take } from "~/api/client";
import { decimal, number, percent } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { Trace } from "~/shared/trace/Trace";
import { Button, Dialog, Field, Loading, Select, TextInput, Toggle } from "~/ui";

const LABEL = [
  ["protein", "Protein, %"],
  ["fat", "Fat, %"],
  ["fibre", "Fibre, %"],
  ["moisture", "Moisture, %"],
  ["ash", "Ash, %"],
  ["kcal_per_kg", "kcal per kg"],
  ["kcal_per_cup", "kcal per cup"],
  ["cup_grams", "Grams of a cup"],
] as const;
const OPTIONAL = new Set(["ash", "kcal_per_kg", "kcal_per_cup", "cup_grams"]);
type By = "label" | "values";

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
        <OwnFoodForm existing={existing.data} onClose={onClose} onSaved={onSaved} />
      )}
    </Dialog>
  );
}

function OwnFoodForm({
  existing,
  onClose,
  onSaved,
}: {
  existing: OwnFood | undefined;
  onClose: () => void;
  onSaved: (food: OwnFood) => void;
}) {
  const client = useQueryClient();
  const origin = (existing?.origin ?? {}) as Record<string, unknown>;
  const [by, setBy] = useState<By>(existing && origin.by !== "label" ? "values" : "label");
  const [name, setName] = useState(existing?.name ?? "");
  const [ingredients, setIngredients] = useState(existing?.ingredients ?? "");
  const [label, setLabel] = useState<Record<string, string>>(
    Object.fromEntries(LABEL.map(([id]) => [id, origin[id] == null ? "" : String(origin[id])])),
  );
  const [basis, setBasis] = useState(origin.dry_matter ? "dry" : "fed");
  const [method, setMethod] = useState(String(origin.method ?? "modified-atwater"));
  const [values, setValues] = useState(
    existing && origin.by !== "label"
      ? Object.entries(existing.values)
          .map(([tag, value]) => `${tag} ${value}`)
          .join("\n")
      : "ENERC 350\nPROCNT 20\n",
  );
  const figure = (id: string) => {
    const text = (label[id] ?? "").trim();
    return text === "" ? null : decimal(text);
  };
  const labelBody = {
    protein: figure("protein") ?? 0,
    fat: figure("fat") ?? 0,
    fibre: figure("fibre") ?? 0,
    moisture: figure("moisture") ?? 0,
    ash: figure("ash"),
    kcal_per_kg: figure("kcal_per_kg"),
    kcal_per_cup: figure("kcal_per_cup"),
    cup_grams: figure("cup_grams"),
    dry_matter: basis === "dry",
    method:
      method === "nrc-predictive" ? ("nrc-predictive" as const) : ("modified-atwater" as const),
  };
  const ready = LABEL.every(([id]) => OPTIONAL.has(id) || figure(id) !== null);
  const meaning = useQuery({
    queryKey: keyOf("label", labelBody),
    queryFn: () => take(api.POST("/api/own-foods/label", { body: labelBody })),
    enabled: by === "label" && ready,
    retry: false,
  });
  const save = useMutation({
    mutationFn: () => {
      const body = {
        name,
        ingredients,
        version: existing?.version ?? null,
        ...(by === "label" ? { label: labelBody } : { values: parseValues(values) }),
      };
      return existing
        ? take(api.PUT("/api/own-foods/{id}", { params: { path: { id: existing.id } }, body }))
        : take(api.POST("/api/own-foods", { body }));
    },
    onSuccess: (food) => {
      void forget(client, "foods");
      onSaved(food);
    },
  });
  const error = save.error as ApiError | null;
  function submit(event: FormEvent) {
    event.preventDefault();
    save.mutate();
  }
  return (
    <form onSubmit={submit} className="flex flex-col gap-3">
      <div className="flex gap-4">
        <Field id="own-name" label="Name">
          <TextInput
            id="own-name"
            required
            value={name}
            onChange={(e) => setName(e.target.value)}
            className="w-72"
          />
        </Field>
        <div className="flex flex-col gap-1">
          <span className="font-medium">Entered</span>
          <Toggle
            label="Entered"
            value={by}
            onChange={setBy}
            options={[
              { id: "label", label: "From the label" },
              { id: "values", label: "By values" },
            ]}
          />
        </div>
      </div>
      {by === "label" ? (
        <>
          <div className="flex flex-wrap items-end gap-3">
            {LABEL.map(([id, text]) => (
              <Field key={id} id={`own-${id}`} label={text}>
                <TextInput
                  id={`own-${id}`}
                  inputMode="decimal"
                  required={!OPTIONAL.has(id)}
                  value={label[id] ?? ""}
                  onChange={(e) => setLabel({ ...label, [id]: e.target.value })}
                  className="w-28 text-right"
                />
              </Field>
            ))}
            <Select
              label="Basis of the label"
              value={basis}
              onChange={setBasis}
              options={[
                { id: "fed", label: "As fed" },
                { id: "dry", label: "On dry matter" },
              ]}
            />
            <Select
              label="Energy by"
              value={method}
              onChange={setMethod}
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
            <div className="border-oak border-l-[3px] pl-3">
              <p>
                Carbohydrate <b>{number(meaning.data.carbohydrate_g, 1)} %</b> by difference,{" "}
                <b>{number(meaning.data.kcal_per_kg)} kcal/kg</b> as fed; energy from protein{" "}
                {percent(meaning.data.energy_shares.PROCNT)}, fat{" "}
                {percent(meaning.data.energy_shares.FAT)}, carbohydrate{" "}
                {percent(meaning.data.energy_shares.CHOCDF)}.
              </p>
              <p className="text-soft">
                On dry matter: protein {number(meaning.data.dry_matter.protein, 1)} %, fat{" "}
                {number(meaning.data.dry_matter.fat, 1)} %, fibre{" "}
                {number(meaning.data.dry_matter.fibre, 1)} %.
              </p>
              <Trace steps={meaning.data.steps} />
            </div>
          )}
        </>
      ) : (
        <Field
          id="own-values"
          label="Values per 100 g as fed"
          hint="One nutrient a line: key and number in the library's unit, for example CA 250. What is left out is unknown, not zero."
        >
          <textarea
            id="own-values"
            rows={8}
            value={values}
            onChange={(e) => setValues(e.target.value)}
            className="rounded border border-line bg-sheet p-2 font-mono text-[13px]"
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
          value={ingredients}
          onChange={(e) => setIngredients(e.target.value)}
          className="rounded border border-line bg-sheet p-2"
        />
      </Field>
      {existing && (
        <p className="text-[13px] text-soft">
          This is revision {existing.revision}. Saving makes revision {(existing.revision ?? 1) + 1}
          ; the earlier one is kept.
        </p>
      )}
      {error && (
        <p role="alert" className="text-madder">
          {error.message}
        </p>
      )}
      <div className="flex gap-2">
        <Button kind="solid" type="submit" disabled={save.isPending}>
          Save
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </form>
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
