import { useState } from "react";
import type { Weighed } from "~/api/client";
import { Button, Field, TextInput } from "~/ui";
import type { useDeciding } from "./ConcernList";

/** Say why something may stay as it is; where only the vet can say so, whose written decision it is. */
export function DecideForm({
  rows,
  deciding,
  onDone,
  onCancel,
}: {
  rows: readonly Weighed[];
  deciding: ReturnType<typeof useDeciding>;
  onDone: () => void;
  onCancel: () => void;
}) {
  const vets = rows.some((w) => w.concern.settle === "vet");
  const [reason, setReason] = useState("");
  const [name, setName] = useState("");
  const [licence, setLicence] = useState("");
  const [on, setOn] = useState("");
  const { decide } = deciding;
  const id = `decide-${rows[0]?.concern.key.slice(0, 12)}`;
  return (
    <form
      aria-label={rows.length === 1 ? `Decide: ${rows[0]?.concern.what}` : "Decide the chosen"}
      className="mt-1.5 flex flex-col gap-2 border-oak stile"
      onSubmit={(event) => {
        event.preventDefault();
        const vet = vets ? { name, licence, on } : null;
        if (vets && on === "") return;
        decide.mutate({ concerns: rows, reason, vet }, { onSuccess: onDone });
      }}
    >
      <Field
        id={id}
        label={vets ? "What the vet wrote" : "Why it may stay as it is"}
        hint={
          vets
            ? "Only with the vet's decision in writing. It is shown to the vet again before anything is signed."
            : undefined
        }
      >
        <textarea
          id={id}
          rows={2}
          maxLength={400}
          required
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          className="max-w-xl rounded-corner border border-edge bg-sheet px-2 py-1"
        />
      </Field>
      {vets && (
        <div className="flex flex-wrap gap-3">
          <Field id={`${id}-name`} label="Name of the vet">
            <TextInput
              id={`${id}-name`}
              required
              maxLength={120}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </Field>
          <Field id={`${id}-licence`} label="Licence number">
            <TextInput
              id={`${id}-licence`}
              required
              maxLength={120}
              value={licence}
              onChange={(e) => setLicence(e.target.value)}
              className="w-36"
            />
          </Field>
          <Field id={`${id}-on`} label="Written on">
            <TextInput
              id={`${id}-on`}
              type="date"
              required
              value={on}
              onChange={(e) => setOn(e.target.value)}
            />
          </Field>
        </div>
      )}
      {decide.error && (
        <p role="alert" className="text-madder">
          {decide.error.message}
        </p>
      )}
      <p className="flex gap-2">
        <Button type="submit" kind="solid" busy={decide.isPending}>
          {rows.length > 1 ? `Record it for ${rows.length}` : "Record the decision"}
        </Button>
        <Button kind="quiet" onClick={onCancel}>
          Cancel
        </Button>
      </p>
    </form>
  );
}
