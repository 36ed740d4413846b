import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button } from "~/ui";
import { ROLES } from "../people/roles";
import { Door } from "./SignIn";

const PASSWORD_HINT =
  "At least 12 characters; several words are good, blanks and all letters count";

/** The password is gone: ask for a link. */
export function Forgot() {
  useTitle("Forgot the password");
  const [said, setSaid] = useState("");
  const asking = useServerForm({
    defaults: { username: "" },
    send: (body: { username: string }) => take(api.POST("/api/session/forgot", { body })),
    onSaved: ({ message }) => setSaid(message),
  });
  return (
    <Door>
      <h1 className="text-page">Forgot the password</h1>
      {said ? (
        <p role="status">{said}</p>
      ) : (
        <Form
          of={asking}
          actions={
            <Button kind="solid" type="submit" busy={asking.pending}>
              Send a link
            </Button>
          }
        >
          <TextField
            form={asking.form}
            name="username"
            label="Your name for signing in"
            autoComplete="username"
            required
          />
        </Form>
      )}
      <Back />
    </Door>
  );
}

/** A new password by a link. */
export function Reset() {
  useTitle("A new password");
  const token = useParams().token ?? "";
  const params = { path: { token } };
  const found = useQuery({
    queryKey: keyOf("way-in", "reset", token),
    queryFn: () => take(api.GET("/api/session/reset/{token}", { params })),
    retry: false,
  });
  const [said, setSaid] = useState("");
  const setting = useServerForm({
    defaults: { password: "" },
    send: (body: { password: string }) =>
      take(api.POST("/api/session/reset/{token}", { params, body })),
    onSaved: ({ message }) => setSaid(message),
  });
  if (found.isPending) return <Loading what="this link" />;
  return (
    <Door>
      <h1 className="text-page">A new password</h1>
      {said && <p role="status">{said}</p>}
      {found.error && !said && <Problem error={found.error} />}
      {found.data && !said && (
        <Form
          of={setting}
          actions={
            <Button kind="solid" type="submit" busy={setting.pending}>
              Set it
            </Button>
          }
        >
          <p>
            For <b>{found.data.username}</b>. Every session of this name ends.
          </p>
          <TextField
            form={setting.form}
            name="password"
            label="New password"
            hint={PASSWORD_HINT}
            type="password"
            autoComplete="new-password"
            required
          />
        </Form>
      )}
      <Back />
    </Door>
  );
}

/** Somebody who was asked joins the practice. */
export function Join() {
  useTitle("Join");
  const token = useParams().token ?? "";
  const params = { path: { token } };
  const client = useQueryClient();
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: keyOf("way-in", "invitation", token),
    queryFn: () => take(api.GET("/api/session/invitation/{token}", { params })),
    retry: false,
  });
  const joining = useServerForm({
    defaults: { username: "", password: "" },
    send: (body: { username: string; password: string }) =>
      take(api.POST("/api/session/invitation/{token}", { params, body })),
    onSaved: (session) => {
      client.clear();
      client.setQueryData(keyOf("session"), session);
      navigate("/");
    },
  });
  if (found.isPending) return <Loading what="this invitation" />;
  const role = found.data && ROLES[found.data.role];
  return (
    <Door>
      <h1 className="text-page">{found.data ? `Join ${found.data.practice}` : "An invitation"}</h1>
      {found.error && <Problem error={found.error} />}
      {found.data && role && (
        <Form
          of={joining}
          actions={
            <Button kind="solid" type="submit" busy={joining.pending}>
              Join
            </Button>
          }
        >
          <p>
            {found.data.by} asks {found.data.email} to join as <b>{role.label.toLowerCase()}</b>:{" "}
            {role.does}
          </p>
          <TextField
            form={joining.form}
            name="username"
            label="Your name for signing in"
            hint="It stands beside everything you do"
            autoComplete="username"
            required
          />
          <TextField
            form={joining.form}
            name="password"
            label="Password"
            hint={PASSWORD_HINT}
            type="password"
            autoComplete="new-password"
            required
          />
        </Form>
      )}
      {found.error && <Back />}
    </Door>
  );
}

function Back() {
  return (
    <p>
      <Link to="/" className="underline">
        To the sign-in
      </Link>
    </p>
  );
}
