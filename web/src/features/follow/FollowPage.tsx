import { useQuery } from "@tanstack/react-query";
import type { Case } from "~/api/client";
import { number, told } from "~/shared/format";
import { followQuery } from "~/shared/queries";
import { CaseFields, CaseSaved } from "~/shared/record/fields";
import { Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { Page } from "~/ui/Page";
import { Days } from "./Days";
import { WhatIsFed } from "./Drift";
import { Laboratory } from "./Laboratory";
import { Learnt } from "./Learnt";
import { NewVersion } from "./NewVersion";
import { PutDown } from "./PutDown";
import { Timeline } from "./Timeline";
import { Trials } from "./Trial";

/** A dog after its plan was issued: what is put down of it, and what that says. */
export default function FollowPage() {
  const current = useCase();
  return (
    <CaseFields current={current}>
      <Page className="min-h-0 flex-1 px-4 py-4 mid:px-6 wide:overflow-auto">
        <div className="flex flex-wrap items-start justify-between gap-x-6">
          <h2>Follow-up</h2>
          <CaseSaved />
        </div>
        <Following current={current} />
      </Page>
    </CaseFields>
  );
}

function Following({ current }: { current: Case }) {
  const found = useQuery(followQuery(current.id));
  if (found.isPending) return <Loading what="what was put down" />;
  if (!found.data)
    return <Problem what="what was put down" error={found.error} retry={() => found.refetch()} />;
  const { entries, trend, why, plan_kcal } = found.data;
  return (
    <>
      {found.data.flags.length > 0 && (
        <p role="alert" className="mt-2 border-madder stile">
          <b className="font-semibold text-madder">The veterinarian first:</b>{" "}
          {told(found.data.flags.join("; "))}.
        </p>
      )}
      <Timeline found={found.data} name={current.dog.name} />
      <div className="mt-4 grid gap-6 wide:grid-cols-[19rem_minmax(0,1fr)] wide:gap-8">
        <PutDown caseId={current.id} />
        <div className="min-w-0">
          {trend ? (
            <Learnt trend={trend} name={current.dog.name} />
          ) : (
            <p className="text-soft">
              {told(why.charAt(0).toUpperCase() + why.slice(1))}. Weigh on the same scale at the
              same hour, before food. After three to eight weeks the weights say how many kcal hold
              this dog{plan_kcal === null ? "" : `; its plan gives ${number(plan_kcal)} kcal a day`}
              .
            </p>
          )}
          <NewVersion current={current} seenAt={found.dataUpdatedAt} />
          <WhatIsFed current={current} />
          <Laboratory current={current} found={found.data} />
          <Trials current={current} found={found.data} />
          <Days caseId={current.id} entries={entries} />
        </div>
      </div>
    </>
  );
}
