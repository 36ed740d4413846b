import { useMutation, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, type StandardFull, type StandardRowIn, take } from "~/api/client";
import { figureProblem, SettledBox } from "~/shared/amounts/boxes";
import { figure, number, unitText } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { standardsQuery } from "~/shared/queries";
import { draftOf } from "~/shared/saving/drafts";
import { SavingNote, UndoRedo } from "~/shared/saving/SavingNote";
import { useDraft } from "~/shared/saving/useDraft";
import { Loading, Problem } from "~/shared/states";
import { Button, Sideways } from "~/ui";
import { Select } from "~/ui/Select";

const fullQuery = (id: string) => ({
  queryKey: keyOf("standard", id),
  queryFn: () =>
    take(api.GET("/api/standards/{standard_id}", { params: { path: { standard_id: id } } })),
  enabled: id !== "",
});

type Row = StandardFull["rows"][number];

/** A row as it is sent: what was printed, without what follows from it. */
function rowIn({ stage, key, unit, min, base, max, confidence, note }: Row): StandardRowIn {
  return { stage, key, unit, min, base, max, confidence, note };
}

/** A copy of a published standard that the practice may edit. */
function CopyForm({ base, onCopied }: { base: string; onCopied: (made: StandardFull) => void }) {
  const copy = useServerForm({
    defaults: { name: "" },
    send: ({ name }: { name: string }) =>
      take(api.POST("/api/standards", { body: { base, name } })),
    onSaved: onCopied,
  });
  return (
    <Form of={copy} className="flex items-end gap-2" actions={<Button type="submit">Copy</Button>}>
      <TextField form={copy.form} id="copy-name" name="name" label="Copy to edit, named" required />
    </Form>
  );
}

