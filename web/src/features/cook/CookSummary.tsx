import { useQuery } from "@tanstack/react-query";
import { api, type Cook, type CookedBatch, type Corrections, take } from "~/api/client";
import { CaseFreezer } from "~/features/kitchen/CaseFreezer";
import { foodWeight, number, percent, sentence, spelled, told, when } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { Sideways } from "~/ui";
import { OwnersFreezer } from "./OwnersFreezer";
import { Big, entryKey, Meals } from "./parts";
import type { CookAt, Cooking } from "./useCooking";

/** A batch as it was cooked: what went in, what each dog gets of it, what can still be done. */
export function CookSummary({
  at,
  cook,
  cooking,
  back,
}: {
  at: CookAt;
  cook: Cook;
  cooking: Cooking;
  back: () => void;
}) {
  const { cooked } = cook;
  return (
    <main className="min-h-0 overflow-auto px-3.5 py-3.5 mid:px-8 mid:py-6">
      <h2 className="text-[1.45rem] mid:text-[1.9rem]">As it was cooked</h2>
      {cooking.unsent.length > 0 && (
        <p role="status" className="mt-2 border-ink stile">
          {cooking.unsent.length} of what was put down is not sent yet: what stands here is without
          it.
        </p>
      )}
      {cook.problem && (
        <p role="alert" className="mt-2 border-madder stile">
          It cannot be computed: {cook.problem}.
        </p>
      )}
      {cooked && (
        <>
          <p
            className={`mt-2 text-name ${cooked.unknown.length || off(cooked) ? "border-madder stile" : ""}`}
          >
            {told(cooked.words)}
          </p>
          <Days cooked={cooked} />
          {cook.owner ? (
            (off(cooked) || cooked.unknown.length > 0) && (
              <p className="mt-2">
                Do not feed it before {cook.practice} has said what to do: it can see this list.
              </p>
            )
          ) : (
            <Mend at={at} cook={cook} cooking={cooking} />
          )}
        </>
      )}
      <Meals cook={cook} />
      {"token" in at ? (
        <OwnersFreezer token={at.token} />
      ) : (
        cook.case !== null && <CaseFreezer caseId={cook.case} />
      )}
      {cooked && <Went cooked={cooked} />}
      <Notes cook={cook} />
      <p className="mt-4 max-w-2xl text-soft">
        {cook.approved || "Do not feed this before the attending veterinarian has approved it."}{" "}
        {told(cook.caution)}
      </p>
      <p className="mt-4">
        <Big onClick={back}>Back to the steps</Big>
      </p>
    </main>
  );
}

function off(cooked: CookedBatch): boolean {
  return (
    cooked.too_cold.length > 0 ||
    cooked.days.some((d) => d.must_not.length > 0 || d.limits.some((x) => x.worse))
  );
}

function Days({ cooked }: { cooked: CookedBatch }) {
  return (
    <ul className="mt-2 flex flex-col gap-2">
      {cooked.days.map((day) => {
        const open = day.limits.filter((x) => x.worse && x.status === "unproven");
        const worse = day.limits.filter((x) => x.worse && x.status !== "unproven");
        return (
          <li key={day.case}>
            <p>
              <b className="font-semibold">{day.name}</b>:{" "}
              {day.kcal_least === day.kcal_most
                ? number(day.kcal_most)
                : `${number(day.kcal_least)} to ${number(day.kcal_most)}`}{" "}
              kcal a day, {number(day.kcal_planned)} planned
            </p>
            {day.must_not.map((why) => (
              <p key={why} className="border-madder bg-madder-pale py-1 stile">
                <b className="font-semibold">Must not have it.</b> {told(sentence(why))}
              </p>
            ))}
            {open.length > 0 && (
              <p>
                Not proven yet:{" "}
                {open
                  .slice(0, 4)
                  .map((x) => told(x.name))
                  .join(", ")}
                {open.length > 4 && ` and ${open.length - 4} more`}
              </p>
            )}
            {worse.length > 0 && (
              <ul>
                {worse.map((x) => (
                  <li key={x.key}>
                    {told(x.name)}: <b className="font-semibold">{x.status}</b>
                    {x.status === x.planned ? ", more than planned" : `, planned ${x.planned}`}
                    {x.value !== null && x.bound !== null && (
                      <span className="text-soft">
                        {" "}
                        ({number(x.value, 2)} against {number(x.bound, 2)}
                        {x.unit && ` ${told(x.unit)} per 1000 kcal`})
                      </span>
                    )}
                  </li>
                ))}
              </ul>
            )}
          </li>
        );
      })}
    </ul>
  );
}

