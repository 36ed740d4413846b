import { type ReactNode, useState } from "react";
import { Button, Field, Select, TextInput } from "../../ui";

export function Block({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="flex flex-col gap-2">
      <h2 className="text-lg">{title}</h2>
      {children}
    </section>
  );
}

export function Row({ children }: { children: ReactNode }) {
  return <div className="flex flex-wrap gap-3">{children}</div>;
}

function slug(label: string): string {
  return `intake-${label.toLowerCase().replace(/[^a-z]+/g, "-")}`;
}

/** Saves when the field is left, if it changed. */
export function Text({
  label,
  value,
  list,
  onSave,
}: {
  label: string;
  value: string;
  list?: string[];
  onSave: (value: string) => void;
}) {
  const [text, setText] = useState(value);
  return (
    <Field id={slug(label)} label={label}>
      <TextInput
        id={slug(label)}
        value={text}
        list={list ? `${slug(label)}-list` : undefined}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text !== value && onSave(text.trim())}
        className="w-44"
      />
      {list && (
        <datalist id={`${slug(label)}-list`}>
          {list.map((item) => (
            <option key={item} value={item} />
          ))}
        </datalist>
      )}
    </Field>
  );
}

/** The age follows from it. Saved when the box is left. */
export function Birth({ value, onSave }: { value: string; onSave: (value: string) => void }) {
  const [text, setText] = useState(value);
  return (
    <Field id="born" label="Born (age follows)">
      <TextInput
        id="born"
        type="date"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text !== value && onSave(text)}
        className="w-36"
      />
    </Field>
  );
}

export function Figure({
  label,
  value,
  onSave,
}: {
  label: string;
  value: number | null | undefined;
  onSave: (value: number | null) => void;
}) {
  const [text, setText] = useState(value?.toString() ?? "");
  return (
    <Field id={slug(label)} label={label}>
      <TextInput
        id={slug(label)}
        inputMode="decimal"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => {
          const next = text.trim() === "" ? null : Number(text.replace(",", "."));
          if (next !== (value ?? null)) onSave(next);
        }}
        className="w-28 text-right"
      />
    </Field>
  );
}

export function Choice<T extends string>({
  label,
  value,
  options,
  onSave,
}: {
  label: string;
  value: T;
  options: readonly T[];
  onSave: (value: T) => void;
}) {
  return (
    <div className="flex flex-col gap-1">
      <span className="font-medium">{label}</span>
      <Select
        label={label}
        value={value}
        onChange={onSave}
        options={options.map((id) => ({ id, label: id }))}
      />
    </div>
  );
}

export function Asked({
  label,
  value,
  onChange,
}: {
  label: string;
  value: boolean | undefined;
  onChange: (value: boolean) => void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      <input
        type="checkbox"
        className="accent-verdigris"
        checked={value ?? false}
        onChange={(e) => onChange(e.target.checked)}
      />
      {label}
    </label>
  );
}

type Cells = Record<string, unknown>;

/** A small table whose rows are edited in place; a row is saved once its first cell is filled. */
export function Rows({
  title,
  rows,
  columns,
  numbers = [],
  choices = {},
  onSave,
  children,
}: {
  title: string;
  rows: readonly object[];
  columns: [string, string][];
  numbers?: string[];
  choices?: Record<string, string[]>;
  onSave: (rows: Cells[]) => void;
  children?: ReactNode;
}) {
  const [draft, setDraft] = useState<Cells[]>(() => rows.map((row) => ({ ...row })));
  const first = columns[0]?.[0] ?? "";
  function read(row: Cells): Cells {
    return Object.fromEntries(
      Object.entries(row).map(([key, value]) => [
        key,
        numbers.includes(key)
          ? value === "" || value === null || value === undefined
            ? null
            : Number(String(value).replace(",", "."))
          : value,
      ]),
    );
  }
  function commit(next: Cells[]) {
    const whole = next.filter((row) => String(row[first] ?? "").trim() !== "").map(read);
    const required = numbers.filter((key) => ["amount", "kg"].includes(key));
    if (whole.every((row) => required.every((key) => typeof row[key] === "number"))) onSave(whole);
  }
  const change = (i: number, key: string, value: string) =>
    setDraft((old) => old.map((row, j) => (i === j ? { ...row, [key]: value } : row)));
  return (
    <Block title={title}>
      {draft.length > 0 && (
        <table>
          <thead>
            <tr className="text-left text-[13px] text-soft">
              {columns.map(([key, label]) => (
                <th key={key} className="pr-2 font-normal">
                  {label}
                </th>
              ))}
              {Object.keys(choices).map((key) => (
                <th key={key} className="font-normal capitalize">
                  {key}
                </th>
              ))}
              <th aria-label="Remove" />
            </tr>
          </thead>
          <tbody>
            {draft.map((row, i) => (
              <tr key={i}>
                {columns.map(([key, label]) => (
                  <td key={key} className="pr-2">
                    <TextInput
                      aria-label={`${title}, ${label}, row ${i + 1}`}
                      value={String(row[key] ?? "")}
                      onChange={(e) => change(i, key, e.target.value)}
                      onBlur={() => commit(draft)}
                      className={numbers.includes(key) ? "w-20 text-right" : "w-full min-w-24"}
                    />
                  </td>
                ))}
                {Object.entries(choices).map(([key, options]) => (
                  <td key={key}>
                    <Select
                      label={`${title}, ${key}, row ${i + 1}`}
                      value={String(row[key] ?? options[0])}
                      onChange={(value) => {
                        const next = draft.map((r, j) => (i === j ? { ...r, [key]: value } : r));
                        setDraft(next);
                        commit(next);
                      }}
                      options={options.map((id) => ({ id, label: id }))}
                    />
                  </td>
                ))}
                <td>
                  <button
                    type="button"
                    aria-label={`Remove row ${i + 1} of ${title}`}
                    onClick={() => {
                      const next = draft.filter((_, j) => j !== i);
                      setDraft(next);
                      commit(next);
                    }}
                    className="size-7 rounded text-soft hover:bg-groove hover:text-madder"
                  >
                    ×
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {children}
      <Button className="self-start" onClick={() => setDraft([...draft, {}])}>
        Add to “{title}”
      </Button>
    </Block>
  );
}
