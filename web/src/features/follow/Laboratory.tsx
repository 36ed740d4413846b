import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Case, type Follow, type LabSeries, take } from "~/api/client";
import { today } from "~/shared/days";
import { day, figure, number, told } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { newKey } from "~/shared/newKey";
import { Button } from "~/ui";
import { LabReport } from "./LabReport";

const STANDS = {
  within: "within its range",
  under: "under its range",
  over: "over its range",
  unknown: "its range is not put down",
} as const;

/** Laboratory values, each against the range of its own report: what they mean is for the veterinarian. */
export function Laboratory({ current, found }: { current: Case; found: Follow }) {
  const [open, setOpen] = useState<"" | "value" | "report">("");
  return (
    <section aria-label="Laboratory values" className="mt-6">
      <h3 className="font-semibold">Laboratory values</h3>
      {found.series.length > 0 && (
        <ul className="mt-1 border-line border-t">
          {found.series.map((series) => (
            <OneTest key={series.test} series={series} found={found} caseId={current.id} />
          ))}
        </ul>
      )}
      {found.series.length > 0 && (
        <p className="text-data text-soft">
          What a value means is for the veterinarian. Only the range that its own report prints
          counts.
        </p>
      )}
      {open === "value" && <LabForm caseId={current.id} onDone={() => setOpen("")} />}
      {open === "report" && (
        <LabReport caseId={current.id} onDone={() => setOpen("")} onKept={() => undefined} />
      )}
      {open === "" && (
        <p className="mt-1 flex gap-4">
          <button type="button" className="underline" onClick={() => setOpen("value")}>
            Put a value down
          </button>
          <button type="button" className="underline" onClick={() => setOpen("report")}>
            Paste a report
          </button>
        </p>
      )}
    </section>
  );
}

function OneTest({ series, found, caseId }: { series: LabSeries; found: Follow; caseId: number }) {
  const last = series.points.at(-1);
  const rows = found.labs.filter((l) => l.value.test === series.test);
  if (!last) return null;
  return (
    <li className="border-line border-b py-1">
      <details>
        <summary className="flex cursor-pointer flex-wrap items-baseline gap-x-4">
          <b className="min-w-40 font-semibold">{series.name}</b>
          <span className="tabular-nums">{told(last.printed)}</span>
          <span className={series.outside ? "text-madder" : "text-soft"}>
            {STANDS[last.stand]}
            {last.range && `, ${told(last.range)}`}
          </span>
          {series.moved && <span>moved by more than its own ups and downs</span>}
          <span className="ml-auto text-soft">{day(last.date)}</span>
        </summary>
        <p className="mt-1 border-ink stile">
          {told(series.means)}. Ask the vet.
          {series.once && " One reading: a plan waits for a second."}
        </p>
        <ul>
          {rows.map((row) => (
            <li key={row.id} className="flex flex-wrap items-baseline gap-x-4">
              <span className={row.struck ? "text-soft line-through" : ""}>
                {day(row.value.date)}: {number(row.value.value, decimalsOf(row.value.value))}{" "}
                {row.value.unit || series.unit}
                {row.value.laboratory && `, ${row.value.laboratory}`}
                {row.value.fasted !== null && (row.value.fasted ? ", fasted" : ", not fasted")}
                {row.value.note && `, ${row.value.note}`}
              </span>
              <Strike row={row} caseId={caseId} />
            </li>
          ))}
        </ul>
        {last.notes.length > 0 && <p className="text-soft">Last: {told(last.notes.join("; "))}.</p>}
      </details>
    </li>
  );
}

function Strike({ row, caseId }: { row: Follow["labs"][number]; caseId: number }) {
  const client = useQueryClient();
  const strike = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/lab-values/{id}/struck", {
          params: { path: { id: row.id } },
          body: { struck: !row.struck, version: row.version },
        }),
      ),
    onSuccess: (seen) => client.setQueryData(keyOf("follow", caseId), seen),
    onError: () => client.invalidateQueries({ queryKey: keyOf("follow", caseId) }),
  });
  return (
    <button
      type="button"
      aria-disabled={strike.isPending}
      aria-label={`${row.struck ? "count it" : "does not count"}: ${day(row.value.date)}`}
      className="ml-auto underline aria-disabled:opacity-40"
      onClick={() => !strike.isPending && strike.mutate()}
    >
      {row.struck ? "count it" : "does not count"}
    </button>
  );
}

/** As many decimals as a figure of its size is printed with. */
export function decimalsOf(value: number): number {
  if (Number.isInteger(value)) return 0;
  return value < 10 ? 2 : value < 100 ? 1 : 0;
}

