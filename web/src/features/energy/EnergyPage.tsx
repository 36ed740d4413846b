import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type ApiError, api, type Multiplier, take } from "~/api/client";
import { forget, keyOf } from "~/shared/keys";
import { energyQuery, standardsQuery } from "~/shared/queries";
import { same, valueAt } from "~/shared/saving/fieldQueue";
import { useCase } from "~/shared/useCase";
import { Button, Field, Select, TextInput, Toggle } from "~/ui";
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

/** Weight, the way energy is found, the standard and life stage. */
export default function EnergyPage() {
  const current = useCase();
  const client = useQueryClient();
  const standards = useQuery(standardsQuery);
  const energy = useQuery(energyQuery(current));
  const [form, setForm] = useState({
    weight_kg: String(current.dog.weight_kg),
    body_condition: String(current.dog.body_condition ?? ""),
    ideal_weight_kg: String(current.dog.ideal_weight_kg ?? ""),
    adult_weight_kg: String(current.dog.adult_weight_kg ?? ""),
    age_months: String(current.dog.age_months ?? ""),
    activity: (current.dog.activity ?? "typical") as Activity,
    energy_method: current.energy_method ?? "rer-multiplier",
    multiplier: String(current.multiplier ?? 1.6),
    kcal_per_day: String(current.kcal_per_day ?? ""),
    energy_reason: current.energy_reason ?? "",
    standard: current.standard ?? "nrc-2006",
    life_stage: current.life_stage ?? "adult",
    data_policy: (current.data_policy ?? "graded") as Policy,
    strict_groups: (current.strict_groups ?? []) as Group[],
  });
  const save = useMutation({
    mutationFn: async () => {
      // Figures go as they were typed: the server reads them.
      const wanted: Record<string, unknown> = {
        "dog.weight_kg": form.weight_kg,
        "dog.body_condition": form.body_condition,
        "dog.ideal_weight_kg": form.ideal_weight_kg,
        "dog.age_months": form.age_months,
        "dog.adult_weight_kg": form.adult_weight_kg,
        "dog.activity": form.activity,
        energy_method: form.energy_method,
        multiplier: form.multiplier,
        kcal_per_day: form.kcal_per_day,
        energy_reason: form.energy_reason,
        standard: form.standard,
        life_stage: form.life_stage,
        data_policy: form.data_policy,
        strict_groups: form.strict_groups,
      };
      const changes = Object.entries(wanted).flatMap(([path, value]) => {
        const was = valueAt(current, path) ?? null;
        return same(value, was) || value === String(was ?? "") ? [] : [{ path, value, was }];
      });
      if (changes.length === 0) return current;
      return take(
        api.PATCH("/api/cases/{id}", {
          params: { path: { id: current.id } },
          body: { changes },
        }),
      );
    },
    onSuccess: (saved) => {
      client.setQueryData(keyOf("case", saved.id), saved);
      void forget(client, "case");
    },
  });
  const error = save.error as ApiError | null;
  const said = (id: string) =>
    error && error.field.split(".").pop() === id ? error.message : undefined;
  const stages = standards.data?.find((s) => s.id === form.standard)?.life_stages ?? [];
  function submit(event: FormEvent) {
    event.preventDefault();
    save.mutate();
  }
  return (
    <main className="overflow-auto p-6">
      <div className="grid grid-cols-[22rem_minmax(0,1fr)] gap-10">
        <form onSubmit={submit} className="flex flex-col gap-4">
          <h2 className="text-lg">Energy and targets</h2>
          <Field id="weight_kg" label="Body weight, kg" error={said("weight_kg")}>
            <TextInput
              id="weight_kg"
              inputMode="decimal"
              value={form.weight_kg}
              onChange={(e) => setForm({ ...form, weight_kg: e.target.value })}
              className="w-32 text-right"
            />
          </Field>
          <div className="flex flex-wrap items-end gap-3">
            {DOG_FIELDS.map((field) => (
              <Field key={field.id} id={field.id} label={field.label} error={said(field.id)}>
                <TextInput
                  id={field.id}
                  inputMode="decimal"
                  value={form[field.id]}
                  onChange={(e) => setForm({ ...form, [field.id]: e.target.value })}
                  className="w-32 text-right"
                />
              </Field>
            ))}
            <Select
              label="Activity"
              value={form.activity}
              onChange={(activity) => setForm({ ...form, activity })}
              options={ACTIVITIES}
            />
          </div>
          <div className="flex flex-col gap-1">
            <span className="font-medium">Energy from</span>
            <Toggle
              label="Energy method"
              value={form.energy_method}
              onChange={(energy_method) => setForm({ ...form, energy_method })}
              options={[
                { id: "rer-multiplier", label: "RER × multiplier" },
                { id: "kcal_per_day", label: "Own figure" },
              ]}
            />
          </div>
          {form.energy_method === "kcal_per_day" ? (
            <Field id="kcal_per_day" label="kcal a day" error={said("kcal_per_day")}>
              <TextInput
                id="kcal_per_day"
                inputMode="decimal"
                value={form.kcal_per_day}
                onChange={(e) => setForm({ ...form, kcal_per_day: e.target.value })}
                className="w-32 text-right"
              />
            </Field>
          ) : (
            <Field
              id="multiplier"
              label="Multiplier of RER"
              hint={`${multiplierHint(energy.data?.multipliers ?? [])} A starting point: adjust by weight and condition.`}
              error={said("multiplier")}
            >
              <TextInput
                id="multiplier"
                inputMode="decimal"
                value={form.multiplier}
                onChange={(e) => setForm({ ...form, multiplier: e.target.value })}
                className="w-32 text-right"
              />
            </Field>
          )}
          <Field id="energy_reason" label="Why this figure" hint="Kept with the case.">
            <TextInput
              id="energy_reason"
              value={form.energy_reason}
              onChange={(e) => setForm({ ...form, energy_reason: e.target.value })}
            />
          </Field>
          <div className="flex flex-wrap gap-3">
            <div className="flex flex-col gap-1">
              <span className="font-medium">Standard</span>
              <Select
                label="Standard"
                value={form.standard}
                onChange={(standard) =>
                  setForm({
                    ...form,
                    standard,
                    life_stage:
                      standards.data?.find((s) => s.id === standard)?.life_stages[0]?.id ?? "adult",
                  })
                }
                options={(standards.data ?? []).map((s) => ({ id: s.id, label: s.name }))}
                className="w-40"
              />
            </div>
            <div className="flex flex-col gap-1">
              <span className="font-medium">Life stage</span>
              <Select
                label="Life stage"
                value={form.life_stage}
                onChange={(life_stage) => setForm({ ...form, life_stage })}
                options={stages.map((s) => ({ id: s.id, label: s.name }))}
                className="w-80"
              />
            </div>
          </div>
          <fieldset className="flex flex-col gap-1">
            <legend className="mb-1 font-medium">How estimates count</legend>
            <Toggle
              label="How estimates count"
              value={form.data_policy}
              onChange={(data_policy) => setForm({ ...form, data_policy })}
              options={[
                { id: "graded", label: "Graded" },
                { id: "strict", label: "Strict" },
                { id: "cautious", label: "Cautious" },
              ]}
            />
            <p className="text-[13px] text-soft">{POLICY_WORDS[form.data_policy]}</p>
            {form.data_policy === "strict" && (
              <div className="flex gap-3">
                <span>A food must be fully analysed for</span>
                {GROUPS.map((group) => (
                  <label key={group.id} className="flex items-center gap-1">
                    <input
                      type="checkbox"
                      checked={form.strict_groups.includes(group.id)}
                      onChange={(e) =>
                        setForm({
                          ...form,
                          strict_groups: e.target.checked
                            ? [...form.strict_groups, group.id]
                            : form.strict_groups.filter((g) => g !== group.id),
                        })
                      }
                      className="accent-verdigris"
                    />
                    {group.label}
                  </label>
                ))}
              </div>
            )}
          </fieldset>
          {error &&
            !["weight_kg", "multiplier", "kcal_per_day", ...DOG_FIELDS.map((f) => f.id)].some(
              said,
            ) && (
              <p role="alert" className="text-madder">
                {error.message}
                {error.status === 409 && " Reload the page to see it."}
              </p>
            )}
          <div className="flex items-center gap-3">
            <Button kind="solid" type="submit" disabled={save.isPending}>
              Save
            </Button>
            {save.isSuccess && (
              <span role="status" className="text-soft">
                Saved. The wall uses it from now on.
              </span>
            )}
          </div>
        </form>
        <div className="max-w-4xl">
          <EnergyScale
            current={current}
            onTake={(kcal) =>
              setForm({ ...form, energy_method: "kcal_per_day", kcal_per_day: String(kcal) })
            }
          />
        </div>
      </div>
      <ClientFoods caseId={current.id} client={current.client.name} />
    </main>
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
