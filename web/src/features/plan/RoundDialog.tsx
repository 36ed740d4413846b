import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type RoundJob, take } from "~/api/client";
import { figureProblem } from "~/shared/amounts/boxes";
import { Figure } from "~/shared/amounts/Figure";
import { figure, number, percent, spelled, told } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Problem } from "~/shared/states";
import { Button, Dialog } from "~/ui";

const POLL_MS = 300;

function runs(job: RoundJob | undefined): boolean {
  return job?.state === "waiting" || job?.state === "running";
}

interface RoundSettings {
  most: string;
  nothingNew: boolean;
}

/** Adjust the recipes of the plan together: as few of them as will do, taken at once or not at all. */
export function RoundDialog({ caseId, onClose }: { caseId: number; onClose: () => void }) {
  const client = useQueryClient();
  const path = { id: caseId };
  const last = useQuery({
    queryKey: keyOf("round", "last", caseId),
    queryFn: () => take(api.GET("/api/cases/{id}/plan/adjust", { params: { path } })),
    staleTime: 0,
    gcTime: 0,
  });
  const [typed, setTyped] = useState<RoundSettings | null>(null);
  const begin = useMutation({
    mutationFn: (now: RoundSettings) =>
      take(
        api.POST("/api/cases/{id}/plan/adjust", {
          params: { path },
          body: {
            max_supplements: figure(now.most),
            nothing_new: now.nothingNew,
          },
        }),
      ),
  });
  const known = begin.data ?? last.data?.last ?? undefined;
  const id = known?.job ?? "";
  const before = known?.asked;
  const settings = typed ?? {
    most: before?.max_supplements == null ? "" : String(before.max_supplements),
    nothingNew: before?.nothing_new ?? false,
  };
  const asked = useQuery({
    queryKey: keyOf("round", id),
    queryFn: () => take(api.GET("/api/rounds/{job}", { params: { path: { job: id } } })),
    enabled: id !== "",
    initialData: known,
    staleTime: 0,
    refetchInterval: ({ state }) => (runs(state.data) ? POLL_MS : false),
  });
  const job = asked.data;
  const taking = useMutation({
    mutationFn: () =>
      take(api.POST("/api/cases/{id}/plan/take", { params: { path }, body: { job: id } })),
    onSuccess: async () => {
      await Promise.all([
        forget(client, "recipe"),
        client.invalidateQueries({ queryKey: keyOf("recipe") }),
        client.invalidateQueries({ queryKey: keyOf("plan") }),
      ]);
      notice("Taken. What each recipe was is kept among its versions.");
      onClose();
    },
  });
  const leave = () => {
    if (runs(job)) void api.DELETE("/api/rounds/{job}", { params: { path: { job: id } } });
    onClose();
  };
  const found = job?.result;
  const error = begin.error ?? asked.error ?? taking.error;
  const running = begin.isPending || runs(job);
  const wrong = figureProblem(settings.most, 0, true) !== "";
  return (
    <Dialog open wide onClose={leave} title="Adjust the round">
      <p className="max-w-prose text-soft">
        Looks for the fewest recipes that have to change, and as little of each as will do, for
        every limit to be met over the round. What the other days bring is counted; what must not be
        passed on any day is still asked of each recipe. For a growing, pregnant or ill dog every
        day should hold: adjust each recipe on its own then.
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1">
        <Figure
          label="Supplements at most in each"
          value={settings.most}
          placeholder="usual"
          onChange={(most) => setTyped({ ...settings, most })}
        />
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-verdigris"
            checked={settings.nothingNew}
            onChange={(e) => setTyped({ ...settings, nothingNew: e.target.checked })}
          />
          Nothing that a recipe does not hold already
        </label>
      </div>
      {error && <Problem error={error} />}
      {running && (
        <div role="status" className="mt-3 flex items-center gap-2">
          <progress
            aria-label="Progress"
            className="h-2 flex-1 accent-oak"
            max={Math.max(job?.of ?? 1, 1)}
            value={job?.done ?? 0}
          />
          <span className="text-data text-soft">{job?.label || "starting"}</span>
        </div>
      )}
      {found && !running && typed === null && (
        <>
          <p
            role="status"
            className={`mt-3 stile ${found.holds ? "border-verdigris" : "border-madder"}`}
          >
            <b>{told(found.words)}</b>
          </p>
          {found.before.length > 0 && (
            <p className="mt-1 max-w-prose text-data text-soft">
              Not met over the round as it is: {found.before.map(spelled).join(", ")}.
            </p>
          )}
          {found.recipes.map((recipe) => (
            <section key={recipe.turn} aria-label={recipe.name} className="mt-3">
              <h3 className="wrap-anywhere font-semibold">
                {recipe.name}{" "}
                <span className="font-normal text-soft">
                  {number(recipe.days, Number.isInteger(recipe.days) ? 0 : 1)}{" "}
                  {recipe.days === 1 ? "day" : "days"} of the round, {percent(recipe.distance)} from
                  other foods
                </span>
              </h3>
              <ul className="text-data">
                {recipe.changes.map((change) => (
                  <li
                    key={`${change.line}/${change.food}`}
                    className="grid grid-cols-[1fr_5rem_5rem] gap-x-3 border-line border-b py-0.5 wide:grid-cols-[13rem_5rem_5rem_1fr]"
                  >
                    <span className="min-w-0 wrap-anywhere">{spelled(change.name)}</span>
                    <span className="text-right text-soft">{change.before || "–"}</span>
                    <span className="text-right">
                      <span className="sr-only">then </span>
                      <b>{change.after || "out"}</b>
                    </span>
                    <span className="col-span-3 text-soft wide:col-span-1">{told(change.why)}</span>
                  </li>
                ))}
              </ul>
            </section>
          ))}
        </>
      )}
      <div className="mt-4 flex gap-2">
        {found && found.recipes.length > 0 && typed === null && (
          <Button key="take" kind="solid" busy={taking.isPending} onClick={() => taking.mutate()}>
            {found.recipes.length === 1 ? "Take it" : `Take all ${found.recipes.length}`}
          </Button>
        )}
        {(!found || typed !== null) && (
          <Button
            key="find"
            kind="solid"
            disabled={running || wrong}
            busy={last.isPending}
            onClick={() => begin.mutate(settings, { onSuccess: () => setTyped(null) })}
          >
            {running ? "Working…" : "Find the fewest changes"}
          </Button>
        )}
        <Button onClick={leave}>{found ? "Leave it" : "Cancel"}</Button>
      </div>
    </Dialog>
  );
}
