import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Case, type FoodEnergyChoices, type Multiplier, take } from "~/api/client";
import { sentence } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { energyQuery, standardsQuery } from "~/shared/queries";
import { same, valueAt } from "~/shared/saving/fieldQueue";
import { useCase } from "~/shared/useCase";
import { Button, Select, Toggle } from "~/ui";
import { ClientFoods } from "./ClientFoods";
import { EnergyScale } from "./EnergyScale";

type Policy = "graded" | "strict" | "cautious";
type Activity = "low" | "typical" | "high" | "working";

const DOG_FIELDS = [
  { id: "body_condition", label: "Body condition, 1 to 9" },
  { id: "ideal_weight_kg", label: "Ideal weight, kg" },
  { id: "age_months", label: "Age, months" },
  { id: "adult_weight_kg", label: "Adult weight, kg" },
] as const;
const ACTIVITIES: { id: Activity; label: string }[] = [
  { id: "low", label: "Low activity" },
  { id: "typical", label: "Typical activity" },
  { id: "high", label: "High activity" },
  { id: "working", label: "Working" },
];
type Group = "energy" | "amino" | "fats" | "minerals" | "vitamins";

const GROUPS: { id: Group; label: string }[] = [
  { id: "energy", label: "macros" },
  { id: "amino", label: "amino acids" },
  { id: "fats", label: "fats" },
  { id: "minerals", label: "minerals" },
  { id: "vitamins", label: "vitamins" },
];
const POLICY_WORDS: Record<Policy, string> = {
  graded: "Borrowed and pattern values count and are shown as such.",
  strict: "Only analysed, stoichiometric and label values count; everything else is unknown.",
  cautious: "Minimums are checked without estimates, maximums with them.",
};

/** What the form holds: figures as they are typed, for the server reads them. */
interface EnergyForm {
  weight_kg: string;
  body_condition: string;
  ideal_weight_kg: string;
  adult_weight_kg: string;
  age_months: string;
  activity: Activity;
  energy_method: Case["energy_method"];
  multiplier: string;
  kcal_per_day: string;
  energy_reason: string;
  standard: string;
  life_stage: string;
  basis: Case["basis"];
  me_method: Case["me_method"];
  data_policy: Policy;
  strict_groups: Group[];
}

function formOf({ dog, ...current }: Case): EnergyForm {
  return {
    weight_kg: String(dog.weight_kg),
    body_condition: String(dog.body_condition ?? ""),
    ideal_weight_kg: String(dog.ideal_weight_kg ?? ""),
    adult_weight_kg: String(dog.adult_weight_kg ?? ""),
    age_months: String(dog.age_months ?? ""),
    activity: dog.activity,
    energy_method: current.energy_method,
    multiplier: String(current.multiplier ?? 1.6),
    kcal_per_day: String(current.kcal_per_day ?? ""),
    energy_reason: current.energy_reason,
    standard: current.standard,
    life_stage: current.life_stage,
    basis: current.basis,
    me_method: current.me_method,
    data_policy: current.data_policy,
    strict_groups: current.strict_groups,
  };
}

/** The fields that were changed, with what each stood at. */
function changesOf(current: Case, form: EnergyForm) {
  const { activity, weight_kg, body_condition, ideal_weight_kg, age_months, adult_weight_kg } =
    form;
  const dog = { activity, weight_kg, body_condition, ideal_weight_kg, age_months, adult_weight_kg };
  const { energy_method, multiplier, kcal_per_day, energy_reason } = form;
  const { standard, life_stage, basis, me_method, data_policy, strict_groups } = form;
  const wanted: Record<string, unknown> = {
    ...Object.fromEntries(Object.entries(dog).map(([name, value]) => [`dog.${name}`, value])),
    energy_method,
    multiplier,
    kcal_per_day,
    energy_reason,
    standard,
    life_stage,
    basis,
    me_method,
    data_policy,
    strict_groups,
  };
  return Object.entries(wanted).flatMap(([path, value]) => {
    const was = valueAt(current, path) ?? null;
    return same(value, was) || value === String(was ?? "") ? [] : [{ path, value, was }];
  });
}

