import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import type { CaseRow, ClientPage as Client } from "~/api/client";
import { ClientAppointments } from "~/features/office/ClientAppointments";
import { ClientInvoices } from "~/features/office/ClientInvoices";
import { ageText, bodyWeight, day } from "~/shared/format";
import { clientQuery } from "~/shared/queries";
import { ConventionFields } from "~/shared/record/conventions";
import { Box, fieldWords, isOnPage, RecordFields } from "~/shared/record/fields";
import { SavingNote, UndoRedo } from "~/shared/saving/SavingNote";
import { useDraft } from "~/shared/saving/useDraft";
import { Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Written } from "~/shared/Written";
import { Page } from "~/ui/Page";
import { ClientRecords } from "./ClientRecords";

/** A client: how to reach her, her dogs with their cases, and how things are written for her. */
export default function ClientPage() {
  const { clientId } = useParams();
  const found = useQuery(clientQuery(Number(clientId)));
  useTitle(found.data?.client.name);
  if (found.isPending) return <Loading what="the client" />;
  if (!found.data)
    return <Problem what="the client" error={found.error} retry={() => found.refetch()} />;
  return (
    <Written by={found.data.written}>
      <ClientRecord found={found.data} />
    </Written>
  );
}

function ClientRecord({ found }: { found: Client }) {
  const saving = useDraft("client", found.client.id, found);
  return (
    <RecordFields saving={saving}>
      <Page className="mx-auto w-full max-w-4xl p-4 mid:p-6 wide:overflow-auto">
        <div className="mb-4 flex items-center gap-3">
          <h1 className="text-page">{found.client.name}</h1>
          <UndoRedo saving={saving} />
        </div>
        <SavingNote saving={saving} words={fieldWords} shown={isOnPage} />
        <h2 className="mb-1">Dogs</h2>
        <ul className="mb-6 border-line border-t">
          {byDog(found.cases).map(({ key, dog, cases }) => (
            <li key={key} className="border-line border-b py-2">
              <b>{dog.dog}</b>{" "}
              <span className="text-soft">
                {[dog.breed, ageText(dog.age_months), bodyWeight(dog.weight_kg)]
                  .filter(Boolean)
                  .join(", ")}
              </span>
              <ul>
                {cases.map((c) => (
                  <li key={c.id} className="flex flex-wrap gap-x-3">
                    <Link to={`/cases/${c.id}`} className="underline underline-offset-2">
                      {c.title || c.conditions.join("; ") || "Case without a condition"}
                    </Link>
                    <span className="text-soft">
                      {c.archived ? "put away, " : ""}changed {day(c.updated)}
                    </span>
                    {c.recipes
                      .filter((r) => !r.archived)
                      .map((r) => (
                        <Link
                          key={r.id}
                          to={`/cases/${c.id}/recipes/${r.id}`}
                          className="underline underline-offset-2"
                        >
                          {r.name}
                        </Link>
                      ))}
                  </li>
                ))}
              </ul>
            </li>
          ))}
        </ul>
        <ClientAppointments
          id={found.client.id}
          dogs={found.cases.filter((c) => !c.archived).map((c) => ({ case: c.id, name: c.dog }))}
        />
        <ClientInvoices id={found.client.id} />
        <h2 className="mb-2">How to reach {found.client.name}</h2>
        <div className="mb-6 flex flex-wrap gap-3">
          <Box path="name" label="Name" className="w-60" />
          <Box path="email" label="E-mail" className="w-60" />
          <Box path="phone" label="Telephone" />
          <Box path="notes" label="Notes" className="w-full min-w-60" />
        </div>
        <h2 className="mb-2">How things are written for {found.client.name}</h2>
        <ConventionFields otherwise={found.practice} />
        <p className="mt-4 max-w-prose text-data text-soft">
          On the pages of these dogs and on their papers. Other cups and spoons hold for what is
          typed from now on.
        </p>
        <ClientRecords id={found.client.id} name={found.client.name} />
      </Page>
    </RecordFields>
  );
}

/** The cases by dog, in the order they come. */
function byDog(cases: readonly CaseRow[]): { key: number; dog: CaseRow; cases: CaseRow[] }[] {
  const found = new Map<number, { key: number; dog: CaseRow; cases: CaseRow[] }>();
  for (const row of cases) {
    const known = found.get(row.dog_id);
    if (known) known.cases.push(row);
    else found.set(row.dog_id, { key: row.dog_id, dog: row, cases: [row] });
  }
  return [...found.values()];
}
