import {
  createContext,
  type ReactNode,
  useContext,
  useEffect,
  useId,
  useRef,
  useState,
} from "react";
import { flushSync } from "react-dom";
import type { Case } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { ageWords, bodyFigure, when } from "~/shared/format";
import { ClashAt, SavingNote, UndoRedo } from "~/shared/saving/SavingNote";
import { type Saving as RecordSaving, useDraft } from "~/shared/saving/useDraft";
import { Button, Field, TextInput } from "~/ui";
import { Select } from "~/ui/Select";

const Saving = createContext<RecordSaving | null>(null);

/** The saving of the record that the fields belong to. */
export function useSaving(): RecordSaving {
  const saving = useContext(Saving);
  if (!saving) throw new Error("fields stand inside RecordFields");
  return saving;
}

/** Fields of any record, each saved by itself. */
export function RecordFields({ saving, children }: { saving: RecordSaving; children: ReactNode }) {
  return <Saving.Provider value={saving}>{children}</Saving.Provider>;
}

/** Fields of a case, each saved by itself: what stands inside may be a Box, a Choice, a Tick, Rows. */
export function CaseFields({ current, children }: { current: Case; children: ReactNode }) {
  const saving = useDraft("case", current.id, current);
  return <Saving.Provider value={saving}>{children}</Saving.Provider>;
}

/** Undo and redo of the case, and what of it could not be stored. */
export function CaseSaved() {
  const saving = useSaving();
  return (
    <div className="flex flex-col gap-1">
      <UndoRedo saving={saving} />
      <SavingNote saving={saving} words={fieldWords} shown={isOnPage} />
    </div>
  );
}

/** Whether a field of the record stands on the page, where its own trouble is said. */
export function isOnPage(path: string): boolean {
  return document.querySelector(`[data-field="${CSS.escape(path)}"]`) !== null;
}

