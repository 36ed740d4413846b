import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import type { UseFormReturn } from "react-hook-form";
import { api, type ReadLine, type ShelfEntry, type ShelfPage, take } from "~/api/client";
import { figure, spelled } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { useSettled } from "~/shared/useSettled";
import { Button, Field } from "~/ui";
import { Select } from "~/ui/Select";
import { Toggle } from "~/ui/Toggle";
import { figureOf } from "./figureOf";

/** What the form holds; figures as they are typed. meant: what was said of a line, by its text. */
interface LabelFields {
  name: string;
  kind: "single" | "premix";
  unit: string;
  per: string;
  unit_g: string;
  tsp_g: string;
  lines: string;
  meant: Record<string, string>;
  rest: "" | "nothing" | "unknown";
  most: string;
  most_for: "1000-kcal" | "10-kg-day";
  heat: string;
  add: string;
  ingredients: string;
  source_groups: string[];
  price: string;
  pack: string;
}

const ADD = [
  "stir in after cooking",
  "after cooking, below 40 °C",
  "at serving, never cooked",
  "any time",
];
const HEAT = ["stable", "partly destroyed by heat", "destroyed by heat", "oxidises"];

function fieldsOf(entry: ShelfEntry | undefined): LabelFields {
  const label = entry?.label;
  const said = (value: number | null | undefined) => (value == null ? "" : String(value));
  return {
    name: label?.name ?? "",
    kind: label?.kind ?? "single",
    unit: label?.unit ?? "tablet",
    per: said(label?.per ?? 1),
    unit_g: said(label?.unit_g),
    tsp_g: said(label?.tsp_g),
    lines: (label?.lines ?? []).map((line) => line.text).join("\n"),
    meant: Object.fromEntries(
      (label?.lines ?? []).filter((l) => l.meant).map((l) => [l.text, l.meant ?? ""]),
    ),
    rest: label?.rest ?? "",
    most: said(label?.most),
    most_for: label?.most_for ?? "1000-kcal",
    heat: label?.heat ?? "",
    add: label?.add ?? "",
    ingredients: label?.ingredients ?? "",
    source_groups: label?.source_groups ?? [],
    price: said(entry?.price),
    pack: said(entry?.pack),
  };
}

/** The label as the server reads it. */
function labelOf(form: LabelFields) {
  const { name, kind, unit, rest, most_for, heat, add, ingredients, source_groups } = form;
  return {
    name: name.trim() || "–",
    kind,
    unit,
    per: figure(form.per) ?? 1,
    unit_g: figure(form.unit_g),
    tsp_g: figure(form.tsp_g),
    lines: form.lines
      .split("\n")
      .map((text) => text.trim())
      .filter(Boolean)
      .map((text) => ({ text, meant: form.meant[text] ?? "" })),
    rest,
    most: figure(form.most),
    most_for,
    heat,
    add,
    ingredients,
    source_groups,
  };
}

