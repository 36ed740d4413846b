import { useInfiniteQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { api, type Issued, take } from "~/api/client";
import { DifferencesOf } from "~/features/checks/DifferencesOf";
import { day } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Page } from "~/ui/Page";

/** Every plan that an owner has, those first that would be otherwise on today's facts. */
export default function IssuedPage() {
  useTitle("Issued plans");
  const found = useInfiniteQuery({
    queryKey: keyOf("issued"),
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/issued", {
          params: { query: pageParam === null ? {} : { before: pageParam } },
        }),
      ),
    initialPageParam: null as number | null,
    getNextPageParam: (last) => last.at(-1)?.release ?? null,
    staleTime: 0,
  });
  // Each plan is computed anew; they come a few at a time until there are no more.
  const { hasNextPage, isFetching, isError, fetchNextPage } = found;
  useEffect(() => {
    if (hasNextPage && !isFetching && !isError) fetchNextPage();
  }, [hasNextPage, isFetching, isError, fetchNextPage]);
  if (found.isPending) return <Loading what="the issued plans" />;
  if (!found.data)
    return <Problem what="the issued plans" error={found.error} retry={() => found.refetch()} />;
  const plans = found.data.pages.flat().sort((a, b) => Number(isOff(b)) - Number(isOff(a)));
  const off = plans.filter(isOff).length;
  const done = !hasNextPage;
  return (
    <Page className="mx-auto w-full max-w-5xl p-4 mid:p-6">
      <h1 className="text-page">Issued plans</h1>
      <p className="mb-3 text-soft">
        What was issued is frozen: its figures stay what they were signed for. Where a food, a
        label, a limit or the dog changed since, it is told here by how much.
      </p>
      {isError && (
        <Problem
          what="the rest of the plans"
          error={found.error}
          retry={() => found.fetchNextPage()}
        />
      )}
      {plans.length === 0 ? (
        <Empty>
          No plan is issued yet. Check a recipe, let the vet sign it, and issue it: then it stands
          here.
        </Empty>
      ) : (
        <>
          <p className="mb-2" role="status">
            {off === 0
              ? done
                ? "Each of them would be the same on today's facts."
                : "None of them is otherwise on today's facts so far."
              : `${off} of ${plans.length} must be looked at: past their days, or otherwise on today's facts.`}
            {!done && !isError && ` ${plans.length} are computed, the others follow…`}
          </p>
          <ul className="border-line border-t">
            {plans.map((plan) => (
              <li key={plan.recipe} className="border-line border-b py-2">
                <p>
                  <Link to={`/cases/${plan.case}/checks/${plan.recipe}`} className="underline">
                    <b>{plan.dog}</b>, {plan.name}
                  </Link>
                  , version {plan.number}, for {plan.client}. {plan.approved}
                </p>
                {plan.until && (
                  <p className={plan.past ? "border-madder stile" : ""}>
                    Not complete: to be fed until {day(plan.until)}
                    {plan.past ? ", which is over. Ask how the dog is, and mend the plan." : "."}
                  </p>
                )}
                {plan.problem && (
                  <p className="border-madder stile">
                    It cannot be computed any more: {plan.problem}.
                  </p>
                )}
                {plan.changed && (
                  <div className="mt-1 max-w-2xl border-madder stile">
                    <DifferencesOf of={plan.changed} before="issued" after="today" />
                  </div>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </Page>
  );
}

function isOff(plan: Issued): boolean {
  return plan.changed !== null || plan.problem !== "" || plan.past;
}
