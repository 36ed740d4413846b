import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate } from "react-router";
import { ApiError, api, type Case, take } from "../../api/client";
import { ageText, number } from "../../app/format";
import { casesQuery } from "../../app/queries";
import { Button, Dialog, Field, Loading, Problem, TextInput } from "../../ui";

export function CaseList() {
  const cases = useQuery(casesQuery);
  const [adding, setAdding] = useState(false);
  const [filter, setFilter] = useState("");
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
      await client.invalidateQueries({ queryKey: ["cases"] });
      navigate(`/cases/${made.id}`);
    },
  });
  const field = openFile.error instanceof ApiError ? openFile.error.field : "";
  if (cases.isPending) return <Loading what="cases" />;
  if (cases.isError) return <Problem error={cases.error} retry={() => cases.refetch()} />;
  const shown = cases.data.filter((c) => caseText(c).includes(filter.toLowerCase()));
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
        <p className="text-soft">No case matches “{filter}”.</p>
      ) : (
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-line border-b text-left text-[13px] text-soft">
              <th className="py-1.5 pr-3 font-normal">Dog</th>
              <th className="pr-3 font-normal">Owner</th>
              <th className="pr-3 text-right font-normal">Weight, kg</th>
              <th className="pr-3 font-normal">Conditions</th>
              <th className="pr-3 font-normal">Reacts to</th>
              <th className="font-normal">Changed</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((c) => (
              <tr key={c.id} className="border-line border-b hover:bg-groove/60">
                <td className="py-2 pr-3">
                  <Link
                    to={`/cases/${c.id}`}
                    className="font-semibold underline-offset-2 hover:underline"
                  >
                    {c.dog.name}
                  </Link>
                  <div className="text-[13px] text-soft">
                    {[c.dog.breed, ageText(c.dog.age_months)].filter(Boolean).join(", ")}
                  </div>
                </td>
                <td className="pr-3">{c.dog.client.name}</td>
                <td className="pr-3 text-right">{number(c.dog.weight_kg, 1)}</td>
                <td className="pr-3">
                  {c.conditions
                    ?.map((k) => [k.name, k.stage].filter(Boolean).join(" "))
                    .join("; ") || "–"}
                </td>
                <td className="pr-3">{c.reactions?.map((r) => r.food).join(", ") || "–"}</td>
                <td className="whitespace-nowrap text-soft">
                  {new Date(c.updated).toLocaleDateString("en-GB")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <NewCase open={adding} onClose={() => setAdding(false)} />
    </main>
  );
}

function caseText(c: Case): string {
  return [
    c.dog.name,
    c.dog.breed,
    c.dog.client.name,
    c.title,
    ...(c.conditions ?? []).map((k) => k.name),
  ]
    .join(" ")
    .toLowerCase();
}

function NewCase({ open, onClose }: { open: boolean; onClose: () => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [form, setForm] = useState({ client_name: "", dog_name: "", weight_kg: "", breed: "" });
  const create = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases", {
          body: { ...form, weight_kg: Number(form.weight_kg.replace(",", ".")) },
        }),
      ),
    onSuccess: (made) => {
      client.invalidateQueries({ queryKey: ["cases"] });
      navigate(`/cases/${made.id}`);
    },
  });
  const error = create.error as ApiError | null;
  const fields = [
    { id: "dog_name", label: "Dog", hint: "" },
    { id: "client_name", label: "Owner", hint: "" },
    { id: "weight_kg", label: "Weight in kg", hint: "Pounds divided by 2.205" },
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
              inputMode={field.id === "weight_kg" ? "decimal" : undefined}
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
