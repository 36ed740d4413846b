import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useNavigate } from "react-router";
import { api, take } from "~/api/client";
import { figureProblem } from "~/shared/amounts/boxes";
import { figure, figureText, spelled, told, unitText } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Button } from "~/ui";
import {
  type Column,
  columnId,
  columnOf,
  type Nutrient,
  printedText,
  type Window,
} from "./windows";

const BOUNDS = [
  ["min", "least"],
  ["base", "base"],
  ["max", "most"],
] as const;
type Read = Record<(typeof BOUNDS)[number][0], string>;

/** What every standard prints of one nutrient, each to be read off in its publication. */
export function Slips({
  nutrient,
  nutrients,
  columns,
  own,
  reading,
  read,
  onSigned,
  onClose,
}: {
  nutrient: Nutrient;
  nutrients: readonly Nutrient[];
  columns: readonly Column[];
  own: readonly string[];
  /** The column whose row is being read off. */
  reading: string | null;
  read: (column: string | null) => void;
  onSigned: (column: string) => void;
  onClose: () => void;
}) {
  return (
    <section aria-label={`${spelled(nutrient.name)}, as printed`}>
      <div className="flex items-baseline gap-3">
        <h2 className="flex-1">{spelled(nutrient.name)}</h2>
        <button type="button" className="underline" onClick={onClose}>
          Close
        </button>
      </div>
      {nutrient.apart != null && nutrient.apart > 1.005 && (
        <p className="text-data text-soft">
          The highest least is {figureText(nutrient.apart)} times the lowest.
        </p>
      )}
      {first(nutrient.windows, reading).map((w) => {
        const column = columnOf(columns, w);
        return (
          column && (
            <Slip
              key={columnId(w)}
              nutrient={nutrient}
              window={w}
              column={column}
              own={own.includes(w.standard)}
              bases={nutrients.some((n) =>
                n.windows.some((x) => columnId(x) === columnId(w) && x.printed.base != null),
              )}
              open={reading === columnId(w)}
              read={read}
              onSigned={onSigned}
            />
          )
        );
      })}
    </section>
  );
}

/** The windows with the one that is being read off on top. */
function first(windows: readonly Window[], reading: string | null): readonly Window[] {
  return windows.toSorted(
    (a, b) => Number(columnId(b) === reading) - Number(columnId(a) === reading),
  );
}

/** One standard's row as it is printed. */
function Slip({
  nutrient,
  window: w,
  column,
  own,
  bases,
  open,
  read,
  onSigned,
}: {
  nutrient: Nutrient;
  window: Window;
  column: Column;
  own: boolean;
  /** Whether this column prints a second, lower figure. */
  bases: boolean;
  open: boolean;
  read: (column: string | null) => void;
  onSigned: (column: string) => void;
}) {
  const client = useQueryClient();
  const takeBack = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/standards/{standard_id}/check", {
          params: { path: { standard_id: w.standard } },
          body: { stage: w.stage, key: nutrient.key, checked: false },
        }),
      ),
    onSuccess: () => forget(client, "standards"),
  });
  const bounds = BOUNDS.filter(([bound]) => bound !== "base" || bases);
  const unit = w.unit === "ratio" ? "" : ` ${unitText(w.unit)}`;
  const stands = bounds
    .map(([bound, label]) => {
      const value = printedText(w.printed[bound]);
      return value ? `${label} ${value}${unit}` : bound === "base" ? "" : `no ${label}`;
    })
    .filter(Boolean)
    .join(", ");
  return (
    <article className="mt-3 border-oak stile">
      <h3 className="font-semibold">
        {column.name}, {spelled(column.stage_name)}
      </h3>
      <p className="font-title text-part">{stands}</p>
      <p className="text-data text-soft">
        {column.table}. Recalled, confidence {w.confidence}
        {w.strength === "advised" && "; advised, nothing fails by it"}
        {w.note && `; ${told(w.note)}`}.
      </p>
      {w.checked ? (
        <p className="text-data">
          <b className="text-verdigris">Read off</b> {told(w.checked)}{" "}
          <button
            type="button"
            className="underline"
            aria-disabled={takeBack.isPending}
            onClick={() => takeBack.isPending || takeBack.mutate()}
          >
            Take it back
          </button>
          {takeBack.error && <span role="alert"> {takeBack.error.message}</span>}
        </p>
      ) : open ? (
        <ReadOff
          nutrient={nutrient}
          window={w}
          column={column}
          own={own}
          bounds={bounds}
          onSigned={onSigned}
          onClose={() => read(null)}
        />
      ) : (
        <button type="button" className="text-data underline" onClick={() => read(columnId(w))}>
          Read it off the print
          <span className="sr-only">
            : {column.name}, {column.stage_name}
          </span>
        </button>
      )}
    </article>
  );
}

