import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ApiError, api, take } from "~/api/client";
import { number, percent, rangeOf, sharesOf, spelled, told, unitText } from "~/shared/format";
import { Button, Dialog, Field, TextInput } from "~/ui";
import { type BenchLine, lineOf } from "./editor";

const EXAMPLES = [
  "1/2 tsp eggshell powder per pound of meat",
  "1 fish oil capsule per 10 kg",
  "at most 1 tsp of oil a meal",
  "a third of a cup per 5 kg at each meal",
  "2-3 % of body weight a day",
  "5 % liver",
];

const MOST_UNKNOWN = 3;

/** A rule of thumb as people say it: what it comes to here, and a line of it if that is wanted. */
export function ThumbDialog({
  recipeId,
  typed,
  onAdd,
  onClose,
}: {
  recipeId: number;
  typed: string;
  onAdd: (line: BenchLine) => void;
  onClose: () => void;
}) {
  const [rule, setRule] = useState("");
  const judged = useMutation({
    mutationFn: (text: string) =>
      take(
        api.POST("/api/recipes/{id}/thumb", {
          params: { path: { id: recipeId } },
          body: { ...JSON.parse(typed), rule: text },
        }),
      ),
  });
  function judge(text: string) {
    setRule(text);
    if (text.trim()) judged.mutate(text.trim());
  }
  function submit(event: FormEvent) {
    event.preventDefault();
    judge(rule);
  }
  const { dose, portion } = judged.data ?? {};
  const { error } = judged;
  const field = error instanceof ApiError && error.field ? `The ${error.field} ` : "";
  const beyond = dose?.reaches.some((r) => (r.with_limit ?? 0) > 1);
  return (
    <Dialog open wide onClose={onClose} title="Judge a rule of thumb">
      <div className="flex min-h-80 flex-col gap-3">
        <form onSubmit={submit}>
          <Field
            id="thumb-rule"
            label="The rule, as it was said"
            error={error ? `${field}${error.message}` : undefined}
          >
            <div className="flex gap-2">
              <TextInput
                id="thumb-rule"
                className="flex-1"
                value={rule}
                maxLength={200}
                onChange={(e) => setRule(e.target.value)}
              />
              <Button kind="solid" type="submit" disabled={!rule.trim()} busy={judged.isPending}>
                {judged.isPending ? "Judging…" : "Judge it"}
              </Button>
            </div>
          </Field>
        </form>
        {!judged.data && !error && (
          <ul aria-label="Examples" className="flex flex-col items-start gap-1 text-soft">
            {EXAMPLES.map((text) => (
              <li key={text}>
                <button type="button" className="hover:underline" onClick={() => judge(text)}>
                  “{text}”
                </button>
              </li>
            ))}
          </ul>
        )}
        {portion && (
          <p>
            That is <b>{rangeOf(portion)} a day</b>: {sharesOf(portion)} of what the dog needs. A
            cup of food differs by a third with how it is chopped, and a dog by half with how it
            lives: weigh both.
          </p>
        )}
        {dose && (
          <section aria-label="What it comes to" className="flex flex-col gap-2">
            <p>
              {dose.most ? "At most " : ""}
              <b>
                {told(dose.quantity)} {spelled(dose.name)}
              </b>{" "}
              in this batch ({told(dose.told_for)}).{" "}
              <span className="text-soft">{told(dose.guessed.join("; "))}</span>
            </p>
            {dose.reaches.length > 0 && (
              <table className="w-full">
                <thead>
                  <tr className="border-line border-b text-data text-soft">
                    <th className="text-left font-normal">Nutrient</th>
                    <th className="text-right font-normal">a day</th>
                    <th className="text-right font-normal">of the need</th>
                    <th className="text-right font-normal">with the recipe</th>
                    <th className="text-right font-normal">of the most there may be</th>
                  </tr>
                </thead>
                <tbody>
                  {dose.reaches.map((r) => (
                    <tr key={r.key} className="border-line border-b">
                      <td>{spelled(r.name)}</td>
                      <td className="text-right">
                        {number(r.per_day, 2)} {unitText(r.unit)}
                      </td>
                      <td className="text-right">{percent(r.need)}</td>
                      <td className="text-right">{percent(r.with_need)}</td>
                      <td
                        className={`text-right ${(r.with_limit ?? 0) > 1 ? "font-semibold text-madder" : ""}`}
                      >
                        {percent(r.with_limit)}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            {dose.unknown.length > 0 && (
              <p className="border-madder stile">
                Not known of it: {dose.unknown.slice(0, MOST_UNKNOWN).map(spelled).join(", ")}
                {dose.unknown.length > MOST_UNKNOWN &&
                  ` and ${dose.unknown.length - MOST_UNKNOWN} more`}
                . Read its pack before it is given.
              </p>
            )}
            <p>
              On the wall: <b className="font-semibold">{told(dose.effect.words)}</b>.
            </p>
            {beyond && (
              <p role="alert" className="border-madder stile text-madder">
                With this recipe it goes over what there may be.
              </p>
            )}
            <div className="flex gap-2">
              <Button
                onClick={() =>
                  onAdd(
                    lineOf({
                      food: dose.food,
                      name: dose.name,
                      methods: dose.methods,
                      text: dose.quantity,
                      note: dose.rule,
                    }),
                  )
                }
              >
                Put it in as a line
              </Button>
              <Button kind="quiet" onClick={onClose}>
                Leave it
              </Button>
            </div>
          </section>
        )}
      </div>
    </Dialog>
  );
}
