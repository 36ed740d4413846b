import type { Trend } from "~/api/client";
import { number, percent, sentence, told } from "~/shared/format";
import { Trace } from "~/shared/trace/Trace";

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
        <p className="mt-2 border-ink stile">
          Feed <b className="font-semibold">{number(proposal.kcal)} kcal a day</b> instead of{" "}
          {number(proposal.instead_of)} ({percent(proposal.kcal / proposal.instead_of - 1)}).{" "}
          {told(proposal.why)}
        </p>
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