/** Ways to correct it, each analysed. */
function Mend({ at, cook, cooking }: { at: CookAt; cook: Cook; cooking: Cooking }) {
  const id = "id" in at ? at.id : 0;
  const found = useQuery({
    queryKey: keyOf("corrections", id, cook.number),
    queryFn: () => take(api.GET("/api/batches/{id}/corrections", { params: { path: { id } } })),
  });
  if (found.isPending) return <Loading what="what can be done" />;
  if (!found.data)
    return <Problem what="what can be done" error={found.error} retry={() => found.refetch()} />;
  const { ways, first, discard } = found.data;
  return (
    <section aria-label="What can be done" className="mt-3">
      {first && <p className="border-ink stile">{told(first)}</p>}
      {discard && (
        <p role="alert" className="border-madder stile">
          {told(discard)}
        </p>
      )}
      {ways.length > 0 && (
        <>
          <h3 className="font-semibold">What can be done</h3>
          <ul className="flex flex-col gap-3">
            {ways.map((way) => (
              <Way
                key={way.way}
                way={way}
                days={cook.cooked?.days_fed ?? cook.days}
                cooking={cooking}
              />
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

function Way({
  way,
  days,
  cooking,
}: {
  way: Corrections["ways"][number];
  days: number;
  cooking: Cooking;
}) {
  function putDown() {
    for (const x of way.add) {
      cooking.put(
        x.position !== null
          ? { key: entryKey(), kind: "more", line: x.position, grams: x.grams }
          : { key: entryKey(), kind: "extra", food: x.food, grams: x.grams },
      );
    }
    // A larger batch is fed longer: without this a day would be too much of it.
    if (Math.abs(way.days - days) > 1e-6)
      cooking.put({ key: entryKey(), kind: "feeds", days: way.days });
  }
  const worse = way.after.flatMap((d) => d.limits.filter((x) => x.worse).map((x) => x.name));
  return (
    <li className="border-line border-t pt-2">
      <p>{told(spelled(way.words))}</p>
      <p className={way.holds ? "" : "text-madder"}>
        {way.holds
          ? "Analysed with it: it holds what was planned."
          : `Analysed with it: it still does not hold ${worse.slice(0, 4).map(told).join(", ")}.`}
      </p>
      <ul className="my-1">
        {way.add.map((x) => (
          <li key={`${x.food}-${x.position}`}>
            <b className="font-semibold">{foodWeight(x.grams)}</b> {spelled(x.name)}
          </li>
        ))}
      </ul>
      <Big onClick={putDown}>It was put in like this</Big>
    </li>
  );
}

const WENT: Record<CookedBatch["lines"][number]["went"], string> = {
  weighed: "weighed",
  "as listed": "as listed, not weighed",
  "left out": "left out",
  swapped: "swapped",
  extra: "not in the recipe",
  part: "only part of it is put down",
  unknown: "not put down",
};

function Went({ cooked }: { cooked: CookedBatch }) {
  return (
    <Sideways>
      <table className="mt-4 w-full border-collapse">
        <thead>
          <tr className="border-line border-b text-left text-data text-soft">
            <th className="font-normal">What went in</th>
            <th className="px-2 text-right font-normal">list</th>
            <th className="px-2 text-right font-normal">went in</th>
            <th className="px-2 text-right font-normal">off</th>
            <th className="pl-2 font-normal" />
          </tr>
        </thead>
        <tbody>
          {cooked.lines.map((x, i) => (
            <tr
              key={`${x.food}-${x.position ?? `extra-${i}`}`}
              className="border-line border-b align-top"
            >
              <td className="py-0.5">
                {spelled(x.name)}
                {x.instead && (
                  <span className="block text-data">instead: {spelled(x.instead)}</span>
                )}
              </td>
              <td className="whitespace-nowrap px-2 text-right">
                {x.position === null ? "" : foodWeight(x.planned_g)}
              </td>
              <td className="whitespace-nowrap px-2 text-right font-medium">
                {x.most_g === 0
                  ? "nothing"
                  : x.least_g === x.most_g
                    ? foodWeight(x.most_g)
                    : `${x.least_g === 0 ? "0" : foodWeight(x.least_g)} to ${foodWeight(x.most_g)}`}
              </td>
              <td className="whitespace-nowrap px-2 text-right">
                {x.off === null || Math.abs(x.off) < 0.005
                  ? ""
                  : `${x.off > 0 ? "+" : "−"}${percent(Math.abs(x.off))}`}
              </td>
              <td
                className={`pl-2 text-data ${["weighed", "as listed"].includes(x.went) ? "text-soft" : "text-madder"}`}
              >
                {WENT[x.went]}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Sideways>
  );
}

function Notes({ cook }: { cook: Cook }) {
  const notes = cook.entries.filter((e) => e.entry.kind === "note");
  if (notes.length === 0) return null;
  return (
    <section aria-label="Notes" className="mt-4">
      <h3 className="font-semibold">Notes</h3>
      <ul>
        {notes.map((n) => (
          <li key={n.entry.key}>
            {n.entry.text}{" "}
            <span className="text-soft">
              {n.by ? `${n.by}, ` : ""}
              {when(n.at)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
