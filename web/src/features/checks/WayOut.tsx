import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Case, type CheckIn, type Checks, type Release, take } from "~/api/client";
import { clock, day } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";
import { DifferencesOf } from "./DifferencesOf";
import { AskForm, IssueForm, ReasonForm, Refused } from "./forms";

const WAY = ["draft", "checked", "with the vet", "approved", "issued"] as const;

const MEANS: Record<(typeof WAY)[number], string> = {
  draft: "at work on the bench",
  checked: "frozen as a version; nothing stands against it",
  "with the vet": "asked for a signature",
  approved: "signed, for this version alone",
  issued: "the owner has it",
};

/** Set what the server answered, and ask anew what follows from it. */
function useMoved(recipe: number) {
  const client = useQueryClient();
  return (answer: Checks) => {
    client.setQueryData(keyOf("checks", recipe), answer);
    void forget(client, "release");
  };
}

/** From the bench to the owner: where the plan is, what can be done, and what was. */
export function WayOut({ checks, current }: { checks: Checks; current: Case }) {
  const { at_work: atWork, issued } = checks;
  const asIssued = issued !== null && checks.changes === null && !checks.problem;
  const state = atWork?.state ?? (asIssued ? "issued" : "draft");
  const version = atWork && atWork.state !== "draft" ? atWork : null;
  return (
    <aside aria-label="The way out" className="min-w-0">
      <h3 className="font-semibold">The way out</h3>
      <ol className="mt-2">
        {WAY.map((stop, i) => {
          const here = stop === state || (stop === "issued" && issued !== null && !version);
          const passed = WAY.indexOf(state as (typeof WAY)[number]) > i;
          return (
            <li
              key={stop}
              aria-current={stop === state ? "step" : undefined}
              className="flex items-stretch gap-3"
            >
              <span aria-hidden="true" className="flex w-3 flex-col items-center">
                <span
                  className={`w-0.5 flex-1 ${i === 0 ? "" : passed || here ? "bg-ink" : "bg-line"}`}
                />
                <span
                  className={`size-3 shrink-0 border-[1.5px] border-ink ${here ? "bg-oak-deep" : passed ? "bg-ink" : "bg-sheet"}`}
                />
                <span
                  className={`w-0.5 flex-1 ${i === WAY.length - 1 ? "" : passed ? "bg-ink" : "bg-line"}`}
                />
              </span>
              <span className="py-1 leading-tight">
                <span className={here ? "font-semibold" : passed ? "" : "text-soft"}>{stop}</span>
                <span className="text-data text-soft">
                  , {stop === "issued" && issued ? `version ${issued.number}` : MEANS[stop]}
                </span>
              </span>
            </li>
          );
        })}
      </ol>
      <div className="mt-3 flex flex-col gap-4">
        {version && atWork ? (
          <AtWork release={version} checks={checks} current={current} />
        ) : (
          <FromDraft checks={checks} returned={atWork} />
        )}
        {issued && <IssuedPart issued={issued} checks={checks} />}
        {checks.ended.map((release) => (
          <Ended key={release.id} release={release} />
        ))}
        <p className="border-line border-t pt-2 text-data">
          <a href={`/api/cases/${current.id}/bundle`} download className="underline">
            Take the whole case along
          </a>{" "}
          <span className="text-soft">as a ZIP of open formats and papers</span>
        </p>
      </div>
    </aside>
  );
}

type Texture = CheckIn["texture"];

const TEXTURES: { id: NonNullable<Texture>; label: string }[] = [
  { id: "chunks", label: "in chunks" },
  { id: "minced", label: "minced" },
  { id: "smooth", label: "smooth, for a dog without teeth" },
];

