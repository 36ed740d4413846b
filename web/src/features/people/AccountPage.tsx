import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type Account, api, take } from "~/api/client";
import { when } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button } from "~/ui";
import { Page } from "~/ui/Page";
import { ROLES } from "./roles";
import { SecondFactor } from "./SecondFactor";

const KEY = keyOf("account");

/** Oneself: how one gets in, and where one is. */
export default function AccountPage() {
  useTitle("Your account");
  const found = useQuery({
    queryKey: KEY,
    queryFn: () => take(api.GET("/api/account")),
    staleTime: 0,
  });
  if (found.isPending) return <Loading what="your account" />;
  if (!found.data)
    return <Problem what="your account" error={found.error} retry={() => found.refetch()} />;
  return <AccountOf account={found.data} />;
}

function AccountOf({ account }: { account: Account }) {
  const client = useQueryClient();
  const put = (next: Account) => client.setQueryData(KEY, next);
  return (
    <Page className="mx-auto w-full max-w-4xl p-4 mid:p-6 wide:overflow-auto">
      <h1 className="text-page">{account.username}</h1>
      <p className="mb-4 text-soft">
        {ROLES[account.role].label}: {ROLES[account.role].does}
      </p>
      <div className="grid gap-x-10 gap-y-6 mid:grid-cols-2">
        <section>
          <h2 className="mb-2">Password</h2>
          <Password />
        </section>
        <section>
          <h2 className="mb-2">E-mail</h2>
          <Email account={account} onSaved={put} />
        </section>
      </div>
      <h2 className="mt-6 mb-2">Code at sign-in</h2>
      <SecondFactor account={account} onSaved={put} />
      <h2 className="mt-6 mb-2">Where you are signed in</h2>
      <Seats account={account} onSaved={put} />
    </Page>
  );
}

function Password() {
  const changing = useServerForm({
    defaults: { old: "", password: "" },
    send: (body: { old: string; password: string }) =>
      take(api.POST("/api/account/password", { body })),
    onSaved: ({ message }) => {
      changing.form.reset({ old: "", password: "" });
      notice(message);
    },
  });
  const { form } = changing;
  return (
    <Form
      of={changing}
      actions={
        <Button type="submit" busy={changing.pending}>
          Change the password
        </Button>
      }
    >
      <TextField
        form={form}
        name="old"
        label="Password now"
        type="password"
        autoComplete="current-password"
        required
      />
      <TextField
        form={form}
        name="password"
        label="New password"
        hint="At least 12 characters; several words are good. Other sessions of yours end."
        type="password"
        autoComplete="new-password"
        required
      />
    </Form>
  );
}

function Email({ account, onSaved }: { account: Account; onSaved: (next: Account) => void }) {
  const changing = useServerForm({
    defaults: { email: account.email, password: "" },
    send: (body: { email: string; password: string }) => take(api.PUT("/api/account", { body })),
    onSaved: (next) => {
      changing.form.reset({ email: next.email, password: "" });
      notice("The address is kept.");
      onSaved(next);
    },
  });
  const { form } = changing;
  return (
    <Form
      of={changing}
      actions={
        <Button type="submit" busy={changing.pending}>
          Keep the address
        </Button>
      }
    >
      <TextField
        form={form}
        name="email"
        id="account-email"
        label="E-mail"
        hint="Where a link goes when you forget the password"
        autoComplete="email"
      />
      <TextField
        form={form}
        name="password"
        id="account-password"
        label="Your password, to be sure"
        type="password"
        autoComplete="current-password"
        required
      />
    </Form>
  );
}

function Seats({ account, onSaved }: { account: Account; onSaved: (next: Account) => void }) {
  const ending = useMutation({
    mutationFn: (id: number | null) =>
      take(
        id === null
          ? api.POST("/api/account/end-others")
          : api.DELETE("/api/account/seats/{id}", { params: { path: { id } } }),
      ),
    onSuccess: onSaved,
    onError: (error) => notice(error.message),
  });
  return (
    <>
      <ul className="border-line border-t">
        {account.seats.map((seat) => (
          <li
            key={seat.id}
            className="flex flex-wrap items-baseline gap-x-3 border-line border-b py-1.5"
          >
            <span className="min-w-0 flex-1 basis-60">
              {seat.here ? <b>This browser</b> : browserOf(seat.agent)}
              <span className="block truncate text-data text-soft" title={seat.agent}>
                {seat.address || "address not known"}, since {when(seat.began)}
              </span>
            </span>
            <span className="text-soft">last seen {when(seat.seen)}</span>
            <span className="w-20 text-right">
              {!seat.here && (
                <Button kind="quiet" small onClick={() => ending.mutate(seat.id)}>
                  Sign out
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {account.seats.length > 1 && (
        <Button className="mt-3" onClick={() => ending.mutate(null)}>
          Sign out everywhere else
        </Button>
      )}
      <p className="mt-2 max-w-prose text-data text-soft">
        Half an hour without doing anything signs out, and so do twelve hours.
      </p>
    </>
  );
}

const BROWSERS = ["Firefox", "Edg", "OPR", "Chrome", "Safari"] as const;
const SYSTEMS = ["Android", "iPhone", "iPad", "Windows", "Mac OS", "Linux"] as const;

/** A browser in two words, as far as it says what it is. */
function browserOf(agent: string): string {
  const browser = BROWSERS.find((name) => agent.includes(name));
  const system = SYSTEMS.find((name) => agent.includes(name));
  const called = browser === "Edg" ? "Edge" : browser === "OPR" ? "Opera" : browser;
  return [called ?? "A browser", system].filter(Boolean).join(", ");
}
