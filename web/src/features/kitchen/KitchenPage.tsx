import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Batch, type BatchAsk, type Kitchen, take } from "~/api/client";
import { today } from "~/shared/days";
import { forget, keyOf } from "~/shared/keys";
import { kitchenQuery } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { useSettled } from "~/shared/useSettled";
import { Button, TextInput } from "~/ui";
import { Page } from "~/ui/Page";
import { Asking } from "./Asking";
import { askOf, keepTyped, keptTyped, sourceId, startOf, type Typed } from "./asked";
import { Batches } from "./Batches";
import { CaseFreezer } from "./CaseFreezer";
import { Planned } from "./Planned";

/** Batches of a case: plan one, and see those there are. */
export default function KitchenPage() {
  const current = useCase();
  const found = useQuery(kitchenQuery(current.id));
  if (found.isPending) return <Loading what="the kitchen" />;
  if (!found.data)
    return <Problem what="the kitchen" error={found.error} retry={() => found.refetch()} />;
  return (
    <Page className="min-h-0 flex-1 px-4 py-4 mid:px-6 wide:overflow-auto">
      <h2>Kitchen</h2>
      {found.data.sources.length === 0 ? (
        <Empty>
          There is no recipe to cook yet.{" "}
          <Link to={`/cases/${current.id}`} className="underline">
            Write one on the bench
          </Link>
          ; then a batch of it is planned here.
        </Empty>
      ) : (
        <Planner key={current.id} kitchen={found.data} caseId={current.id} />
      )}
      <CaseFreezer caseId={current.id} />
      <Batches batches={found.data.batches} />
    </Page>
  );
}

function Planner({ kitchen, caseId }: { kitchen: Kitchen; caseId: number }) {
  const [typed, setTyped] = useState<Typed>(() => keptTyped(caseId) ?? startOf(kitchen));
  const change = (part: Partial<Typed>) => {
    const next = { ...typed, ...part };
    keepTyped(caseId, next);
    setTyped(next);
  };
  const source = kitchen.sources.find((s) => sourceId(s) === typed.source) ?? kitchen.sources[0];
  const settled = useSettled(typed);
  const { ask, wrong } = askOf(settled);
  const found = useQuery({
    queryKey: keyOf("batch-plan", caseId, settled.source, ask),
    queryFn: () =>
      take(
        api.POST("/api/recipes/{id}/batch-plan", {
          params: { path: { id: source?.recipe ?? 0 } },
          body: { ask: ask as BatchAsk, draft: source?.draft ?? false },
        }),
      ),
    enabled: ask !== null && source !== undefined && source.problem === "",
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (!source) return null;
  const why = source.problem || wrong || (found.error?.message ?? "");
  const stale = found.isPlaceholderData || JSON.stringify(typed) !== JSON.stringify(settled);
  return (
    <div className="mt-2 grid gap-6 wide:grid-cols-[19rem_minmax(0,1fr)] wide:gap-8">
      <Asking kitchen={kitchen} source={source} typed={typed} change={change} />
      <section aria-label="The batch" aria-busy={stale} className="min-w-0">
        {why ? (
          <p role="alert" className="mb-3 border-madder stile">
            The batch cannot be planned: {why}.
          </p>
        ) : found.isPending ? (
          <Loading what="the batch" />
        ) : null}
        {found.data && !why && (
          <div className={stale ? "opacity-60" : ""}>
            <Planned plan={found.data} source={source} />
            <Keep
              disabled={stale || found.data.eaters.some((e) => e.must_not.length > 0)}
              send={(cook_on) =>
                take(
                  api.POST("/api/recipes/{id}/batches", {
                    params: { path: { id: source.recipe } },
                    body: { ask: ask as BatchAsk, draft: source.draft, cook_on },
                  }),
                )
              }
              onKept={() => keepTyped(caseId, null)}
            />
          </div>
        )}
      </section>
    </div>
  );
}

/** Keep it as a batch with a code: from then on it can be cooked, weighed and labelled. */
function Keep({
  disabled,
  send,
  onKept,
}: {
  disabled: boolean;
  send: (on: string) => Promise<Batch>;
  onKept: () => void;
}) {
  const client = useQueryClient();
  const [on, setOn] = useState(today);
  const keep = useMutation({
    mutationFn: () => send(on),
    onSuccess: () => {
      onKept();
      return forget(client, "batch");
    },
  });
  return (
    <form
      className="mt-4 flex flex-wrap items-center gap-3 border-line border-t pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!keep.isPending) keep.mutate();
      }}
    >
      <span className="flex items-center gap-2">
        <label htmlFor="cook-on">Cook it on</label>
        <TextInput
          id="cook-on"
          type="date"
          required
          min={today()}
          value={on}
          onChange={(e) => setOn(e.target.value)}
          className="w-40"
        />
      </span>
      {/* Not disabled while it is sent: the focus would fall off it. */}
      <Button kind="solid" type="submit" disabled={disabled} busy={keep.isPending}>
        Keep this batch
      </Button>
      {keep.isSuccess && (
        <span role="status">
          Kept as batch <b>{keep.data.code}</b>.
        </span>
      )}
      {keep.error && (
        <p role="alert" className="w-full border-madder stile">
          Not kept: {keep.error.message}.
        </p>
      )}
    </form>
  );
}
