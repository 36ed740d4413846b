import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type Case, type Learned, type Reformulate, take } from "~/api/client";
import { DifferencesOf } from "~/features/checks/DifferencesOf";
import { bodyWeight, day, number, sentence, told } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { Button } from "~/ui";

/** What changed since the plan was issued, and the way to a new version of it. seenAt: when the follow-up was asked last:
 * what it shows is looked at anew with it. */
export function NewVersion({ current, seenAt }: { current: Case; seenAt: number }) {
  const found = useQuery({
    queryKey: keyOf("reformulate", current.id, current.version, seenAt),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/reformulate", { params: { path: { id: current.id } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === current.id ? before : undefined),
    staleTime: 0,
  });
  return (
    <section aria-label="A new version" className="mt-6">
      <h3 className="font-semibold">A new version</h3>
      {found.isPending ? (
        <Loading what="what changed" />
      ) : found.data ? (
        <Changed current={current} of={found.data} older={found.isPlaceholderData} />
      ) : (
        <Problem what="what changed" error={found.error} retry={() => found.refetch()} />
      )}
    </section>
  );
}

/** older: it is being looked at anew, as something was put down since. */
function Changed({ current, of, older }: { current: Case; of: Reformulate; older: boolean }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  // What is not taken over, by ids that carry the figure: another figure is asked anew.
  const [left, setLeft] = useState<readonly string[]>([]);
  const { issued, learned } = of;
  const begin = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases/{id}/reformulate", {
          params: { path: { id: current.id } },
          body: { take: learned.map((x) => x.id).filter((id) => !left.includes(id)) },
        }),
      ),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keyOf("case", current.id) });
      void forget(client, "case");
      navigate(`/cases/${current.id}/recipes/${made.recipe}?side=adjust`);
    },
    onError: () => client.invalidateQueries({ queryKey: keyOf("reformulate", current.id) }),
  });
  if (of.recipe === null)
    return <p className="text-soft">The case has no recipe yet: there is nothing to make anew.</p>;
  const bench = `/cases/${current.id}/recipes/${of.recipe}`;
  const same = learned.length === 0 && !issued?.changed;
  return (
    <>
      <p className="text-soft">
        {issued
          ? `“${issued.name}”, version ${number(issued.number)}, is fed since ${day(issued.issued)}.`
          : "No plan of this dog is issued."}{" "}
        {of.on_its_way && of.on_its_way !== "draft" && (
          <>
            A new version is on its way already: {of.on_its_way}.{" "}
            <Link to={`/cases/${current.id}/checks/${of.recipe}`} className="underline">
              See its checks
            </Link>
            .
          </>
        )}
      </p>
      {issued?.changed && (
        <details className="mt-1 border-madder stile" open={learned.length === 0}>
          <summary className="cursor-pointer">
            On what the case says now it would be otherwise
          </summary>
          <DifferencesOf of={issued.changed} before="issued" after="now" />
        </details>
      )}
      {issued?.problem && (
        <p className="mt-1 border-madder stile">
          What it would be now cannot be computed: {told(issued.problem)}.
        </p>
      )}
      {learned.length > 0 && (
        <fieldset className="mt-1">
          <legend>The follow-up shows, and the case does not say yet:</legend>
          {learned.map((one) => (
            <label key={one.id} className="flex items-baseline gap-1.5 py-0.5">
              <input
                type="checkbox"
                className="accent-verdigris"
                checked={!left.includes(one.id)}
                onChange={(e) =>
                  setLeft(e.target.checked ? left.filter((id) => id !== one.id) : [...left, one.id])
                }
              />
              <span>
                <b className="font-semibold">{newsWords(one)}</b>{" "}
                <span className="text-soft">{told(sentence(one.why)).replace(/\.?$/, ".")}</span>
              </span>
            </label>
          ))}
        </fieldset>
      )}
      {begin.error && (
        <p role="alert" className="mt-1 border-madder stile">
          Not begun: {told(begin.error.message)}.
        </p>
      )}
      {same ? (
        <p>
          Nothing that it rests on changed.{" "}
          <Link to={bench} className="underline">
            Its recipe on the bench
          </Link>
        </p>
      ) : (
        <p className="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
          <Button
            kind="solid"
            aria-disabled={begin.isPending || older}
            onClick={() => !begin.isPending && !older && begin.mutate()}
          >
            Begin the new version
          </Button>
          <span className="text-data text-soft">
            {older
              ? "Looking at what was put down since …"
              : issued
                ? "What was issued stands until the new one went through the checks, the vet and out."
                : "It goes on at the bench, with the case as it is then."}
          </span>
        </p>
      )}
    </>
  );
}

const CERTAINTIES: Record<string, string> = {
  proven: "proven",
  likely: "likely",
  suspected: "suspected",
  reacts: "told",
};

/** What is new, in words. */
function newsWords({ news, food, was, now }: Learned): string {
  if (news === "weight")
    return `Weight ${bodyWeight(Number(now))} instead of ${bodyWeight(Number(was))}.`;
  if (news === "kcal")
    return `${number(Number(now))} kcal a day instead of ${number(Number(was))}.`;
  if (news === "condition")
    return `Body condition ${now} of 9${was === null ? "" : ` instead of ${was}`}.`;
  if (news === "muscle")
    return `Muscle condition ${now}${was === null ? "" : ` instead of ${was}`}.`;
  const name = sentence(food);
  if (now === null) return `${name}: tolerated, no longer suspected.`;
  const sure = CERTAINTIES[String(now)] ?? now;
  return `${name}: a reaction, ${sure}${was === null ? "" : ` instead of ${CERTAINTIES[String(was)] ?? was}`}.`;
}
