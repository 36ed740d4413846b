import { useMutation, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { useParams } from "react-router";
import { api, type Case, type Checks, type IssueIn, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { lengthsOf } from "~/shared/lengths";
import { planQuery } from "~/shared/queries";
import { appended, TextPicker } from "~/shared/TextPicker";
import { Button, Field, TextInput } from "~/ui";
import { Select } from "~/ui/Select";

/** What the server refused, in its words. */
export function Refused({ error }: { error: Error }) {
  return (
    <p role="alert" className="mt-1 border-madder stile">
      {error.message}.
    </p>
  );
}

/** Give it to the owner, with the way from the old food to the new. */
export function IssueForm({
  checks,
  current,
  stale,
  onIssued,
}: {
  checks: Checks;
  current: Case;
  stale: boolean;
  onIssued: (answer: Checks) => void;
}) {
  // As the plan says, until it is chosen otherwise here.
  const plan = useQuery(planQuery(current.id));
  const [chosen, setDays] = useState<string | null>(null);
  const days = chosen ?? String(plan.data?.change_days ?? 7);
  const [by, setBy] = useState<NonNullable<IssueIn["change_by"]>>("share");
  const [from, setStart] = useState<string | null>(null);
  const start = from ?? plan.data?.begins ?? "";
  const issue = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/recipes/{id}/issue", {
          params: { path: { id: checks.recipe } },
          body: {
            address: current.client.email,
            change_days: Number(days),
            change_by: by,
            change_start: start || null,
          },
        }),
      ),
    onSuccess: onIssued,
  });
  return (
    <form
      className="mt-2 flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        issue.mutate();
      }}
    >
      <p className="flex flex-wrap items-center gap-2">
        <span>Change to it</span>
        <Select
          label="Change to it"
          value={days}
          onChange={setDays}
          options={lengthsOf(plan.data?.schedules ?? [])}
        />
      </p>
      {days !== "0" && (
        <>
          <p className="flex flex-wrap items-center gap-2">
            <Select
              label="How the old food gives way"
              value={by}
              onChange={(to) => setBy(to as typeof by)}
              options={[
                { id: "share", label: "by its share" },
                { id: "ingredient", label: "one ingredient after the other" },
              ]}
            />
          </p>
          <Field id="change-start" label="From" hint="From tomorrow when left empty.">
            <TextInput
              id="change-start"
              type="date"
              value={start}
              onChange={(e) => setStart(e.target.value)}
              className="w-40"
            />
          </Field>
        </>
      )}
      <p>
        <Button kind="solid" type="submit" disabled={stale} busy={issue.isPending}>
          Issue to {current.client.name}
        </Button>
      </p>
      {issue.error && <Refused error={issue.error} />}
    </form>
  );
}

interface Asked {
  name: string;
  address: string;
  days: number;
  message: string;
}

/** Whom to ask: somebody of the vet team, or anybody else. */
export function AskForm({
  checks,
  current,
  onSent,
}: {
  checks: Checks;
  current: Case;
  onSent: (answer: Checks) => void;
}) {
  const vet =
    current.intake.vet_team?.find((v) => v.role === "attending") ?? current.intake.vet_team?.[0];
  const caseId = Number(useParams().caseId);
  const ask = useServerForm({
    defaults: {
      name: vet?.name ?? "",
      address: vet?.contact?.includes("@") ? vet.contact : "",
      days: 14,
      message: "",
    } as Asked,
    send: (body: Asked) =>
      take(api.POST("/api/recipes/{id}/send", { params: { path: { id: checks.recipe } }, body })),
    onSaved: onSent,
  });
  const { form } = ask;
  return (
    <Form
      of={ask}
      className="mt-2 flex flex-col gap-2"
      actions={
        <Button kind="solid" type="submit" busy={ask.pending}>
          Send to the vet
        </Button>
      }
    >
      <TextField
        form={form}
        id="ask-name"
        name="name"
        label="The attending vet"
        required
        maxLength={120}
      />
      <TextField
        form={form}
        id="ask-address"
        name="address"
        label="E-mail address"
        required
        maxLength={120}
      />
      <TextField
        form={form}
        id="ask-days"
        name="days"
        label="Days the page opens"
        type="number"
        figure
        rules={{ valueAsNumber: true }}
      />
      <Field id="ask-message" label="To say beside it">
        <TextPicker
          of={{ case: caseId }}
          onText={(text) =>
            form.setValue("message", appended(form.getValues("message"), text).slice(0, 400))
          }
        />
        <textarea
          id="ask-message"
          rows={2}
          maxLength={400}
          {...form.register("message")}
          className="rounded-corner border border-edge bg-sheet px-2 py-1"
        />
      </Field>
    </Form>
  );
}

/** A move that asks why. */
export function ReasonForm({
  label,
  action,
  danger = false,
  send,
  onSent,
  onCancel,
  children,
}: {
  label: string;
  action: string;
  danger?: boolean;
  send: (reason: string) => Promise<Checks>;
  onSent: (answer: Checks) => void;
  onCancel: () => void;
  children?: ReactNode;
}) {
  const form = useServerForm({
    defaults: { reason: "" },
    send: ({ reason }: { reason: string }) => send(reason),
    onSaved: onSent,
  });
  return (
    <Form
      of={form}
      className="flex flex-col gap-2"
      actions={
        <>
          <Button type="submit" kind={danger ? "danger" : "solid"} busy={form.pending}>
            {action}
          </Button>
          <Button kind="quiet" onClick={onCancel}>
            Cancel
          </Button>
        </>
      }
    >
      {children}
      <TextField
        form={form.form}
        id="reason"
        name="reason"
        label={label}
        required
        maxLength={200}
      />
    </Form>
  );
}
