import { useQuery } from "@tanstack/react-query";
import { Link, Navigate, useNavigate, useParams } from "react-router";
import type { Case, Checks, Weighed } from "~/api/client";
import { checksQuery } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { Page } from "~/ui/Page";
import { Select } from "~/ui/Select";
import { ConcernList } from "./ConcernList";
import { WayOut } from "./WayOut";

/** What stands against a recipe, what was decided of it, and its way to the owner. */
export default function ChecksPage() {
  const { recipeId } = useParams();
  const current = useCase();
  const at = current.recipes.filter((r) => !r.archived);
  const first = at[0];
  if (recipeId === undefined && first) return <Navigate replace to={String(first.id)} />;
  if (recipeId === undefined) {
    return (
      <Page className="p-4 mid:p-6">
        <h2 className="mb-3">Checks</h2>
        <Empty>
          There is no recipe yet. Write one first: then what stands against it is told here.
        </Empty>
      </Page>
    );
  }
  return <OfRecipe key={recipeId} id={Number(recipeId)} current={current} />;
}

function OfRecipe({ id, current }: { id: number; current: Case }) {
  const found = useQuery(checksQuery(id));
  const navigate = useNavigate();
  if (found.isPending) return <Loading what="the checks" />;
  if (!found.data)
    return <Problem what="the checks" error={found.error} retry={() => found.refetch()} />;
  const checks = found.data;
  const at = current.recipes.filter((r) => !r.archived);
  return (
    <Page className="min-h-0 flex-1 px-4 py-4 mid:px-6 wide:overflow-auto">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2>Checks</h2>
        {at.length > 1 ? (
          <Select
            label="Checks of"
            value={String(id)}
            onChange={(to) => navigate(`/cases/${current.id}/checks/${to}`)}
            options={at.map((r) => ({ id: String(r.id), label: r.name }))}
          />
        ) : (
          <span className="wrap-anywhere">of “{checks.name}”</span>
        )}
        <span className="text-soft">{summary(checks)}</span>
      </div>
      <div className="mt-3 grid gap-x-8 gap-y-6 wide:grid-cols-[minmax(0,1fr)_22rem]">
        <div className="min-w-0">
          {checks.problem ? (
            <Empty
              action={
                <Link to={`/cases/${current.id}/recipes/${id}`} className="underline">
                  To the recipe
                </Link>
              }
            >
              Nothing can be checked yet: the recipe {checks.problem.replace(/^recipe:? /, "")}.
            </Empty>
          ) : (
            <ConcernList checks={checks} current={current} />
          )}
        </div>
        <WayOut checks={checks} current={current} />
      </div>
    </Page>
  );
}

function summary(checks: Checks): string {
  if (checks.problem) return "";
  const stands = (w: Weighed) => w.state === "open" || w.state === "reopened";
  const blocks = checks.concerns.filter((w) => stands(w) && w.concern.level === "block").length;
  const judged = checks.beside ? ", judged with what is given every day beside it" : "";
  if (checks.open === 0) return `nothing stands against it${judged}`;
  return blocks > 0
    ? `${checks.open} to settle, ${blocks} of them cannot go out${judged}`
    : `${checks.open} to settle${judged}`;
}
