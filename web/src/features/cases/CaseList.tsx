import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate } from "react-router";
import { ApiError, api, type CaseRow, take } from "~/api/client";
import { ageText, number } from "~/shared/format";
import { forget } from "~/shared/keys";
import { casesQuery } from "~/shared/queries";
import { Button, Dialog, Field, Loading, Problem, TextInput } from "~/ui";

export function CaseList() {
  const cases = useQuery(casesQuery);
  const [adding, setAdding] = useState(false);
  const [filter, setFilter] = useState("");
  const [archived, setArchived] = useState(false);
  const [deleting, setDeleting] = useState<CaseRow | null>(null);
  const client = useQueryClient();
  const navigate = useNavigate();
  const openFile = useMutation({
    mutationFn: (text: string) => {
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
  if (cases.isError) return <Problem error={cases.error} retry={() => cases.refetch()} />;
  const away = cases.data.filter((c) => c.archived).length;
  const shown = cases.data
    .filter((c) => c.archived === archived)
    .filter((c) => caseText(c).includes(filter.toLowerCase()));
  return (
    <main className="mx-auto w-full max-w-5xl overflow-auto p-6">
      <div className="mb-4 flex items-center gap-3">
        <h1 className="text-xl">Cases</h1>
        <TextInput
          type="search"
          aria-label="Find a case"
          placeholder="Dog, owner, condition"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
          className="ml-auto w-64"
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
            accept=".json,application/json"
            className="sr-only"
            onChange={async (e) => {
              const file = e.target.files?.[0];
              e.target.value = "";
              if (file) openFile.mutate(await file.text());
            }}
          />
        </label>
        <Button kind="solid" onClick={() => setAdding(true)}>
          New case
        </Button>
      </div>
      {openFile.isError && (
        <p role="alert" className="mb-3 border-madder border-l-2 pl-3">
          This case file cannot be opened{field ? ` (${field})` : ""}: {openFile.error.message}
        </p>
      )}
      {cases.data.length === 0 ? (
        <div className="max-w-md border-oak border-l-2 pl-4">
          <p className="mb-2">
            No cases yet. A case is one dog's work: its energy, its targets, the recipe and what
            came of it.
          </p>
          <Button onClick={() => setAdding(true)}>Start the first case</Button>
        </div>
      ) : shown.length === 0 ? (
        <p className="text-soft">
          {filter
            ? `No case matches “${filter}”.`
            : archived
              ? "No case is archived."
              : "Every case is archived."}
        </p>
      ) : (
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-line border-b text-left text-[13px] text-soft">
              <th className="py-1.5 pr-3 font-normal">Dog</th>
              <th className="pr-3 font-normal">Owner</th>
              <th className="pr-3 text-right font-normal">Weight, kg</th>
              <th className="pr-3 font-normal">Conditions</th>
              <th className="pr-3 font-normal">Reacts to</th>
              <th className="pr-3 font-normal">Changed</th>
              <th aria-label="Archive or delete" />
            </tr>
          </thead>
          <tbody>
            {shown.map((c) => (
              <Row key={c.id} row={c} onDelete={() => setDeleting(c)} />
            ))}
          </tbody>
        </table>
      )}
      <DeleteCase row={deleting} onClose={() => setDeleting(null)} />
      <NewCase open={adding} onClose={() => setAdding(false)} />
    </main>
  );
}

function caseText(c: CaseRow): string {
  return [c.dog, c.breed, c.owner, c.title, ...c.conditions].join(" ").toLowerCase();
}

function Row({ row, onDelete }: { row: CaseRow; onDelete: () => void }) {
  const client = useQueryClient();
  const archive = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases/{id}/archive", {
          params: { path: { id: row.id } },
          body: { archived: !row.archived },
        }),
      ),
    onSuccess: () => forget(client, "cases"),
  });
  return (
    <tr className="border-line border-b hover:bg-groove/60">
      <td className="py-2 pr-3">
        <Link to={`/cases/${row.id}`} className="font-semibold underline-offset-2 hover:underline">
          {row.dog}
        </Link>
        <div className="text-[13px] text-soft">
          {[row.breed, ageText(row.age_months)].filter(Boolean).join(", ")}
        </div>
        {row.problem && (
          <div className="max-w-64 text-[13px] text-madder">
            Cannot be opened as it is: {row.problem}
          </div>
        )}
        {archive.error && (
          <div role="alert" className="text-[13px] text-madder">
            {archive.error.message}
          </div>
        )}
      </td>
      <td className="pr-3">{row.owner}</td>
      <td className="pr-3 text-right">{number(row.weight_kg, 1)}</td>
      <td className="pr-3">{row.conditions.join("; ") || "–"}</td>
      <td className="pr-3">{row.reactions.join(", ") || "–"}</td>
      <td className="whitespace-nowrap pr-3 text-soft">
        {new Date(row.updated).toLocaleDateString("en-GB")}
      </td>
      <td className="whitespace-nowrap text-right">
        <Button
          kind="quiet"
          aria-label={`${row.archived ? "Take back" : "Archive"} the case of ${row.dog}`}
          disabled={archive.isPending}
          onClick={() => archive.mutate()}
        >
          {row.archived ? "Take back" : "Archive"}
        </Button>
        <Button kind="quiet" aria-label={`Delete the case of ${row.dog}`} onClick={onDelete}>
          Delete
        </Button>
      </td>
    </tr>
  );
}

