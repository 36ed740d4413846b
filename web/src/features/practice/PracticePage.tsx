import { useQuery } from "@tanstack/react-query";
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
        <section id="letterhead" aria-label="Letterhead" className="mt-6">
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
        <h2 className="mt-6 mb-1">How things are written</h2>
        <p className="mb-3 max-w-prose text-soft">
          On every page and paper. Whatever stands here, amounts may be typed in any unit: “2 lb 4
          oz”, “1 metric cup”, “9 kg”. A client who wants it otherwise has her own choice on her
          page.
        </p>
        <ConventionFields />
        <p className="mt-4 max-w-prose text-data text-soft">
          Other cups and spoons hold for what is typed from now on: a line keeps the cup it was
          written with.
        </p>
      </Page>
    </RecordFields>
  );
}
