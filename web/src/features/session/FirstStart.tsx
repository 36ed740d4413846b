import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";
import { Door } from "./SignIn";

interface SetUp {
  practice: string;
  username: string;
  password: string;
  region: Region;
  key: string;
}

type Region =
  | "europe"
  | "united-kingdom"
  | "united-states"
  | "canada"
  | "australia"
  | "new-zealand";

const REGIONS: { id: Region; label: string }[] = [
  { id: "europe", label: "Europe" },
  { id: "united-kingdom", label: "United Kingdom" },
  { id: "united-states", label: "United States" },
  { id: "canada", label: "Canada" },
  { id: "australia", label: "Australia" },
  { id: "new-zealand", label: "New Zealand" },
];

export default function FirstStart({ asksKey }: { asksKey: boolean }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const setUp = useServerForm({
    defaults: { practice: "", username: "", password: "", region: "europe" as Region, key: "" },
    send: (body: SetUp) =>
      take(
        api.POST("/api/setup", {
          body: { ...body, time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone },
        }),
      ),
    onSaved: (session) => {
      client.setQueryData(keyOf("session"), session);
      navigate("/");
    },
  });
  const { form } = setUp;
  return (
    <Door>
      <h1 className="text-page">Set up this installation</h1>
      <Form
        of={setUp}
        actions={
          <Button kind="solid" type="submit" busy={setUp.pending}>
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
        <div className="flex flex-col gap-1">
          <span className="font-medium">Where you work</span>
          <Select
            label="Where you work"
            value={form.watch("region")}
            onChange={(region) => form.setValue("region", region)}
            options={REGIONS}
          />
          <p className="text-data text-soft">
            Sets units, cups, dates and currency; each can be changed under Practice, and so can the
            time zone, which is this browser’s.
          </p>
        </div>
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
          hint="At least 12 characters; several words are good"
          type="password"
          autoComplete="new-password"
          required
        />
        {asksKey && (
          <TextField
            form={form}
            name="key"
            label="Key of this installation"
            hint="Printed where Wainscot was started, so that nobody else sets it up first"
            autoComplete="off"
            required
          />
        )}
      </Form>
    </Door>
  );
}
