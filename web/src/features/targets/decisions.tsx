import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type Case, type Conflict, type MergedLimit, take } from "~/api/client";
import { figure, told, unitText } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { Button, TextInput } from "~/ui";
import { Select } from "~/ui/Select";

/** What follows from the targets is asked anew. */
export function useRefresh(current: Case) {
  const client = useQueryClient();
  return async () => {
    await client.invalidateQueries({ queryKey: keyOf("case", current.id) });
    void forget(client, "case");
  };
}

interface Decision {
  key: string;
  bound: "min" | "max";
  value?: number | null;
  by?: string;
  reason?: string;
  undo?: boolean;
}

function decide(current: Case, body: Decision) {
  return take(api.POST("/api/cases/{id}/targets", { params: { path: { id: current.id } }, body }));
}

interface NewBound {
  bound: "min" | "max";
  value: string;
  reason: string;
}

/** Tighten or loosen one limit with a reason, or take that back. */
export function LimitForm({ limit, current }: { limit: MergedLimit; current: Case }) {
  const refresh = useRefresh(current);
  const decided = limit.origin.filter((o) => o.decision);
  const set = useServerForm({
    defaults: { bound: "min", value: "", reason: "" } as NewBound,
    send: ({ bound, value, reason }: NewBound) =>
      decide(current, {
        key: limit.key,
        bound,
        value: figure(value),
        by: "the consultant",
        reason,
      }),
    onSaved: refresh,
  });
  const { form } = set;
  const { errors } = form.formState;
  const bound = form.watch("bound");
  const undo = useMutation({
    mutationFn: () => decide(current, { key: limit.key, bound, undo: true }),
    onSuccess: refresh,
  });
  const said = errors.value?.message ?? errors.reason?.message ?? undo.error?.message;
  return (
    <Form
      of={set}
      className="my-1 flex flex-wrap items-center gap-2 text-ink"
      actions={
        <>
          <Button type="submit" disabled={set.pending}>
            Set
          </Button>
          {decided.length > 0 && (
            <Button kind="quiet" onClick={() => undo.mutate()}>
              Take back
            </Button>
          )}
        </>
      }
    >
      <Select
        label={`Bound of ${limit.name}`}
        value={bound}
        onChange={(side) => form.setValue("bound", side)}
        options={[
          { id: "min", label: "minimum" },
          { id: "max", label: "maximum" },
        ]}
      />
      <TextInput
        aria-label={`New bound of ${limit.name} per 1000 kcal`}
        placeholder={`${unitText(limit.unit)}/1000 kcal`}
        {...form.register("value")}
        className="w-28 text-right"
      />
      <TextInput
        aria-label={`Reason for ${limit.name}`}
        placeholder="reason"
        required
        {...form.register("reason")}
        className="w-44"
      />
      {said && (
        <span role="alert" className="text-madder">
          {said}
        </span>
      )}
    </Form>
  );
}

/** Two bounds that no recipe can hold: which gives way, who says so and why. */
export function ConflictCard({ conflict, current }: { conflict: Conflict; current: Case }) {
  const refresh = useRefresh(current);
  const choose = useServerForm({
    defaults: { option: "", by: "", reason: "" },
    send: ({ option, by, reason }: { option: string; by: string; reason: string }) => {
      const chosen = conflict.options.find((o) => o.id === option);
      if (!chosen) return Promise.reject(new Error("Say which gives way."));
      const { bound, value } = chosen;
      return decide(current, { key: conflict.key, bound, value, by, reason });
    },
    onSaved: refresh,
  });
  const { form } = choose;
  const undo = useMutation({
    mutationFn: async () => {
      for (const { bound } of conflict.options)
        await decide(current, { key: conflict.key, bound, undo: true });
    },
    onSuccess: refresh,
  });
  return (
    <article className="mt-2 max-w-3xl border-madder stile">
      <h3 className="font-semibold">{conflict.name}</h3>
      <p>{told(conflict.words)}</p>
      {conflict.decided ? (
        <p>
          Decided by <b>{conflict.decided.by}</b>: {conflict.decided.reason}{" "}
          <Button kind="quiet" disabled={undo.isPending} onClick={() => undo.mutate()}>
            Take it back
          </Button>
        </p>
      ) : (
        <Form
          of={choose}
          className="flex flex-col gap-2"
          actions={
            <Button type="submit" disabled={!form.watch("option") || choose.pending}>
              Decide
            </Button>
          }
        >
          <fieldset className="flex flex-col gap-1">
            <legend className="sr-only">Which gives way</legend>
            {conflict.options.map((o) => (
              <label key={o.id} className="flex gap-2">
                <input
                  type="radio"
                  value={o.id}
                  {...form.register("option")}
                  className="accent-verdigris"
                />
                <span>
                  {o.text} <span className="text-soft">For the {o.whose} to decide.</span>
                </span>
              </label>
            ))}
          </fieldset>
          <div className="flex flex-wrap items-end gap-3">
            <TextField
              form={form}
              id={`by-${conflict.key}`}
              name="by"
              label="Decided by"
              required
            />
            <TextField
              form={form}
              id={`reason-${conflict.key}`}
              name="reason"
              label="Reason"
              required
              className="w-80"
            />
          </div>
        </Form>
      )}
      {undo.error && (
        <p role="alert" className="text-madder">
          {undo.error.message}
        </p>
      )}
    </article>
  );
}
