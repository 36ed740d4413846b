import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, type LabReport as Report, take } from "~/api/client";
import { number, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { newKey } from "~/shared/newKey";
import { Button, Field, TextInput } from "~/ui";

type Line = Report["read"][number];

/** A laboratory report, pasted: what was read of it stands beside its own words, what was not says why; nothing is kept before
 * it was looked at. */
export function LabReport({
  caseId,
  onDone,
  onKept,
}: {
  caseId: number;
  onDone: () => void;
  /** So many values were put down. */
  onKept: (values: number) => void;
}) {
  const id = useId();
  const client = useQueryClient();
  const [text, setText] = useState("");
  const [date, setDate] = useState("");
  const [laboratory, setLaboratory] = useState("");
  const [left, setLeft] = useState<readonly string[]>([]);
  // What is sent again after a lost answer is the same report.
  const [key] = useState(newKey);
  const reading = useMutation({
    mutationFn: () => take(api.POST("/api/lab-report", { body: { text, date } })),
    onSuccess: () => setLeft([]),
  });
  const report = reading.data;
  const taken = (report?.read ?? []).filter((line) => !left.includes(line.text));
  const keeping = useMutation({
    mutationFn: async (lines: readonly Line[]) => {
      for (const line of lines)
        await take(
          api.POST("/api/cases/{id}/lab-values", {
            params: { path: { id: caseId } },
            body: {
              key: `report-${key}-${line.value.test}`.slice(0, 40),
              value: { ...line.value, laboratory },
            },
          }),
        );
      return lines.length;
    },
    onSuccess: (values) => {
      onKept(values);
      onDone();
    },
    onSettled: () => client.invalidateQueries({ queryKey: keyOf("follow", caseId) }),
  });
  const error = reading.error ?? keeping.error;
  return (
    <section aria-label="A pasted report" className="mt-2 flex max-w-3xl flex-col gap-3">
      <Field id={`${id}-text`} label="Text of the report">
        <textarea
          id={`${id}-text`}
          rows={6}
          value={text}
          placeholder={"Creatinine 142 µmol/L 44-159\nPotassium 4.9 mmol/L 3.5-5.8"}
          onChange={(e) => {
            setText(e.target.value);
            reading.reset();
          }}
          className="rounded-corner border border-edge bg-sheet p-2"
        />
      </Field>
      <div className="flex flex-wrap items-end gap-3">
        <Field id={`${id}-day`} label="Day of the sample" hint="3 Dec 2026">
          <TextInput
            id={`${id}-day`}
            value={date}
            onChange={(e) => {
              setDate(e.target.value);
              reading.reset();
            }}
            className="w-36"
          />
        </Field>
        <Field id={`${id}-laboratory`} label="Laboratory" hint="if it is named">
          <TextInput
            id={`${id}-laboratory`}
            value={laboratory}
            onChange={(e) => setLaboratory(e.target.value)}
            className="w-44"
          />
        </Field>
        <Button
          kind={report ? "plain" : "solid"}
          disabled={text.trim() === ""}
          busy={reading.isPending}
          onClick={() => reading.mutate()}
        >
          {reading.isPending ? "Reading…" : "Read it"}
        </Button>
        <Button kind="quiet" onClick={onDone}>
          Close
        </Button>
      </div>
      {error && (
        <p role="alert" className="border-madder stile">
          {error.message}.
        </p>
      )}
      {report && (
        <>
          <ul aria-label="Read" className="border-line border-t">
            {report.read.map((line) => (
              <li key={line.text} className="border-line border-b py-1">
                <label className="flex flex-wrap items-baseline gap-x-3">
                  <input
                    type="checkbox"
                    className="accent-verdigris"
                    checked={!left.includes(line.text)}
                    onChange={(e) =>
                      setLeft(
                        e.target.checked
                          ? left.filter((t) => t !== line.text)
                          : [...left, line.text],
                      )
                    }
                  />
                  <b className="w-44 font-semibold">{line.name}</b>
                  <span className="w-32">
                    {printed(line.value.value)} {told(line.value.unit ?? "")}
                  </span>
                  <span className="w-32 text-soft">{rangeOf(line)}</span>
                  <span className="min-w-0 flex-1 text-data text-soft [overflow-wrap:anywhere]">
                    {line.text}
                  </span>
                </label>
              </li>
            ))}
          </ul>
          {report.unread.length > 0 && (
            <section aria-label="Not read">
              <h3 className="font-semibold">Not read: {report.unread.length}</h3>
              <ul>
                {report.unread.map((line, i) => (
                  <li key={`${line.text}-${i}`} className="border-line border-b py-1">
                    <span className="[overflow-wrap:anywhere]">{line.text}</span>:{" "}
                    <span className="text-soft">{told(line.why)}</span>
                  </li>
                ))}
              </ul>
            </section>
          )}
          <div>
            <Button
              kind="solid"
              disabled={taken.length === 0}
              busy={keeping.isPending}
              onClick={() => keeping.mutate(taken)}
            >
              {taken.length === 1 ? "Put 1 value down" : `Put ${taken.length} values down`}
            </Button>
          </div>
          <p className="text-data text-soft">
            What a value means is for the veterinarian. Look at each beside the report: a line that
            was read wrongly is left out here.
          </p>
        </>
      )}
    </section>
  );
}

function printed(value: number): string {
  return number(value, String(value).split(".")[1]?.length ?? 0);
}

function rangeOf({ value }: Line): string {
  if (value.low != null && value.high != null)
    return `${printed(value.low)} to ${printed(value.high)}`;
  if (value.high != null) return `at most ${printed(value.high)}`;
  return value.low != null ? `at least ${printed(value.low)}` : "no range";
}
