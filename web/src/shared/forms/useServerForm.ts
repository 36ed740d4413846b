import { useMutation } from "@tanstack/react-query";
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
}

/** The field of the form that a field of a request is: its own name, or where its path ends. */
export function fieldOf<V extends FieldValues>(values: V, field: string): FieldPath<V> | undefined {
  const last = field.split(".").pop() ?? "";
  const name = [field, last].find((part) => part !== "" && part in values);
  return name as FieldPath<V> | undefined;
}

/** Values, their sending, and what the server says of them at the field it is about. */
export function useServerForm<V extends FieldValues, R>({
  defaults,
  send,
  onSaved,
}: {
  defaults: DefaultValues<V>;
  send: (values: V) => Promise<R>;
  onSaved?: (answer: R) => void;
}): ServerForm<V> {
  const form = useForm<V>({ defaultValues: defaults });
  const sending = useMutation({
    mutationFn: send,
    onSuccess: onSaved,
    onError: (error) => {
      const at = error instanceof ApiError ? fieldOf(form.getValues(), error.field) : undefined;
      form.setError(at ?? "root", { message: error.message });
    },
  });
  return {
    form,
    submit: form.handleSubmit((values) => sending.mutate(values)),
    pending: sending.isPending,
    saved: sending.isSuccess,
    refused: form.formState.errors.root?.message,
  };
}
