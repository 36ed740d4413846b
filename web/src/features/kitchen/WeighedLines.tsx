import type { BatchLine, BatchPlan } from "~/api/client";
import { foodWeight, number, spelled } from "~/shared/format";
import { Swatch } from "~/shared/wall/Swatch";
import { OTHERS } from "~/shared/wall/tones";
import { letter } from "./Pots";

/** As many places as the scale shows. */
export function onScale(grams: number, step: number): string {
  const places = Math.max(0, Math.min(3, -Math.floor(Math.log10(step) + 1e-9)));
  return `${number(grams, places)} g`;
}

/** What is weighed into each vessel, and what is weighed once for all of them. */
export function WeighedLines({
  plan,
  tones,
}: {
  plan: BatchPlan;
  tones: Readonly<Record<string, string>>;
}) {
  const apart = plan.lines.filter((line) => !line.once);
  const once = plan.lines.filter((line) => line.once);
  const several = plan.vessels.length > 1;
  return (
    <table className="w-full border-collapse">
      <thead>
        <tr className="border-line border-b text-data text-soft">
          <th className="text-left font-normal">
            {apart.length > 0 ? "Weighed for each vessel" : "Weighed"}
          </th>
          {several &&
            plan.vessels.map((vessel, i) => (
              <th key={`${vessel.name}-${i}`} className="px-2 text-right font-normal">
                {letter(i)}
              </th>
            ))}
          <th className="px-2 text-right font-normal">{several ? "together" : "weigh"}</th>
          <th className="pl-2 text-left font-normal">on</th>
          <th className="pl-2 text-left font-normal">
            {plan.lines.some((line) => line.pack) && "packs"}
          </th>
        </tr>
      </thead>
      <tbody>
        {apart.map((line) => (
          <Row
            key={line.position}
            line={line}
            several={several}
            count={plan.vessels.length}
            tones={tones}
          />
        ))}
      </tbody>
      {once.length > 0 && (
        <tbody>
          {several && (
            <tr>
              <th
                colSpan={plan.vessels.length + 4}
                scope="rowgroup"
                className="pt-2 text-left text-data font-normal text-soft"
              >
                Weighed once for all of it: stirred into one cup, and the cup parted by what the
                food in each vessel weighs
              </th>
            </tr>
          )}
          {once.map((line) => (
            <Row
              key={line.position}
              line={line}
              several={several}
              count={plan.vessels.length}
              tones={tones}
            />
          ))}
        </tbody>
      )}
    </table>
  );
}

const TOOLS: Record<BatchLine["tool"], string> = {
  "kitchen scale": "kitchen scale",
  "fine scale": "fine scale",
  count: "counted",
  none: "no scale shows it",
};

function Row({
  line,
  several,
  count,
  tones,
}: {
  line: BatchLine;
  several: boolean;
  count: number;
  tones: Readonly<Record<string, string>>;
}) {
  const amount =
    line.pieces === null
      ? onScale(line.grams, line.step_g)
      : `${number(line.pieces, line.pieces % 1 ? 2 : 0)} ${line.piece}${line.pieces === 1 ? "" : "s"}`;
  return (
    <tr className="border-line border-b">
      <td className="py-0.5">
        <Swatch tone={tones[line.food] ?? OTHERS} /> {spelled(line.name)}
      </td>
      {several &&
        (line.once ? (
          <td colSpan={count} />
        ) : (
          line.vessels.map((grams, i) => (
            <td key={`${line.position}-${i}`} className="px-2 text-right tabular-nums">
              {onScale(grams, line.step_g)}
            </td>
          ))
        ))}
      <td className="px-2 text-right font-medium tabular-nums">{amount}</td>
      <td className={`pl-2 text-data ${line.tool === "none" ? "text-madder" : "text-soft"}`}>
        {TOOLS[line.tool]}
      </td>
      <td className="pl-2 text-data text-soft">
        {line.pack &&
          `${line.pack.count} of ${foodWeight(line.pack.grams)}${line.pack.exact ? "" : `, ${foodWeight(line.pack.left_g)} left over`}`}
      </td>
    </tr>
  );
}
