import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type ColumnUse, type ImportResult, type TableBasis, take } from "~/api/client";
import { number } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button } from "~/ui";
import { Page } from "~/ui/Page";
import { Toggle } from "~/ui/Toggle";
import { Columns } from "./Columns";
import { DropZone, type Table } from "./DropZone";

const BASES: { id: TableBasis; label: string }[] = [
  { id: "per-100-g", label: "100 g" },
  { id: "per-kg", label: "1 kg" },
  { id: "dry-matter", label: "100 g of dry matter" },
];

/** Bring in a table of foods: drop it, say what its columns hold, look at what it becomes, take it. */
export default function ImportPage() {
  useTitle("Bring in a table");
  const [table, setTable] = useState<Table | null>(null);
  return (
    <Page className="flex flex-col gap-4 p-4">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h1>Bring in a table of foods</h1>
        <Link to="/library" className="underline underline-offset-2">
          Back to the library
        </Link>
        <span className="wide:ml-auto">
          Take your own foods out:{" "}
          <a className="underline underline-offset-2" href="/api/own-foods/export?as=csv">
            CSV
          </a>
          ,{" "}
          <a className="underline underline-offset-2" href="/api/own-foods/export?as=json">
            JSON
          </a>
        </span>
      </div>
      {table ? (
        <Preview key={table.number} table={table} onOther={() => setTable(null)} />
      ) : (
        <DropZone onTable={setTable} />
      )}
    </Page>
  );
}

