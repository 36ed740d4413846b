import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Evidence } from "~/api/client";
import { number, percent, sentence } from "~/shared/format";
import { evidenceQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Page } from "~/ui/Page";

/** How sure the numbers are: what the table was held to, what was compared, what nobody did. */
export default function EvidencePage() {
  useTitle("How sure");
  const found = useQuery(evidenceQuery);
  if (found.isPending) return <Loading what="what the numbers rest on" />;
  if (!found.data)
    return (
      <Problem what="what the numbers rest on" error={found.error} retry={() => found.refetch()} />
    );
  const { table, facts, kinds, recalled, not_done } = found.data;
  const broken = table.checks.flatMap((c) => c.failures);
  return (
    <Page className="p-4 mid:p-6 wide:overflow-auto">
      <div className="flex max-w-6xl flex-col gap-8">
        <header className="max-w-3xl">
          <h1 className="mb-1 text-page">How sure are we</h1>
          <p>
            {number(table.foods)} foods, {number(table.derived_foods)} of them derived, with{" "}
            {number(table.nutrients)} nutrients each.{" "}
            {broken.length === 0 ? (
              <b>No food breaks any of the {table.checks.length} checks.</b>
            ) : (
              <b className="text-madder">{number(broken.length)} values break a check.</b>
            )}
          </p>
        </header>
        <Grades grades={table.values_by_grade} />
        <Checks checks={table.checks} />
        <Facts facts={facts} recalled={recalled} />
        <section aria-label="How each kind was checked">
          <h2 className="mb-2">How each kind of number was checked</h2>
          <dl className="grid grid-cols-[minmax(9rem,14rem)_1fr] gap-x-6">
            {kinds.map((k) => (
              <div
                key={k.what}
                className="col-span-2 grid grid-cols-subgrid border-line border-b py-1"
              >
                <dt>{k.what}</dt>
                <dd className="text-soft">{sentence(k.how)}.</dd>
              </div>
            ))}
          </dl>
        </section>
        <section aria-label="Not done">
          <h2 className="mb-2">What nobody has done</h2>
          <ul className="list-disc pl-5">
            {not_done.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </section>
      </div>
    </Page>
  );
}

const GRADES: [string, string][] = [
  ["analysed", "analysed: measured in this food"],
  ["stoichiometric", "by formula"],
  ["label", "from a label"],
  ["borrowed", "borrowed: measured in the same food in another state"],
  ["pattern", "by a pattern of its class"],
  ["derived", "derived from other rows and published figures"],
  ["unknown", "unknown: counts as anything from nothing to the most of its class"],
];

function Grades({ grades }: { grades: Evidence["table"]["values_by_grade"] }) {
  const whole = Object.values(grades).reduce((sum, n) => sum + n, 0);
  return (
    <section aria-label="Where values come from">
      <h2 className="mb-2">Where the values come from</h2>
      <table className="w-full max-w-3xl">
        <tbody>
          {GRADES.filter(([id]) => grades[id]).map(([id, words]) => (
            <tr key={id} className="border-line border-b">
              <td className="py-1">{sentence(words)}</td>
              <td className="w-16 pl-2 mid:w-52">
                <div className="h-2 bg-groove">
                  <div
                    className={`h-2 ${id === "unknown" ? "bg-soft" : "bg-oak"}`}
                    style={{ width: `${((grades[id] ?? 0) / whole) * 100}%` }}
                  />
                </div>
              </td>
              <td className="w-24 text-right">{number(grades[id])}</td>
              <td className="w-16 text-right text-soft">{percent((grades[id] ?? 0) / whole)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Checks({ checks }: { checks: Evidence["table"]["checks"] }) {
  return (
    <section aria-label="Checks">
      <h2 className="mb-2">What every food is held to</h2>
      <table className="w-full max-w-4xl">
        <thead>
          <tr className="border-line border-b text-data text-soft">
            <th className="text-left font-normal">Check</th>
            <th className="w-28 text-right font-normal">looked at</th>
            <th className="w-36 text-right font-normal">differ, with a reason</th>
            <th className="w-24 text-right font-normal">break it</th>
          </tr>
        </thead>
        <tbody>
          {checks.map((check) => (
            <tr key={check.id} className="border-line border-b align-baseline">
              <td className="py-1">
                {check.name}
                {check.failures.length > 0 && (
                  <ul className="text-data text-madder">
                    {check.failures.slice(0, 20).map((words) => (
                      <li key={words}>{words}</li>
                    ))}
                  </ul>
                )}
              </td>
              <td className="text-right">{number(check.looked_at)}</td>
              <td className="text-right">{check.explained ? number(check.explained) : "–"}</td>
              <td
                className={`text-right ${check.failures.length ? "font-semibold text-madder" : ""}`}
              >
                {check.failures.length ? number(check.failures.length) : "none"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Facts({ facts, recalled }: { facts: Evidence["facts"]; recalled: string }) {
  return (
    <section aria-label="Compared with the publication">
      <h2 className="mb-1">Compared with the publication</h2>
      <p className="mb-2 max-w-3xl text-soft">
        {recalled}. Mark a value as compared on{" "}
        <Link to="/standards" className="underline">
          Standards
        </Link>
        .
      </p>
      <table className="w-full max-w-4xl">
        <thead>
          <tr className="border-line border-b text-data text-soft">
            <th className="text-left font-normal">Facts</th>
            <th className="w-24 text-right font-normal">values</th>
            <th className="w-28 text-right font-normal">compared</th>
            <th className="w-52 text-right font-normal">recalled: sure, fairly, unsure</th>
          </tr>
        </thead>
        <tbody>
          {facts.map((f) => (
            <tr key={f.id} className="border-line border-b">
              <td className="py-1">{f.name}</td>
              <td className="text-right">{number(f.values)}</td>
              <td className="text-right">{f.checked ? number(f.checked) : "none"}</td>
              <td className="text-right text-soft">
                {number(f.high)}, {number(f.medium)}, {number(f.low)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
