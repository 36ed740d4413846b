import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type PracticeText, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Loading, Problem } from "~/shared/states";
import { Button, Dialog, Field } from "~/ui";

const KEY = keyOf("texts");
const PLACES = ["{dog}", "{owner}", "{practice}", "{consultant}", "{today}"];

/** Texts that are written again and again. */
export function Texts() {
  const client = useQueryClient();
  const [open, setOpen] = useState<PracticeText | "new" | null>(null);
  const found = useQuery({ queryKey: KEY, queryFn: () => take(api.GET("/api/texts")) });
  const put = (texts: PracticeText[]) => {
    client.setQueryData(KEY, texts);
    void client.invalidateQueries({ queryKey: KEY });
  };
  const drop = useMutation({
    mutationFn: (text: PracticeText) =>
      take(api.DELETE("/api/texts/{id}", { params: { path: { id: text.id } } })),
    onSuccess: (texts, { name, text }) => {
      put(texts);
      notice(`“${name}” is taken away.`, {
        action: {
          label: "Take it back",
          onClick: () =>
            void take(api.POST("/api/texts", { body: { name, text } })).then(put, (error: Error) =>
              notice(error.message),
            ),
        },
      });
    },
    onError: (error) => notice(error.message),
  });
  return (
    <section id="texts" aria-label="Texts" className="mt-8 scroll-mt-4">
      <div className="flex items-center gap-3 border-line border-b pb-1">
        <h2>Texts</h2>
        <Button small className="ml-auto" onClick={() => setOpen("new")}>
          New text
        </Button>
      </div>
      <p className="my-2 max-w-prose text-soft">
        What you write again and again: to an owner, to a vet, on an invoice. They stand under “Your
        texts” wherever you write. {PLACES.join(", ")} are filled in.
      </p>
      {found.isPending ? (
        <Loading what="the texts" />
      ) : found.data === undefined ? (
        <Problem what="the texts" error={found.error} retry={() => found.refetch()} />
      ) : found.data.length === 0 ? (
        <p className="text-soft">None yet.</p>
      ) : (
        <ul>
          {found.data.map((text) => (
            <li
              key={text.id}
              className="flex flex-wrap items-baseline gap-x-4 border-line border-b py-1.5"
            >
              <button
                type="button"
                className="font-semibold underline underline-offset-2"
                onClick={() => setOpen(text)}
              >
                {text.name}
              </button>
              <span className="min-w-0 flex-1 truncate text-soft">{text.text}</span>
              <button
                type="button"
                className="text-data underline"
                aria-label={`Take away: ${text.name}`}
                onClick={() => drop.mutate(text)}
              >
                Take away
              </button>
            </li>
          ))}
        </ul>
      )}
      {open && (
        <TextDialog
          text={open === "new" ? null : open}
          onClose={() => setOpen(null)}
          onKept={put}
        />
      )}
    </section>
  );
}

function TextDialog({
  text,
  onClose,
  onKept,
}: {
  text: PracticeText | null;
  onClose: () => void;
  onKept: (texts: PracticeText[]) => void;
}) {
  const keeping = useServerForm({
    keptAs: `text-${text?.id ?? "new"}`,
    defaults: { name: text?.name ?? "", text: text?.text ?? "" },
    send: (body: { name: string; text: string }) =>
      text
        ? take(
            api.PUT("/api/texts/{id}", {
              params: { path: { id: text.id } },
              body: { ...body, version: text.version },
            }),
          )
        : take(api.POST("/api/texts", { body })),
    onSaved: (texts) => {
      onKept(texts);
      onClose();
    },
  });
  const { form } = keeping;
  return (
    <Dialog open onClose={onClose} title={text ? `Text: ${text.name}` : "New text"}>
      <Form
        of={keeping}
        actions={
          <>
            <Button kind="solid" type="submit" busy={keeping.pending}>
              Keep it
            </Button>
            <Button
              onClick={() => {
                keeping.forget();
                onClose();
              }}
            >
              Cancel
            </Button>
          </>
        }
      >
        <TextField
          form={form}
          id="text-name"
          name="name"
          label="Name"
          required
          maxLength={80}
          className="w-full"
        />
        <Field
          id="text-text"
          label="Text"
          hint={`Filled in: ${PLACES.join(" ")}`}
          error={form.formState.errors.text?.message}
        >
          <textarea
            id="text-text"
            rows={8}
            maxLength={4000}
            required
            {...form.register("text")}
            className="rounded-corner border border-edge bg-sheet px-2 py-1"
          />
        </Field>
      </Form>
    </Dialog>
  );
}
