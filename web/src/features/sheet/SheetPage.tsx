import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, type OwnersSheet, take } from "~/api/client";
import { day, spelled } from "~/shared/format";
import { Form } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { newKey } from "~/shared/newKey";
import { Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Written } from "~/shared/Written";
import { Button } from "~/ui";

type Question = OwnersSheet["questions"][number];
type Chosen = Question["chosen"][number];

const MOST = 1000;
const LINES = 2;
const CHOSEN_WORDS: Record<Chosen, string> = { "": "not said", yes: "Yes", no: "No", none: "None" };

/** The owner's own sheet about her dog, for a phone: no account, nothing of the record. */
export default function SheetPage() {
  const { token = "" } = useParams();
  const found = useQuery({
    queryKey: keyOf("sheet", token),
    queryFn: () => take(api.GET("/api/sheet/{token}", { params: { path: { token } } })),
    retry: false,
  });
  if (found.isPending) return <Loading what="the page" />;
  if (!found.data)
    return <Problem what="the page" error={found.error} retry={() => found.refetch()} />;
  return (
    <Written by={found.data.conventions}>
      <SheetOf sheet={found.data} token={token} />
    </Written>
  );
}

interface Typed {
  key: string;
  words: Record<string, string>;
  chosen: Record<string, Chosen>;
}

function SheetOf({ sheet, token }: { sheet: OwnersSheet; token: string }) {
  const client = useQueryClient();
  const [sent, setSent] = useState(false);
  useTitle(`About ${sheet.dog}`);
  const empty = Object.fromEntries(sheet.questions.map((q) => [q.id, ""] as const));
  const fresh = (): Typed => ({
    key: `s-${newKey()}${newKey()}`,
    words: { ...empty },
    chosen: { ...empty } as Record<string, Chosen>,
  });
  const form = useServerForm({
    keptAs: `sheet-${token.slice(0, 16)}`,
    defaults: fresh(),
    send: (typed: Typed) =>
      take(
        api.POST("/api/sheet/{token}", {
          params: { path: { token } },
          body: { key: typed.key, answers: answersOf(sheet.questions, typed) },
        }),
      ),
    onSaved: (seen) => {
      form.form.reset(fresh());
      client.setQueryData(keyOf("sheet", token), seen);
      setSent(true);
      scrollTo(0, 0);
    },
  });
  const places = [...new Set(sheet.questions.map((q) => q.place))];
  return (
    <main className="mx-auto flex w-full max-w-xl flex-col gap-4 p-4">
      <h1>About {sheet.dog}</h1>
      {sent && (
        <p role="status" className="border-verdigris stile">
          It is sent to {sheet.practice}. Thank you. You can send more below.
        </p>
      )}
      <p className="text-soft">
        Write what you know in your own words, and leave the rest empty. {sheet.practice} looks
        through it with you before anything is worked out.
        {sheet.sent &&
          !sent &&
          ` You sent a sheet on ${day(sheet.sent)}; what you send now is added.`}
      </p>
      <p className="border-madder stile">
        Do not wait for an answer here where something is wrong: vomiting twice in a day, blood, a
        swollen face, hard breathing, collapse, no food for a day. Call your veterinarian.
      </p>
      <Form
        of={form}
        className="flex flex-col gap-6"
        actions={
          <Button kind="solid" type="submit" busy={form.pending} className="h-12 px-5 text-part">
            Send it to {sheet.practice}
          </Button>
        }
      >
        {places.map((place) => (
          <section key={place} aria-label={place} className="flex flex-col gap-4">
            <h2 className="border-ink border-b-2">{place}</h2>
            {sheet.questions
              .filter((q) => q.place === place)
              .map((q) => (
                <Answer key={q.id} question={q} form={form.form} />
              ))}
          </section>
        ))}
      </Form>
    </main>
  );
}

type FormOf = ReturnType<typeof useServerForm<Typed, OwnersSheet>>["form"];

function Answer({ question: q, form }: { question: Question; form: FormOf }) {
  const chosen = form.watch(`chosen.${q.id}`) ?? "";
  const error = form.formState.errors.words?.[q.id]?.message;
  const ask = spelled(q.ask);
  return (
    <div className="flex flex-col gap-1.5" data-question={q.id}>
      {q.plain ? (
        <p className="font-medium text-part">{ask}</p>
      ) : (
        <label htmlFor={`sheet-${q.id}`} className="font-medium text-part">
          {ask}
        </label>
      )}
      {q.hint && <p className="text-soft">{spelled(q.hint)}</p>}
      {!q.plain && (
        <textarea
          {...form.register(`words.${q.id}`, {
            maxLength: { value: MOST, message: `Too long: at most ${MOST} letters fit.` },
          })}
          id={`sheet-${q.id}`}
          rows={LINES}
          aria-invalid={!!error}
          disabled={chosen === "none"}
          className="w-full rounded-corner border border-edge bg-sheet p-2 text-part aria-[invalid=true]:border-madder disabled:opacity-50"
        />
      )}
      {error && (
        <p role="alert" className="text-madder">
          {error}
        </p>
      )}
      {q.chosen.length > 0 && (
        <fieldset className="flex flex-wrap gap-2">
          <legend className="sr-only">{ask}</legend>
          {q.chosen.map((c) => (
            <button
              key={c}
              type="button"
              aria-pressed={chosen === c}
              onClick={() => form.setValue(`chosen.${q.id}`, chosen === c ? "" : c)}
              className={`h-11 min-w-20 rounded-corner border px-4 text-part ${chosen === c ? "border-ink bg-ink text-sheet" : "border-edge bg-sheet hover:border-soft"}`}
            >
              {CHOSEN_WORDS[c]}
            </button>
          ))}
        </fieldset>
      )}
    </div>
  );
}

function answersOf(questions: readonly Question[], typed: Typed) {
  return questions.flatMap((q) => {
    const chosen = typed.chosen[q.id] ?? "";
    const words = chosen === "none" ? "" : (typed.words[q.id] ?? "").trim();
    return words === "" && chosen === "" ? [] : [{ id: q.id, words, chosen }];
  });
}
