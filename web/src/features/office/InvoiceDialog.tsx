import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { FieldPath, UseFormReturn } from "react-hook-form";
import { ApiError, api, type Invoice, type InvoicesOfClient, take } from "~/api/client";
import { money } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { appended, TextPicker } from "~/shared/TextPicker";
import { useSettled } from "~/shared/useSettled";
import { Button, Dialog, Field, TextInput } from "~/ui";

interface Line {
  what: string;
  count: string;
  price: string;
  tax_percent: string;
}

interface Written {
  to: string;
  done: string;
  note: string;
  lines: Line[];
}

const isEmpty = (line: Line) => line.what.trim() === "" && line.price.trim() === "";

/** An invoice as it will stand on paper; given out in two steps, for it cannot be changed afterwards. */
export function InvoiceDialog({
  client,
  found,
  onClose,
}: {
  client: number;
  found: InvoicesOfClient;
  onClose: () => void;
}) {
  const cache = useQueryClient();
  const blank = (): Line => ({ what: "", count: "1", price: "", tax_percent: found.tax_percent });
  const [sure, setSure] = useState(false);
  const giving = useServerForm<Written, Invoice>({
    keptAs: `invoice-${client}`,
    defaults: { to: found.to, done: "", note: "", lines: [blank()] },
    send: ({ lines, ...rest }) =>
      take(
        api.POST("/api/clients/{id}/invoices", {
          params: { path: { id: client } },
          body: { ...rest, lines: lines.filter((line) => !isEmpty(line)) },
        }),
      ),
    onSaved: (made) => {
      void forget(cache, "invoices");
      onClose();
      window.open(`/papers/invoices/${made.id}`, "_blank", "noreferrer");
    },
  });
  const { form } = giving;
  const lines = form.watch("lines");
  useEffect(() => {
    // What is written anew, nobody was sure of.
    const { unsubscribe } = form.watch(() => setSure(false));
    return unsubscribe;
  }, [form]);
  const told = useSettled(JSON.stringify(lines.filter((line) => !isEmpty(line))));
  const sum = useQuery({
    queryKey: keyOf("invoices", "sum", told),
    queryFn: () =>
      take(
        api.POST("/api/invoices/sum", {
          body: { to: "", done: "", note: "", lines: JSON.parse(told) },
        }),
      ),
    enabled: told !== "[]",
    retry: false,
    placeholderData: (before) => before,
  });
  const sums = told === "[]" || sum.error ? undefined : sum.data;
  const give = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (sure) give.current?.focus();
  }, [sure]);
  return (
    <Dialog open onClose={onClose} title="New invoice" wide>
      <Form
        of={giving}
        className="flex flex-col gap-3"
        actions={
          // Keys of their own: a click must not turn into that on the key that takes its place.
          sure ? (
            <>
              <Button
                key="give"
                ref={give}
                kind="solid"
                type="submit"
                className="whitespace-nowrap"
                busy={giving.pending}
              >
                Give it out{sums ? `: ${amount(sums.total, found.currency)}` : ""}
              </Button>
              <Button onClick={() => setSure(false)}>Change something first</Button>
            </>
          ) : (
            <>
              <Button
                key="right"
                kind="solid"
                aria-disabled={sums === undefined}
                onClick={() => sums && setSure(true)}
              >
                It is right so
              </Button>
              <Button
                onClick={() => {
                  giving.forget();
                  onClose();
                }}
              >
                Cancel
              </Button>
            </>
          )
        }
      >
        <div className="grid gap-3 mid:grid-cols-[1fr_1fr]">
          <Field
            id="invoice-to"
            label="To"
            hint="Name and address, as they are to stand there."
            error={form.formState.errors.to?.message}
          >
            <textarea
              id="invoice-to"
              rows={4}
              maxLength={400}
              {...form.register("to")}
              className="rounded-corner border border-edge bg-sheet px-2 py-1"
            />
          </Field>
          <TextField
            form={form}
            id="invoice-done"
            name="done"
            label="When it was done"
            placeholder="November 2026"
            maxLength={80}
          />
        </div>
        <fieldset>
          <legend className="font-medium">What is charged</legend>
          <datalist id="charged-before">
            {found.known.map((k) => (
              <option key={k.what} value={k.what} />
            ))}
          </datalist>
          <ul className="border-line border-t">
            {lines.map((line, i) => (
              <li
                key={i}
                className="flex flex-wrap items-start gap-x-2 border-line border-b py-1.5"
              >
                <Cell
                  form={form}
                  name={`lines.${i}.what`}
                  label="What"
                  wide
                  list="charged-before"
                  onChange={(what) => {
                    const known = found.known.find((k) => k.what === what);
                    if (known && line.price === "") form.setValue(`lines.${i}.price`, known.price);
                  }}
                />
                <Cell form={form} name={`lines.${i}.count`} label="How many" />
                <Cell form={form} name={`lines.${i}.price`} label={`Each, ${found.currency}`} />
                {found.tax_name !== "" && (
                  <Cell
                    form={form}
                    name={`lines.${i}.tax_percent`}
                    label={`${found.tax_name}, %`}
                  />
                )}
                <span className="ml-auto self-end pb-1 text-right tabular-nums">
                  {sums ? amount(sumOf(lines, sums.lines, i), found.currency) : ""}
                </span>
                <button
                  type="button"
                  aria-label={`Take line ${i + 1} out`}
                  className="size-8 self-end text-soft"
                  onClick={() =>
                    form.setValue(
                      "lines",
                      lines.length === 1 ? [blank()] : lines.filter((_, j) => j !== i),
                    )
                  }
                >
                  ×
                </button>
              </li>
            ))}
          </ul>
          <div className="mt-2 flex flex-wrap items-start justify-between gap-3">
            <Button small onClick={() => form.setValue("lines", [...lines, blank()])}>
              One more line
            </Button>
            {sums && (
              <dl className="grid grid-cols-[auto_auto] gap-x-6 text-right tabular-nums">
                {found.tax_name !== "" && (
                  <>
                    <dt>Without tax</dt>
                    <dd>{amount(sums.net, found.currency)}</dd>
                    {sums.taxes.map((t) => (
                      <div key={t.percent} className="contents">
                        <dt>
                          {found.tax_name} {Number(t.percent)} %
                        </dt>
                        <dd>{amount(t.tax, found.currency)}</dd>
                      </div>
                    ))}
                  </>
                )}
                <dt className="font-semibold">To pay</dt>
                <dd className="border-ink border-b-2 font-semibold">
                  {amount(sums.total, found.currency)}
                </dd>
              </dl>
            )}
          </div>
          {sum.error && told !== "[]" && (
            <p role="alert" className="mt-1 text-madder">
              {where(sum.error)}
              {sum.error.message}
            </p>
          )}
        </fieldset>
        <div className="flex flex-col gap-1">
          <div className="flex items-end justify-between">
            <label htmlFor="invoice-note" className="font-medium">
              Note
            </label>
            <TextPicker
              of={{ client }}
              onText={(text) => form.setValue("note", appended(form.getValues("note"), text))}
            />
          </div>
          <textarea
            id="invoice-note"
            rows={2}
            maxLength={1000}
            {...form.register("note")}
            className="rounded-corner border border-edge bg-sheet px-2 py-1"
          />
        </div>
        {sure && (
          <p role="status" className="text-soft">
            It takes the next number and stays as it is: a wrong one is declared void.
          </p>
        )}
      </Form>
    </Dialog>
  );
}

