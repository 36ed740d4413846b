import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import {
  type DefaultValues,
  type FieldPath,
  type FieldValues,
  type UseFormReturn,
  useForm,
} from "react-hook-form";
import { ApiError } from "~/api/client";

/** A form that the server judges. `submit` is for the form element; `refused` is what was refused and
 * is about no field that the form shows. */
export interface ServerForm<V extends FieldValues> {
  form: UseFormReturn<V>;
  submit: () => void;
  pending: boolean;
  saved: boolean;
  refused: string | undefined;
  /** What stands in it was typed before and never sent. */
  restored: boolean;
  /** Forget what was typed. */
  forget: () => void;
}

const KEPT = "wainscot-form/";

function kept<V>(name: string | undefined): V | undefined {
  try {
    const text = name === undefined ? null : sessionStorage.getItem(KEPT + name);
    return text === null ? undefined : (JSON.parse(text) as V);
  } catch {
    return undefined;
  }
}

/** The field of the form that a field of a request is: its own name, where its path ends, or a box of a row
 * ("lines[2].price"). */
export function fieldOf<V extends FieldValues>(values: V, field: string): FieldPath<V> | undefined {
  const cell = /^(\w+)\[(\d+)\]\.(\w+)$/.exec(field);
  if (cell?.[1] && cell[1] in values) return `${cell[1]}.${cell[2]}.${cell[3]}` as FieldPath<V>;
  const last = field.split(".").pop() ?? "";
  const name = [field, last].find((part) => part !== "" && part in values);
  return name as FieldPath<V> | undefined;
}

/** Values, their sending, and what the server says of them at the field it is about. */
export function useServerForm<V extends FieldValues, R>({
  defaults,
  send,
  onSaved,
  keptAs,
}: {
  defaults: DefaultValues<V>;
  /** What is typed is kept in this tab under this name until it is sent or forgotten. */
  keptAs?: string;
  send: (values: V) => Promise<R>;
  onSaved?: (answer: R) => void;
}): ServerForm<V> {
  const [found] = useState(() => kept<DefaultValues<V>>(keptAs));
  // What was kept may be of a form that asked for less.
  const form = useForm<V>({ defaultValues: found ? { ...defaults, ...found } : defaults });
  const [restored, setRestored] = useState(found !== undefined);
  useEffect(() => {
    if (keptAs === undefined) return;
    const { unsubscribe } = form.watch((values) => {
      try {
        sessionStorage.setItem(KEPT + keptAs, JSON.stringify(values));
      } catch {
        // The form works without being kept.
      }
    });
    return unsubscribe;
  }, [form, keptAs]);
  function drop() {
    if (keptAs !== undefined) sessionStorage.removeItem(KEPT + keptAs);
    setRestored(false);
  }
  const sending = useMutation({
    mutationFn: send,
    onSuccess: (answer: R) => {
      drop();
      onSaved?.(answer);
    },
    onError: (error) => {
      const at = error instanceof ApiError ? fieldOf(form.getValues(), error.field) : undefined;
      form.setError(at ?? "root", { message: error.message }, { shouldFocus: at !== undefined });
    },
  });
  return {
    form,
    submit: form.handleSubmit((values) => sending.mutate(values)),
    pending: sending.isPending,
    saved: sending.isSuccess,
    refused: form.formState.errors.root?.message,
    restored,
    forget: () => {
      form.reset(defaults);
      drop();
    },
  };
}
