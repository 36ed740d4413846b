import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useLocation, useNavigate, useSearchParams } from "react-router";
import { ApiError, api, type CaseRow, take } from "~/api/client";
import { ageText, bodyWeight, day, number } from "~/shared/format";
import { forget } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { casesQuery, conditionsQuery, sessionQuery, type WantedCases } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { type SortableColumn, SortableTable } from "~/shared/table/SortableTable";
import { useSettled } from "~/shared/useSettled";
import { useTitle } from "~/shared/useTitle";
import { Button, TextInput } from "~/ui";
import { Menu, MenuButton } from "~/ui/Menu";
import { Page } from "~/ui/Page";
import { DeleteCase } from "./DeleteCase";
import { NewCase } from "./NewCase";

/** All cases of the practice. */
export default function CaseList() {
  useTitle("Cases");
  const [at] = useSearchParams();
  const { pathname } = useLocation();
  const [wanted, setWanted] = useState(() => wantedAt(at));
  const settled = useSettled(wanted);
  const address = addressOf(settled);
  // Where one is in the list stands in the address: the way back from a case leads there again. It is written past the
  // router, which would take it for going somewhere else and drop the case that is being opened.
  useEffect(() => {
    const search = address ? `?${address}` : "";
    // While the next page is fetched this one is still shown, and the address is the next one's.
    if (window.location.pathname === pathname && window.location.search !== search)
      window.history.replaceState(window.history.state, "", `${pathname}${search}`);
  }, [address, pathname]);
  const cases = useQuery(casesQuery(settled));
  const conditions = useQuery(conditionsQuery);
  const session = useQuery(sessionQuery);
  const [adding, setAdding] = useState(false);
  const want = (part: WantedCases) => setWanted({ ...wanted, page: 1, ...part });
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
  const { rows, found, more, page, pages, open, away } = cases.data;
  const narrow = wanted.words.trim() !== "" || wanted.condition !== "";
  return (
    <Page className="mx-auto w-full max-w-5xl p-4 mid:p-6 wide:overflow-auto">
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <h1 className="text-page">Cases</h1>
        <TextInput
          type="search"
          aria-label="Find a case"
          placeholder="Dog, owner, condition"
          value={wanted.words}
          onChange={(e) => want({ words: e.target.value })}
          className="w-64 max-w-full wide:ml-auto"
        />
        <select
          aria-label="Condition"
          value={wanted.condition}
          onChange={(e) => want({ condition: e.target.value })}
          className="h-8 max-w-56 rounded-corner border border-edge bg-sheet px-2"
        >
          <option value="">Any condition</option>
          {conditions.data?.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
        {(away > 0 || wanted.archived) && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-verdigris"
              checked={wanted.archived}
              onChange={(e) => want({ archived: e.target.checked })}
            />
            Archived ({number(away)})
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
      {open + away === 0 ? (
        <Empty action={<Button onClick={() => setAdding(true)}>Start the first case</Button>}>
          No cases yet. A case is one dog's work: its energy, its targets, the recipe and what came
          of it.
        </Empty>
      ) : rows.length === 0 ? (
        <Empty
          action={
            narrow ? (
              <Button onClick={() => want({ words: "", condition: "" })}>Show every case</Button>
            ) : (
              <Button onClick={() => want({ archived: !wanted.archived })}>
                {wanted.archived ? "Show the others" : "Show the archived"}
              </Button>
            )
          }
        >
          {narrow
            ? wanted.words.trim()
              ? `No case matches “${wanted.words.trim()}”${wanted.condition ? " with that condition" : ""}.`
              : "No case has that condition."
            : wanted.archived
              ? "No case is archived."
              : "Every case is archived."}
        </Empty>
      ) : (
        <SortableTable
          rows={rows}
          columns={COLUMNS}
          given={{
            by: wanted.order,
            ways: WAYS,
            onBy: (order) => want({ order: order === "dog" ? "dog" : "changed" }),
          }}
          rowKey={(c) => String(c.id)}
          rowClass={() => "align-baseline hover:bg-groove/60"}
          actions={{
            label: "Archive or delete",
            cell: (c) => <Actions row={c} onDelete={() => setDeleting(c)} />,
          }}
        />
      )}
      {rows.length > 0 && (
        <nav aria-label="Pages of cases" className="mt-3 flex flex-wrap items-center gap-3">
          <p role="status" className="text-soft">
            {more
              ? `More than ${number(found)} cases: another word finds fewer`
              : `${number(found)} ${found === 1 ? "case" : "cases"}`}
            {pages > 1 && `; page ${number(page)} of ${number(pages)}`}
          </p>
          {pages > 1 && (
            <>
              <Button
                aria-disabled={page === 1}
                onClick={() => page > 1 && want({ page: page - 1 })}
              >
                Before
              </Button>
              <Button
                aria-disabled={page === pages}
                onClick={() => page < pages && want({ page: page + 1 })}
              >
                Next
              </Button>
            </>
          )}
        </nav>
      )}
      {deleting && <DeleteCase row={deleting} onClose={() => setDeleting(null)} />}
      {adding && <NewCase onClose={() => setAdding(false)} />}
    </Page>
  );
}

function wantedAt(address: URLSearchParams): Required<WantedCases> {
  return {
    words: address.get("words") ?? "",
    condition: address.get("condition") ?? "",
    archived: address.get("archived") === "true",
    order: address.get("order") === "dog" ? "dog" : "changed",
    page: Number(address.get("page")) || 1,
  };
}

function addressOf(wanted: Required<WantedCases>): string {
  const { words, condition, archived, order, page } = wanted;
  const said = new URLSearchParams();
  if (words.trim()) said.set("words", words.trim());
  if (condition) said.set("condition", condition);
  if (archived) said.set("archived", "true");
  if (order !== "changed") said.set("order", order);
  if (page > 1) said.set("page", String(page));
  return said.toString();
}

const WAYS = { dog: "asc", changed: "desc" } as const;

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