/** What stands in the publication, typed from it: signed where it is what stands here. */
function ReadOff({
  nutrient,
  window: w,
  column,
  own,
  bounds,
  onSigned,
  onClose,
}: {
  nutrient: Nutrient;
  window: Window;
  column: Column;
  own: boolean;
  bounds: readonly (readonly [keyof Read, string])[];
  onSigned: (column: string) => void;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const go = useNavigate();
  const figures = (typed: Read) => ({
    min: figure(typed.min),
    base: figure(typed.base),
    max: figure(typed.max),
  });
  const sign = useServerForm({
    defaults: { min: "", base: "", max: "" } as Read,
    send: (typed: Read) =>
      take(
        api.POST("/api/standards/{standard_id}/check", {
          params: { path: { standard_id: w.standard } },
          body: { stage: w.stage, key: nutrient.key, checked: true, read: figures(typed) },
        }),
      ),
    onSaved: async () => {
      await forget(client, "standards");
      onSigned(columnId(w));
    },
  });
  const copy = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/standards", {
          body: {
            base: w.standard,
            name: `${column.name}, as read by us`,
            read: { stage: w.stage, key: nutrient.key, ...figures(sign.form.getValues()) },
          },
        }),
      ),
    onSuccess: async (made) => {
      await forget(client, "standards");
      notice(
        `${made.name} is made, with what you read. Choose it at a dog's Targets or in Practice.`,
      );
      onClose();
    },
  });
  const box = useRef<HTMLDivElement>(null);
  // The row that is read next has the focus.
  useEffect(() => box.current?.querySelector("input")?.focus(), []);
  // What the server says of a box: it was read otherwise than it stands here.
  const said = bounds.map(([bound]) => sign.form.formState.errors[bound]);
  const differs = said.some((error) => error && error.type === undefined);
  return (
    <div ref={box} className="mt-1">
      <Form
        of={sign}
        className="flex flex-wrap items-end gap-2"
        actions={
          <>
            <Button type="submit" kind="solid">
              Sign it<kbd>Enter</kbd>
            </Button>
            <Button kind="quiet" onClick={onClose}>
              Not now
            </Button>
          </>
        }
      >
        {bounds.map(([bound, label]) => (
          <TextField
            key={bound}
            form={sign.form}
            id={`read-${bound}`}
            name={bound}
            label={`Printed ${label}`}
            figure
            rules={{ validate: (text) => figureProblem(text, 0, true) || true }}
            autoComplete="off"
          />
        ))}
      </Form>
      <p className="text-data text-soft">
        {w.unit === "ratio" ? "" : `In ${unitText(w.unit)} per 1000 kcal. `}Leave empty what it does
        not print. In this table {told(column.words)}.
      </p>
      {differs && !own && (
        <p className="mt-1">
          <Button onClick={() => copy.isPending || copy.mutate()} busy={copy.isPending}>
            Copy {column.name} with what I read
          </Button>
          {copy.error && <span role="alert"> {copy.error.message}</span>}
        </p>
      )}
      {differs && own && (
        <p className="mt-1">
          <Button onClick={() => go("/standards?view=table")}>Change it in the table</Button>
        </p>
      )}
    </div>
  );
}
