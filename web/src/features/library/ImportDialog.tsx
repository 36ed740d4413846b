import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "~/api/client";
import { number } from "~/shared/format";
import { forget } from "~/shared/keys";
import { Button, Dialog } from "~/ui";

/** Choose a file, see what is wrong row by row, accept all or skip the bad rows by choice. */
export function ImportDialog({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const body = (accept: boolean, skip_bad: boolean) => ({
    text: file?.text ?? "",
    format: file?.name.endsWith(".json") ? ("json" as const) : ("csv" as const),
    accept,
    skip_bad,
  });
  const preview = useMutation({
    mutationFn: (chosen: { name: string; text: string }) =>
      take(
        api.POST("/api/own-foods/import", {
          body: { text: chosen.text, format: chosen.name.endsWith(".json") ? "json" : "csv" },
        }),
      ),
  });
  const accept = useMutation({
    mutationFn: (skip: boolean) =>
      take(api.POST("/api/own-foods/import", { body: body(true, skip) })),
    onSuccess: () => {
      void forget(client, "foods");
    },
  });
  async function read(chosen: File | undefined) {
    if (!chosen) return;
    const next = { name: chosen.name, text: await chosen.text() };
    setFile(next);
    accept.reset();
    preview.mutate(next);
  }
  const found = preview.data;
  const failed = preview.error ?? accept.error;
  return (
    <Dialog open onClose={onClose} title="Import and export own foods" wide>
      <div className="flex flex-col gap-4">
        <p>
          Export:{" "}
          <a className="underline" href="/api/own-foods/export?as=csv">
            CSV
          </a>
          ,{" "}
          <a className="underline" href="/api/own-foods/export?as=json">
            JSON
          </a>
          . A file to import has the same columns: a short name without spaces (slug), the name,
          class, form and ingredients, then a column for each nutrient, per 100 g as fed, headed by
          its INFOODS tagname as in the export. An empty cell means unknown, not nothing.
        </p>
        <label
          onDragOver={(e) => e.preventDefault()}
          onDrop={(e) => {
            e.preventDefault();
            void read(e.dataTransfer.files[0]);
          }}
          className="flex cursor-pointer flex-col items-center gap-1 border border-edge border-dashed bg-sheet px-4 py-6 has-[:focus-visible]:outline-2 has-[:focus-visible]:outline-verdigris"
        >
          <span className="font-medium">Import a CSV or JSON file</span>
          <span className="text-soft">
            {file ? file.name : "Drop it here, or choose it. Nothing is written before you agree."}
          </span>
          <input
            type="file"
            accept=".csv,.json,text/csv,application/json"
            className="sr-only"
            onChange={(e) => void read(e.target.files?.[0])}
          />
        </label>
        {preview.isPending && <p role="status">Reading…</p>}
        {failed && (
          <p role="alert" className="text-madder">
            {failed.message}
          </p>
        )}
        {accept.data ? (
          <p role="status">
            <b>{number(accept.data.imported)} foods imported.</b>
          </p>
        ) : (
          found && (
            <>
              <p>
                <b>{number(found.good)}</b> rows can be taken
                {found.errors.length > 0 && (
                  <>
                    , <b className="text-madder">{number(found.errors.length)}</b> errors. Nothing
                    is written yet.
                  </>
                )}
              </p>
              {found.errors.length > 0 && (
                <table className="w-full">
                  <thead>
                    <tr className="border-line border-b text-left text-data text-soft">
                      <th className="w-16 font-normal">Row</th>
                      <th className="w-32 font-normal">Column</th>
                      <th className="font-normal">What is wrong</th>
                    </tr>
                  </thead>
                  <tbody>
                    {found.errors.map((e) => (
                      <tr key={`${e.row}${e.column}`} className="border-line border-b">
                        <td>{e.row}</td>
                        <td>{e.column}</td>
                        <td>{e.message}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              )}
              <div className="flex gap-2">
                {found.errors.length === 0 ? (
                  <Button
                    kind="solid"
                    disabled={found.good === 0}
                    onClick={() => accept.mutate(false)}
                  >
                    Import {number(found.good)} foods
                  </Button>
                ) : (
                  <Button disabled={found.good === 0} onClick={() => accept.mutate(true)}>
                    Skip the bad rows and import {number(found.good)}
                  </Button>
                )}
              </div>
            </>
          )
        )}
      </div>
    </Dialog>
  );
}
