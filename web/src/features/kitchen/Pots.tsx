import type { BatchPlan } from "~/api/client";
import { foodWeight, number } from "~/shared/format";
import { OTHERS } from "~/shared/wall/tones";

const HIGH = 132;
/** How much of a board stands for what fits; over it a little more can be seen. */
const ROOM = 1.15;

/** The vessels and the places where it is kept as boards: each fills towards the rail, which is what it takes. */
export function Pots({
  plan,
  tones,
}: {
  plan: BatchPlan;
  tones: Readonly<Record<string, string>>;
}) {
  const parts = plan.lines.map((line) => ({ tone: tones[line.food] ?? OTHERS, grams: line.fed_g }));
  const solid = parts.reduce((sum, p) => sum + p.grams, 0);
  const water = Math.max(0, plan.finished.grams - solid);
  const { storage } = plan;
  if (plan.vessels.length === 0 && storage.frozen_g === 0) return null;
  return (
    <ul className="flex flex-wrap gap-5" aria-label="Vessels and where it is kept">
      {plan.vessels.map((vessel, i) => (
        <Board
          key={`${vessel.name}-${i}`}
          name={plan.vessels.length > 1 ? `${letter(i)}: ${vessel.name}` : vessel.name}
          said={`${foodWeight(vessel.food_g)} of ${foodWeight(vessel.holds_g)}`}
          share={vessel.food_g / vessel.holds_g}
          parts={[...parts, { tone: "", grams: water }]}
        />
      ))}
      <Board
        name="Fridge"
        said={`${foodWeight(storage.fridge_g)}, ${number(storage.fridge_days, storage.fridge_days % 1 ? 1 : 0)} days`}
        under={room(storage.fridge_litres, storage.fridge_free)}
        share={shareOf(storage.fridge_litres, storage.fridge_free)}
        parts={[{ tone: "", grams: 1 }]}
      />
      {storage.frozen_g > 0 && (
        <Board
          name="Freezer"
          said={`${foodWeight(storage.frozen_g)} frozen`}
          under={room(storage.freezer_litres, storage.freezer_free)}
          share={shareOf(storage.freezer_litres, storage.freezer_free)}
          parts={[{ tone: "", grams: 1 }]}
        />
      )}
    </ul>
  );
}

/** What a vessel is called beside others: A, B, C. */
export function letter(i: number): string {
  return String.fromCharCode(65 + i);
}

function room(need: number, free: number | null): string {
  return free === null ? `${number(need, 1)} l` : `${number(need, 1)} l of ${number(free, 1)} free`;
}

function shareOf(need: number, free: number | null): number | null {
  if (free === null) return null;
  return free > 0 ? need / free : ROOM;
}

function Board({
  name,
  said,
  under,
  share,
  parts,
}: {
  name: string;
  said: string;
  under?: string;
  /** Of what it takes; null where nobody said how much that is. */
  share: number | null;
  parts: readonly { tone: string; grams: number }[];
}) {
  const rail = HIGH / ROOM;
  const filled = share === null ? rail * 0.45 : Math.min(HIGH, share * rail);
  const whole = parts.reduce((sum, p) => sum + p.grams, 0) || 1;
  return (
    <li className="flex w-28 flex-col">
      <div
        aria-hidden="true"
        className="relative flex flex-col-reverse overflow-hidden border border-wood-edge bg-groove"
        style={{ height: HIGH }}
      >
        {parts
          .filter((part) => part.grams > 0)
          .map((part, i) => (
            <span
              key={`${part.tone}-${i}`}
              className={part.tone ? "" : "open-weight opacity-40"}
              style={{
                height: (filled * part.grams) / whole,
                ...(part.tone
                  ? {
                      backgroundColor: `var(--tone-${part.tone})`,
                      backgroundImage: `var(--figure-${part.tone}, none)`,
                    }
                  : {}),
              }}
            />
          ))}
        {share !== null && (
          <span className="absolute inset-x-0 h-0.5 bg-ink" style={{ bottom: rail }} />
        )}
      </div>
      <span className="mt-1 font-medium leading-tight">{name}</span>
      <span className={`text-data ${share !== null && share > 1 ? "text-madder" : "text-soft"}`}>
        {said}
        {under ? `, ${under}` : ""}
      </span>
    </li>
  );
}
