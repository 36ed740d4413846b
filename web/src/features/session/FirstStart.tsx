import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type ApiError, api, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { Button, Field, TextInput } from "~/ui";
import { Door } from "./SignIn";

export function FirstStart() {
  const client = useQueryClient();
  const [form, setForm] = useState({ practice: "", username: "", password: "" });
  const setUp = useMutation({
    mutationFn: () => take(api.POST("/api/setup", { body: form })),
    onSuccess: (session) => client.setQueryData(keyOf("session"), session),
  });
  const error = setUp.error as ApiError | null;
  function submit(event: FormEvent) {
    event.preventDefault();
    setUp.mutate();
  }
  const fields = [
    { id: "practice", label: "Practice", hint: "Shown on everything you print", type: "text" },
    { id: "username", label: "Your name for signing in", hint: "", type: "text" },
    { id: "password", label: "Password", hint: "At least 10 characters", type: "password" },
  ] as const;
  return (
    <Door>
      <form onSubmit={submit} className="flex flex-col gap-4">
        <h1 className="text-xl">Set up this installation</h1>
        {fields.map((field) => (
          <Field
            key={field.id}
            id={field.id}
            label={field.label}
            hint={field.hint}
            error={error?.field === field.id ? error.message : undefined}
          >
            <TextInput
              id={field.id}
              type={field.type}
              value={form[field.id]}
              onChange={(e) => setForm({ ...form, [field.id]: e.target.value })}
              autoComplete={field.id === "password" ? "new-password" : "off"}
              required
            />
          </Field>
        ))}
        {error && !fields.some((f) => f.id === error.field) && (
          <p role="alert" className="text-madder">
            {error.message}
          </p>
        )}
        <Button kind="solid" type="submit" disabled={setUp.isPending} className="self-start">
          Start
        </Button>
      </form>
    </Door>
  );
}
