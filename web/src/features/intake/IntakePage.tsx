import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Intake, take } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { today } from "~/shared/days";
import { bodyWeight, day, number, percent, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { ConditionsEditor } from "~/shared/record/ConditionsEditor";
import { EnergyOffers } from "~/shared/record/EnergyOffers";
import { Block, Box, CaseFields, CaseSaved, Choice, Row, Rows, Tick } from "~/shared/record/fields";
import { Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { Page } from "~/ui/Page";
import { Ask, goTo, type Question } from "./Ask";
import { DogIndex, type StationLine } from "./DogIndex";
import { Paste } from "./Paste";
import { Peg } from "./Peg";
import { AskTheOwner, LookThrough, type Waiting, waitingOf } from "./Sent";

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

const NOTICED = [
  ["drinks", "Drinks or urinates more"],
  ["appetite", "How it eats"],
  ["chewing", "Teeth and chewing"],
  ["stool", "Stools"],
  ["vomiting", "Vomiting"],
  ["skin", "Scratching, licking, ears"],
  ["walks", "Walks and stairs"],
  ["breaths", "Breaths a minute, asleep"],
  ["extras", "Treats, chews and scraps"],
  ["since", "Eats this since, and what before"],
  ["pills_in", "Medicines are given in"],
] as const;

const plain = (values: readonly string[]) => values.map((value) => ({ value, label: value }));

/** Intake: any order, every field saved by itself, with what is still missing for a sound plan. */
export default function IntakePage() {
  const current = useCase();
  const view = useQuery({
    queryKey: keyOf("intake", current.id, current.version),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/intake", { params: { path: { id: current.id } } })),
    placeholderData: (old) => old,
  });
  const flags = current.intake.red_flags;
  const stations = view.data?.stations ?? [];
  const { questions, next, ask, putOff } = useQuestions(view.data?.questions);
  const sent = useQuery({
    queryKey: keyOf("sheets", current.id, current.version),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/sheets", { params: { path: { id: current.id } } })),
    placeholderData: (old) => old,
  });
  const sheets = sent.data ?? [];
  const waiting = waitingOf(sheets);
  const [chosen, setChosen] = useState("");
  const [asking, setAsking] = useState("");
  const named = (w: Waiting) => `${w.sheet} ${w.piece.id}`;
  // What the owner said is looked through first; an open question that is clicked comes before.
  // until it is answered.
  const askedNow = questions.some((q) => q.field === asking);
  const looked = askedNow ? undefined : (waiting.find((w) => named(w) === chosen) ?? waiting[0]);
  // What is open is asked below, where a key answers it; what is known is gone to.
  const choose = (line: StationLine) => {
    const said = waiting.find((w) => line.mark === "told" && line.field === w.piece.field);
    setAsking("");
    if (said) {
      setChosen(named(said));
      return focusBar();
    }
    const question = questions.find((q) => line.mark === "open" && q.write === line.field);
    if (!question || question.answers.length === 0) return goTo(line.field, line.mark === "open");
    setAsking(question.field);
    ask(question.field);
    focusBar();
  };
  return (
    <CaseFields current={current}>
      <Page className="p-4 mid:px-6 mid:pt-3 mid:pb-6 wide:overflow-auto">
        <div className="flex flex-col gap-6">
          {view.data?.stopped && (
            <p role="alert" className="border-madder stile text-madder">
              <b>See the vet first.</b> A red flag was recorded: {flags.present}. Recipes of this
              case cannot be changed until the vet has cleared it below.
            </p>
          )}
          {view.error && (
            <Problem
              what="what is known and asked"
              error={view.error}
              retry={() => view.refetch()}
            />
          )}
          <div className="flex flex-col gap-2">
            <Head stations={stations} needed={view.data?.missing.length ?? 0} />
            <DogIndex
              stations={stations}
              asked={looked ? looked.piece.field : next?.write}
              choose={choose}
            />
          </div>
          <Paste />
          <AskTheOwner key={sent.isSuccess ? "there" : "not yet"} sheets={sheets} />
          <DogBlock breeds={view.data?.breeds} about={view.data} />
          <div className="grid gap-x-10 gap-y-6 wide:grid-cols-2">
            <Block title="Diagnoses">
              <ConditionsEditor />
              <Tick path="intake.conditions_asked" label="asked the vet: the list is complete" />
              <EnergyOffers current={current} />
            </Block>
            <Rows
              path="intake.weights"
              title="Weights"
              columns={[
                ["on", "Date"],
                ["kg", conventions().body],
              ]}
              holds={{ on: "day", kg: "weight" }}
            />
            <Rows
              path="intake.vet_team"
              title="Vet team"
              columns={[
                ["role", "Role (attending, cardiologist)"],
                ["name", "Name"],
                ["clinic", "Clinic"],
                ["contact", "Contact"],
              ]}
            />
            <Rows
              path="intake.medicines"
              title="Medicines and supplements"
              columns={[
                ["name", "Name"],
                ["dose", "Dose"],
              ]}
            >
              <Tick path="intake.medicines_asked" label="asked: the list is complete" />
            </Rows>
          </div>
          <Rows
            path="reactions"
            title="Reacts to"
            columns={[
              ["food", "Food"],
              ["form", "Form (the meat)"],
              ["tolerates", "Tolerates (the organ)"],
              ["tolerates_said", "Who said so, when"],
              ["what", "What happened"],
            ]}
            choices={{ certainty: ["suspected", "likely", "proven"] }}
          >
            <Tick path="intake.reactions_asked" label="asked: the list is complete" />
          </Rows>
          <Block title="Seen at home">
            <div className="grid max-w-5xl gap-3 mid:grid-cols-2 wide:grid-cols-3">
              {NOTICED.map(([key, label]) => (
                <Box key={key} path={`intake.noticed.${key}`} label={label} className="w-full" />
              ))}
            </div>
          </Block>
          <Rows
            path="intake.current_diet"
            title="Eats now, a day"
            columns={[
              ["name", "Food"],
              ["amount", "Amount"],
              ["unit", "Unit"],
              ["kcal_per_unit", "kcal a unit"],
              ["protein_g", "Protein, g"],
              ["fat_g", "Fat, g"],
              ["carbohydrate_g", "Carb, g"],
            ]}
            holds={Object.fromEntries(
              ["amount", "kcal_per_unit", "protein_g", "fat_g", "carbohydrate_g"].map((key) => [
                key,
                "figure" as const,
              ]),
            )}
          >
            {view.data && current.intake.current_diet.length > 0 && (
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
                <Box key={key} path={`intake.owner.${key}`} label={`Can ${key}`} />
              ))}
              <Box
                path="intake.owner.costs_now"
                label={`Costs now, ${conventions().currency} a day`}
                holds="figure"
              />
            </Row>
            <Tick
              path="intake.owner.fine_scale"
              label="has a scale that shows tenths of a gram: powders are then weighed, not spooned"
            />
          </Block>
          <Box path="notes" label="Notes" tall className="w-full max-w-3xl" />
          <Block title="Red flags">
            {view.data?.red_flags.map((words) => (
              <p key={words} className="text-data">
                Ask for: {told(words)}.
              </p>
            ))}
            <Row>
              <Box path="intake.red_flags.present" label="Seen now" />
              <Box path="intake.red_flags.told" label="Who was told" />
              <Box path="intake.red_flags.on" label="When" holds="day" example={day(today())} />
              <Box path="intake.red_flags.cleared_by" label="Cleared by" />
            </Row>
            {flags.present && (
              <Tick path="intake.red_flags.cleared" label="the vet has cleared the case" />
            )}
          </Block>
        </div>
        {looked ? (
          <LookThrough waiting={waiting} at={looked} go={(to) => setChosen(to ? named(to) : "")} />
        ) : (
          <Ask next={next} open={questions.length} putOff={putOff} />
        )}
      </Page>
    </CaseFields>
  );
}

function focusBar() {
  requestAnimationFrame(() =>
    document.querySelector<HTMLElement>("[data-ask] button")?.focus({ preventScroll: true }),
  );
}

/** The questions that are open, and the one that is asked now; put off ones are asked again when nothing else is left. */
function useQuestions(all: readonly Question[] | undefined) {
  const [later, setLater] = useState<readonly string[]>([]);
  const [wanted, setWanted] = useState("");
  const questions = all ?? [];
  const next =
    questions.find((q) => q.field === wanted) ??
    questions.find((q) => !later.includes(q.field)) ??
    questions[0];
  const putOff = () => {
    setWanted("");
    setLater((now) => {
      const more = [...now.filter((f) => f !== next?.field), next?.field ?? ""];
      return more.length >= questions.length ? [] : more;
    });
  };
  return { questions, next, ask: setWanted, putOff };
}

/** What the marks mean and how many are open; undo; the sheet on paper. */
function Head({ stations, needed }: { stations: Intake["stations"]; needed: number }) {
  const current = useCase();
  const lines = stations.flatMap((s) => s.lines);
  const open = lines.filter((l) => l.mark === "open").length;
  const said = lines.filter((l) => l.mark === "told").length;
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
      <span className="flex items-center gap-1">
        <Peg mark="known" /> known
      </span>
      <span className="flex items-center gap-1">
        <Peg mark="open" /> open: {open}
        {needed > 0 && `, ${needed} of them for a sound plan`}
      </span>
      {said > 0 && (
        <span className="flex items-center gap-1">
          <Peg mark="told" /> the owner’s words, not looked at: {said}
        </span>
      )}
      <span className="flex-1" />
      <CaseSaved />
      <a
        href={`/papers/cases/${current.id}/intake`}
        target="_blank"
        rel="noreferrer"
        className="inline-flex h-8 items-center rounded-corner border border-edge bg-sheet px-3 font-medium hover:border-soft"
      >
        Sheet to print
      </a>
    </div>
  );
}

