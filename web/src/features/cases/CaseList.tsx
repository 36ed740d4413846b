import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { ApiError, api, type CaseRow, take } from "~/api/client";
import { ageText, bodyWeight, day } from "~/shared/format";
import { forget } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { casesQuery, sessionQuery } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { type SortableColumn, SortableTable } from "~/shared/table/SortableTable";
import { useTitle } from "~/shared/useTitle";
import { Button, TextInput } from "~/ui";
import { Menu, MenuButton } from "~/ui/Menu";
import { Page } from "~/ui/Page";
import { DeleteCase } from "./DeleteCase";
import { NewCase } from "./NewCase";

/** All cases of the practice. */
export default function CaseList() {
  useTitle("Cases");
  const cases = useQuery(casesQuery);
  const session = useQuery(sessionQuery);
  const [adding, setAdding] = useState(false);
  const [filter, setFilter] = useState("");
  const [archived, setArchived] = useState(false);
  const [deleting, setDeleting] = useState<CaseRow | null>(null);
  const client = useQueryClient();
  const navigate = useNavigate();
  const openFile = useMutation({
    mutationFn: async (chosen: File) => {
      if (chosen.name.toLowerCase().endsWith(".zip")) {
        const form = new FormData();
        form.append("file", chosen);
        return take(
          api.POST("/api/cases/bundle", {
            body: form as unknown as string,
            bodySerializer: (body) => body as unknown as FormData,
          }),
        );
      }
      const text = await chosen.text();
      let file: Record<string, unknown>;
      try {
        file = JSON.parse(text);
      } catch {
        throw new Error("it is not valid JSON. Save one from a bench to see its shape.");
      }
      return take(api.POST("/api/cases/file", { body: file }));
    },
    onSuccess: async (made) => {
      await forget(client, "cases");
      navigate(`/cases/${made.id}`);
    },
  });
  const field = openFile.error instanceof ApiError ? openFile.error.field : "";
  if (cases.isPending) return <Loading what="cases" />;
  if (!cases.data)
    return <Problem what="cases" error={cases.error} retry={() => cases.refetch()} />;
  const away = cases.data.filter((c) => c.archived).length;
  const shown = cases.data
    .filter((c) => c.archived === archived)
    .filter((c) => caseText(c).includes(filter.toLowerCase()));
  return (
    <Page className="mx-auto w-full max-w-5xl p-4 mid:p-6 wide:overflow-auto">
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <h1 className="text-page">Cases</h1>
        <TextInput
          type="search"
          aria-label="Find a case"
          placeholder="Dog, owner, condition"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
          className="w-64 max-w-full wide:ml-auto"
        />
        {(away > 0 || archived) && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-verdigris"
              checked={archived}
              onChange={(e) => setArchived(e.target.checked)}
            />
            Archived ({away})
          </label>
        )}
        <label className="cursor-pointer underline">
          Open a case file
          <input
            type="file"
            accept=".json,application/json,.zip,application/zip"
            className="sr-only"
            onChange={async (e) => {
              const file = e.target.files?.[0];
              e.target.value = "";
              if (file) openFile.mutate(file);
            }}
          />
        </label>
        <Button kind="solid" onClick={() => setAdding(true)}>
          New case
        </Button>
      </div>
      {session.data && !session.data.shelf_asked && (
        <p className="mb-3 border-oak stile">
          Recipes are closed with plain single supplements until you{" "}
          <Link to="/shelf" className="underline">
            say what stands on your shelf
          </Link>
          .
        </p>
      )}
      {openFile.isError && (
        <p role="alert" className="mb-3 border-madder stile">
          This case file cannot be opened{field ? ` (${field})` : ""}: {openFile.error.message}
        </p>
      )}
      {cases.data.length === 0 ? (
        <Empty action={<Button onClick={() => setAdding(true)}>Start the first case</Button>}>
          No cases yet. A case is one dog's work: its energy, its targets, the recipe and what came
          of it.
        </Empty>
      ) : shown.length === 0 ? (
        <Empty
          action={
            filter ? (
              <Button onClick={() => setFilter("")}>Show every case</Button>
            ) : (
              <Button onClick={() => setArchived(!archived)}>
                {archived ? "Show the others" : "Show the archived"}
              </Button>
            )
          }
        >
          {filter
            ? `No case matches “${filter}”.`
            : archived
              ? "No case is archived."
              : "Every case is archived."}
        </Empty>
      ) : (
        <SortableTable
          rows={shown}
          columns={COLUMNS}
          rowKey={(c) => String(c.id)}
          rowClass={() => "align-baseline hover:bg-groove/60"}
          actions={{
            label: "Archive or delete",
            cell: (c) => <Actions row={c} onDelete={() => setDeleting(c)} />,
          }}
        />
      )}
      {deleting && <DeleteCase row={deleting} onClose={() => setDeleting(null)} />}
      {adding && <NewCase onClose={() => setAdding(false)} />}
    </Page>
  );
}

