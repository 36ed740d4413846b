import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { type Account, api, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { notice } from "~/shared/notice";
import { Button } from "~/ui";

/** Turn a code at sign-in on with an authenticator, or off. */
export function SecondFactor({
  account,
  onSaved,
}: {
  account: Account;
  onSaved: (next: Account) => void;
}) {
  const [codes, setCodes] = useState<readonly string[] | null>(null);
  const begin = useMutation({
    mutationFn: () => take(api.POST("/api/account/second-factor")),
    onError: (error) => notice(error.message),
  });
  if (codes) {
    return (
      <div className="max-w-xl">
        <p role="status" className="mb-2">
          <b>It is on.</b> These codes each open once without the authenticator. They are shown now
          and never again: print them, or write them down, and keep them where your password is not.
        </p>
        <ul className="mb-3 grid w-fit grid-cols-2 gap-x-8 gap-y-1 border border-edge bg-sheet p-3 font-mono">
          {codes.map((code) => (
            <li key={code}>{code}</li>
          ))}
        </ul>
        <Button
          onClick={() => {
            setCodes(null);
            onSaved({ ...account, second_factor: true, recovery_codes: codes.length });
          }}
        >
          I have kept them
        </Button>
      </div>
    );
  }
  if (account.second_factor) return <TurnOff account={account} onSaved={onSaved} />;
  if (begin.data)
    return <Confirm made={begin.data} onConfirmed={setCodes} onStopped={() => begin.reset()} />;
  return (
    <>
      <p className="mb-2 max-w-prose">
        Off: your password alone lets you in. With a code that changes every half minute, a password
        that was guessed or read over your shoulder opens nothing.
      </p>
      <Button onClick={() => begin.mutate()} busy={begin.isPending}>
        Set up an authenticator
      </Button>
    </>
  );
}

function Confirm({
  made,
  onConfirmed,
  onStopped,
}: {
  made: { secret: string; drawing: string };
  onConfirmed: (codes: readonly string[]) => void;
  onStopped: () => void;
}) {
  const confirming = useServerForm({
    defaults: { code: "" },
    send: (body: { code: string }) =>
      take(api.POST("/api/account/second-factor/confirm", { body })),
    onSaved: ({ codes }) => onConfirmed(codes),
  });
  return (
    <div className="flex flex-wrap gap-6">
      <img
        src={made.drawing}
        alt="The secret as a code to scan"
        className="size-52 border border-edge bg-white p-1"
      />
      <div className="max-w-sm">
        <p className="mb-2">
          Scan this with an authenticator on your phone, or type the secret into it:
        </p>
        <p className="mb-3 break-all font-mono">{made.secret.replace(/(.{4})(?=.)/g, "$1 ")}</p>
        <Form
          of={confirming}
          actions={
            <>
              <Button kind="solid" type="submit" busy={confirming.pending}>
                Turn it on
              </Button>
              <Button kind="quiet" onClick={onStopped}>
                Not now
              </Button>
            </>
          }
        >
          <TextField
            form={confirming.form}
            name="code"
            label="Code it shows now"
            autoComplete="one-time-code"
            figure
            required
          />
        </Form>
      </div>
    </div>
  );
}

function TurnOff({ account, onSaved }: { account: Account; onSaved: (next: Account) => void }) {
  const ending = useServerForm({
    defaults: { old: "" },
    send: (body: { old: string }) => take(api.PUT("/api/account/second-factor", { body })),
    onSaved,
  });
  const left = account.recovery_codes;
  return (
    <>
      <p className="mb-2 max-w-prose">
        <b>On.</b> {left} recovery {left === 1 ? "code is" : "codes are"} left
        {left < 3 ? ": turn it off and on again for new ones." : "."}
      </p>
      <Form
        of={ending}
        className="flex flex-wrap items-start gap-3"
        actions={
          <Button type="submit" busy={ending.pending} className="mt-6">
            Turn it off
          </Button>
        }
      >
        <TextField
          form={ending.form}
          name="old"
          id="factor-old"
          label="Your password, to be sure"
          type="password"
          autoComplete="current-password"
          required
        />
      </Form>
    </>
  );
}