/** A sum as the client reads it. */
function amount(value: string | undefined, currency: string): string {
  return value === undefined ? "" : `${money(Number(value)).replace(/^[^\d−-]+/, "")} ${currency}`;
}

/** Sums come for the lines that say something, in their order. */
function sumOf(lines: readonly Line[], sums: readonly string[], at: number): string | undefined {
  const line = lines[at];
  if (!line || isEmpty(line)) return undefined;
  return sums[lines.slice(0, at).filter((l) => !isEmpty(l)).length];
}

/** Which line is meant. */
function where(error: Error): string {
  const at = error instanceof ApiError ? /^lines\[(\d+)\]\.(\w+)/.exec(error.field) : null;
  if (!at) return "";
  const names: Record<string, string> = {
    what: "what is charged",
    count: "how many",
    price: "the price",
    tax_percent: "the tax",
  };
  return `Line ${Number(at[1]) + 1}, ${names[at[2] ?? ""] ?? at[2]}: `;
}

function Cell({
  form,
  name,
  label,
  wide = false,
  list,
  onChange,
}: {
  form: UseFormReturn<Written>;
  name: FieldPath<Written>;
  label: string;
  wide?: boolean;
  list?: string;
  onChange?: (value: string) => void;
}) {
  const error = form.getFieldState(name, form.formState).error?.message;
  const id = name.replaceAll(".", "-");
  return (
    <div className={wide ? "min-w-48 flex-1" : ""}>
      <Field id={id} label={label} error={error}>
        <TextInput
          id={id}
          list={list}
          inputMode={wide ? undefined : "decimal"}
          maxLength={wide ? 160 : 16}
          aria-invalid={!!error}
          {...form.register(name, onChange ? { onChange: (e) => onChange(e.target.value) } : {})}
          className={wide ? "w-full" : "w-24 text-right"}
        />
      </Field>
    </div>
  );
}
