import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useRef, useState } from "react";
import { api, type Food, take } from "~/api/client";
import { spelled, unitText } from "~/shared/format";
import { Button, Dialog, Field, TextInput } from "~/ui";

/** What must be known before a food goes in: its label's strength, or why it is let in incomplete. */
export function AskBeforeAdding({
  food,
  onClose,
  onDone,
}: {
  food: Food;
  onClose: () => void;
  onDone: (override: string) => void;
}) {
  const [strengths, setStrengths] = useState<Record<string, string>>({});
  const [reason, setReason] = useState("");
  // Once the food is in, the keyboard goes on in its amount.
  const done = useRef(false);
  const save = useMutation({
    mutationFn: async () => {
      if (food.questions.length === 0) return;
      await take(
        api.PATCH("/api/foods/{food_id}", {
          params: { path: { food_id: food.id } },
          body: {
            changes: food.questions.map((q) => ({
              path: `strengths.${q.tag}`,
              value: strengths[q.tag] ?? "",
              was: null,
            })),
          },
        }),
      );
    },
    onSuccess: () => {
      done.current = true;
      onDone(reason);
    },
  });
  function submit(event: FormEvent) {
    event.preventDefault();
    save.mutate();
  }
  return (
    <Dialog
      open
      onClose={onClose}
      title={spelled(food.name)}
      onClosed={(event) => done.current && event.preventDefault()}
    >
      <form onSubmit={submit} className="flex flex-col gap-3">
        {food.questions.length > 0 && (
          <p>The strength of this supplement differs by product. Read it from the pack in hand.</p>
        )}
        {food.questions.map((q) => (
          <Field
            key={q.tag}
            id={`ask-${q.tag}`}
            label={`${NAMES[q.tag] ?? q.tag}, ${unitText(q.unit)} per ${q.per}`}
          >
            <TextInput
              id={`ask-${q.tag}`}
              inputMode="decimal"
              required
              value={strengths[q.tag] ?? ""}
              onChange={(e) => setStrengths({ ...strengths, [q.tag]: e.target.value })}
              className="w-40 text-right"
            />
          </Field>
        ))}
        {food.incomplete.length > 0 && (
          <Field
            id="ask-reason"
            label="Why use it all the same?"
            hint={`Not fully analysed for ${food.incomplete.join(", ")}; this case is strict about that.`}
          >
            <TextInput
              id="ask-reason"
              required
              value={reason}
              onChange={(e) => setReason(e.target.value)}
            />
          </Field>
        )}
        {save.error && (
          <p role="alert" className="text-madder">
            {save.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button kind="solid" type="submit" busy={save.isPending}>
            Add
          </Button>
          <Button onClick={onClose}>Leave it out</Button>
        </div>
      </form>
    </Dialog>
  );
}

const NAMES: Record<string, string> = { ID: "Iodine", F20D5N3: "EPA", F22D6N3: "DHA" };