const BLANK = {
  date: "",
  test: "",
  value: "",
  unit: "",
  low: "",
  high: "",
  fasted: "",
  laboratory: "",
  note: "",
};

function LabForm({ caseId, onDone }: { caseId: number; onDone: () => void }) {
  const client = useQueryClient();
  const [key, setKey] = useState(freshKey);
  const tests = useQuery({
    queryKey: keyOf("terms", "lab-tests"),
    queryFn: () => take(api.GET("/api/lab-tests")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const form = useServerForm({
    keptAs: `lab-${caseId}`,
    defaults: { ...BLANK, date: day(today()) },
    send: (typed: typeof BLANK) =>
      take(
        api.POST("/api/cases/{id}/lab-values", {
          params: { path: { id: caseId } },
          body: {
            key,
            value: {
              ...typed,
              value: figure(typed.value) ?? Number.NaN,
              low: figure(typed.low),
              high: figure(typed.high),
              fasted: typed.fasted === "" ? null : typed.fasted === "yes",
            },
          },
        }),
      ),
    onSaved: (seen) => {
      client.setQueryData(keyOf("follow", caseId), seen);
      const { date, laboratory, fasted } = form.form.getValues();
      // A report has many values of one day.
      form.form.reset({ ...BLANK, date, laboratory, fasted });
      setKey(freshKey());
      form.form.setFocus("test");
    },
  });
  const box = { form: form.form };
  const chosen = tests.data?.find((t) => t.id === form.form.watch("test"));
  const select = "h-8 rounded-corner border border-edge bg-sheet px-2";
  const wrong = form.form.getFieldState("test", form.form.formState).error?.message;
  return (
    <Form
      of={form}
      className="mt-2 flex max-w-2xl flex-col gap-3 border-ink stile"
      actions={
        <>
          <Button kind="solid" type="submit" busy={form.pending}>
            Put the value down
          </Button>
          <Button kind="quiet" onClick={onDone}>
            Close
          </Button>
          {form.saved && <span role="status">It is put down.</span>}
        </>
      }
    >
      <div className="flex flex-wrap gap-4">
        <label className="flex flex-col gap-1">
          <span className="font-medium">Test</span>
          <select {...form.form.register("test")} required className={select}>
            <option value="">choose one</option>
            {(tests.data ?? []).map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
          {wrong && (
            <span role="alert" className="text-data text-madder">
              {wrong}
            </span>
          )}
        </label>
        <TextField
          {...box}
          id="lab-value"
          name="value"
          label="Value"
          figure
          required
          className="w-24 text-right"
        />
        <label className="flex flex-col gap-1">
          <span className="font-medium">Unit</span>
          <select {...form.form.register("unit")} className={select}>
            {(chosen?.units ?? []).map((unit, i) => (
              <option key={unit} value={i === 0 ? "" : unit}>
                {unit}
              </option>
            ))}
          </select>
        </label>
        <TextField
          {...box}
          id="lab-date"
          name="date"
          label="Day of the sample"
          required
          className="w-36"
        />
      </div>
      <div className="flex flex-wrap gap-4">
        <TextField
          {...box}
          id="lab-low"
          name="low"
          label="Range as printed, from"
          figure
          className="w-24 text-right"
        />
        <TextField
          {...box}
          id="lab-high"
          name="high"
          label="to"
          figure
          className="w-24 text-right"
        />
        <label className="flex flex-col gap-1">
          <span className="font-medium">Fasted</span>
          <select {...form.form.register("fasted")} className={select}>
            <option value="">not said</option>
            <option value="yes">yes</option>
            <option value="no">no</option>
          </select>
        </label>
        <TextField
          {...box}
          id="lab-laboratory"
          name="laboratory"
          label="Laboratory"
          maxLength={80}
        />
      </div>
      {chosen && (
        <p className="text-soft">
          {usual(chosen)}
          {chosen.fasting && " It is taken fasted."} The range of the report is what counts.
        </p>
      )}
      <TextField {...box} id="lab-note" name="note" label="Note" maxLength={300} />
    </Form>
  );
}

function usual(test: { units: string[]; low: number | null; high: number | null }): string {
  const unit = test.units[0] ?? "";
  const ends =
    test.low === null
      ? `up to ${test.high}`
      : test.high === null
        ? `${test.low} and more`
        : `${test.low} to ${test.high}`;
  return `Elsewhere often ${told(`${ends} ${unit}`)}.`;
}

function freshKey(): string {
  return `l-${newKey()}${newKey()}`;
}
