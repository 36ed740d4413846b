import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { Button } from "~/ui";
import { Door } from "./SignIn";

interface SetUp {
  practice: string;
  username: string;
  password: string;
}

export function FirstStart() {
  const client = useQueryClient();
  const setUp = useServerForm({
    defaults: { practice: "", username: "", password: "" },
    send: (body: SetUp) => take(api.POST("/api/setup", { body })),
    onSaved: (session) => client.setQueryData(keyOf("session"), session),
  });
  const { form } = setUp;
  return (
    <Door>
      <h1 className="text-xl">Set up this installation</h1>
      <Form
        of={setUp}
        actions={
          <Button kind="solid" type="submit" disabled={setUp.pending}>
            Start
          </Button>
        }
      >
        <TextField
          form={form}
          name="practice"
          label="Practice"
          hint="Shown on everything you print"
          autoComplete="off"
          required
        />
        <TextField
          form={form}
          name="username"
          label="Your name for signing in"
          autoComplete="off"
          required
        />
        <TextField
          form={form}
          name="password"
          label="Password"
          hint="At least 10 characters"
          type="password"
          autoComplete="new-password"
          required
        />
      </Form>
    </Door>
  );
}
