import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Case, type Intake, take } from "../../api/client";
import { number, percent } from "../../app/format";
import { Button, Problem } from "../../ui";
import { useCase } from "../cases/CaseFrame";
import { BodyCondition } from "./BodyCondition";
import { Asked, Birth, Block, Choice, Figure, Row, Rows, Text } from "./fields";

type Reaction = NonNullable<Case["reactions"]>[number];
type Sex = "female" | "male" | "unknown";
type Muscle = "" | "normal" | "mild" | "moderate" | "severe";

const FEEDING = [
  "cooked",
  "gently cooked",
  "raw",
  "whole food first",
  "single supplements",
  "all-in-one premix",
  "grain-free",
  "vegetarian",
  "fresh food on kibble",
];

/** Intake: any order, saved as it goes, with what is still missing for a sound plan. */
export default function IntakePage() {
  const current = useCase();
  const client = useQueryClient();
  const view = useQuery({
    queryKey: ["intake", current.id, current.version],
    queryFn: () =>
      take(api.GET("/api/cases/{id}/intake", { params: { path: { id: current.id } } })),
    placeholderData: (old) => old,
  });
  const intake: Intake = current.intake ?? {};
  const save = useMutation({
    mutationFn: (changes: Record<string, unknown>) =>
      take(
        api.PATCH("/api/cases/{id}", {
          params: { path: { id: current.id } },
          body: { version: current.version ?? 1, ...changes },
        }),
      ),
    scope: { id: `case-${current.id}` },
    onSuccess: (saved) => {
      client.setQueryData(["case", saved.id], saved);
      for (const key of ["analysis", "energy", "targets", "cases"])
        client.invalidateQueries({ queryKey: [key] });
    },
  });
  const put = (changes: Partial<Intake>) => save.mutate({ intake: { ...intake, ...changes } });
  const dog = current.dog;
  const reactions = (current.reactions ?? []) as Reaction[];
  const diet = intake.current_diet ?? [];
  const flags = intake.red_flags ?? {};
  return (
    <main className="overflow-auto p-6">
      <div className="flex max-w-5xl gap-8">
        <div className="flex min-w-0 flex-1 flex-col gap-6">
          {view.data?.stopped && (
            <p role="alert" className="border-madder border-l-4 pl-3 text-madder">
              <b>See the vet first.</b> A red flag was recorded: {flags.present}. Recipes of this
              case cannot be changed until the vet has cleared it below.
            </p>
          )}
          <Block title="The dog">
            <Row>
              <Text
                label="Name"
                value={dog.name}
                onSave={(dog_name) => save.mutate({ dog_name })}
              />
              <Text
                label="Breed"
                value={dog.breed ?? ""}
                list={view.data?.breeds}
                onSave={(breed) => save.mutate({ breed })}
              />
              <Figure
                label="Age, months"
                value={dog.age_months}
                onSave={(age_months) => save.mutate({ age_months })}
              />
              <Birth
                value={dog.birth_date ?? ""}
                onSave={(birth_date) => save.mutate({ birth_date: birth_date || null })}
              />
              <Figure
                label="Weight, kg"
                value={dog.weight_kg}
                onSave={(kg) => kg !== null && save.mutate({ weight_kg: kg })}
              />
              <Figure
                label="Adult weight, kg"
                value={dog.adult_weight_kg}
                onSave={(v) => save.mutate({ adult_weight_kg: v })}
              />
              <Choice
                label="Sex"
                value={(dog.sex ?? "unknown") as Sex}
                options={["female", "male", "unknown"]}
                onSave={(sex) => save.mutate({ sex })}
              />
              <Choice
                label="Neutered"
                value={
                  dog.neutered === null || dog.neutered === undefined
                    ? "not known"
                    : dog.neutered
                      ? "neutered"
                      : "entire"
                }
                options={["neutered", "entire", "not known"]}
                onSave={(v) =>
                  save.mutate({ neutered: v === "not known" ? null : v === "neutered" })
                }
              />
            </Row>
            {dog.sex === "female" && dog.neutered !== true && (
              <Row>
                <Figure
                  label="Gestation week"
                  value={dog.gestation_week}
                  onSave={(v) => save.mutate({ gestation_week: v })}
                />
                <Figure
                  label="Lactation week"
                  value={dog.lactation_week}
                  onSave={(v) => save.mutate({ lactation_week: v })}
                />
                <Figure
                  label="Pups in the litter"
                  value={dog.litter_size}
                  onSave={(v) => save.mutate({ litter_size: v })}
                />
              </Row>
            )}
            <p className="text-[13px] text-soft">
              {view.data?.breed_weight && `${dog.breed}: ${view.data.breed_weight}. `}
              Size class {view.data?.size_class}; counts as {view.data?.life_stage}.{" "}
              <label className="inline-flex items-center gap-1">
                <input
                  type="checkbox"
                  className="accent-verdigris"
                  checked={intake.life_stage_confirmed ?? false}
                  onChange={(e) => put({ life_stage_confirmed: e.target.checked })}
                />
                life stage confirmed
              </label>
            </p>
            <BodyCondition
              value={dog.body_condition ?? null}
              onChange={(body_condition) => save.mutate({ body_condition })}
            />
            <Row>
              <Choice
                label="Muscle condition"
                value={(intake.muscle_condition || "not scored") as string}
                options={["not scored", "normal", "mild", "moderate", "severe"]}
                onSave={(v) => put({ muscle_condition: (v === "not scored" ? "" : v) as Muscle })}
              />
              <Text
                label="Housing"
                value={intake.housing ?? ""}
                onSave={(housing) => put({ housing })}
              />
              <Choice
                label="Way of feeding wanted"
                value={intake.way_of_feeding || "not said"}
                options={["not said", ...FEEDING]}
                onSave={(v) => put({ way_of_feeding: v === "not said" ? "" : v })}
              />
              <Figure
                label="Meals a day"
                value={current.meals_per_day}
                onSave={(v) => v !== null && save.mutate({ meals_per_day: Math.round(v) })}
              />
            </Row>
          </Block>
          <Rows
            title="Weights"
            rows={intake.weights ?? []}
            columns={[
              ["on", "Date"],
              ["kg", "kg"],
            ]}
            numbers={["kg"]}
            onSave={(weights) => put({ weights: weights as Intake["weights"] })}
          />
          <Rows
            title="Vet team"
            rows={intake.vet_team ?? []}
            columns={[
              ["role", "Role (attending, cardiologist)"],
              ["name", "Name"],
              ["clinic", "Clinic"],
              ["contact", "Contact"],
            ]}
            onSave={(rows) => put({ vet_team: rows as Intake["vet_team"] })}
          />
          <Rows
            title="Reacts to"
            rows={reactions}
            columns={[
              ["food", "Food"],
              ["form", "Form (the meat)"],
              ["tolerates", "Tolerates (the organ)"],
              ["what", "What happened"],
            ]}
            choices={{ certainty: ["suspected", "likely", "proven"] }}
            onSave={(rows) => save.mutate({ reactions: rows })}
          >
            <Asked
              label="asked, that is all"
              value={intake.reactions_asked}
              onChange={(reactions_asked) => put({ reactions_asked })}
            />
          </Rows>
          <Rows
            title="Medicines and supplements"
            rows={intake.medicines ?? []}
            columns={[
              ["name", "Name"],
              ["dose", "Dose"],
            ]}
            onSave={(rows) => put({ medicines: rows as Intake["medicines"] })}
          >
            <Asked
              label="asked, that is all"
              value={intake.medicines_asked}
              onChange={(medicines_asked) => put({ medicines_asked })}
            />
          </Rows>
          <Rows
            title="Eats now, a day"
            rows={diet}
            columns={[
              ["name", "Food"],
              ["amount", "Amount"],
              ["unit", "Unit"],
              ["kcal_per_unit", "kcal a unit"],
              ["protein_g", "Protein, g"],
              ["fat_g", "Fat, g"],
              ["carbohydrate_g", "Carb, g"],
            ]}
            numbers={["amount", "kcal_per_unit", "protein_g", "fat_g", "carbohydrate_g"]}
            onSave={(rows) => put({ current_diet: rows as Intake["current_diet"] })}
          >
            {view.data && diet.length > 0 && (
              <p>
                <b>{number(view.data.present.kcal)} kcal a day</b>
                {view.data.present.unknown_items > 0 &&
                  ` without ${view.data.present.unknown_items} of unknown energy`}
                {view.data.present.shares &&
                  `; energy from protein ${percent(view.data.present.shares.protein)}, fat ${percent(view.data.present.shares.fat)}, carbohydrate ${percent(view.data.present.shares.carbohydrate)}`}
              </p>
            )}
          </Rows>
          <Block title="What the owner can do">
            <Row>
              {(["source", "cook", "store", "spend"] as const).map((key) => (
                <Text
                  key={key}
                  label={`Can ${key}`}
                  value={intake.owner?.[key] ?? ""}
                  onSave={(v) => put({ owner: { ...intake.owner, [key]: v } })}
                />
              ))}
            </Row>
          </Block>
          <Block title="Red flags">
            {view.data?.red_flags.map((words) => (
              <p key={words} className="text-[13px]">
                Ask for: {words}.
              </p>
            ))}
            <Row>
              <Text
                label="Seen now"
                value={flags.present ?? ""}
                onSave={(present) => put({ red_flags: { ...flags, present, cleared: false } })}
              />
              <Text
                label="Who was told"
                value={flags.told ?? ""}
                onSave={(told) => put({ red_flags: { ...flags, told } })}
              />
              <Text
                label="When"
                value={flags.on ?? ""}
                onSave={(on) => put({ red_flags: { ...flags, on } })}
              />
              <Text
                label="Cleared by"
                value={flags.cleared_by ?? ""}
                onSave={(cleared_by) => put({ red_flags: { ...flags, cleared_by } })}
              />
            </Row>
            {flags.present && (
              <Asked
                label="the vet has cleared the case"
                value={flags.cleared}
                onChange={(cleared) => put({ red_flags: { ...flags, cleared } })}
              />
            )}
          </Block>
        </div>
        <aside aria-label="Still missing" className="w-64 shrink-0">
          <p role="status" className="mb-2 text-[13px] text-soft">
            {save.isPending ? "Saving…" : save.isError ? "Not saved" : "Saved as you go"}
          </p>
          {save.error && <Problem error={save.error} />}
          <h2 className="text-base">Still missing for a sound plan</h2>
          {view.data?.missing.length === 0 && <p className="text-soft">Nothing.</p>}
          <ul className="mt-1 flex flex-col gap-1.5">
            {view.data?.missing.map((m) => (
              <li key={m.field}>
                {m.what}
                <div className="text-[12px] text-soft">{m.why}</div>
              </li>
            ))}
          </ul>
          <Button className="mt-4 print:hidden" onClick={() => print()}>
            Print the intake sheet
          </Button>
        </aside>
      </div>
    </main>
  );
}