/** Enter the label of a supplement, with what is read of it beside. */
export function LabelForm({
  page,
  entry,
  onClose,
  onSaved,
}: {
  page: ShelfPage;
  entry: ShelfEntry | undefined;
  onClose: () => void;
  onSaved: (entry: ShelfEntry) => void;
}) {
  const client = useQueryClient();
  const label = useServerForm({
    defaults: fieldsOf(entry),
    keptAs: `shelf ${entry ? `${entry.id} ${entry.version}` : "new"}`,
    send: (form: LabelFields) => {
      const body = {
        label: labelOf(form),
        price: figure(form.price),
        pack: figure(form.pack),
        version: entry?.version ?? null,
      };
      return entry
        ? take(api.PUT("/api/shelf/{slug}", { params: { path: { slug: entry.id } }, body }))
        : take(api.POST("/api/shelf", { body }));
    },
    onSaved: (saved) => {
      void forget(client, "shelf");
      onSaved(saved);
    },
  });
  const { form } = label;
  const now = form.watch();
  const unit = page.units.find((u) => u.id === now.unit);
  const one = unit?.weight ? "g" : (unit?.words ?? "unit");
  return (
    <Form
      of={label}
      className="flex flex-col gap-3"
      actions={
        <>
          <Button kind="solid" type="submit" busy={label.pending}>
            {entry ? "Save the label" : "Put it on the shelf"}
          </Button>
          <Button
            onClick={() => {
              label.forget();
              onClose();
            }}
          >
            Cancel
          </Button>
        </>
      }
    >
      <h2>{entry ? entry.name : "A label"}</h2>
      <div className="flex flex-wrap items-start gap-3">
        <TextField
          form={form}
          id="shelf-name"
          name="name"
          label="Name"
          required
          className="w-72"
          maxLength={160}
          autoComplete="off"
        />
        <div className="flex flex-col gap-1">
          <span className="font-medium">It is</span>
          <Toggle
            label="It is"
            value={now.kind}
            onChange={(kind) => form.setValue("kind", kind)}
            options={[
              { id: "single", label: "for some nutrients" },
              { id: "premix", label: "an all-in-one" },
            ]}
          />
        </div>
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <TextField form={form} id="shelf-per" name="per" label="The lines are for" figure />
        <Select
          label="What the label counts in"
          value={now.unit}
          onChange={(id) => form.setValue("unit", id)}
          options={page.units.map((u) => ({ id: u.id, label: u.words }))}
        />
        {unit?.weight ? (
          <TextField form={form} id="shelf-tsp" name="tsp_g" label="A level teaspoon, g" figure />
        ) : (
          <TextField
            form={form}
            id="shelf-unit-g"
            name="unit_g"
            label={`One ${one} weighs, g`}
            figure
            required={unit?.weighs}
          />
        )}
      </div>
      <div className="grid items-start gap-4 mid:grid-cols-2">
        <Field
          id="shelf-lines"
          label="What it holds, a nutrient a line"
          hint="As printed: Zinc (as zinc gluconate) 15 mg. Percentages and stars may stay."
          error={form.getFieldState("lines", form.formState).error?.message}
        >
          <textarea
            id="shelf-lines"
            rows={10}
            {...form.register("lines")}
            className="rounded-corner border border-edge bg-sheet p-2"
          />
        </Field>
        <Read form={form} page={page} one={one} />
      </div>
      <div className="flex flex-col gap-1">
        <span className="font-medium">Of all the label does not name, it holds</span>
        <Toggle
          label="Of all the label does not name, it holds"
          value={now.rest}
          onChange={(rest) => form.setValue("rest", rest)}
          options={[
            { id: "nothing", label: "nothing that counts" },
            { id: "unknown", label: "what is not known" },
          ]}
        />
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <TextField
          form={form}
          id="shelf-add"
          name="add"
          label="When it is added"
          list={ADD}
          className="w-56"
        />
        <TextField
          form={form}
          id="shelf-heat"
          name="heat"
          label="Heat"
          list={HEAT}
          className="w-48"
        />
        <TextField form={form} id="shelf-most" name="most" label={`At most, ${one}`} figure />
        <Select
          label="At most for"
          value={now.most_for}
          onChange={(id) => form.setValue("most_for", id)}
          options={[
            { id: "1000-kcal", label: "per 1000 kcal" },
            { id: "10-kg-day", label: "a day for 10 kg of dog" },
          ]}
        />
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <TextField form={form} id="shelf-price" name="price" label="Price of a pack" figure />
        <TextField
          form={form}
          id="shelf-pack"
          name="pack"
          label={`A pack holds, ${unit?.piece || "g"}`}
          figure
        />
      </div>
      <Field
        id="shelf-ingredients"
        label="Other ingredients"
        hint="Searched for what a dog may react to, the shell of a capsule included."
      >
        <textarea
          id="shelf-ingredients"
          rows={2}
          {...form.register("ingredients")}
          className="rounded-corner border border-edge bg-sheet p-2"
        />
      </Field>
      <fieldset className="flex flex-wrap gap-x-3 gap-y-1">
        <legend className="mb-1 font-medium">It comes from, beside what stands there</legend>
        {page.source_groups.map((group) => (
          <label key={group} className="flex items-center gap-1">
            <input
              type="checkbox"
              className="accent-verdigris"
              value={group}
              {...form.register("source_groups")}
            />
            {group.replaceAll("-", " ")}
          </label>
        ))}
      </fieldset>
    </Form>
  );
}

