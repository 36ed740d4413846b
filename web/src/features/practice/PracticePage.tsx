import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useLocation } from "react-router";
import type { Practice } from "~/api/client";
import { PracticeTabs } from "~/features/people/PracticeTabs";
import { practiceQuery } from "~/shared/queries";
import { ConventionFields } from "~/shared/record/conventions";
import { Box, fieldWords, isOnPage, RecordFields } from "~/shared/record/fields";
import { SavingNote, UndoRedo } from "~/shared/saving/SavingNote";
import { useDraft } from "~/shared/saving/useDraft";
import { Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Page } from "~/ui/Page";
import { KeptRecipes } from "./KeptRecipes";
import { Texts } from "./Texts";

/** The practice: its name, and how it writes things. */
export default function PracticePage() {
  useTitle("Practice");
  const practice = useQuery(practiceQuery);
  if (practice.isPending) return <Loading what="the practice" />;
  if (!practice.data)
    return <Problem what="the practice" error={practice.error} retry={() => practice.refetch()} />;
  return <PracticeRecord practice={practice.data} />;
}

function PracticeRecord({ practice }: { practice: Practice }) {
  const saving = useDraft("practice", "mine", practice);
  const { hash } = useLocation();
  useEffect(() => {
    if (hash) document.getElementById(hash.slice(1))?.scrollIntoView();
  }, [hash]);
  return (
    <RecordFields saving={saving}>
      <Page className="mx-auto w-full max-w-4xl p-4 mid:p-6 wide:overflow-auto">
        <div className="mb-2 flex items-center gap-3">
          <h1 className="text-page">Practice</h1>
          <UndoRedo saving={saving} />
        </div>
        <PracticeTabs />
        <SavingNote saving={saving} words={fieldWords} shown={isOnPage} />
        <Box
          path="name"
          label="Name"
          hint="Stands on everything that is printed."
          className="w-80"
        />
        <Contents />
        <section id="letterhead" aria-label="Letterhead" className="mt-6 scroll-mt-4">
          <h2 className="mb-1">Letterhead</h2>
          <p className="mb-3 max-w-prose text-soft">
            Stands under the name on every paper from now on; what was issued keeps the one it had.
          </p>
          <div className="grid max-w-2xl gap-3 mid:grid-cols-2">
            <Box path="letterhead.address" label="Address" tall className="w-full" />
            <div className="flex flex-col gap-3">
              <Box path="letterhead.phone" label="Telephone" className="w-full" />
              <Box path="letterhead.email" label="Mail" className="w-full" />
            </div>
            <Box path="letterhead.web" label="Web address" className="w-full" />
            <Box
              path="letterhead.note"
              label="A line of yours"
              hint="A registration, or what you are."
              className="w-full"
            />
          </div>
        </section>
        <section id="invoices" aria-label="Invoices" className="mt-8 scroll-mt-4">
          <h2 className="mb-1">Invoices</h2>
          <p className="mb-3 max-w-prose text-soft">
            They are written on a client’s page, and all stand under{" "}
            <Link to="/invoices" className="underline">
              Invoices
            </Link>
            . What an invoice must say where you work is not known here: ask whoever keeps your
            books.
          </p>
          <div className="flex flex-wrap gap-3">
            <Box
              path="invoicing.tax_name"
              label="Tax"
              hint="As it is called; empty for none."
              className="w-28"
            />
            <Box
              path="invoicing.tax_percent"
              label="Rate, %"
              holds="figure"
              className="w-20 text-right"
            />
            <Box path="invoicing.tax_number" label="Your number for it" />
            <Box
              path="invoicing.days_to_pay"
              label="Days to pay"
              holds="figure"
              className="w-20 text-right"
            />
            <Box
              path="invoicing.first"
              label="First number"
              hint="Of the first one written here."
              holds="figure"
              className="w-24 text-right"
            />
          </div>
          <div className="mt-3 grid max-w-2xl gap-3 mid:grid-cols-2">
            <Box path="invoicing.pay_to" label="Where to pay" tall className="w-full" />
            <Box path="invoicing.note" label="Stands under every invoice" tall className="w-full" />
          </div>
        </section>
        <h2 id="written" className="mt-8 mb-1 scroll-mt-4">
          How things are written
        </h2>
        <p className="mb-3 max-w-prose text-soft">
          On every page and paper. Whatever stands here, amounts may be typed in any unit: “2 lb 4
          oz”, “1 metric cup”, “9 kg”. A client who wants it otherwise has her own choice on her
          page.
        </p>
        <ConventionFields />
        <div className="mt-3">
          <Box
            path="time_zone"
            label="Time zone"
            hint={`Says what day it is, and when appointments are; empty: ${practice.zone}.`}
            list={practice.zones}
            className="w-72"
          />
        </div>
        <p className="mt-4 max-w-prose text-data text-soft">
          Other cups and spoons hold for what is typed from now on: a line keeps the cup it was
          written with.
        </p>
        <Texts />
        <KeptRecipes />
      </Page>
    </RecordFields>
  );
}

const PARTS = [
  ["letterhead", "Letterhead"],
  ["invoices", "Invoices"],
  ["written", "How things are written"],
  ["texts", "Texts"],
  ["kept", "Recipes to begin with"],
] as const;

/** What stands on the page, to go there. */
function Contents() {
  return (
    <nav aria-label="On this page" className="mt-3 flex flex-wrap gap-x-4 text-data">
      {PARTS.map(([id, label]) => (
        <a key={id} href={`#${id}`} className="py-1 underline underline-offset-2">
          {label}
        </a>
      ))}
    </nav>
  );
}