/** The dog's own facts. */
function DogBlock({ breeds, about }: { breeds: string[] | undefined; about: Intake | undefined }) {
  const { dog } = useCase();
  return (
    <Block title="The dog">
      <Row>
        <Box path="dog.name" label="Name" />
        <Box path="dog.breed" label="Breed" list={breeds} />
        <Box path="dog.age_months" label="Age" holds="age" />
        <Box
          path="dog.birth_date"
          label="Born (age follows)"
          holds="day"
          example={day("2020-12-03")}
        />
        <Box path="dog.weight_kg" label="Weight" holds="weight" />
        <Box path="dog.adult_weight_kg" label="Adult weight" holds="weight" />
        <Choice path="dog.sex" label="Sex" options={plain(["female", "male", "unknown"])} />
        <Choice
          path="dog.neutered"
          label="Neutered"
          options={[
            { value: true, label: "neutered" },
            { value: false, label: "entire" },
            { value: null, label: "not known" },
          ]}
        />
      </Row>
      {dog.sex === "female" && dog.neutered !== true && (
        <Row>
          <Box path="dog.gestation_week" label="Gestation week" holds="figure" />
          <Box path="dog.lactation_week" label="Lactation week" holds="figure" />
          <Box path="dog.litter_size" label="Pups in the litter" holds="figure" />
        </Row>
      )}
      <div className="flex items-baseline gap-1 text-data text-soft">
        {about?.breed_weight &&
          `${dog.breed}: ${bodyWeight(about.breed_weight.low_kg)} to ${bodyWeight(about.breed_weight.high_kg)}, typical, recalled. `}
        Size class {about?.size_class}; counts as {about?.life_stage}.{" "}
        <Tick path="intake.life_stage_confirmed" label="life stage confirmed" />
      </div>
      {about && about.prone.length > 0 && (
        <ul aria-label={`What ${dog.breed} is prone to`} className="text-data">
          {about.prone.map((p) => (
            <li key={p.what}>
              <b>Ask about {p.what}</b>: {told(p.do)}.{" "}
              <span className="text-soft">
                A reason to ask, never a diagnosis. {p.source}; confidence {p.confidence}.
              </span>
            </li>
          ))}
        </ul>
      )}
      <Row>
        <Choice
          path="intake.muscle_condition"
          label="Muscle condition"
          options={[
            { value: "", label: "not scored" },
            ...plain(["normal", "mild", "moderate", "severe"]),
          ]}
        />
        <Box path="intake.housing" label="Housing" />
        <Choice
          path="intake.vulnerable_home"
          label="Under 5, over 65, pregnant or weak at home"
          options={[
            { value: null, label: "not asked" },
            { value: true, label: "yes" },
            { value: false, label: "nobody" },
          ]}
        />
        <Choice
          path="intake.way_of_feeding"
          label="Way of feeding wanted"
          options={[{ value: "", label: "not said" }, ...plain(FEEDING)]}
        />
        <Box path="meals_per_day" label="Meals a day" holds="figure" />
      </Row>
    </Block>
  );
}