/** One standard row by row, beside another: to look up, to copy and edit, to bring in and take out. */
export function AsTable() {
  const client = useQueryClient();
  const list = useQuery(standardsQuery);
  const [left, setLeft] = useState("nrc-2006|adult");
  const [right, setRight] = useState("aafco-2016|adult");
  const chosen = [left, right].map((c) => c.split("|") as [string, string]);
  const [first, second] = useQueries({ queries: chosen.map(([id]) => fullQuery(id)) });
  const refresh = (saved: StandardFull) => {
    client.setQueryData(keyOf("standard", saved.id), saved);
    void forget(client, "standards");
  };
  const edit = useMutation({
    mutationFn: (body: { rows?: StandardRowIn[]; csv?: string }) =>
      take(
        api.PUT("/api/standards/{standard_id}", {
          params: { path: { standard_id: chosen[0]?.[0] ?? "" } },
          body: { ...body, version: first?.data?.version ?? null },
        }),
      ),
    // What was brought in is one undo, like an edit.
    onSuccess: (saved) => draftOf("standard", saved.id).took(saved),
    onError: (error) => {
      // What was saved meanwhile is shown; the file is brought in to that, or not.
      if (error instanceof ApiError && error.status === 409)
        refresh((error.body as { current: StandardFull }).current);
    },
  });
  const [broken, setBroken] = useState("");
  if (list.isPending || first?.isPending || second?.isPending)
    return <Loading what="the standards" />;
  const failed = list.error ?? first?.error ?? second?.error;
  if (failed || !list.data || !first?.data || !second?.data)
    return <Problem error={failed ?? new Error("Nothing came back.")} />;
  const options = list.data.flatMap((s) =>
    s.life_stages.map((stage) => ({
      id: `${s.id}|${stage.id}`,
      label: `${s.name}, ${stage.name}`,
    })),
  );
  const rows = first.data.rows.filter((r) => r.stage === chosen[0]?.[1]);
  const others = new Map(
    second.data.rows.filter((r) => r.stage === chosen[1]?.[1]).map((r) => [r.key, r]),
  );
  const own = first.data.own;
  const error = edit.error;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end gap-3">
        <Select
          label="Standard"
          value={left}
          onChange={setLeft}
          options={options}
          className="w-80"
        />
        <span className="pb-1.5 text-soft">beside</span>
        <Select
          label="Compare with"
          value={right}
          onChange={setRight}
          options={options}
          className="w-80"
        />
        <a className="pb-1.5 underline" href={`/api/standards/${first.data.id}/export`}>
          Export CSV
        </a>
        <a className="pb-1.5 underline" href={`/api/standards/${first.data.id}/export?as=json`}>
          JSON
        </a>
        {own && (
          <label className="cursor-pointer pb-1.5 underline">
            Import CSV or JSON
            <input
              type="file"
              accept=".csv,.json,text/csv,application/json"
              className="sr-only"
              onChange={async (e) => {
                const file = e.target.files?.[0];
                if (!file) return;
                const text = await file.text();
                if (!file.name.endsWith(".json")) edit.mutate({ csv: text });
                else
                  try {
                    edit.mutate({ rows: (JSON.parse(text).rows as Row[]).map(rowIn) });
                  } catch {
                    setBroken("This file is not valid JSON. Export one to see its shape.");
                  }
              }}
            />
          </label>
        )}
        {!own && (
          <CopyForm
            base={first.data.id}
            onCopied={(made) => {
              refresh(made);
              setLeft(`${made.id}|${made.life_stages[0]?.id ?? ""}`);
            }}
          />
        )}
      </div>
      {broken && (
        <p role="alert" className="mb-2 text-madder">
          {broken}
        </p>
      )}
      {error && (
        <p role="alert" className="mb-2 text-madder">
          {error.message}
        </p>
      )}
      {own && <StandardSaved standard={first.data} />}
      <p className="mb-2 max-w-3xl text-data text-soft">
        {first.data.citation}. {first.data.words}. Per 1000 kcal ME, as printed.
      </p>
      <Sideways>
        <table className="w-full">
          <thead>
            <tr className="border-line border-b text-data text-soft">
              <th className="text-left font-normal">Nutrient</th>
              <th className="pl-3 text-right font-normal">min</th>
              <th className="pl-3 text-right font-normal">base</th>
              <th className="pl-3 text-right font-normal">max</th>
              <th className="pl-2 text-left font-normal">unit</th>
              <th className="pl-6 text-right font-normal">in one unit: min</th>
              <th className="pl-3 text-right font-normal">max</th>
              <th className="pl-4 text-right font-normal">the other’s min</th>
              <th className="pl-3 text-right font-normal">max</th>
              <th className="pl-2 text-left font-normal">unit</th>
              <th className="pl-4 text-left font-normal">Confidence</th>
              <th className="pl-4 text-left font-normal">Read off its publication</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => {
              const other = others.get(row.key);
              return (
                <tr key={row.key} className="border-line border-b" title={row.note}>
                  <td className="py-0.5">
                    {row.name} <span className="text-label text-soft">{row.key}</span>
                  </td>
                  {(["min", "base", "max"] as const).map((bound) => (
                    <td key={bound} className="pl-3 text-right">
                      {own ? (
                        <Cell
                          standard={first.data}
                          label={`${bound} of ${row.key}`}
                          path={`stages.${row.stage}.${row.key}.${bound}`}
                        />
                      ) : (
                        plain(row[bound])
                      )}
                    </td>
                  ))}
                  <td className="pl-2 text-soft">{unitText(row.unit)}</td>
                  <td className="pl-6 text-right">{plain(row.common_min)}</td>
                  <td className="pl-3 text-right">{plain(row.common_max)}</td>
                  <td className="pl-4 text-right">{plain(other?.common_min)}</td>
                  <td className="pl-3 text-right">{plain(other?.common_max)}</td>
                  <td className="pl-2 text-soft">{unitText(row.common_unit)}</td>
                  <td className="pl-4">{row.confidence}</td>
                  <td className="pl-4">
                    <span className="text-data text-soft">{row.checked || "not yet"}</span>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </Sideways>
    </>
  );
}

function plain(value: number | null | undefined): string {
  return value === null || value === undefined
    ? ""
    : number(value, value < 1 ? 3 : value < 10 ? 2 : value % 1 ? 1 : 0);
}

/** Undo and redo of an own standard, and what of it could not be stored. */
function StandardSaved({ standard }: { standard: StandardFull }) {
  const saving = useDraft("standard", standard.id, standard);
  const words = (path: string) => {
    const [, stage = "", key = "", bound = ""] = path.split(".");
    return key ? `${bound} of ${key}, ${stage}` : "The name";
  };
  return (
    <div className="mb-2">
      <UndoRedo saving={saving} />
      <SavingNote saving={saving} words={words} />
    </div>
  );
}

/** A printed figure of an own standard; an empty box says that none is set. */
function Cell({ standard, label, path }: { standard: StandardFull; label: string; path: string }) {
  const saving = useDraft("standard", standard.id, standard);
  return (
    <SettledBox
      label={label}
      value={String(saving.value(path) ?? "")}
      check={(text) => figureProblem(text, 0, true)}
      onChange={(text) => saving.set(path, figure(text))}
      className="w-20"
    />
  );
}
