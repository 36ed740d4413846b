import type { Answer } from "~/api/client";
import { money, percent } from "~/shared/format";

const ROW = 22;
const LEFT = 112;
const RIGHT = 96;
const WIDE = 620;
const TOP = 6;
const PEG = 9;

/** What is given up for what: a rail for each number of supplements, the answers as pegs on it, the further right the more
 * of the energy comes from other foods. A line joins those that no other beats. */
export function Steps({
  answers,
  at,
  onChoose,
}: {
  answers: readonly Answer[];
  at: number;
  onChoose: (to: number) => void;
}) {
  const shown = answers.flatMap((answer, i) => (answer.unbeaten == null ? [] : [{ answer, i }]));
  if (shown.length < 2) return null;
  const counts = [...new Set(shown.map(({ answer }) => answer.supplements))].sort((a, b) => b - a);
  const most = Math.max(...shown.map(({ answer }) => answer.distance), 0.01);
  const x = (answer: Answer) => LEFT + (answer.distance / most) * (WIDE - LEFT - RIGHT);
  const y = (answer: Answer) => TOP + (counts.indexOf(answer.supplements) + 0.5) * ROW;
  const joined = shown
    .filter(({ answer }) => answer.unbeaten)
    .sort((a, b) => b.answer.supplements - a.answer.supplements || x(a.answer) - x(b.answer));
  const height = TOP + counts.length * ROW + 4;
  return (
    <details open className="py-1.5">
      <summary className="cursor-pointer text-soft">Few changes beside few supplements</summary>
      <figure className="pt-1">
        <svg
          viewBox={`0 0 ${WIDE} ${height}`}
          role="img"
          aria-label={shown.map(({ answer, i }) => told(answer, i)).join("; ")}
          className="block w-full max-w-[42rem] text-data"
        >
          {counts.map((count, row) => (
            <g key={count}>
              <text x={0} y={TOP + (row + 0.5) * ROW + 4} className="fill-soft">
                {count === 1 ? "1 supplement" : `${count} supplements`}
              </text>
              <line
                x1={LEFT - 8}
                x2={WIDE - RIGHT + 8}
                y1={TOP + (row + 0.5) * ROW}
                y2={TOP + (row + 0.5) * ROW}
                className="stroke-edge"
              />
            </g>
          ))}
          <polyline
            points={joined.map(({ answer }) => `${x(answer)},${y(answer)}`).join(" ")}
            className="fill-none stroke-oak"
            strokeWidth={1.5}
          />
          {shown.map(({ answer, i }) => (
            // biome-ignore lint/a11y/noStaticElementInteractions: the keys choose by the cards, which name the same
            <g key={answer.id} className="cursor-pointer" onClick={() => onChoose(i)}>
              <title>{told(answer, i)}</title>
              <rect
                x={x(answer) - PEG}
                y={y(answer) - PEG}
                width={2 * PEG}
                height={2 * PEG}
                className={i === at ? "fill-ink stroke-ink" : "fill-sheet stroke-ink"}
                strokeDasharray={answer.unbeaten ? undefined : "2 2"}
              />
              <text
                x={x(answer)}
                y={y(answer) + 4}
                textAnchor="middle"
                className={i === at ? "fill-sheet" : "fill-ink"}
              >
                {i + 1}
              </text>
            </g>
          ))}
        </svg>
        <figcaption className="text-data text-soft">
          The further right, the more of the energy comes from other foods (up to {percent(most)}).
          Joined is what no other answer beats in that, in supplements and in cost at once.
        </figcaption>
      </figure>
    </details>
  );
}

function told(answer: Answer, i: number): string {
  const cost = answer.cost == null ? "" : `, ${money(answer.cost)} a day`;
  const beaten = answer.unbeaten ? "" : ", another is better in all";
  return `${i + 1}: ${answer.supplements} supplements, ${percent(answer.distance)} from other foods${cost}${beaten}`;
}
