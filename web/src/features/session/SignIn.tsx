import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type ApiError, api, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { Button, Field, TextInput } from "~/ui";
import { Wordmark } from "~/ui/Wordmark";

export function Door({ children }: { children: React.ReactNode }) {
  return (
    <main className="mx-auto flex min-h-screen max-w-sm flex-col justify-center gap-5 p-6">
      <Wordmark />
      {children}
      <p className="text-[13px] text-soft">
        Wainscot computes; it does not diagnose or prescribe. Diets for ill dogs need the attending
        veterinarian's approval.
      </p>
    </main>
  );
}

export function SignIn({ demo }: { demo: boolean }) {
  const client = useQueryClient();
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useMutation({
    mutationFn: () => take(api.POST("/api/session/sign-in", { body: { username, password } })),
    onSuccess: (session) => client.setQueryData(keyOf("session"), session),
  });
  const error = signIn.error as ApiError | null;
  function submit(event: FormEvent) {
    event.preventDefault();
    signIn.mutate();
  }
  return (
    <Door>
      <form onSubmit={submit} className="flex flex-col gap-4">
        <h1 className="text-xl">Sign in</h1>
        <Field id="username" label="Name">
          <TextInput
            id="username"
            value={username}
            onChange={(e) => setUsername(e.target.value)}
            autoComplete="username"
            required
          />
        </Field>
        <Field id="password" label="Password" error={error?.message}>
          <TextInput
            id="password"
            type="password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
            autoComplete="current-password"
            aria-invalid={!!error}
            aria-describedby={error ? "password-error" : undefined}
            required
          />
        </Field>
        <Button kind="solid" type="submit" disabled={signIn.isPending} className="self-start">
          {signIn.isPending ? "Signing in…" : "Sign in"}
        </Button>
        {demo && (
          <p className="text-soft">
            The demo's name and password stand in the terminal it runs in.
          </p>
        )}
      </form>
    </Door>
  );
}