/** Weight, the way energy is found, the standard and life stage. */
export default function EnergyPage() {
  const current = useCase();
  const client = useQueryClient();
  const standards = useQuery(standardsQuery);
  const energy = useQuery(energyQuery(current));
  const save = useServerForm({
    defaults: formOf(current),
    send: (form: EnergyForm) => {
      const changes = changesOf(current, form);
      if (changes.length === 0) return Promise.resolve(current);
      return take(
        api.PATCH("/api/cases/{id}", { params: { path: { id: current.id } }, body: { changes } }),
      );
    },
    onSaved: (saved) => {
      client.setQueryData(keyOf("case", saved.id), saved);
      void forget(client, "case");
    },
  });
  const { form } = save;
  const now = form.watch();
  const stages = standards.data?.find((s) => s.id === now.standard)?.life_stages ?? [];
  return (
    <main className="overflow-auto p-6">
      <div className="grid grid-cols-[22rem_minmax(0,1fr)] gap-10">
        <Form
          of={save}
          actions={
            <>
              <Button kind="solid" type="submit" disabled={save.pending}>
                Save
              </Button>
              {save.saved && (
                <span role="status" className="text-soft">
                  Saved. The wall uses it from now on.
                </span>
              )}
            </>
          }
        >
          <h2 className="text-lg">Energy and targets</h2>
          <TextField form={form} name="weight_kg" label="Body weight, kg" figure />
          <div className="flex flex-wrap items-end gap-3">
            {DOG_FIELDS.map((field) => (
              <TextField key={field.id} form={form} name={field.id} label={field.label} figure />
            ))}
            <Select
              label="Activity"
              value={now.activity}
              onChange={(activity) => form.setValue("activity", activity)}
              options={ACTIVITIES}
            />
          </div>
          <div className="flex flex-col gap-1">
            <span className="font-medium">Energy from</span>
            <Toggle
              label="Energy method"
              value={now.energy_method}
              onChange={(method) => form.setValue("energy_method", method)}
              options={[
                { id: "rer-multiplier", label: "RER × multiplier" },
                { id: "kcal_per_day", label: "Own figure" },
              ]}
            />
          </div>
          {now.energy_method === "kcal_per_day" ? (
            <TextField form={form} name="kcal_per_day" label="kcal a day" figure />
          ) : (
            <TextField
              form={form}
              name="multiplier"
              label="Multiplier of RER"
              hint={`${multiplierHint(energy.data?.multipliers ?? [])} A starting point: adjust by weight and condition.`}
              figure
            />
          )}
          <TextField
            form={form}
            name="energy_reason"
            label="Why this figure"
            hint="Kept with the case."
          />
          <div className="flex flex-wrap gap-3">
            <div className="flex flex-col gap-1">
              <span className="font-medium">Standard</span>
              <Select
                label="Standard"
                value={now.standard}
                onChange={(standard) => {
                  const found = standards.data?.find((s) => s.id === standard);
                  form.setValue("standard", standard);
                  form.setValue("life_stage", found?.life_stages[0]?.id ?? "adult");
                }}
                options={(standards.data ?? []).map((s) => ({ id: s.id, label: s.name }))}
                className="w-40"
              />
            </div>
            <div className="flex flex-col gap-1">
              <span className="font-medium">Life stage</span>
              <Select
                label="Life stage"
                value={now.life_stage}
                onChange={(stage) => form.setValue("life_stage", stage)}
                options={stages.map((s) => ({ id: s.id, label: s.name }))}
                className="w-80"
              />
            </div>
          </div>
          <MinimumBasis
            caseId={current.id}
            version={current.version}
            value={now.basis}
            onChange={(basis) => form.setValue("basis", basis)}
          />
          {energy.data && (
            <FoodEnergy
              choices={energy.data.food}
              value={now.me_method}
              onChange={(method) => form.setValue("me_method", method)}
            />
          )}
          <Estimates
            policy={now.data_policy}
            groups={now.strict_groups}
            onPolicy={(policy) => form.setValue("data_policy", policy)}
            onGroups={(groups) => form.setValue("strict_groups", groups)}
          />
        </Form>
        <div className="max-w-4xl">
          <EnergyScale
            current={current}
            onTake={(kcal) => {
              form.setValue("energy_method", "kcal_per_day");
              form.setValue("kcal_per_day", String(kcal));
            }}
          />
        </div>
      </div>
      <ClientFoods caseId={current.id} client={current.client.name} />
    </main>
  );
}

