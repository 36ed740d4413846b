import { type KeyboardEvent, useRef, useState } from "react";
import type { FreezerStock, PlanAnalysis } from "~/api/client";
import { day, foodWeight, number, percent, told } from "~/shared/format";

type Bowls = NonNullable<PlanAnalysis["bowls"]>;
type BowlDay = Bowls["days"][number];
type Kept = FreezerStock["freezer"]["boxes"][number];

/** Woods by turn: neighbours differ in lightness. */
const WOODS = ["bg-oak-deep", "bg-oak", "bg-oak-pale", "bg-walnut"];
const wood = (turn: number) => WOODS[turn % WOODS.length] ?? "bg-oak";
const letter = (turn: number) => String.fromCharCode(65 + (turn % 26));

/** Two weeks of bowls: each day fills to its energy. The rail is what the dog needs, the cornice what treats may bring
 * beside it; the old food gives way step by step, and treats that are too many stand out on their day. Boxes that are
 * cooked already lie under the day they are eaten on. */
export function BowlsBoard({
  bowls,
  names,
  boxes,
}: {
  bowls: Bowls;
  names: readonly string[];
  boxes: readonly Kept[];
}) {
  const [at, setAt] = useState(0);
  const row = useRef<HTMLOListElement>(null);
  const most = 1.08 * Math.max(bowls.most_kcal, ...bowls.days.map((d) => d.kcal));
  const y = (kcal: number) => `${(kcal / most) * 100}%`;
  const boxesOn = (d: BowlDay) => boxes.filter((b) => b.eat_on === d.on);
  const chosen = bowls.days[at];
  const move = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1, Home: -at, End: bowls.days.length - 1 - at }[
      event.key
    ];
    if (by === undefined) return;
    event.preventDefault();
    const to = Math.max(0, Math.min(bowls.days.length - 1, at + by));
    setAt(to);
    row.current?.querySelectorAll<HTMLElement>("[data-day]")[to]?.focus();
  };
  const some = (of: (d: BowlDay) => number) => bowls.days.some((d) => of(d) > 0);
  const signs = [
    { shown: some((d) => d.old_kcal), as: OLD, name: "the old food" },
    { shown: some((d) => d.apart_kcal), as: APART, name: "given apart" },
    { shown: some((d) => d.extras_kcal), as: EXTRAS, name: "treats and toppers" },
    { shown: boxes.length > 0, as: BOX, name: "a box that is cooked" },
  ];
  return (
    <section aria-label="Two weeks in the bowl" className="mt-4">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2>Two weeks in the bowl</h2>
        <ul className="flex min-w-0 flex-wrap gap-x-3 text-data" aria-label="What is in the bowls">
          {names.map((name, i) => (
            <li key={`${name}${i}`} className="flex min-w-0 items-center gap-1">
              <span className={`inline-block size-3.5 shrink-0 border border-walnut ${wood(i)}`} />
              <b>{letter(i)}</b> <span className="wrap-anywhere min-w-0">{name}</span>
            </li>
          ))}
          {signs.map(
            (sign) =>
              sign.shown && (
                <li key={sign.name} className="flex items-center gap-1">
                  <span className={`inline-block size-3.5 ${sign.as}`} /> {sign.name}
                </li>
              ),
          )}
        </ul>
      </div>
      <p className="wrap-anywhere min-h-10 mid:min-h-5 text-data" aria-hidden="true">
        {chosen && words(chosen, bowls, boxesOn(chosen))}
      </p>
      <ol
        ref={row}
        onKeyDown={move}
        className="mt-1 grid grid-cols-7 gap-y-3 wide:grid-cols-[repeat(14,minmax(0,1fr))]"
      >
        {bowls.days.map((d, i) => (
          <li key={d.on}>
            <button
              type="button"
              data-day=""
              tabIndex={i === at ? 0 : -1}
              aria-pressed={i === at}
              onFocus={() => setAt(i)}
              onClick={() => setAt(i)}
              onPointerEnter={() => setAt(i)}
              className="relative block w-full"
            >
              <span className="sr-only">{words(d, bowls, boxesOn(d))}</span>
              <span
                aria-hidden="true"
                className={`relative flex h-44 w-full border-l-2 px-1 ${d.step ? "border-verdigris border-dashed" : "border-transparent"}`}
              >
                <span
                  className={`flex h-full w-full flex-col-reverse bg-groove ${i === at ? "outline-2 outline-ink" : ""}`}
                >
                  {d.portions.map((p) => (
                    <span
                      key={p.turn}
                      className={`w-full border border-walnut ${wood(p.turn)}`}
                      style={{ height: y(p.kcal) }}
                    />
                  ))}
                  {(
                    [
                      [d.old_kcal, OLD],
                      [d.apart_kcal, APART],
                      [d.extras_kcal, d.over ? "bg-madder" : EXTRAS],
                    ] as const
                  ).map(
                    ([kcal, as]) =>
                      kcal > 0 && (
                        <span key={as} className={`w-full ${as}`} style={{ height: y(kcal) }} />
                      ),
                  )}
                </span>
                <Rail at={y(bowls.target_kcal)} as="border-t-2" />
                <Rail at={y(bowls.most_kcal)} as="border-t border-dashed" />
                {(d.step || d.new < 1) && (
                  <span className="absolute inset-x-1 bottom-1 text-center text-axis">
                    <span className="rounded-corner bg-paper px-1">{percent(d.new)}</span>
                  </span>
                )}
              </span>
              <span className="block whitespace-nowrap text-axis" aria-hidden="true">
                <b>{d.portions.map((p) => letter(p.turn)).join("+") || "–"}</b>{" "}
                {d.portions.length > 0 &&
                  foodWeight(d.portions.reduce((sum, p) => sum + p.grams, 0))}
              </span>
              <span className="block whitespace-nowrap text-axis text-soft" aria-hidden="true">
                {day(d.on).replace(/,? ?\d{4}$/, "")}
              </span>
              <span className="flex min-h-3 justify-center gap-0.5" aria-hidden="true">
                {boxesOn(d).map((b) => (
                  <span key={`${b.batch} ${b.number}`} className={`size-2.5 ${BOX}`} />
                ))}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}

const OLD = "border border-walnut border-dashed bg-sheet";
const APART = "border border-walnut bg-paper";
const EXTRAS = "border border-walnut bg-verdigris-pale";
const BOX = "border border-ink bg-sheet";

/** A height that goes through all days. */
function Rail({ at, as }: { at: string; as: string }) {
  return (
    <span
      className={`pointer-events-none absolute inset-x-0 border-ink ${as}`}
      style={{ bottom: at }}
    />
  );
}

/** A day in words. */
function words(d: BowlDay, bowls: Bowls, boxes: readonly Kept[]): string {
  const parts = [
    ...d.portions.map((p) => `${told(p.name)} ${foodWeight(p.grams)}`),
    d.old_kcal > 0 ? `the old food ${number(d.old_kcal)} kcal` : "",
    d.apart_kcal > 0 ? `given apart ${number(d.apart_kcal)} kcal` : "",
    d.extras_kcal > 0
      ? `treats and toppers ${number(d.extras_kcal)} kcal${d.over ? ", more than their share of the day" : ""}`
      : "",
    d.step ? `a step to ${percent(d.new)}, only if the days before went well` : "",
    ...boxes.map(
      (b) =>
        `box ${b.number} of ${b.code} is cooked${b.take_out ? `, taken out of the freezer on ${day(b.take_out)}` : ""}`,
    ),
  ].filter(Boolean);
  return `${day(d.on)}: ${number(d.kcal)} of ${number(bowls.target_kcal)} kcal. ${parts.join(", ")}.`;
}