/** Freeze the recipe as it is; what the vet sent back stands above. */
function FromDraft({ checks, returned }: { checks: Checks; returned: Release | null }) {
  const moved = useMoved(checks.recipe);
  const [texture, setTexture] = useState<NonNullable<Texture>>("chunks");
  const check = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/recipes/{id}/check", {
          params: { path: { id: checks.recipe } },
          body: { name: "checked", texture },
        }),
      ),
    onSuccess: moved,
  });
  const answer = returned?.requests.find((r) => r.approved === false);
  const back = returned?.history.at(-1);
  const same = checks.issued !== null && checks.changes === null;
  return (
    <section>
      {back && (back.move === "return" || back.move === "take back") && (
        <p className="mb-2 border-madder stile">
          {back.move === "return" ? "Sent back by" : "Taken back by"} <b>{back.by}</b> on{" "}
          {day(back.at)}, version {back.number}: {back.reason || answer?.comment}
        </p>
      )}
      {same ? (
        <p className="text-soft">
          The recipe is what was issued. Change it, and it can go out again.
        </p>
      ) : (
        <>
          <p className="mb-2 flex items-center gap-2">
            <span>What the food is like</span>
            <Select
              label="What the food is like"
              value={texture}
              onChange={(to) => setTexture(to as typeof texture)}
              options={TEXTURES}
            />
          </p>
          <Button
            kind="solid"
            disabled={checks.open > 0 || checks.problem !== ""}
            busy={check.isPending}
            onClick={() => check.mutate()}
          >
            Check it
          </Button>
          <p className="mt-1 text-data text-soft">
            {checks.problem
              ? "The recipe must be computed first."
              : checks.open > 0
                ? `${checks.open} ${checks.open === 1 ? "point is" : "points are"} to be settled first.`
                : "Freezes the recipe, its foods, limits and decisions as a version that can be signed."}
          </p>
        </>
      )}
      {check.error && <Refused error={check.error} />}
    </section>
  );
}

function AtWork({ release, checks, current }: { release: Release; checks: Checks; current: Case }) {
  const moved = useMoved(checks.recipe);
  const [backing, setBacking] = useState(false);
  const asked = release.requests[0];
  return (
    <section>
      <p>
        <b>Version {release.number}</b> is {release.state}.
      </p>
      <Papers release={release} />
      {!release.same && (
        <p className="mt-1 border-oak stile">
          The recipe on the bench was changed since: what goes out is version {release.number}.
        </p>
      )}
      {release.since && (
        <div className="mt-1 border-madder stile">
          <p>What it was checked on changed since. Take it back and check it again.</p>
          <DifferencesOf of={release.since} before="then" after="now" />
        </div>
      )}
      {release.problem && <Refused error={new Error(release.problem)} />}
      {release.state === "checked" && <AskForm checks={checks} current={current} onSent={moved} />}
      {release.state === "with the vet" && asked && (
        <p className="mt-1">
          {asked.to_name} was asked on {day(asked.created)}; the page{" "}
          {asked.open ? `opens until ${day(asked.expires)}` : "opens no more"}.{" "}
          {asked.visits === 0
            ? "It was not opened yet."
            : `Opened ${asked.visits === 1 ? "once" : `${asked.visits} times`}, last on ${asked.last_visit ? `${day(asked.last_visit)}, ${clock(asked.last_visit)}` : ""}.`}{" "}
          <Link to="/outbox" className="underline">
            To the outbox
          </Link>
        </p>
      )}
      {release.state === "approved" && (
        <div className="mt-1">
          <p>{release.approved}</p>
          {asked?.comment && <p className="border-oak stile">“{asked.comment}”</p>}
          {current.client.email ? (
            <IssueForm
              checks={checks}
              current={current}
              stale={release.since !== null}
              onIssued={moved}
            />
          ) : (
            <p className="mt-1 border-madder stile">
              {current.client.name} has no e-mail address yet.{" "}
              <Link to={`/clients/${current.client.id}`} className="underline">
                Give one
              </Link>
            </p>
          )}
          {checks.issued && (
            <p className="mt-1 text-data text-soft">
              It takes the place of version {checks.issued.number}, whose pages then say so.
            </p>
          )}
        </div>
      )}
      <p className="mt-2">
        {backing ? (
          <ReasonForm
            label="Why it is taken back"
            action="Take it back"
            send={(reason) =>
              take(
                api.POST("/api/recipes/{id}/take-back", {
                  params: { path: { id: checks.recipe } },
                  body: { reason },
                }),
              )
            }
            onSent={(answer) => {
              setBacking(false);
              moved(answer);
            }}
            onCancel={() => setBacking(false)}
          />
        ) : (
          <Button kind="quiet" small onClick={() => setBacking(true)}>
            Take it back to the bench
          </Button>
        )}
      </p>
      <Moves release={release} />
    </section>
  );
}