/** On what minimums are held, and what that means for this dog as it stands saved. */
function MinimumBasis({
  caseId,
  version,
  value,
  onChange,
}: {
  caseId: number;
  version: number;
  value: Case["basis"];
  onChange: (basis: Case["basis"]) => void;
}) {
  const targets = useQuery({
    queryKey: keyOf("targets", caseId, version),
    queryFn: () => take(api.GET("/api/cases/{id}/targets", { params: { path: { id: caseId } } })),
  });
  const bases = targets.data?.bases ?? [];
  return (
    <div className="flex flex-col gap-1">
      <span className="font-medium">Minimums held</span>
      <Select
        label="Minimums held"
        value={value}
        onChange={onChange}
        options={bases.map((b) => ({ id: b.id, label: b.name }))}
        className="w-full"
      />
      <p className="text-[13px] text-soft">{bases.find((b) => b.id === value)?.words}.</p>
      {targets.data?.basis && value === targets.data.basis.basis && (
        <p className="text-[13px]">{targets.data.basis.words}</p>
      )}
      {targets.error && (
        <p role="alert" className="text-[13px] text-madder">
          {targets.error.message}
        </p>
      )}
    </div>
  );
}

/** How the energy of every food and label of the case is found. */
function FoodEnergy({
  choices,
  value,
  onChange,
}: {
  choices: FoodEnergyChoices;
  value: Case["me_method"];
  onChange: (method: Case["me_method"]) => void;
}) {
  const chosen = choices.methods.find((m) => m.id === value);
  return (
    <div className="flex flex-col gap-1">
      <span className="font-medium">Energy of food</span>
      <Select
        label="Energy of food"
        value={value}
        onChange={onChange}
        options={choices.methods.map((m) => ({ id: m.id, label: m.name }))}
        className="w-full"
      />
      {chosen && (
        <>
          <p className="text-[13px]">{sentence(chosen.words)}.</p>
          <p className="text-[13px] text-soft">
            For {chosen.when}. {chosen.source}.{" "}
            {chosen.is_default && `The default: ${choices.why}.`}
          </p>
        </>
      )}
      <details className="text-[13px] text-soft">
        <summary className="cursor-pointer">What is taken for granted</summary>
        <ul className="mt-1 flex flex-col gap-1">
          {choices.granted.map((g) => (
            <li key={g.id}>
              {sentence(g.words)}. {g.other && `Elsewhere: ${g.other}. `}({g.source}; confidence{" "}
              {g.confidence})
            </li>
          ))}
        </ul>
      </details>
      <p className="text-[13px] text-soft">
        One method for every food and label of the case; the bench shows under Balance what the
        others say of a recipe.
      </p>
    </div>
  );
}

/** Whether values that are not of these very foods count. */
function Estimates({
  policy,
  groups,
  onPolicy,
  onGroups,
}: {
  policy: Policy;
  groups: Group[];
  onPolicy: (policy: Policy) => void;
  onGroups: (groups: Group[]) => void;
}) {
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="mb-1 font-medium">How estimates count</legend>
      <Toggle
        label="How estimates count"
        value={policy}
        onChange={onPolicy}
        options={[
          { id: "graded", label: "Graded" },
          { id: "strict", label: "Strict" },
          { id: "cautious", label: "Cautious" },
        ]}
      />
      <p className="text-[13px] text-soft">{POLICY_WORDS[policy]}</p>
      {policy === "strict" && (
        <div className="flex gap-3">
          <span>A food must be fully analysed for</span>
          {GROUPS.map((group) => (
            <label key={group.id} className="flex items-center gap-1">
              <input
                type="checkbox"
                checked={groups.includes(group.id)}
                onChange={(e) =>
                  onGroups(
                    e.target.checked ? [...groups, group.id] : groups.filter((g) => g !== group.id),
                  )
                }
                className="accent-verdigris"
              />
              {group.label}
            </label>
          ))}
        </div>
      )}
    </fieldset>
  );
}

/** The published multipliers that fit this dog, in words. */
function multiplierHint(found: Multiplier[]): string {
  if (found.length === 0) return "";
  const words = found.map((m) =>
    m.low !== null && m.high !== null && m.low !== m.high
      ? `${m.label} ${m.low} to ${m.high}`
      : `${m.label} ${m.value}`,
  );
  return `${words.join(", ")}.`;
}
