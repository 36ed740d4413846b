import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, type Case, type Follow, type Trial, type TrialMoveKind, take } from "~/api/client";
import { day, number, sentence, told } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { Button } from "~/ui";
import { BeginTrial } from "./BeginTrial";
import { MoveForm } from "./MoveForm";
import { DISTURBANCES, MOVES, OUTCOMES, phaseWords, VERDICTS } from "./trialWords";

/** What leads nowhere by itself, and belongs to any day. */
const ASIDE: readonly TrialMoveKind[] = ["exposure", "disturbance", "stop"];

/** The elimination trials of a case: the running one with what may be done, and those before. */
export function Trials({ current, found }: { current: Case; found: Follow }) {
  const [open, setOpen] = useState(false);
  const [last, ...before] = found.trials;
  const running = last !== undefined && last.now.phase !== "ended";
  return (
    <section aria-label="Elimination trial" className="mt-6">
      <h3 className="font-semibold">Elimination trial</h3>
      {last && <OneTrial key={last.id} trial={last} caseId={current.id} />}
      {!running &&
        (open ? (
          <BeginTrial current={current} onDone={() => setOpen(false)} />
        ) : (
          <p className="mt-1">
            {!last && (
              <span className="text-soft">
                Itch or stool on one diet alone, then the old diet back, then food by food: each
                step is judged by what was put down.{" "}
              </span>
            )}
            <button type="button" className="underline" onClick={() => setOpen(true)}>
              {last ? "Begin another trial" : "Begin a trial"}
            </button>
          </p>
        ))}
      {before.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer">Trials before</summary>
          {before.map((trial) => (
            <OneTrial key={trial.id} trial={trial} caseId={current.id} />
          ))}
        </details>
      )}
    </section>
  );
}

