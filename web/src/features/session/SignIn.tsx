import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ApiError, api, type Session, take } from "~/api/client";
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

/** Name, password, and a code where one is asked for. `as`: who was at work here, and goes on. */
export function SignInForm({
  as,
  onSignedIn,
}: {
  as?: string;
  onSignedIn: (session: Session) => void;
}) {
  const [coded, setCoded] = useState(false);
  const signIn = useServerForm({
    defaults: { username: as ?? "", password: "", code: "" },
    send: async (body: { username: string; password: string; code: string }) => {
      try {
        return await take(api.POST("/api/session/sign-in", { body }));
      } catch (error) {
        if (error instanceof ApiError && error.field === "code") setCoded(true);
        throw error;
      }
    },
    onSaved: onSignedIn,
  });
  const { form } = signIn;
  return (
    <Form
      of={signIn}
      actions={
        <Button kind="solid" type="submit" busy={signIn.pending}>
          {signIn.pending ? "Signing in…" : "Sign in"}
        </Button>
      }
    >
      {as === undefined ? (
        <TextField form={form} name="username" label="Name" autoComplete="username" required />
      ) : (
        <p>
          As <b>{as}</b>
        </p>
      )}
      <TextField
        form={form}
        name="password"
        label="Password"
        type="password"
        autoComplete="current-password"
        required
      />
      {coded && (
        <TextField
          form={form}
          name="code"
          label="Code"
          hint="What your authenticator shows now, or a recovery code"
          autoComplete="one-time-code"
        />
      )}
    </Form>
  );
}

export default function SignIn({ demo }: { demo: boolean }) {
  useTitle("Sign in");
  const client = useQueryClient();
  return (
    <Door>
      <h1 className="text-page">Sign in</h1>
      <SignInForm onSignedIn={(session) => client.setQueryData(keyOf("session"), session)} />
      <p>
        <Link to="/forgot" className="underline">
          Forgot the password?
        </Link>
      </p>
      {demo && (
        <p className="text-soft">The demo's name and password stand in the terminal it runs in.</p>
      )}
    </Door>
  );
}