/** A field as it is called where it does not stand. */
export function fieldWords(path: string): string {
  const words = path.replace(/^(dog|intake|owner)\./, "").replaceAll(/[._]/g, " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** While typing rests this long, what was typed is saved; leaving the box saves at once. */
const TYPING_MS = 1500;

export function Block({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="flex flex-col gap-2">
      <h2>{title}</h2>
      {children}
    </section>
  );
}

export function Row({ children }: { children: ReactNode }) {
  return <div className="flex flex-wrap gap-3">{children}</div>;
}

/** What a field holds: words, a figure, a dog's weight (kept in kg), its age (in months), a day. */
export type Holds = "words" | "figure" | "weight" | "age" | "day";

/** What can be written where it is not plain. */
const EXAMPLES: Partial<Record<Holds, string>> = { age: "9 years" };

/** What is stored as it stands in a box. */
function written(value: unknown, holds: Holds = "words"): string {
  if (typeof value === "number") {
    if (holds === "weight") return boxed(bodyFigure(value), 2);
    return holds === "age" ? ageWords(value) : boxed(value, 4);
  }
  if (value === null || value === undefined) return "";
  return holds === "day" ? when(String(value)) : String(value);
}

/** A number as it is typed here: with the decimals it has, thousands not parted. */
function boxed(value: number, most: number): string {
  const text = String(Number(value.toFixed(most)));
  return conventions().numbers.endsWith("comma") ? text.replace(".", ",") : text;
}

/** What is sent for what was typed: a figure alone is in the unit that the box says. */
function meant(text: string, holds: Holds): string {
  const bare = holds === "weight" && /^[\d\s.,/]+$/.test(text) && /\d/.test(text);
  return bare ? `${text} ${conventions().body}` : text;
}

const TALL_ROWS = 4;
const TALL =
  "max-w-full rounded-corner border border-edge bg-sheet p-2 placeholder:text-soft aria-[invalid=true]:border-madder";

/** A box for a field of the case: saved when it is left, shown as stored once it is. The server reads
 * figures as they are written ("9 lb", "2 1/3"); what it cannot read stays in the box with the reason. */
export function Box({
  path,
  label,
  hint,
  list,
  holds = "words",
  tall = false,
  example = EXAMPLES[holds],
  className,
}: {
  path: string;
  label: string;
  hint?: string;
  list?: readonly string[];
  holds?: Holds;
  /** Room for some lines. */
  tall?: boolean;
  /** What may stand there, while nothing does. */
  example?: string;
  className?: string;
}) {
  const id = useId();
  const saving = useSaving();
  const shown = written(saving.value(path), holds);
  const figure = holds === "figure" || holds === "weight";
  const unit = holds === "weight" ? `, ${conventions().body}` : "";
  const error = saving.error(path);
  const [text, setText] = useState(shown);
  const focused = useRef(false);
  // What is stored may be written otherwise than it was typed: "9 lb" becomes 4.0823.
  useEffect(() => {
    if (!focused.current) setText(shown);
  }, [shown]);
  function take(typed: string, wait: number) {
    if (typed.trim() === shown) return;
    saving.set(path, meant(typed.trim(), holds), { merge: path, wait });
  }
  const input = {
    "data-field": path,
    id,
    value: text,
    "aria-invalid": !!error,
    onFocus: () => {
      focused.current = true;
    },
    onChange: (e: { target: { value: string } }) => {
      setText(e.target.value);
      // A day or an age that is half typed reads as another one.
      if (holds !== "day" && holds !== "age") take(e.target.value, TYPING_MS);
    },
    onBlur: () => {
      focused.current = false;
      take(text, 0);
      saving.draft.leave();
      void saving.draft.flush();
    },
  };
  return (
    <Field
      id={id}
      label={label + unit}
      hint={toldOtherwise(saving, path, shown) ?? hint}
      error={error}
    >
      {tall ? (
        <textarea {...input} rows={TALL_ROWS} className={`${TALL} ${className ?? ""}`} />
      ) : (
        <TextInput
          {...input}
          inputMode={figure ? "decimal" : undefined}
          placeholder={example}
          list={list ? `${id}-list` : undefined}
          className={
            className ?? (figure ? "w-28 text-right" : holds === "words" ? "w-44" : "w-36")
          }
        />
      )}
      {list && (
        <datalist id={`${id}-list`}>
          {list.map((item) => (
            <option key={item} value={item} />
          ))}
        </datalist>
      )}
      <ClashAt saving={saving} path={path} what={label} />
    </Field>
  );
}

/** How a weight was told, where it was told in another unit than it is written in. */
function toldOtherwise(saving: RecordSaving, path: string, shown: string): string | undefined {
  const typed = saving.value("intake.typed") as Record<string, string> | undefined;
  const text = typed?.[path.replace("dog.", "")];
  const same = text === undefined || text === shown || text === `${shown} ${conventions().body}`;
  return same ? undefined : `told as ${text}`;
}

/** One of several values of a field. `options`: what is stored, and how it is said. */
export function Choice({
  path,
  label,
  options,
  className,
}: {
  path: string;
  label: string;
  options: readonly { value: string | number | boolean | null; label: string }[];
  className?: string;
}) {
  const saving = useSaving();
  const now = options.findIndex((o) => o.value === (saving.value(path) ?? null));
  return (
    <div className="flex flex-col gap-1" data-field={path}>
      <span className="font-medium">{label}</span>
      <Select
        label={label}
        value={String(now)}
        onChange={(at) => saving.set(path, options[Number(at)]?.value ?? null)}
        options={options.map((o, i) => ({ id: String(i), label: o.label }))}
        className={className}
      />
      <FieldTrouble path={path} what={label} />
    </div>
  );
}

/** Why a field could not be stored, and what else it was set to. */
export function FieldTrouble({ path, what }: { path: string; what: string }) {
  const saving = useSaving();
  const error = saving.error(path);
  return (
    <>
      {error && (
        <p role="alert" className="max-w-80 text-data text-madder">
          Not saved: {error}
        </p>
      )}
      <ClashAt saving={saving} path={path} what={what} />
    </>
  );
}

export function Tick({ path, label }: { path: string; label: string }) {
  const saving = useSaving();
  return (
    <label className="flex items-center gap-1.5" data-field={path}>
      <input
        type="checkbox"
        className="accent-verdigris"
        checked={saving.value(path) === true}
        onChange={(e) => saving.set(path, e.target.checked)}
      />
      {label}
    </label>
  );
}

type Cells = Record<string, unknown>;

/** A small table whose rows are edited in place. A row is kept as soon as something stands in it; what
 * still lacks or cannot be read is said under the table, and nothing that was typed goes away. */
export function Rows({
  path,
  title,
  columns,
  holds = {},
  choices = {},
  children,
}: {
  path: string;
  title: string;
  columns: readonly (readonly [string, string])[];
  /** What columns hold that hold no words. */
  holds?: Record<string, Holds>;
  choices?: Record<string, readonly string[]>;
  children?: ReactNode;
}) {
  const saving = useSaving();
  const stored = (saving.value(path) ?? []) as Cells[];
  const [draft, setDraft] = useState<Cells[]>(stored);
  const error = saving.error(path);
  const table = useRef<HTMLTableElement>(null);
  const kept = JSON.stringify(stored);
  // Rows as they are stored come back written otherwise ("2 1/3" as 2.3333), with what was left out.
  useEffect(() => {
    setDraft((old) => {
      if (JSON.stringify(old.filter(hasContent)) === kept) return old;
      const filled = old.filter(hasContent);
      const open = old.length - filled.length;
      return [...(JSON.parse(kept) as Cells[]), ...Array.from({ length: open }, () => ({}))];
    });
  }, [kept]);
  const commit = (next: Cells[], merge?: string) => {
    const rows = next.filter(hasContent).map((row) => meantRow(row, holds));
    if (JSON.stringify(rows) === kept) return;
    saving.set(path, rows, merge ? { merge, wait: TYPING_MS } : {});
  };
  const change = (i: number, key: string, value: string) => {
    const next = draft.map((row, j) => (i === j ? { ...row, [key]: value } : row));
    setDraft(next);
    commit(next, `${path} ${i} ${key}`);
  };
  return (
    <Block title={title}>
      {draft.length > 0 && (
        <table ref={table}>
          <thead className="max-wide:sr-only">
            <tr className="text-left text-data text-soft">
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
              <tr
                key={i}
                className="max-wide:mb-2 max-wide:flex max-wide:flex-wrap max-wide:items-end max-wide:gap-2 max-wide:border-line max-wide:border-b max-wide:pb-2"
              >
                {columns.map(([key, label]) => (
                  <td key={key} className="pr-2 max-wide:flex max-wide:flex-col max-wide:pr-0">
                    <span aria-hidden="true" className="text-data text-soft wide:hidden">
                      {label}
                    </span>
                    <TextInput
                      aria-label={`${title}, ${label}, row ${i + 1}`}
                      value={written(row[key], holds[key])}
                      onChange={(e) => change(i, key, e.target.value)}
                      onBlur={() => {
                        saving.draft.leave();
                        void saving.draft.flush();
                      }}
                      className={
                        holds[key] === "figure" || holds[key] === "weight"
                          ? "w-20 text-right"
                          : "w-full min-w-24"
                      }
                    />
                  </td>
                ))}
                {Object.entries(choices).map(([key, options]) => (
                  <td key={key}>
                    <Select
                      label={`${title}, ${key}, row ${i + 1}`}
                      value={String(row[key] ?? "")}
                      onChange={(value) => {
                        const next = draft.map((r, j) => (i === j ? { ...r, [key]: value } : r));
                        setDraft(next);
                        commit(next);
                      }}
                      placeholder="not said"
                      options={options.map((option) => ({ id: option, label: option }))}
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
                    className="size-7 rounded-corner text-soft hover:bg-groove hover:text-madder"
                  >
                    ×
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {error && (
        <p role="alert" data-field={path} className="text-data text-madder">
          Not saved yet: {error}
        </p>
      )}
      <div data-field={path}>
        <ClashAt saving={saving} path={path} what={title} />
      </div>
      {children}
      <Button
        className="self-start"
        data-adds={path}
        aria-label={`Add to “${title}”`}
        onClick={() => {
          // The new row is entered at once: it lies before this button.
          flushSync(() => setDraft([...draft, {}]));
          table.current?.querySelector<HTMLElement>("tbody tr:last-child input")?.focus();
        }}
      >
        + Add
      </Button>
    </Block>
  );
}

function meantRow(row: Cells, holds: Record<string, Holds>): Cells {
  return Object.fromEntries(
    Object.entries(row).map(([key, value]) => [
      key,
      typeof value === "string" ? meant(value, holds[key] ?? "words") : value,
    ]),
  );
}

function hasContent(row: Cells): boolean {
  return Object.values(row).some((value) => value !== null && String(value ?? "").trim() !== "");
}
