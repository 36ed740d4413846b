import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type People, type Person, take, type WorkRole } from "~/api/client";
import { day, when } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button, Dialog, Sideways } from "~/ui";
import { Page } from "~/ui/Page";
import { Select } from "~/ui/Select";
import { PracticeTabs } from "./PracticeTabs";
import { ROLE_OPTIONS, ROLES } from "./roles";

const KEY = keyOf("people");

/** Who works here, as what, and who was asked to. */
export default function PeoplePage() {
  useTitle("People");
  const found = useQuery({
    queryKey: KEY,
    queryFn: () => take(api.GET("/api/people")),
    staleTime: 0,
  });
  if (found.isPending) return <Loading what="the people" />;
  if (!found.data)
    return <Problem what="the people" error={found.error} retry={() => found.refetch()} />;
  return <PeopleOf found={found.data} />;
}

function PeopleOf({ found }: { found: People }) {
  const client = useQueryClient();
  const [link, setLink] = useState<{ title: string; path: string } | null>(null);
  const put = (people: People) => client.setQueryData(KEY, people);
  const change = useMutation({
    mutationFn: (run: () => Promise<People>) => run(),
    onSuccess: put,
    onError: (error) => notice(error.message),
  });
  const role = (person: Person, next: WorkRole) =>
    change.mutate(() =>
      take(
        api.PUT("/api/people/{id}", {
          params: { path: { id: person.id } },
          body: { role: next },
        }),
      ),
    );
  const leave = (person: Person, left: boolean) =>
    change.mutate(() =>
      take(
        api.POST("/api/people/{id}/left", {
          params: { path: { id: person.id } },
          body: { left },
        }),
      ),
    );
  const reset = useMutation({
    mutationFn: (person: Person) =>
      take(api.POST("/api/people/{id}/reset", { params: { path: { id: person.id } } })),
    onSuccess: ({ path }, person) =>
      setLink({ title: `A new password for ${person.username}`, path }),
    onError: (error) => notice(error.message),
  });
  const here = found.people.filter((p) => p.left === null);
  const gone = found.people.filter((p) => p.left !== null);
  return (
    <Page className="mx-auto w-full max-w-5xl p-4 mid:p-6 wide:overflow-auto">
      <h1 className="mb-2 text-page">Practice</h1>
      <PracticeTabs />
      <Sideways>
        <table className="w-full">
          <thead>
            <tr className="border-ink border-b text-left align-bottom">
              <th className="py-1 pr-3 font-medium">Who</th>
              <th className="py-1 pr-3 font-medium">As</th>
              <th className="py-1 pr-3 font-medium">At sign-in</th>
              <th className="py-1 pr-3 font-medium">Last here</th>
              <th className="py-1">
                <span className="sr-only">To do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {here.map((person) => (
              <tr key={person.id} className="border-line border-b">
                <td className="min-w-40 py-1.5 pr-3 wrap-anywhere">
                  <b>{person.username}</b>
                  {person.you && <span className="text-soft"> (you)</span>}
                  <div className="text-data text-soft">{person.email || "no e-mail address"}</div>
                </td>
                <td className="py-1.5 pr-3">
                  <Select
                    label={`What ${person.username} is`}
                    value={person.role}
                    onChange={(next) => role(person, next)}
                    options={ROLE_OPTIONS}
                    className="w-36"
                  />
                </td>
                <td className="py-1.5 pr-3">
                  {person.second_factor ? "password and code" : "password"}
                </td>
                <td className="py-1.5 pr-3 text-soft">
                  {person.seen ? when(person.seen) : "never"}
                </td>
                <td className="py-1.5 text-right whitespace-nowrap">
                  {!person.you && (
                    <>
                      <Button kind="quiet" small onClick={() => reset.mutate(person)}>
                        New password
                      </Button>
                      <Button kind="quiet" small onClick={() => leave(person, true)}>
                        Has left
                      </Button>
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Sideways>
      <ul className="mt-2 max-w-prose text-data text-soft">
        {ROLE_OPTIONS.map(({ id, label }) => (
          <li key={id}>
            <b>{label}</b> {ROLES[id].does}
          </li>
        ))}
      </ul>
      <h2 className="mt-6 mb-2">Ask somebody to join</h2>
      <Invite onInvited={put} />
      {found.invitations.length > 0 && (
        <ul className="mt-3 border-line border-t">
          {found.invitations.map((asked) => (
            <li
              key={asked.id}
              className="flex flex-wrap items-center gap-x-3 border-line border-b py-1.5 wrap-anywhere"
            >
              <span>
                {asked.email}, {ROLES[asked.role].label.toLowerCase()}
              </span>
              <span className="text-soft">
                {asked.open ? `open until ${day(asked.expires)}` : "has run out"}
              </span>
              <span className="ml-auto">
                {asked.open && (
                  <Button
                    kind="quiet"
                    small
                    onClick={() =>
                      setLink({ title: `The invitation of ${asked.email}`, path: asked.path })
                    }
                  >
                    Show the link
                  </Button>
                )}
                <Button
                  kind="quiet"
                  small
                  onClick={() =>
                    change.mutate(() =>
                      take(
                        api.DELETE("/api/invitations/{id}", {
                          params: { path: { id: asked.id } },
                        }),
                      ),
                    )
                  }
                >
                  Take back
                </Button>
              </span>
            </li>
          ))}
        </ul>
      )}
      {gone.length > 0 && (
        <>
          <h2 className="mt-6 mb-2">Have left</h2>
          <p className="mb-1 text-data text-soft">
            They cannot sign in; what they did stays under their name.
          </p>
          <ul className="border-line border-t">
            {gone.map((person) => (
              <li key={person.id} className="flex items-center gap-3 border-line border-b py-1.5">
                <b>{person.username}</b>
                <span className="text-soft">{person.left && `since ${day(person.left)}`}</span>
                <Button kind="quiet" small className="ml-auto" onClick={() => leave(person, false)}>
                  Is back
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      <Dialog open={link !== null} onClose={() => setLink(null)} title={link?.title ?? ""}>
        <p className="mb-2">
          Whoever opens this address is let in: give it to the one it is for, and to nobody else. It
          opens once.
        </p>
        <p className="break-all rounded-corner border border-edge bg-sheet p-2 font-mono text-data">
          {link && `${location.origin}${link.path}`}
        </p>
        <Button
          className="mt-3"
          onClick={() => link && navigator.clipboard.writeText(`${location.origin}${link.path}`)}
        >
          Copy
        </Button>
      </Dialog>
    </Page>
  );
}

function Invite({ onInvited }: { onInvited: (people: People) => void }) {
  const inviting = useServerForm({
    defaults: { email: "", role: "assistant" as WorkRole },
    send: (body: { email: string; role: WorkRole }) => take(api.POST("/api/invitations", { body })),
    onSaved: (people) => {
      inviting.form.reset({ email: "", role: "assistant" });
      notice("The invitation is on its way.");
      onInvited(people);
    },
  });
  const { form } = inviting;
  return (
    <Form
      of={inviting}
      className="flex flex-wrap items-start gap-3"
      actions={
        <Button type="submit" busy={inviting.pending} className="mt-6">
          Invite
        </Button>
      }
    >
      <TextField form={form} name="email" label="E-mail" className="w-72" required />
      <div className="flex flex-col gap-1">
        <span className="font-medium">As</span>
        <Select
          label="As"
          value={form.watch("role")}
          onChange={(role) => form.setValue("role", role)}
          options={ROLE_OPTIONS}
          className="w-36"
        />
      </div>
    </Form>
  );
}
