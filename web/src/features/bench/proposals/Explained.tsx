import type { Answer, Proposal } from "~/api/client";
import { number, percent, spelled, told } from "~/shared/format";
import { Button } from "~/ui";

/** What cannot hold together, the ways out, and what would help. */
export function Conflicts({
  proposal,
  onAllow,
}: {
  proposal: Proposal;
  onAllow: (food: string) => void;
}) {
  const only = proposal.conflicts.length === 1;
  return (
    <>
      {proposal.conflicts.map((conflict) => (
        <OneConflict key={conflict.words} conflict={conflict} only={only} />
      ))}
      {proposal.help.length > 0 && <WouldHelp help={proposal.help} onAllow={onAllow} />}
      {proposal.state === "short" && proposal.help.length === 0 && (
        <p className="text-data text-soft">
          No food of the library that this dog may have would lower the gap. A supplement whose
          label strength is not entered yet may.
        </p>
      )}
    </>
  );
}

function OneConflict({
  conflict,
  only,
}: {
  conflict: Proposal["conflicts"][number];
  only: boolean;
}) {
  const lists = [
    {
      head: "No single one is enough; together the least is",
      items: conflict.together.map((text) => ({ text, vet: false })),
    },
    {
      head: only
        ? "Any one of these would make it possible, the gentlest first"
        : "Any one of these would end this one, the gentlest first",
      items: conflict.ways_out.map((way) => ({ text: way.text, vet: way.with_vet })),
    },
  ];
  return (
    <div className="flex flex-col gap-1">
      <h3 className="font-semibold">
        {conflict.each ? "None of these minimums can be held" : "These cannot hold together"}
      </h3>
      <ul className="list-disc pl-5 text-data">
        {conflict.members.map((m) => (
          <li key={m.words}>{told(m.words)}</li>
        ))}
      </ul>
      {!conflict.minimal && (
        <p className="text-data text-soft">
          The search stopped at its set effort before the smallest such set was found.
        </p>
      )}
      {lists.map(
        ({ head, items }) =>
          items.length > 0 && (
            <div key={head}>
              <h4 className="text-soft">{head}</h4>
              <ul className="list-disc pl-5 text-data">
                {items.map(({ text, vet }) => (
                  <li key={text}>
                    {told(text)}
                    {vet && <span className="text-madder">, only with the attending vet</span>}
                  </li>
                ))}
              </ul>
            </div>
          ),
      )}
    </div>
  );
}

function WouldHelp({ help, onAllow }: { help: Proposal["help"]; onAllow: (food: string) => void }) {
  const nutrients = [...new Set(help.map((row) => row.nutrient))];
  return (
    <div>
      <h3 className="font-semibold">What would help if it were allowed</h3>
      {nutrients.map((nutrient) => (
        <div key={nutrient}>
          <h4 className="text-soft">{spelled(nutrient)}</h4>
          <ul className="text-data">
            {help
              .filter((row) => row.nutrient === nutrient)
              .map((row) => (
                <li key={row.food} className="flex items-center justify-between gap-2">
                  <span>
                    {spelled(row.name)}, {told(row.text)}
                    <Effects help={row} />
                  </span>
                  <Button
                    kind="quiet"
                    small
                    aria-label={`Allow ${row.name}`}
                    onClick={() => onAllow(row.food)}
                  >
                    Allow
                  </Button>
                </li>
              ))}
          </ul>
        </div>
      ))}
    </div>
  );
}

function Effects({ help }: { help: Proposal["help"][number] }) {
  const said = [
    help.closes < 1 ? `closes ${percent(help.closes)} of the gap` : "",
    help.mends.length > 0 ? `also mends ${counted(help.mends.length)}` : "",
  ].filter(Boolean);
  return (
    <>
      {said.length > 0 && <span className="text-soft">: {said.join(", ")}</span>}
      {help.breaks.length > 0 && (
        <span className="text-madder">; puts out {counted(help.breaks.length)}</span>
      )}
      {help.caution && <span className="text-madder">; rather not: {help.caution}</span>}
    </>
  );
}

const counted = (count: number) => (count === 1 ? "1 nutrient" : `${count} nutrients`);

/** What the food that was matched holds, beside what came of it, per 1000 kcal. */
export function WantedAndGot({
  matched,
  answer,
}: {
  matched: NonNullable<Proposal["matched"]>;
  answer: Answer | undefined;
}) {
  const eats = answer?.as_fed;
  const rows = [
    ["Moisture, as fed", matched.as_fed.moisture, eats?.moisture, percent],
    ["Fibre, of dry matter", matched.as_fed.fibre, eats?.fibre, percent],
    ["kcal per 100 g", matched.as_fed.kcal_per_100_g, eats?.kcal_per_100_g, number],
  ] as const;
  return (
    <table className="w-full text-data">
      <caption className="text-left font-semibold">{spelled(matched.name)}, per 1000 kcal</caption>
      <thead className="text-soft">
        <tr>
          <th className="text-left font-normal">Nutrient</th>
          <th className="text-right font-normal">wanted</th>
          <th className="text-right font-normal">got</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, wanted, got, written]) => (
          <tr key={name} className="border-line border-t">
            <th className="text-left font-normal">{spelled(name)}</th>
            <td className="text-right">{wanted == null ? "–" : written(wanted)}</td>
            <td className="text-right">{got == null ? "–" : written(got)}</td>
          </tr>
        ))}
        {matched.wanted.map((row) => {
          const got = answer?.levels[row.key];
          return (
            <tr key={row.key} className="border-line border-t">
              <th className="text-left font-normal">
                {spelled(row.name)} <span className="text-soft">{row.unit}</span>
              </th>
              <td className="text-right">{number(row.wanted, row.decimals)}</td>
              <td className="text-right">{got == null ? "–" : number(got, row.decimals)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** What a limit costs of the recipe, and how the first answer was found. */
export function HowFound({ proposal }: { proposal: Proposal }) {
  return (
    <div className="flex flex-col gap-1 py-1">
      {proposal.binding.length > 0 && (
        <div>
          <h3 className="font-semibold">What a limit costs</h3>
          <ul className="list-disc pl-5 text-data">
            {proposal.binding.map((b) => (
              <li key={b.key + b.bound}>{told(b.words)}</li>
            ))}
          </ul>
        </div>
      )}
      {proposal.passes.length > 0 && (
        <details>
          <summary className="cursor-pointer">How the first was found</summary>
          <ol className="list-decimal pl-5 text-data">
            {proposal.passes.map((pass) => (
              <li key={`${pass.goal}${pass.seconds}`}>
                {pass.name}: {number(pass.value, 3)}
                <span className="text-soft">{pass.proved ? "" : ", not proved best"}</span>
              </li>
            ))}
          </ol>
        </details>
      )}
    </div>
  );
}
