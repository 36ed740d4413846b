import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useRef } from "react";
import { api, type Case, type Conflict, take } from "~/api/client";
import { figure, told, unitText } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { sessionQuery } from "~/shared/queries";
import { moved } from "~/shared/rails/scale";
import { Button, TextInput } from "~/ui";
import { Select } from "~/ui/Select";
import { type Draft, type End, type Limit, topOf } from "./limits";

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
  /** The end is taken away altogether. */
  away: boolean;
  by: string;
  reason: string;
}

/** Move an end of a window, with a reason and a name, or take that back. What is typed is drawn before it is kept. */
export function LimitForm({
  limit,
  current,
  end,
  onDraft,
}: {
  limit: Limit;
  current: Case;
  end: End | null;
  onDraft: (draft: Draft | null) => void;
}) {
  const refresh = useRefresh(current);
  const session = useQuery(sessionQuery);
  const decided = limit.origin.flatMap((o) => (o.decision ? [o.decision] : []));
  const set = useServerForm({
    defaults: { bound: "min", value: "", away: false, by: "", reason: "" } as NewBound,
    send: ({ bound, value, away, by, reason }: NewBound) =>
      decide(current, { key: limit.key, bound, value: away ? null : figure(value), by, reason }),
    onSaved: () => {
      onDraft(null);
      form.reset();
      void refresh();
    },
  });
  const { form } = set;
  const { errors } = form.formState;
  const bound = form.watch("bound");
  const away = form.watch("away");
  const name = session.data?.username ?? "";
  const box = useRef<HTMLInputElement | null>(null);
  const draw = (text: string, side: "min" | "max") =>
    onDraft({ key: limit.key, bound: side, value: text === "" ? null : figure(text) });
  const choose = (side: "min" | "max") => {
    form.setValue("bound", side);
    draw(form.getValues("value"), side);
  };
  const begun = useRef(0);
  useEffect(() => {
    if (!end || end.asked === begun.current) return;
    begun.current = end.asked;
    form.setValue("bound", end.bound);
    const now = end.bound === "min" ? (limit.min ?? limit.rail) : topOf(limit);
    if (end.value !== undefined) {
      form.setValue("value", String(end.value));
      onDraft({ key: limit.key, bound: end.bound, value: end.value });
    } else if (form.getValues("value") === "" && now !== null) {
      form.setValue("value", String(now));
    }
    box.current?.focus();
    box.current?.select();
  }, [end, form, limit, onDraft]);
  useEffect(() => () => onDraft(null), [onDraft]);
  const undo = useMutation({
    mutationFn: async () => {
      for (const decision of decided)
        await decide(current, { key: limit.key, bound: decision.bound, undo: true });
    },
    onSuccess: refresh,
  });
  const value = form.register("value", { onChange: (e) => draw(e.target.value, bound) });
  const step = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
    const now = figure(form.getValues("value"));
    if (now === null || Number.isNaN(now)) return;
    event.preventDefault();
    const next = String(moved(now, event.key === "ArrowUp", event.shiftKey));
    form.setValue("value", next);
    draw(next, bound);
  };
  return (
    <section aria-label="Move an end">
      <h3 className="font-semibold">Move an end</h3>
      {decided.length > 0 && (
        <p className="text-data">
          Decided by {[...new Set(decided.map((d) => `${d.by}: ${d.reason}`))].join("; ")}{" "}
          <Button kind="quiet" small busy={undo.isPending} onClick={() => undo.mutate()}>
            Take back
          </Button>
        </p>
      )}
      {undo.error && (
        <p role="alert" className="text-madder">
          {undo.error.message}
        </p>
      )}
      <Form
        of={set}
        className="mt-1 flex flex-col gap-2"
        actions={
          <Button type="submit" busy={set.pending}>
            Set
          </Button>
        }
      >
        <div className="flex flex-wrap items-end gap-2">
          <Select
            label={`Bound of ${limit.name}`}
            value={bound}
            onChange={(side) => choose(side)}
            options={[
              { id: "min", label: "at least" },
              { id: "max", label: "at most" },
            ]}
          />
          <TextInput
            {...value}
            ref={(element) => {
              value.ref(element);
              box.current = element;
            }}
            aria-label={`New bound of ${limit.name} per 1000 kcal`}
            aria-invalid={!!errors.value}
            placeholder={limit.unit === "ratio" ? "ratio" : unitText(limit.unit)}
            inputMode="decimal"
            required={!away}
            disabled={away}
            onKeyDown={step}
            className="w-28 text-right"
          />
          <TextInput
            {...form.register("by")}
            aria-label={`Who decides on ${limit.name}`}
            placeholder={`who decides: ${name}`}
            required
            className="w-44"
          />
        </div>
        <label className="flex items-center gap-2 text-data">
          <input type="checkbox" {...form.register("away")} className="accent-verdigris" />
          no limit there at all
        </label>
        {errors.value && (
          <p role="alert" className="text-data text-madder">
            {errors.value.message}
          </p>
        )}
        <TextInput
          {...form.register("reason")}
          aria-label={`Reason for ${limit.name}`}
          placeholder="reason, which stands in the vet's letter"
          required
          className="w-full"
        />
        {errors.reason && (
          <p role="alert" className="text-data text-madder">
            {errors.reason.message}
          </p>
        )}
      </Form>
    </section>
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
          <Button kind="quiet" busy={undo.isPending} onClick={() => undo.mutate()}>
            Take it back
          </Button>
        </p>
      ) : (
        <Form
          of={choose}
          className="flex flex-col gap-2"
          actions={
            <Button type="submit" disabled={!form.watch("option")} busy={choose.pending}>
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