/** Deleting cannot be undone, so the dog's name is asked for; archiving is offered first. */
function DeleteCase({ row, onClose }: { row: CaseRow | null; onClose: () => void }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState("");
  const remove = useMutation({
    mutationFn: (id: number) => take(api.DELETE("/api/cases/{id}", { params: { path: { id } } })),
    onSuccess: async () => {
      setTyped("");
      onClose();
      await forget(client, "cases");
    },
  });
  if (!row) return null;
  return (
    <Dialog
      open
      onClose={() => {
        setTyped("");
        onClose();
      }}
      title={`Delete the case of ${row.dog}?`}
    >
      <form
        className="flex max-w-md flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim() === row.dog) remove.mutate(row.id);
        }}
      >
        <p>
          Its intake, targets, recipes with all their versions and the plan go with it. This cannot
          be undone. A case that is only over can be archived: nothing is lost then.
        </p>
        <Field id="delete-name" label={`Type ${row.dog} to delete it`}>
          <TextInput
            id="delete-name"
            autoComplete="off"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
        </Field>
        {remove.error && (
          <p role="alert" className="text-madder">
            {remove.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button
            kind="danger"
            type="submit"
            disabled={typed.trim() !== row.dog || remove.isPending}
          >
            Delete
          </Button>
          <Button onClick={onClose}>Keep it</Button>
        </div>
      </form>
    </Dialog>
  );
}

function NewCase({ open, onClose }: { open: boolean; onClose: () => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [form, setForm] = useState({ client_name: "", dog_name: "", weight_kg: "", breed: "" });
  const create = useMutation({
    mutationFn: () =>
      take(
        // The weight goes as it was typed ("18 lb"): the server reads it.
        api.POST("/api/cases", {
          body: { ...form, weight_kg: form.weight_kg as unknown as number },
        }),
      ),
    onSuccess: (made) => {
      forget(client, "cases");
      navigate(`/cases/${made.id}`);
    },
  });
  const error = create.error as ApiError | null;
  const fields = [
    { id: "dog_name", label: "Dog", hint: "" },
    { id: "client_name", label: "Owner", hint: "" },
    { id: "weight_kg", label: "Weight", hint: "In kg, or with its unit: 18 lb" },
    { id: "breed", label: "Breed (if known)", hint: "" },
  ] as const;
  function submit(event: FormEvent) {
    event.preventDefault();
    create.mutate();
  }
  return (
    <Dialog open={open} onClose={onClose} title="New case">
      <form onSubmit={submit} className="flex flex-col gap-3">
        {fields.map((field) => (
          <Field
            key={field.id}
            id={field.id}
            label={field.label}
            hint={field.hint}
            error={error?.field === field.id ? error.message : undefined}
          >
            <TextInput
              id={field.id}
              value={form[field.id]}
              onChange={(e) => setForm({ ...form, [field.id]: e.target.value })}
              aria-invalid={error?.field === field.id}
              required={field.id !== "breed"}
            />
          </Field>
        ))}
        {error && !fields.some((f) => f.id === error.field) && (
          <p role="alert" className="text-madder">
            {error.message}
          </p>
        )}
        <div className="mt-2 flex gap-2">
          <Button kind="solid" type="submit" disabled={create.isPending}>
            Create
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}