function OneTrial({ trial, caseId }: { trial: Trial; caseId: number }) {
  const client = useQueryClient();
  const [open, setOpen] = useState<TrialMoveKind | null>(null);
  const heading = useRef<HTMLParagraphElement>(null);
  const { now } = trial;
  const allowed = now.options.filter((o) => !o.why).map((o) => o.kind);
  const refused = now.options.filter((o) => o.why);
  const takeBack = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/trials/{id}/taken-back", {
          params: { path: { id: trial.id } },
          body: { version: trial.version },
        }),
      ),
    onSuccess: (seen) => client.setQueryData(keyOf("follow", caseId), seen),
    onError: () => forget(client, "follow"),
    onSettled: () => heading.current?.focus(),
  });
  function done(seen: Follow) {
    client.setQueryData(keyOf("follow", caseId), seen);
    setOpen(null);
    heading.current?.focus();
  }
  return (
    <div className="mt-1">
      <p ref={heading} tabIndex={-1} className="flex flex-wrap items-baseline gap-x-4">
        <b className="font-semibold text-part">{headline(trial)}</b>
        <span>{trial.plan.diet.join(", ")}</span>
        {now.outcome && <span>{OUTCOMES[now.outcome]}</span>}
        {now.confirmed && <span>confirmed by the old diet</span>}
      </p>
      {now.warnings.map((words) => (
        <p key={words} role="alert" className="mt-1 border-madder stile">
          {told(words)}
        </p>
      ))}
      {now.severe.length > 0 && (
        <p className="mt-1 border-madder stile">
          Never tried at home: {now.severe.join(", ")}. The dog swelled or collapsed after it.
        </p>
      )}
      <p className="text-soft">
        {now.courses.map((c) => (
          <span key={c.name}>
            {c.name === "itch" ? "Itch" : "Stool"} {number(c.baseline, 1)} at first,{" "}
            {number(c.now, 1)} in the last seven days
            {c.wanted !== null && `, wanted ${number(c.wanted, 1)} or less`}.{" "}
          </span>
        ))}
        {now.exposures.length > 0 &&
          `${now.exposures.length === 1 ? "One slip" : `${now.exposures.length} slips`}, the last on ${day(now.exposures.toSorted().at(-1) ?? "")}. `}
        {now.disturbances.map((d) => `${sentence(DISTURBANCES[d.kind])} since ${day(d.since)}. `)}
      </p>
      {now.due.length > 0 && (
        <p>
          Next:{" "}
          {now.due.map((d, i) => (
            <span key={d.words}>
              {i > 0 && "; "}
              <b className="font-semibold">{day(d.date)}</b>, {d.words}
            </span>
          ))}
          .{" "}
          <a href={`/papers/cases/${caseId}/trial.ics`} className="underline">
            For the calendar
          </a>
        </p>
      )}
      <Verdicts trial={trial} caseId={caseId} />
      <div className="mt-2 flex flex-wrap items-center gap-2">
        {allowed
          .filter((kind) => !ASIDE.includes(kind))
          .map((kind) => (
            <Button
              key={kind}
              aria-expanded={open === kind}
              onClick={() => setOpen(open === kind ? null : kind)}
            >
              {MOVES[kind].button}
            </Button>
          ))}
        {allowed
          .filter((kind) => ASIDE.includes(kind))
          .map((kind) => (
            <button
              key={kind}
              type="button"
              className="px-1 underline"
              aria-expanded={open === kind}
              onClick={() => setOpen(open === kind ? null : kind)}
            >
              {MOVES[kind].button}
            </button>
          ))}
        {trial.made.length > 0 && (
          <button
            type="button"
            className="px-1 underline aria-disabled:opacity-40"
            aria-disabled={takeBack.isPending}
            onClick={() => !takeBack.isPending && takeBack.mutate()}
          >
            Take the last step back
          </button>
        )}
      </div>
      {takeBack.error && (
        <p role="alert" className="border-madder stile">
          Not taken back: {takeBack.error.message}.
        </p>
      )}
      {open && (
        <MoveForm
          key={open}
          trial={trial}
          kind={open}
          onDone={done}
          onCancel={() => setOpen(null)}
        />
      )}
      {now.phase !== "ended" && refused.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer text-soft">What may not be done yet, and why</summary>
          <ul className="mt-1">
            {refused.map((o) => (
              <li key={o.kind}>
                {MOVES[o.kind].button}: <span className="text-soft">{told(o.why)}.</span>{" "}
                {o.other_day && (
                  <button
                    type="button"
                    className="underline"
                    aria-label={`${MOVES[o.kind].button}, on another day`}
                    onClick={() => setOpen(o.kind)}
                  >
                    On another day
                  </button>
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
      <Done trial={trial} />
    </div>
  );
}

function headline({ now }: Trial): string {
  if (now.phase === "ended") return sentence(`ended: ${now.ended}`);
  const days = `day ${number(now.days + 1)}`;
  if (now.phase === "trial")
    return now.clean_days === null
      ? "Nothing but the diet: the clock waits until it is clear again"
      : `Nothing but the diet, day ${number(now.clean_days + 1)}`;
  return `${sentence(phaseWords(now.phase, now.trying ?? ""))}, ${days}`;
}

/** What each food did, and the way into the case. */
function Verdicts({ trial, caseId }: { trial: Trial; caseId: number }) {
  const client = useQueryClient();
  const write = useMutation({
    mutationFn: (food: string) =>
      take(
        api.POST("/api/trials/{id}/verdicts", {
          params: { path: { id: trial.id } },
          body: { food, version: trial.version },
        }),
      ),
    onSuccess: async (seen) => {
      client.setQueryData(keyOf("follow", caseId), seen);
      await client.invalidateQueries({ queryKey: keyOf("case", caseId) });
      void forget(client, "case");
    },
    onError: () => forget(client, "follow"),
  });
  const { verdicts, passed } = trial.now;
  if (verdicts.length === 0 && passed.length === 0) return null;
  return (
    <>
      {verdicts.length > 0 && (
        <ul aria-label="What each food did" className="mt-2 border-line border-t">
          {verdicts.map((v) => (
            <li
              key={v.food}
              className="flex flex-wrap items-baseline gap-x-4 border-line border-b py-1"
            >
              <b className="min-w-28 font-semibold">{v.food}</b>
              <span
                className={v.verdict === "reacts" || v.verdict === "likely" ? "text-madder" : ""}
              >
                {VERDICTS[v.verdict]}
                {v.verdict !== "unsure" && v.confidence && `, ${v.confidence} confidence`}
              </span>
              <span className="text-soft">{told(v.grounds.join("; "))}</span>
              {trial.unwritten.includes(v.food) && (
                <button
                  type="button"
                  aria-disabled={write.isPending}
                  className="ml-auto underline aria-disabled:opacity-40"
                  onClick={() => !write.isPending && write.mutate(v.food)}
                >
                  Put it into the case
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
      {write.error && (
        <p role="alert" className="border-madder stile">
          Not put into the case: {write.error.message}.
        </p>
      )}
      {passed.length > 0 && (
        <p className="mt-1">
          The maintenance diet is built from: <b className="font-semibold">{passed.join(", ")}</b>.
          It has to be complete: see the bench.
        </p>
      )}
    </>
  );
}

/** All that was done, the last first. */
function Done({ trial }: { trial: Trial }) {
  if (trial.made.length === 0) return null;
  return (
    <details className="mt-2">
      <summary className="cursor-pointer text-soft">
        What was done, {trial.made.length} steps
      </summary>
      <ol className="mt-1">
        {trial.made.toReversed().map((m, i) => (
          <li key={`${m.move.date}-${trial.made.length - i}`}>
            {day(m.move.date)}: {MOVES[m.move.kind].button}
            {m.move.food && `, ${m.move.food}`}
            {m.move.disturbance &&
              `, ${DISTURBANCES[m.move.disturbance]}${m.move.over ? ", over" : ""}`}
            {m.outcome && `, ${OUTCOMES[m.outcome]}`}
            {m.grounds.length > 0 && (
              <span className="text-soft"> ({told(m.grounds.join("; "))})</span>
            )}
            {m.move.note && `: ${m.move.note}`}
          </li>
        ))}
      </ol>
    </details>
  );
}