function caseText(c: CaseRow): string {
  return [c.dog, c.breed, c.owner, c.title, ...c.conditions].join(" ").toLowerCase();
}

const COLUMNS: SortableColumn<CaseRow>[] = [
  {
    id: "dog",
    title: "Dog",
    value: (c) => c.dog,
    cell: (c) => (
      <>
        <Link to={`/cases/${c.id}`} className="font-semibold underline-offset-2 hover:underline">
          {c.dog}
        </Link>
        <div className="text-data text-soft">
          {[c.breed, ageText(c.age_months)].filter(Boolean).join(", ")}
        </div>
        {c.problem && (
          <div className="max-w-64 text-data text-madder">
            Cannot be opened as it is: {c.problem}
          </div>
        )}
      </>
    ),
    className: "py-2 pr-3",
  },
  {
    id: "owner",
    title: "Owner",
    value: (c) => c.owner,
    cell: (c) => (
      <Link to={`/clients/${c.owner_id}`} className="underline-offset-2 hover:underline">
        {c.owner}
      </Link>
    ),
    className: "pr-3",
  },
  {
    id: "weight",
    title: "Weight",
    value: (c) => c.weight_kg,
    cell: (c) => bodyWeight(c.weight_kg),
    figures: true,
    className: "whitespace-nowrap pr-3 max-mid:hidden",
  },
  {
    id: "conditions",
    title: "Conditions",
    value: (c) => c.conditions.join("; ") || null,
    cell: (c) => c.conditions.join("; ") || "–",
    className: "pr-3",
  },
  {
    id: "reactions",
    title: "Reacts to",
    value: (c) => c.reactions.join(", ") || null,
    cell: (c) => c.reactions.join(", ") || "–",
    className: "pr-3 max-mid:hidden",
  },
  {
    id: "changed",
    title: "Changed",
    value: (c) => c.updated,
    cell: (c) => day(c.updated),
    className: "whitespace-nowrap pr-3 text-soft max-mid:hidden",
  },
];

function Actions({ row, onDelete }: { row: CaseRow; onDelete: () => void }) {
  const client = useQueryClient();
  const archive = useMutation({
    mutationFn: (archived: boolean) =>
      take(
        api.POST("/api/cases/{id}/archive", {
          params: { path: { id: row.id } },
          body: { archived },
        }),
      ),
    onSuccess: (_, archived) => {
      if (archived)
        notice(`The case of ${row.dog} is archived.`, {
          action: { label: "Take back", onClick: () => archive.mutate(false) },
        });
      return forget(client, "cases");
    },
  });
  return (
    <>
      {archive.error && (
        <div role="alert" className="text-data text-madder">
          {archive.error.message}
        </div>
      )}
      <Menu label="More" name={`More: what to do with the case of ${row.dog}`}>
        <MenuButton disabled={archive.isPending} onChoose={() => archive.mutate(!row.archived)}>
          {row.archived ? "Take back from the archive" : "Archive"}
        </MenuButton>
        <MenuButton onChoose={onDelete}>Delete…</MenuButton>
      </Menu>
    </>
  );
}
