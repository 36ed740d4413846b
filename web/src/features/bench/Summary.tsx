import type { Analysis, Finding } from "~/api/client";
import {
  BASES,
  type Basis,
  number,
  offTarget,
  ratioText,
  sentence,
  spelled,
  told,
  unitText,
} from "~/shared/format";
import { Term } from "~/shared/words/Term";

export function Legend({ boards }: { boards: { status: string }[] }) {
  const count = (status: string) => boards.filter((b) => b.status === status).length;
  return (
    <span className="flex flex-wrap gap-x-4 text-soft">
      <span>
        <b className="text-ink">{count("short")}</b> short (stops below the rail)
      </span>
      <span>
        <b className="text-ink">{count("unproven")}</b> unproven (open, dashed top)
      </span>
      <span>
        <b className="text-ink">{count("over")}</b> over (breaks the cornice)
      </span>
      {count("above safe limit") > 0 && (
        <span className="text-madder">
          <b>{count("above safe limit")}</b> above the safe limit
        </span>
      )}
      {count("off advice") > 0 && (
        <span>
          <b className="text-ink">{count("off advice")}</b> off advice (brown bar)
        </span>
      )}
      <span>
        <b className="text-ink">{count("met")}</b> met
      </span>
    </span>
  );
}

/** The word of the glossary for each verdict. */
const STATUS_TERMS: Record<string, string> = {
  short: "short",
  over: "over",
  unproven: "unproven",
  "off advice": "advised",
  "above safe limit": "safe-limit",
  met: "met",
};

export function Flags({ flags }: { flags: Finding[] }) {
  if (flags.length === 0) return null;
  return (
    <ul aria-label="Cautions" className="my-2 flex flex-col gap-1 text-data">
      {flags.map((flag) => (
        <li
          key={flag.kind + flag.what}
          className={`stile ${flag.level === "block" ? "border-madder" : "border-oak"}`}
        >
          <b className={flag.level === "block" ? "text-madder" : ""}>{told(flag.what)}.</b>{" "}
          {told(`${sentence(flag.why)}. ${flag.do}`)}
          {flag.source && <span className="text-soft"> ({flag.source})</span>}
        </li>
      ))}
    </ul>
  );
}

/** What to look at first, when nothing is selected. */
export function Summary({
  analysis,
  basis,
  onSelect,
}: {
  analysis: Analysis;
  basis: Basis;
  onSelect: (key: string) => void;
}) {
  const worst = offTarget(analysis);
  const states = [...new Set(worst.map((n) => n.status))];
  const unit = BASES.find((b) => b.id === basis)?.unit;
  return (
    <>
      <h2 className="mb-1">
        {worst.some((n) => n.status !== "off advice")
          ? "Not right yet"
          : worst.length
            ? "Every limit is met; off advice"
            : "Every limit is met"}
      </h2>
      <p className="mb-2 text-data text-soft">
        {analysis.requirements}. Choose a board to see where it comes from.
        {states.length > 0 && " What the states mean: "}
        {states.map((status, i) => (
          <span key={status}>
            {i > 0 && ", "}
            <Term id={STATUS_TERMS[status] ?? status}>{status}</Term>
          </span>
        ))}
      </p>
      <table className="w-full" hidden={worst.length === 0}>
        <thead>
          <tr className="border-line border-b text-data text-soft">
            <th className="text-left font-normal">Nutrient</th>
            <th className="text-right font-normal">{unit}</th>
            <th className="text-right font-normal">limit</th>
            <th className="w-20 text-right font-normal">state</th>
          </tr>
        </thead>
        <tbody>
          {worst.map((n) => (
            <tr key={n.key} className="border-line border-b">
              <td>
                <button
                  type="button"
                  className="text-left hover:underline"
                  onClick={() => onSelect(n.key)}
                >
                  {spelled(n.name)}
                </button>
              </td>
              {"unit" in n ? (
                <>
                  <td className="whitespace-nowrap text-right">{number(n[basis], n.decimals)}</td>
                  <td className="whitespace-nowrap pl-2 text-right">
                    {number(n.against_on[basis], n.decimals)} {unitText(n.unit)}
                  </td>
                </>
              ) : (
                <>
                  <td className="whitespace-nowrap text-right">{ratioText(n)}</td>
                  <td className="whitespace-nowrap pl-2 text-right">
                    {ratioText({ ...n, value: n.against })}
                  </td>
                </>
              )}
              <td className={`text-right ${n.breaks ? "font-semibold text-madder" : ""}`}>
                {n.status}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
