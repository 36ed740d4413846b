import type { KeyboardEventHandler, ReactNode } from "react";
import type { FieldPath, FieldValues, RegisterOptions, UseFormReturn } from "react-hook-form";
import { Field, TextInput } from "~/ui";
import type { ServerForm } from "./useServerForm";

/** A labelled box of a form, with what is wrong with it. `figure`: it holds a number. */
export function TextField<V extends FieldValues>({
  form,
  name,
  label,
  hint,
  figure = false,
  required = false,
  rules,
  list,
  ...input
}: {
  form: UseFormReturn<V>;
  name: FieldPath<V>;
  label: string;
  hint?: string;
  figure?: boolean;
  required?: boolean;
  rules?: RegisterOptions<V, FieldPath<V>>;
  /** What is often put there. */
  list?: readonly string[];
  type?: "text" | "password" | "number";
  id?: string;
  autoComplete?: string;
  placeholder?: string;
  maxLength?: number;
  onKeyDown?: KeyboardEventHandler<HTMLInputElement>;
  className?: string;
}) {
  const id = input.id ?? name;
  const error = form.getFieldState(name, form.formState).error?.message;
  return (
    <Field id={id} label={label} hint={hint} error={error}>
      <TextInput
        {...input}
        {...form.register(name, rules)}
        id={id}
        inputMode={figure ? "decimal" : undefined}
        required={required}
        aria-invalid={!!error}
        aria-describedby={error ? `${id}-error` : undefined}
        list={list ? `${id}-list` : undefined}
        className={input.className ?? (figure ? "w-28 text-right" : "")}
      />
      {list && (
        <datalist id={`${id}-list`}>
          {list.map((item) => (
            <option key={item} value={item} />
          ))}
        </datalist>
      )}
    </Field>
  );
}

/** The form element: what is about no field stands before its buttons. */
export function Form<V extends FieldValues>({
  of,
  children,
  actions,
  className = "flex flex-col gap-4",
}: {
  of: ServerForm<V>;
  children: ReactNode;
  actions: ReactNode;
  className?: string;
}) {
  return (
    <form
      className={className}
      onSubmit={(event) => {
        event.preventDefault();
        of.submit();
      }}
    >
      {of.restored && (
        <p role="status" className="text-data text-soft">
          Continued from what you typed before.{" "}
          <button type="button" className="underline" onClick={of.forget}>
            Start over
          </button>
        </p>
      )}
      {children}
      {of.refused && (
        <p role="alert" className="text-madder">
          {of.refused}
        </p>
      )}
      <div className="flex items-center gap-3">{actions}</div>
    </form>
  );
}