/** What is read of the label while it is typed. */
function Read({
  form,
  page,
  one,
}: {
  form: UseFormReturn<LabelFields>;
  page: ShelfPage;
  one: string;
}) {
  const now = form.watch();
  const body = useSettled(labelOf(now));
  const read = useQuery({
    queryKey: keyOf("label", "shelf", body),
    queryFn: () => take(api.POST("/api/shelf/label", { body })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  function say(text: string, meant: string) {
    form.setValue("meant", { ...form.getValues("meant"), [text]: meant }, { shouldDirty: true });
  }
  if (read.error) {
    return (
      <p role="alert" className="text-madder">
        {read.error.message}
      </p>
    );
  }
  if (!read.data) return <p className="text-soft">Reading…</p>;
  const { lines, brings, open, cautions, source_groups } = read.data;
  return (
    <section aria-label="As it is read" className="border-oak stile" aria-live="polite">
      <h3 className="font-semibold">As it is read</h3>
      {lines.length === 0 && <p className="text-soft">Nothing yet.</p>}
      <ul className="flex flex-col gap-1">
        {lines.map((line, i) => (
          <LineRead
            key={`${i} ${line.text}`}
            line={line}
            page={page}
            said={now.meant[line.text] ?? ""}
            onSay={(meant) => say(line.text, meant)}
          />
        ))}
      </ul>
      {brings.length > 0 && (
        <p className="mt-2">
          In {one === "g" ? "a gram" : `one ${one}`}:{" "}
          <b>
            {brings
              .map((b) => `${spelled(b.name)} ${figureOf(b.amount)} ${spelled(b.unit)}`)
              .join(", ")}
          </b>
        </p>
      )}
      {source_groups.length > 0 && <p>A dog may react to: {source_groups.join(", ")}.</p>}
      {open.map((o) => (
        <p key={`${o.field} ${o.message}`} className="text-madder">
          Still to do: {o.message}.
        </p>
      ))}
      {cautions.map((text) => (
        <p key={text} className="text-soft">
          {text}
        </p>
      ))}
    </section>
  );
}

const MARKS = { counted: "✓", nothing: "–", unknown: "?", open: "!" } as const;

function LineRead({
  line,
  page,
  said,
  onSay,
}: {
  line: ReadLine;
  page: ShelfPage;
  said: string;
  onSay: (meant: string) => void;
}) {
  return (
    <li className={line.state === "open" ? "text-ink" : "text-soft"}>
      <span aria-hidden="true" className={line.state === "open" ? "font-bold text-madder" : ""}>
        {MARKS[line.state]}{" "}
      </span>
      {line.text}: <span className="text-ink">{line.says}</span>
      {said && (
        <Button small className="ml-1" onClick={() => onSay("")}>
          Ask again
        </Button>
      )}
      {line.state === "open" && (
        <span className="mt-0.5 flex flex-wrap items-center gap-1">
          {line.options.map((option) => (
            <Button small key={option.id} onClick={() => onSay(option.id)}>
              {option.say}
            </Button>
          ))}
          <Select
            label={`${line.text} counts as`}
            placeholder="counts as…"
            value=""
            onChange={onSay}
            options={page.nutrients.map((n) => ({ id: n.id, label: spelled(n.name) }))}
            className="max-w-44"
          />
        </span>
      )}
    </li>
  );
}