/** A table as it was read, and what it would become. */
function Preview({ table, onOther }: { table: Table; onOther: () => void }) {
  const client = useQueryClient();
  const [basis, setBasis] = useState<TableBasis>("per-100-g");
  const [said, setSaid] = useState<Record<number, ColumnUse>>({});
  const json = table.format === "json";
  const read = (uses: ColumnUse[] | null) =>
    api.POST("/api/own-foods/import", {
      body: { text: table.text, format: table.format, columns: uses, basis },
    });
  const first = useQuery({
    queryKey: keyOf("import", table.number, basis),
    queryFn: () => take(read(null)),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const columns = first.data?.columns ?? [];
  const uses = columns.map((c) => said[c.position] ?? c.use);
  const changed = Object.keys(said).length > 0;
  const again = useQuery({
    queryKey: keyOf("import", table.number, basis, uses),
    queryFn: () => take(read(uses)),
    enabled: changed,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const found = (changed && again.data) || first.data;
  const taking = useMutation({
    mutationFn: (skip: boolean) =>
      take(
        api.POST("/api/own-foods/import", {
          body: {
            text: table.text,
            format: table.format,
            columns: json ? null : uses,
            basis,
            accept: true,
            skip_bad: skip,
          },
        }),
      ),
    onSuccess: () => void forget(client, "foods"),
  });
  if (first.error)
    return (
      <div className="flex flex-col items-start gap-3">
        <Problem what="the table" error={first.error} />
        <Button onClick={onOther}>Another table</Button>
      </div>
    );
  if (!found) return <p role="status">Reading {table.name}…</p>;
  if (taking.data)
    return (
      <div className="flex flex-col items-start gap-3">
        <p role="status">
          <b>{foods(taking.data.imported)} in the library now.</b>{" "}
          {taking.data.replaced > 0 &&
            `${foods(taking.data.replaced)} had been there: what they were is kept as an earlier revision.`}
        </p>
        <div className="flex gap-2">
          <Link
            to="/library"
            className="inline-flex h-8 items-center rounded-corner bg-ink px-3 font-medium text-sheet"
          >
            See them there
          </Link>
          <Button onClick={onOther}>Another table</Button>
        </div>
      </div>
    );
  const open = columns.filter((c) => !c.sure && !said[c.position]);
  const problem = again.error ?? taking.error;
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <p>
          <b>{table.name}</b>
        </p>
        {!json && (
          <span className="flex flex-wrap items-center gap-2">
            Its figures are for
            <Toggle
              label="What the figures of the table are for"
              value={basis}
              onChange={setBasis}
              options={BASES}
            />
          </span>
        )}
        <Button onClick={onOther}>Another table</Button>
      </div>
      <div
        className={
          json ? "" : "grid gap-x-8 gap-y-4 wide:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]"
        }
      >
        {!json && (
          <Columns
            of={found}
            columns={columns}
            said={said}
            onSay={(position, use) => setSaid((old) => ({ ...old, [position]: use }))}
            onLeaveRest={() =>
              setSaid((old) => ({
                ...Object.fromEntries(
                  open.filter((c) => !c.use.tag && !c.use.field).map((c) => [c.position, c.use]),
                ),
                ...old,
              }))
            }
          />
        )}
        <Becomes of={found} stale={again.isPlaceholderData && changed} />
      </div>
      {problem && <Problem what="the table" error={problem} />}
      <div className="sticky bottom-0 flex flex-wrap items-center gap-3 border-line border-t bg-paper py-2">
        {found.wrong === 0 ? (
          <Button
            kind="solid"
            disabled={found.good === 0 || open.length > 0}
            busy={taking.isPending}
            onClick={() => taking.mutate(false)}
          >
            Take {foods(found.good)}
          </Button>
        ) : (
          <Button
            disabled={found.good === 0 || open.length > 0}
            busy={taking.isPending}
            onClick={() => taking.mutate(true)}
          >
            Skip the bad rows and take {foods(found.good)}
          </Button>
        )}
        <span role="status" className="text-soft">
          {taking.isPending
            ? "Taking…"
            : open.length > 0
              ? `${open.length === 1 ? "One column has" : `${open.length} columns have`} to be said first.`
              : found.good === 0
                ? "No row can be taken yet."
                : "Nothing is written before you take it."}
        </span>
      </div>
    </>
  );
}

function foods(count: number): string {
  return `${number(count)} ${count === 1 ? "food" : "foods"}`;
}

/** The foods as they would be taken, and the rows that cannot be. */
function Becomes({ of, stale }: { of: ImportResult; stale: boolean }) {
  return (
    <section aria-label="What it becomes" className={stale ? "opacity-45" : ""}>
      <h2>What it becomes</h2>
      {of.errors.length > 0 && (
        <div className="border-madder stile my-2">
          <p>
            <b>
              {number(of.wrong)} {of.wrong === 1 ? "cell" : "cells"} cannot be read.
            </b>{" "}
            {of.wrong > of.errors.length && `The first ${number(of.errors.length)}:`}
          </p>
          <table className="w-full">
            <thead className="sr-only">
              <tr>
                <th>Row</th>
                <th>Column</th>
                <th>What is wrong</th>
              </tr>
            </thead>
            <tbody>
              {of.errors.slice(0, 40).map((e) => (
                <tr key={`${e.row} ${e.column} ${e.message}`} className="align-top">
                  <td className="w-14 whitespace-nowrap pr-2 text-soft">row {e.row}</td>
                  <td className="pr-2 font-medium">{e.column}</td>
                  <td>{e.message}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {of.notes.map((note) => (
        <p key={note} className="text-data text-soft">
          {note}.
        </p>
      ))}
      {of.rows.length > 0 && (
        <table className="mt-1 w-full">
          <thead>
            <tr className="border-ink border-b-2 text-left text-data text-soft">
              <th className="font-normal">Per 100 g as fed</th>
              <th className="text-right font-normal">kcal</th>
              <th className="text-right font-normal">Protein g</th>
              <th className="text-right font-normal">Fat g</th>
              <th className="text-right font-normal">Water g</th>
              <th className="text-right font-normal">Known</th>
            </tr>
          </thead>
          <tbody>
            {of.rows.slice(0, 40).map((row) => (
              <tr key={row.slug} className="border-line border-b">
                <td>
                  {row.name}
                  {row.replaces && (
                    <span className="ml-2 text-data text-soft">new revision of yours</span>
                  )}
                </td>
                <td className="text-right">{number(row.kcal)}</td>
                {[row.protein_g, row.fat_g, row.water_g].map((value, i) => (
                  <td key={["protein", "fat", "water"][i]} className="text-right">
                    {value === null ? (
                      <span className="border-ink border-b border-dashed text-data">unknown</span>
                    ) : (
                      number(value, 1)
                    )}
                  </td>
                ))}
                <td className="text-right">{number(row.known)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {of.good > 40 && <p className="text-data text-soft">and {number(of.good - 40)} more.</p>}
    </section>
  );
}
