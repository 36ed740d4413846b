import { Link } from "react-router";
import type { Trend } from "~/api/client";
import { today } from "~/shared/days";
import { day, number, percent, sentence, told } from "~/shared/format";
import { useSaving } from "~/shared/record/fields";
import { Trace } from "~/shared/trace/Trace";
import { useCase } from "~/shared/useCase";
import { Button } from "~/ui";

/** The kcal as logged that hold the weight, how sure that is, and what to feed next. */
export function Learnt({ trend, name }: { trend: Trend; name: string }) {
  const { proposal, changed } = trend;
  return (
    <section aria-label="Energy learnt">
      {trend.kcal_hold !== null && (
        <p className="flex flex-wrap items-baseline gap-x-3">
          <b className="font-semibold text-page">{number(trend.kcal_hold)} kcal</b>
          <span>
            a day as logged hold this weight, {number(trend.low)} to {number(trend.high)} (nine
            times in ten). {!trend.learnt && "Not learnt yet: mostly what was expected before."}
          </span>
        </p>
      )}
      <p className="text-soft">
        Fed of late, as logged or else as planned: {number(trend.fed_kcal)} kcal a day; {name}{" "}
        {Math.abs(trend.per_week) < 0.0005
          ? "holds its weight"
          : `${trend.per_week < 0 ? "loses" : "gains"} ${percentOf(trend.per_week)} a week`}
        .
      </p>
      {trend.vet.map((words) => (
        <p key={words} role="alert" className="mt-1 border-madder stile">
          {told(sentence(words))}
        </p>
      ))}
      {changed && <p className="mt-1 border-ink stile">{told(changed.words)}</p>}
      {trend.ask.map((words) => (
        <p key={words} className="mt-1 border-ink stile">
          {told(words)}
        </p>
      ))}
      {proposal ? (
        <Proposal kcal={proposal.kcal} why={proposal.why} instead={proposal.instead_of} />
      ) : (
        <p className="mt-1">No other amount is proposed: {told(trend.not_proposed)}.</p>
      )}
      {trend.steps.length > 0 && <Trace steps={trend.steps} />}
    </section>
  );
}

function percentOf(share: number): string {
  return `${number(Math.abs(share) * 100, 1)} %`;
}

function Proposal({ kcal, why, instead }: { kcal: number; why: string; instead: number }) {
  const saving = useSaving();
  const current = useCase();
  const taken =
    saving.value("energy_method") === "kcal_per_day" &&
    Number(saving.value("kcal_per_day")) === kcal;
  return (
    <div className="mt-2 border-ink stile">
      <p>
        Feed <b className="font-semibold">{number(kcal)} kcal a day</b> instead of {number(instead)}{" "}
        ({percent(kcal / instead - 1)}). {told(why)}
      </p>
      {taken ? (
        <p role="status">
          Its target is {number(kcal)} kcal a day now.{" "}
          {current.recipes
            .filter((r) => !r.archived)
            .map((r) => (
              <Link
                key={r.id}
                to={`/cases/${current.id}/recipes/${r.id}`}
                className="mr-3 underline"
              >
                Adjust {r.name} to it
              </Link>
            ))}
        </p>
      ) : (
        <Button
          kind="solid"
          onClick={() =>
            saving.change([
              { path: "energy_method", value: "kcal_per_day" },
              { path: "kcal_per_day", value: kcal },
              { path: "energy_reason", value: `Learnt from its weights on ${day(today())}` },
            ])
          }
        >
          Take it as its target
        </Button>
      )}
    </div>
  );
}
