import { useQueryClient } from "@tanstack/react-query";
import { api, type FollowEntryIn, take } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { figure } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget } from "~/shared/keys";
import { newKey } from "~/shared/newKey";
import { Button } from "~/ui";

function today(): string {
  const now = new Date();
  const two = (n: number) => String(n).padStart(2, "0");
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}

const BLANK = {
  date: "",
  weight_kg: "",
  scale: "",
  kcal_fed: "",
  left_percent: "",
  extra_kcal: "",
  body_condition: "",
  stool: "",
  itch: "",
  vomiting: "",
  appetite_percent: "",
  changed: "",
  note: "",
};

/** A bare figure is in the unit in which the client’s dogs are weighed. */
function weightText(typed: string): string | null {
  const text = typed.trim();
  if (text === "") return null;
  return /^[\d\s.,/]+$/.test(text) ? `${text} ${conventions().body}` : text;
}

/** Put down a day: a weight, what was fed, scores, what was changed. */
export function PutDown({ caseId }: { caseId: number }) {
  const client = useQueryClient();
  const form = useServerForm({
    keptAs: `follow-${caseId}`,
    defaults: { ...BLANK, date: today() },
    send: (typed: typeof BLANK) => {
      const entry = {
        date: typed.date,
        // Read on the server, with its unit.
        weight_kg: weightText(typed.weight_kg) as unknown as number | null,
        scale: typed.scale,
        kcal_fed: figure(typed.kcal_fed),
        left_percent: figure(typed.left_percent),
        extra_kcal: figure(typed.extra_kcal),
        body_condition: figure(typed.body_condition),
        stool: figure(typed.stool),
        itch: figure(typed.itch),
        vomiting: figure(typed.vomiting),
        appetite_percent: figure(typed.appetite_percent),
        changed: typed.changed,
        note: typed.note,
      } satisfies FollowEntryIn;
      return take(
        api.POST("/api/cases/{id}/follow-entries", {
          params: { path: { id: caseId } },
          body: { key: `d-${newKey()}${newKey()}`, entry },
        }),
      );
    },
    onSaved: () => {
      form.form.reset({ ...BLANK, date: today() });
      return forget(client, "follow");
    },
  });
  const box = { form: form.form };
  return (
    <section aria-label="Put down a day">
      <h3 className="font-semibold">Put down a day</h3>
      <Form
        of={form}
        className="mt-1 flex flex-col gap-3"
        actions={
          <>
            <Button kind="solid" type="submit" disabled={form.pending}>
              Put it down
            </Button>
            {form.saved && <span role="status">It is put down.</span>}
          </>
        }
      >
        <TextField {...box} name="date" label="Day" hint="2026-11-28" required className="w-36" />
        <div className="flex flex-wrap gap-3">
          <TextField {...box} name="weight_kg" label={`Weight, ${conventions().body}`} figure />
          <TextField {...box} name="kcal_fed" label="Fed, kcal" hint="empty: the plan" figure />
        </div>
        <div className="flex flex-wrap gap-3">
          <TextField {...box} name="left_percent" label="Left in the bowl, %" figure />
          <TextField {...box} name="extra_kcal" label="Treats, kcal" figure />
        </div>
        <div className="flex flex-wrap gap-3">
          <TextField {...box} name="body_condition" label="Condition, of 9" figure />
          <TextField {...box} name="stool" label="Stool, 1 to 7" figure />
          <TextField {...box} name="itch" label="Itch, 0 to 10" figure />
          <TextField {...box} name="vomiting" label="Vomited, times" figure />
          <TextField {...box} name="appetite_percent" label="Eaten of it, %" figure />
          <TextField {...box} name="scale" label="Scale, if another" className="w-28" />
        </div>
        <TextField {...box} name="changed" label="Left out or swapped" maxLength={300} />
        <TextField {...box} name="note" label="Note" maxLength={300} />
      </Form>
    </section>
  );
}
