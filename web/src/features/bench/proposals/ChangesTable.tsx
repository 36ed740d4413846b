import type { Answer, Change } from "~/api/client";
import { told } from "~/shared/format";
import { Swatch } from "~/shared/wall/Swatch";
import { OTHERS } from "~/shared/wall/tones";
import type { BenchLine } from "../editor";
import { changeKey } from "../useAdjust";

interface Row {
  key: string;
  food: string;
  name: string;
  /** What each answer does with it; undefined where it is not in an answer. */
  in: (Change | undefined)[];
}

/** Every food of the recipe and of the chosen answer, with what each answer makes of it. */
export function rowsOf(lines: readonly BenchLine[], answers: readonly Answer[], at: number): Row[] {
  const found = new Map<string, Row>();
  lines.forEach((line, i) => {
    found.set(`${i}`, { key: `${i}`, food: line.food, name: line.name, in: [] });
  });
  for (const change of answers[at]?.changes ?? []) {
    const key = changeKey(change);
    if (!found.has(key)) found.set(key, { key, food: change.food, name: change.name, in: [] });
  }
  const byKey = answers.map((a) => new Map(a.changes.map((c) => [changeKey(c), c])));
  return [...found.values()].map((row) => ({ ...row, in: byKey.map((m) => m.get(row.key)) }));
}

/** What only other answers add. */
function elsewhere(answers: readonly Answer[], at: number): string[] {
  const here = new Set(answers[at]?.changes.map(changeKey));
  return answers.flatMap((answer, i) => {
    if (i === at) return [];
    const only = answer.changes.filter((c) => c.kind === "added" && !here.has(changeKey(c)));
    if (only.length === 0) return [];
    return [`${i + 1}: ${only.map((c) => `${c.name} ${told(c.after)}`).join(", ")}`];
  });
}

function amount(change: Change | undefined) {
  if (!change) return <span className="text-soft">·</span>;
  if (change.kind === "removed") return <s>out</s>;
  if (change.kind === "kept") return <span className="text-soft">{told(change.after)}</span>;
  return <b>{told(change.after)}</b>;
}

/** What a line is changed for, and what would be without it. */
function Why({ change }: { change: Change | undefined }) {
  if (!change?.why && !change?.without) return null;
  const without = change.without ? `without it ${change.without}` : "";
  return <>{told([change.why, without].filter(Boolean).join("; "))}</>;
}

function sign(change: Change): string {
  if (change.kind === "added") return "added";
  return change.kind === "removed" ? "taken out" : "changed";
}

export function ChangesTable({
  lines,
  answers,
  at,
  left,
  narrow,
  tones,
  onLeave,
  onChoose,
  onPoint,
}: {
  lines: readonly BenchLine[];
  answers: readonly Answer[];
  at: number;
  left: ReadonlySet<string>;
  /** Something stands beside the table: what a line is changed for comes under its name. */
  narrow: boolean;
  tones: Readonly<Record<string, string>>;
  onLeave: (key: string, out: boolean) => void;
  onChoose: (to: number) => void;
  onPoint: (line: number | null) => void;
}) {
  const rows = rowsOf(lines, answers, at);
  const others = elsewhere(answers, at);
  const inColumn = narrow ? "hidden" : "hidden wide:table-cell";
  return (
    <>
      <table aria-label="Changes" className="w-full border-collapse leading-tight">
        <thead className="text-left text-data text-soft">
          <tr>
            <th className="w-6" aria-label="Taken" />
            <th className="w-6" aria-label="Drawn in" />
            <th className="font-normal">Ingredient</th>
            <th className="px-2 text-right font-normal">now</th>
            {answers.map((answer, i) => (
              <th
                key={answer.id}
                className={`px-2 text-right ${i === at ? "bg-sheet font-semibold text-ink" : "hidden font-normal wide:table-cell"}`}
              >
                <button
                  type="button"
                  tabIndex={-1}
                  title={`Look at ${answer.name}`}
                  onClick={() => onChoose(i)}
                >
                  {i + 1}
                </button>
              </th>
            ))}
            <th className={`${inColumn} pl-3 font-normal`}>why</th>
            <th className="hidden whitespace-nowrap pl-3 font-normal wide:table-cell">at least</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, position) => {
            const change = row.in[at];
            const moves = change && change.kind !== "kept";
            return (
              <tr
                key={row.key}
                data-kind={change?.kind ?? "absent"}
                className="border-line border-t align-baseline focus-within:outline-2 focus-within:outline-verdigris"
                onPointerEnter={() => onPoint(position < lines.length ? position : null)}
                onPointerLeave={() => onPoint(null)}
              >
                <td className="py-0.5 pr-2">
                  {moves && (
                    <input
                      type="checkbox"
                      className="accent-verdigris outline-none"
                      aria-label={`${row.name}, ${sign(change)}`}
                      checked={!left.has(row.key)}
                      onChange={(e) => onLeave(row.key, !e.target.checked)}
                    />
                  )}
                </td>
                <td className="pr-2">
                  <Swatch tone={tones[row.food] ?? OTHERS} />
                </td>
                <td
                  className={`${narrow ? "w-full" : "wide:max-w-56 wide:truncate"} ${moves ? "" : "text-soft"}`}
                  title={row.name}
                >
                  {row.name}
                  <span className={`block pb-1 text-data text-soft ${narrow ? "" : "wide:hidden"}`}>
                    <Why change={change} />
                  </span>
                </td>
                <td className="whitespace-nowrap px-2 text-right text-soft">
                  {told(lines[position]?.text ?? "·")}
                </td>
                {row.in.map((one, i) => (
                  <td
                    key={answers[i]?.id}
                    className={`whitespace-nowrap px-2 text-right ${i === at ? "bg-sheet" : "hidden wide:table-cell"}`}
                  >
                    {amount(one)}
                  </td>
                ))}
                <td className={`${inColumn} w-full pl-3 text-data text-soft`}>
                  <Why change={change} />
                </td>
                <td className="hidden whitespace-nowrap pl-3 text-data text-soft wide:table-cell">
                  {told(change?.least ?? "")}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {others.length > 0 && (
        <p className="border-line border-t py-1 text-data text-soft">
          Only in the others: {others.join("; ")}
        </p>
      )}
    </>
  );
}
