import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { api, type Batch, take } from "~/api/client";
import { day, decimal, figure, foodWeight, number, told } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget } from "~/shared/keys";
import { Button } from "~/ui";
import { Boxes } from "./Boxes";
import { boxesText } from "./Dogs";
import { OwnersLinks } from "./OwnersLinks";

/** The batches of a case: what each weighed, what a meal of it is, and the way to throw one away. */
export function Batches({ batches }: { batches: readonly Batch[] }) {
  return (
    <section aria-label="Batches" className="mt-8">
      <h3 className="font-semibold">Batches</h3>
      {batches.length === 0 ? (
        <p className="text-soft">
          None is kept yet. A batch that is kept has a code; when it is cooked, its weight is put
          down here and sets what a meal is.
        </p>
      ) : (
        <ul className="mt-1 border-line border-t">
          {batches.map((batch) => (
            <li key={batch.id} className="border-line border-b py-2">
              <OneBatch batch={batch} />
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function OneBatch({ batch }: { batch: Batch }) {
  const [open, setOpen] = useState<"weigh" | "throw" | "link" | "boxes" | null>(null);
  const { plan } = batch;
  const code = useRef<HTMLElement>(null);
  function done() {
    setOpen(null);
    // What was pressed goes away with its form.
    code.current?.focus();
  }
  return (
    <>
      <p className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <b ref={code} tabIndex={-1} className="font-semibold tabular-nums">
          {batch.code}
        </b>
        <span>
          {batch.recipe_name}, {number(plan.days, plan.days % 1 ? 1 : 0)} days for{" "}
          {plan.eaters.map((e) => e.name).join(" and ")}
        </span>
        <span className={batch.draft ? "text-madder" : "text-soft"}>{batch.edition}</span>
        <span className="text-soft">cooked on {day(batch.cook_on)}</span>
        <span className="ml-auto flex flex-wrap items-baseline gap-3">
          {!batch.thrown && (
            <Link to={`/cook/batch/${batch.id}`} className="underline">
              Cook it
            </Link>
          )}
          <a href={`/papers/batches/${batch.id}`} className="underline">
            List to cook by
          </a>
          {!batch.thrown && (
            <>
              <button
                type="button"
                className="underline"
                aria-expanded={open === "weigh"}
                onClick={() => setOpen(open === "weigh" ? null : "weigh")}
              >
                {batch.finished ? "Weigh it again" : "Weigh the finished batch"}
              </button>
              <button
                type="button"
                className="underline"
                aria-expanded={open === "boxes"}
                onClick={() => setOpen(open === "boxes" ? null : "boxes")}
              >
                Boxes and labels
              </button>
              {!batch.draft && (
                <button
                  type="button"
                  className="underline"
                  aria-expanded={open === "link"}
                  onClick={() => setOpen(open === "link" ? null : "link")}
                >
                  Let the owner cook it
                </button>
              )}
              <button
                type="button"
                className="underline"
                aria-expanded={open === "throw"}
                onClick={() => setOpen(open === "throw" ? null : "throw")}
              >
                Throw it away
              </button>
            </>
          )}
        </span>
      </p>
      {batch.thrown && (
        <p className="border-madder stile">Thrown away, not to be fed: {batch.thrown}</p>
      )}
      {batch.weighed && !batch.thrown && <WeighedWords batch={batch} />}
      {open === "weigh" && <WeighForm batch={batch} onDone={done} />}
      {open === "boxes" && <Boxes batch={batch} />}
      {open === "link" && <OwnersLinks batch={batch} />}
      {open === "throw" && <ThrowForm batch={batch} onDone={done} />}
    </>
  );
}

function WeighedWords({ batch }: { batch: Batch }) {
  const found = batch.weighed;
  if (!found) return null;
  return (
    <div className="mt-1">
      {found.ask && (
        <p role="alert" className="mb-1 border-madder stile">
          {told(found.ask)}
        </p>
      )}
      <p>
        It weighs <b>{foodWeight(found.finished_g)}</b>, {found.sure ? "" : "about "}
        {number(found.kcal_per_gram, 2)} kcal/g
        {found.g_per_ml !== null && `, ${number(found.g_per_ml, 2)} g/ml`}.{" "}
        {found.meals.map((meal) => (
          <span key={meal.case}>
            {meal.name}: a meal is <b>{foodWeight(meal.grams_per_meal)}</b>
            {meal.cups !== null && ` (${number(meal.cups, 2)} of the weighed cup)`},{" "}
            {boxesText(meal.portions)}.{" "}
          </span>
        ))}
      </p>
    </div>
  );
}

function WeighForm({ batch, onDone }: { batch: Batch; onDone: () => void }) {
  const client = useQueryClient();
  const [withCup, setWithCup] = useState(batch.finished?.cup_g != null);
  const text = (value: number | null | undefined) => (value == null ? "" : String(value));
  const form = useServerForm({
    keptAs: `batch-weigh-${batch.id}`,
    defaults: {
      finished_g: text(batch.finished?.finished_g),
      cup_g: text(batch.finished?.cup_g),
      cup_ml: text(batch.finished?.cup_ml ?? 250),
    },
    send: (typed: { finished_g: string; cup_g: string; cup_ml: string }) =>
      take(
        api.POST("/api/batches/{id}/weighed", {
          params: { path: { id: batch.id } },
          body: {
            version: batch.version,
            weighed: {
              finished_g: decimal(typed.finished_g),
              cup_g: withCup ? figure(typed.cup_g) : null,
              cup_ml: withCup && figure(typed.cup_g) !== null ? figure(typed.cup_ml) : null,
            },
          },
        }),
      ),
    onSaved: () => {
      void forget(client, "batch");
      onDone();
    },
  });
  return (
    <Form
      of={form}
      className="mt-2 flex max-w-md flex-col gap-2"
      actions={
        <>
          <Button kind="solid" type="submit" busy={form.pending}>
            Put it down
          </Button>
          <Button kind="quiet" onClick={onDone}>
            Cancel
          </Button>
        </>
      }
    >
      <TextField
        form={form.form}
        id={`finished-${batch.id}`}
        name="finished_g"
        label="All of the finished food, without its vessels, g"
        hint={`Expected: ${foodWeight(batch.plan.finished.grams)}`}
        figure
        required
      />
      <label className="flex items-center gap-1.5">
        <input type="checkbox" checked={withCup} onChange={(e) => setWithCup(e.target.checked)} />
        One level cup of it was weighed too
      </label>
      {withCup && (
        <div className="flex gap-4">
          <TextField
            form={form.form}
            id={`cup-g-${batch.id}`}
            name="cup_g"
            label="It weighs, g"
            figure
          />
          <TextField
            form={form.form}
            id={`cup-ml-${batch.id}`}
            name="cup_ml"
            label="The cup, ml"
            figure
          />
        </div>
      )}
    </Form>
  );
}

function ThrowForm({ batch, onDone }: { batch: Batch; onDone: () => void }) {
  const client = useQueryClient();
  const form = useServerForm({
    defaults: { reason: "" },
    send: ({ reason }: { reason: string }) =>
      take(
        api.POST("/api/batches/{id}/thrown", {
          params: { path: { id: batch.id } },
          body: { reason, version: batch.version },
        }),
      ),
    onSaved: () => {
      void forget(client, "batch");
      onDone();
    },
  });
  return (
    <Form
      of={form}
      className="mt-2 flex max-w-md flex-col gap-2"
      actions={
        <>
          <Button kind="danger" type="submit" busy={form.pending}>
            Throw {batch.code} away
          </Button>
          <Button kind="quiet" onClick={onDone}>
            Cancel
          </Button>
        </>
      }
    >
      <TextField
        form={form.form}
        id={`thrown-${batch.id}`}
        name="reason"
        label="Why is it not fed?"
        hint="It stays on record with this. It cannot be taken back."
        required
        maxLength={200}
      />
    </Form>
  );
}
