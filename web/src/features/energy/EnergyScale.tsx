import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Case, type Estimate, type PortionResult, type Trend, take } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { bodyWeight, number, rangeOf, sharesOf, told } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { energyQuery, followQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { Trace } from "~/shared/trace/Trace";
import { Term } from "~/shared/words/Term";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";
import { ticks } from "./axis";
import { Line } from "./Line";
import { WeightPlan } from "./WeightPlan";

/** Every published method on one scale, so that the spread is seen; one may be taken over. */
export function EnergyScale({
  current,
  own,
  onTake,
}: {
  current: Case;
  /** The figure that stands in the box, stored or not yet: the line goes on from there. */
  own: number | undefined;
  onTake: (kcal: number, why: string) => void;
}) {
  const energy = useQuery(energyQuery(current));
  const follow = useQuery(followQuery(current.id));
  if (energy.isPending) return <Loading what="the methods" />;
  if (!energy.data)
    return <Problem what="the methods" error={energy.error} retry={() => energy.refetch()} />;
  const { estimates: published, chosen, ideal, plan, life_stage, metabolic_kg } = energy.data;
  const { present_kcal: present, present_unknown: missing } = energy.data;
  const learnt = learntOf(follow.data?.trend ?? null);
  const estimates = learnt ? [learnt, ...published] : published;
  const halted = follow.data?.trend?.vet[0];
  const most =
    Math.max(
      chosen.target_kcal,
      ...energy.data.offers.map((o) => o.kcal),
      ...estimates.map((e) => e.high ?? e.kcal),
    ) * 1.05;
  const x = (kcal: number) => `${(Math.min(kcal, most) / most) * 100}%`;
  return (
    <div className="flex flex-col gap-6">
      <section aria-label="Methods side by side">
        <h2>Methods side by side</h2>
        <p className="mb-8 text-soft">
          {current.dog.name} counts as <b className="text-ink">{life_stage}</b> (
          <Term id="life-stage">life stage</Term>). Each bar is the published range, the mark its
          typical figure. The line is what the case uses: drag it, or move it with the arrows.
          {present !== null &&
            ` Dashes: what is eaten now${missing > 0 ? `, without ${missing} that ${missing === 1 ? "has" : "have"} no kcal` : ""}.`}
          {energy.data.offers.length > 0 && " Dots: what fits better, as offered above."}
        </p>
        <div className="relative">
          <div className={`pointer-events-none absolute inset-0 ${COLUMNS}`}>
            <div className="relative col-start-2">
              {present !== null && (
                <span
                  className="absolute inset-y-0 border-soft border-l border-dashed"
                  style={{ left: x(present) }}
                />
              )}
              {energy.data.offers.map((offer) => (
                <span
                  key={offer.label}
                  data-offer
                  className="absolute inset-y-0 border-verdigris border-l-2 border-dotted"
                  style={{ left: x(offer.kcal) }}
                >
                  <span className="-top-6 -translate-x-1/2 absolute whitespace-nowrap text-data text-verdigris">
                    {number(offer.kcal)}?
                  </span>
                </span>
              ))}
              <Line
                kcal={own ?? chosen.target_kcal}
                most={most}
                perKg75={metabolic_kg}
                onMove={(kcal) => onTake(kcal, "set by hand on the scale")}
              />
            </div>
          </div>
          <ul>
            {estimates.map((e) => (
              <li key={e.id} className={`border-line border-b py-1 ${ROW}`}>
                <details>
                  <summary className="cursor-pointer">
                    {e.label} <span className="text-soft">{e.school}</span>
                  </summary>
                  <p className="text-label text-soft">
                    {e.step.formula}. {e.step.source}; confidence {e.step.confidence}
                  </p>
                </details>
                <svg className="h-4 w-full self-center" aria-hidden="true">
                  <rect
                    x={x(e.low ?? e.kcal)}
                    y="5"
                    width={`${(((e.high ?? e.kcal) - (e.low ?? e.kcal)) / most) * 100}%`}
                    height="6"
                    className="fill-oak-pale"
                  />
                  <line
                    x1={x(e.kcal)}
                    x2={x(e.kcal)}
                    y1="1"
                    y2="15"
                    className="stroke-2 stroke-oak-deep"
                  />
                </svg>
                <span className="text-right">
                  {number(e.kcal)} <span className="sr-only">kcal a day</span>
                </span>
                <span className="text-right">
                  {e.id === LEARNT && halted ? (
                    <span title={told(halted)}>ask the vet</span>
                  ) : (
                    <Button
                      kind="quiet"
                      aria-label={`Use ${e.label}, ${e.school}`}
                      onClick={() => onTake(Math.round(e.kcal), `${e.label}, ${e.school}`)}
                    >
                      Use
                    </Button>
                  )}
                </span>
              </li>
            ))}
          </ul>
        </div>
        <div className={`text-axis text-soft ${ROW}`} aria-hidden="true">
          <Axis most={most} unit="kcal a day" />
        </div>
        <div className={`text-axis text-soft ${ROW}`} aria-hidden="true">
          <Axis most={most / metabolic_kg} unit="kcal per kg^0.75" />
        </div>
        {estimates.length === 0 && (
          <p>No method fits. Give the age, activity and, for a puppy, the expected adult weight.</p>
        )}
      </section>
      {ideal && (
        <section>
          <h2>
            <Term id="ideal-weight">Ideal weight</Term>
          </h2>
          <p>
            At condition {current.dog.body_condition}/9: <b>{bodyWeight(ideal.typical_kg)}</b>,
            between {bodyWeight(ideal.low_kg)} and {bodyWeight(ideal.high_kg)}.
          </p>
          <Trace steps={ideal.steps} />
        </section>
      )}
      {plan && (
        <WeightPlan
          plan={plan}
          ideal={ideal}
          seen={[
            ...current.intake.weights.map(({ on, kg }) => ({ on, kg })),
            ...(follow.data?.trend?.weights ?? []).map((w) => ({ on: w.date, kg: w.weight_kg })),
          ]}
        />
      )}
      <Volume current={current} />
    </div>
  );
}

/** A row: the method, its bar, the figure, and the key that takes it. */
const COLUMNS = "grid grid-cols-[minmax(0,1fr)_minmax(0,1.3fr)_3.5rem_4rem] gap-x-3";
const ROW = `${COLUMNS} items-baseline`;

/** What the bars are read by. */
function Axis({ most, unit }: { most: number; unit: string }) {
  return (
    <>
      <span className="text-right">{unit}</span>
      <span className="relative h-4">
        {ticks(most, 5).map((at) => (
          <span
            key={at}
            className="-translate-x-1/2 absolute border-line border-l pl-0.5"
            style={{ left: `${(at / most) * 100}%` }}
          >
            {number(at)}
          </span>
        ))}
      </span>
    </>
  );
}

const LEARNT = "learnt";

/** What its own weights say, beside what is published. */
function learntOf(trend: Trend | null): Estimate | null {
  const step = trend?.steps[0];
  if (!trend?.learnt || trend.kcal_hold === null || !step) return null;
  const { kcal_hold: kcal, low, high } = trend;
  return {
    id: LEARNT,
    school: "this dog",
    label: "Learnt from its weights",
    kcal,
    low,
    high,
    step,
  };
}

function Volume({ current }: { current: Case }) {
  const [given, setGiven] = useState<PortionResult | null>(null);
  const ask = useServerForm({
    defaults: {
      rule: conventions().body === "lb" ? "a cup a day per 20 lb" : "a cup a day per 10 kg",
      recipe: String(current.recipes[0]?.id ?? ""),
    },
    send: ({ rule, recipe }: { rule: string; recipe: string }) =>
      take(
        api.POST("/api/cases/{id}/volume", {
          params: { path: { id: current.id } },
          body: { rule, recipe: Number(recipe) },
        }),
      ),
    onSaved: setGiven,
  });
  const { form } = ask;
  if (current.recipes.length === 0) return null;
  return (
    <section>
      <h2>A rule that someone brings</h2>
      <Form
        of={ask}
        className="flex flex-wrap items-end gap-3"
        actions={<Button type="submit">What does it give?</Button>}
      >
        <TextField
          form={form}
          id="volume-rule"
          name="rule"
          label="Rule"
          className="w-96 max-w-full"
        />
        <Select
          label="Recipe"
          value={form.watch("recipe")}
          onChange={(recipe) => form.setValue("recipe", recipe)}
          options={current.recipes.map((r) => ({ id: String(r.id), label: r.name }))}
        />
      </Form>
      {given && (
        <div role="status">
          <p>
            <b>{rangeOf(given)} a day</b>, {sharesOf(given)} of the target.
          </p>
          <Trace steps={given.high ? [given.step, given.high] : [given.step]} />
        </div>
      )}
    </section>
  );
}