/** What the owner has, what changed since, and the way to call it back. */
function IssuedPart({ issued, checks }: { issued: Release; checks: Checks }) {
  const moved = useMoved(checks.recipe);
  const [withdrawing, setWithdrawing] = useState(false);
  const link = issued.links.find((l) => l.open && l.document === "owner");
  return (
    <section aria-label="Issued" className="border-line border-t pt-3">
      <p>
        <b>Version {issued.number} is with the owner.</b> {issued.approved}
      </p>
      <Papers release={issued} owner={link?.path} />
      {issued.since && (
        <div className="mt-1 border-madder stile">
          <p>On today's facts it would be otherwise:</p>
          <DifferencesOf of={issued.since} before="issued" after="today" />
        </div>
      )}
      {checks.changes && (
        <details className="mt-1">
          <summary className="cursor-pointer">The recipe on the bench differs from it</summary>
          <DifferencesOf of={checks.changes} before={`version ${issued.number}`} after="bench" />
        </details>
      )}
      <div className="mt-2">
        {withdrawing ? (
          <ReasonForm
            label="Why it must not be fed any more"
            action="Withdraw the plan"
            danger
            send={(reason) =>
              take(
                api.POST("/api/recipes/{id}/withdraw", {
                  params: { path: { id: checks.recipe } },
                  body: { reason },
                }),
              )
            }
            onSent={(answer) => {
              setWithdrawing(false);
              moved(answer);
            }}
            onCancel={() => setWithdrawing(false)}
          >
            <p>
              The owner's and the vet's pages say at once that it is not to be fed, with what you
              write here, and both are written to. This cannot be undone.
            </p>
          </ReasonForm>
        ) : (
          <Button kind="quiet" small className="text-madder" onClick={() => setWithdrawing(true)}>
            Withdraw…
          </Button>
        )}
      </div>
      <Moves release={issued} />
    </section>
  );
}

/** What is printed of a version. owner: the page that its owner has. */
function Papers({ release, owner }: { release: Release; owner?: string | undefined }) {
  const at = `/papers/versions/${release.frozen}`;
  const papers: [string, string][] = [
    ["The owner's sheet", `${at}/owner`],
    ["The vet's letter", `${at}/letter`],
    ["Nutrients", `${at}/report`],
  ];
  if (owner) papers.unshift(["The owner's page", owner]);
  return (
    <p className="mt-1 flex flex-wrap gap-x-3">
      {papers.map(([label, href]) => (
        <a key={href} className="underline" href={href} target="_blank" rel="noreferrer">
          {label}
        </a>
      ))}
    </p>
  );
}

function Ended({ release }: { release: Release }) {
  const last = release.history.at(-1);
  return (
    <section className="border-line border-t pt-2 text-data">
      <p>
        Version {release.number} was {release.state}
        {last && ` on ${day(last.at)}`}. {last?.reason}
      </p>
      <Moves release={release} />
    </section>
  );
}

/** What was done with it, when, by whom and why. */
function Moves({ release }: { release: Release }) {
  if (release.history.length === 0) return null;
  return (
    <details className="mt-2 text-data">
      <summary className="cursor-pointer text-soft">What was done with it</summary>
      <ul>
        {release.history.map((m) => (
          <li key={m.at} className="border-line border-b py-0.5">
            {day(m.at)}, {clock(m.at)}: {m.before} → {m.after}, version {m.number}, by {m.by}
            {m.reason && `: ${m.reason}`}
          </li>
        ))}
      </ul>
    </details>
  );
}
