import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { useTitle } from "~/shared/useTitle";
import { Button } from "~/ui";
import { Wordmark } from "~/ui/Wordmark";

export function Door({ children }: { children: React.ReactNode }) {
  return (
    <main className="mx-auto flex min-h-screen max-w-sm flex-col justify-center gap-5 p-6">
      <Wordmark />
      {children}
      <p className="text-data text-soft">
        Wainscot computes; it does not diagnose or prescribe. Diets for ill dogs need the attending
        veterinarian's approval.
      </p>
    </main>
  );
}

export default function SignIn({ demo }: { demo: boolean }) {
  useTitle("Sign in");
  const client = useQueryClient();
  const signIn = useServerForm({
    defaults: { username: "", password: "" },
    send: (body: { username: string; password: string }) =>
      take(api.POST("/api/session/sign-in", { body })),
    onSaved: (session) => client.setQueryData(keyOf("session"), session),
  });
  const { form } = signIn;
  return (
    <Door>
      <h1 className="text-page">Sign in</h1>
      <Form
        of={signIn}
        actions={
          <Button kind="solid" type="submit" disabled={signIn.pending}>
            {signIn.pending ? "Signing in…" : "Sign in"}
          </Button>
        }
      >
        <TextField form={form} name="username" label="Name" autoComplete="username" required />
        <TextField
          form={form}
          name="password"
          label="Password"
          type="password"
          autoComplete="current-password"
          required
        />
      </Form>
      {demo && (
        <p className="text-soft">The demo's name and password stand in the terminal it runs in.</p>
      )}
    </Door>
  );
}
