import { useQueryClient } from "@tanstack/react-query";
import { api, type Case, take } from "~/api/client";
import { today } from "~/shared/days";
import { day } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { Button } from "~/ui";

/** Begin a trial: what is to settle, what alone is fed, what is never tried. */
export function BeginTrial({ current, onDone }: { current: Case; onDone: () => void }) {
  const client = useQueryClient();
  const form = useServerForm({
    keptAs: `trial-new-${current.id}`,
    defaults: {
      kind: "skin" as "skin" | "gut",
      started: day(today()),
      diet: "",
      old_diet: "",
      severe: "",
    },
    send: (typed: {
      kind: "skin" | "gut";
      started: string;
      diet: string;
      old_diet: string;
      severe: string;
    }) =>
      take(
        api.POST("/api/cases/{id}/trials", {
          params: { path: { id: current.id } },
          body: { plan: { ...typed, diet: parted(typed.diet), severe: parted(typed.severe) } },
        }),
      ),
    onSaved: (seen) => {
      client.setQueryData(keyOf("follow", current.id), seen);
      onDone();
    },
  });
  return (
    <Form
      of={form}
      className="mt-2 flex max-w-xl flex-col gap-3 border-ink stile"
      actions={
        <>
          <Button kind="solid" type="submit" busy={form.pending}>
            Begin the baseline
          </Button>
          <Button kind="quiet" onClick={onDone}>
            Cancel
          </Button>
        </>
      }
    >
      <p>
        First a week or two on what is fed now, with itch and stool put down each day. Parasites and
        infections are treated before; a growing or ill dog needs a complete diet throughout. The
        veterinarian goes along.
      </p>
      <fieldset className="flex flex-wrap gap-4">
        <legend className="font-medium">What is it to settle?</legend>
        <label className="flex items-center gap-1.5">
          <input type="radio" value="skin" {...form.form.register("kind")} /> skin: 8 weeks, by itch
        </label>
        <label className="flex items-center gap-1.5">
          <input type="radio" value="gut" {...form.form.register("kind")} /> gut: 2 to 4 weeks, by
          stool
        </label>
      </fieldset>
      <TextField
        form={form.form}
        name="started"
        label="First day of the baseline"
        required
        className="w-36"
      />
      <TextField
        form={form.form}
        name="diet"
        label="What alone is fed"
        hint="One protein, one starch; parted by commas"
        required
      />
      <TextField form={form.form} name="old_diet" label="What was fed before" maxLength={120} />
      <TextField
        form={form.form}
        name="severe"
        label="Foods after which it swelled or collapsed"
        hint="Never given back; parted by commas"
      />
    </Form>
  );
}

function parted(text: string): string[] {
  return text
    .split(",")
    .map((part) => part.trim())
    .filter((part) => part !== "");
}
