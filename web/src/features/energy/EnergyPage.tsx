import { useQuery } from "@tanstack/react-query";
import { api, type Case, type FoodEnergyChoices, type Multiplier, take } from "~/api/client";
import { sentence, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { energyQuery, standardsQuery } from "~/shared/queries";
import { EnergyOffers } from "~/shared/record/EnergyOffers";
import {
  Box,
  CaseFields,
  CaseSaved,
  Choice,
  FieldTrouble,
  useSaving,
} from "~/shared/record/fields";
import { StaleWhile } from "~/shared/saving/StaleWhile";
import { useCase } from "~/shared/useCase";
import { Term } from "~/shared/words/Term";
import { Page } from "~/ui/Page";
import { Select } from "~/ui/Select";
import { Toggle } from "~/ui/Toggle";
import { ClientFoods } from "./ClientFoods";
import { EnergyScale } from "./EnergyScale";

type Policy = "graded" | "strict" | "cautious";

const DOG_FIELDS = [
  { id: "body_condition", label: "Body condition, 1 to 9", holds: "figure" },
  { id: "ideal_weight_kg", label: "Ideal weight", holds: "weight" },
  { id: "age_months", label: "Age", holds: "age" },
  { id: "adult_weight_kg", label: "Adult weight", holds: "weight" },
] as const;
const ACTIVITIES = [
  { value: "low", label: "Low activity" },
  { value: "typical", label: "Typical activity" },
  { value: "high", label: "High activity" },
  { value: "working", label: "Working" },
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

/** Weight, the way energy is found, the standard and life stage; each field saves itself. */
export default function EnergyPage() {
  const current = useCase();
  return (
    <CaseFields current={current}>
      <Page className="p-4 mid:p-6 wide:overflow-auto">
        <div className="grid gap-10 wide:grid-cols-[22rem_minmax(0,1fr)]">
          <Settings current={current} />
          <Methods current={current} />
        </div>
        <ClientFoods caseId={current.id} client={current.client.name} />
      </Page>
    </CaseFields>
  );
}

/** The methods side by side; what is taken of them says where it came from. */
function Methods({ current }: { current: Case }) {
  const saving = useSaving();
  const own =
    saving.value("energy_method") === "kcal_per_day" ? saving.value("kcal_per_day") : undefined;
  return (
    <div className="min-w-0 max-w-4xl">
      <StaleWhile saving={saving}>
        <EnergyOffers current={current} />
        <EnergyScale
          current={current}
          own={typeof own === "number" ? own : undefined}
          onTake={(kcal, why) =>
            saving.change([
              { path: "energy_method", value: "kcal_per_day" },
              { path: "kcal_per_day", value: kcal },
              { path: "energy_reason", value: why },
            ])
          }
        />
      </StaleWhile>
    </div>
  );
}

function Settings({ current }: { current: Case }) {
  const saving = useSaving();
  const standards = useQuery(standardsQuery);
  const energy = useQuery(energyQuery(current));
  const method = saving.value("energy_method") as Case["energy_method"];
  const standard = String(saving.value("standard"));
  const stages = standards.data?.find((s) => s.id === standard)?.life_stages ?? [];
  return (
    <div className="flex min-w-0 flex-col gap-4">
      <div className="flex flex-wrap items-start justify-between">
        <h2>Energy and targets</h2>
        <CaseSaved />
      </div>
      <Box path="dog.weight_kg" label="Body weight" holds="weight" />
      <div className="flex flex-wrap items-end gap-3">
        {DOG_FIELDS.map((field) => (
          <Box key={field.id} path={`dog.${field.id}`} label={field.label} holds={field.holds} />
        ))}
        <Choice path="dog.activity" label="Activity" options={ACTIVITIES} />
      </div>
      <div className="flex flex-col gap-1" data-field="energy_method">
        <span className="font-medium">
          Daily energy, <Term id="mer">MER</Term>, from <Term id="rer">RER</Term> or a figure of
          your own
        </span>
        <Toggle
          label="Energy method"
          value={method}
          onChange={(to) =>
            saving.change([
              { path: "energy_method", value: to },
              // An own figure starts from the one that held so far.
              ...(to === "kcal_per_day" && saving.value("kcal_per_day") == null && energy.data
                ? [{ path: "kcal_per_day", value: Math.round(energy.data.chosen.target_kcal) }]
                : []),
            ])
          }
          options={[
            { id: "rer-multiplier", label: "RER × multiplier" },
            { id: "kcal_per_day", label: "Own figure" },
          ]}
        />
        <FieldTrouble path="energy_method" what="Energy from" />
      </div>
      {method === "kcal_per_day" ? (
        <Box path="kcal_per_day" label="kcal a day" holds="figure" />
      ) : (
        <Box
          path="multiplier"
          label="Multiplier of RER"
          hint={`${multiplierHint(energy.data?.multipliers ?? [])} A starting point: adjust by weight and condition.`}
          holds="figure"
        />
      )}
      <Box path="energy_reason" label="Why this figure" hint="Kept with the case." />
      <div className="flex flex-wrap gap-3">
        <div className="flex flex-col gap-1" data-field="standard">
          <span className="font-medium">Standard</span>
          <Select
            label="Standard"
            value={standard}
            onChange={(id) => {
              const found = standards.data?.find((s) => s.id === id);
              saving.change([
                { path: "standard", value: id },
                { path: "life_stage", value: found?.life_stages[0]?.id ?? "adult" },
              ]);
            }}
            options={(standards.data ?? []).map((s) => ({ id: s.id, label: s.name }))}
            className="w-40"
          />
          <FieldTrouble path="standard" what="Standard" />
        </div>
        <Choice
          path="life_stage"
          label="Life stage"
          options={stages.map((s) => ({ value: s.id, label: s.name }))}
          className="w-80 max-w-full"
        />
      </div>
      <MinimumBasis
        caseId={current.id}
        version={current.version}
        value={saving.value("basis") as Case["basis"]}
        onChange={(basis) => saving.set("basis", basis)}
      />
      {energy.data && (
        <FoodEnergy
          choices={energy.data.food}
          value={saving.value("me_method") as Case["me_method"]}
          onChange={(to) => saving.set("me_method", to)}
        />
      )}
      <Estimates
        policy={saving.value("data_policy") as Policy}
        groups={saving.value("strict_groups") as Group[]}
        onPolicy={(policy) => saving.set("data_policy", policy)}
        onGroups={(groups) => saving.set("strict_groups", groups)}
      />
    </div>
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
      <p className="text-data text-soft">{told(bases.find((b) => b.id === value)?.words ?? "")}.</p>
      {targets.data?.basis && value === targets.data.basis.basis && (
        <p className="text-data">{told(targets.data.basis.words)}</p>
      )}
      {targets.error && (
        <p role="alert" className="text-data text-madder">
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
          <p className="text-data">{told(sentence(chosen.words))}.</p>
          <p className="text-data text-soft">
            For {chosen.when}. {chosen.source}.{" "}
            {chosen.is_default && told(`The default: ${choices.why}.`)}
          </p>
        </>
      )}
      <details className="text-data text-soft">
        <summary className="cursor-pointer">What is taken for granted</summary>
        <ul className="mt-1 flex flex-col gap-1">
          {choices.granted.map((g) => (
            <li key={g.id}>
              {told(sentence(g.words))}. {g.other && told(`Elsewhere: ${g.other}. `)}
              {`(${g.source}; confidence ${g.confidence})`}
            </li>
          ))}
        </ul>
      </details>
      <p className="text-data text-soft">
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
      <p className="text-data text-soft">{POLICY_WORDS[policy]}</p>
      {policy === "strict" && (
        <div className="flex flex-wrap gap-3">
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
