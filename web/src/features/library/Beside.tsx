import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import type { Profile } from "~/api/client";
import { number, spelled, told, unitText } from "~/shared/format";
import { densityQuery, recipeQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { asking } from "~/shared/useAsked";
import { Button } from "~/ui";
import { Board, beside } from "./density";

const STEP = 15;
const HEIGHT = 18;

/** What 1000 kcal of a food bring beside what is asked for a dog, its gaps first. */
export function Beside({ recipe, profile }: { recipe: number; profile: Profile }) {
  const navigate = useNavigate();
  const found = useQuery(densityQuery(recipe, [profile.id]));
  const stored = useQuery(recipeQuery(recipe));
  if (found.isPending) return <Loading what="what it would bring" />;
  if (!found.data)
    return <Problem what="what it would bring" error={found.error} retry={() => found.refetch()} />;
  const { yards, dog, foods } = found.data;
  const food = foods[0];
  if (!food) return null;
  const gaps = yards.flatMap((yard, i) => (yard.gap ? [{ yard, amount: food.amounts[i] }] : []));
  // Of a bottle only what is in it, or may be.
  const listed = food.dosed ? gaps.filter(({ amount }) => amount?.value !== 0) : gaps;
  const over = yards.filter((_, i) => food.amounts[i]?.over);
  const rest = yards.length - gaps.length;
  return (
    <section aria-label={`Beside what ${dog} needs`} className="flex flex-col gap-2">
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h3 className="font-semibold">1000 kcal of it, beside what {dog} needs</h3>
        {stored.data && !food.why_not && (
          <Button
            small
            onClick={() =>
              navigate(
                `/cases/${stored.data.case}/recipes/${recipe}`,
                asking({ do: "add", food: profile, quantity: profile.quantity }),
              )
            }
          >
            Put it into the recipe
          </Button>
        )}
      </div>
      {food.why_not && (
        <p className="border-madder stile text-madder">
          Not for {dog}: {told(food.why_not)}.
        </p>
      )}
      {food.caution && <p className="border-oak stile">{told(food.caution)}.</p>}
      {food.dosed && (
        <p className="text-data text-soft">
          It is given in doses: its boards say what it is, not how much of it there will be.
        </p>
      )}
      <svg
        viewBox={`0 -2 ${yards.length * STEP} ${HEIGHT + 4}`}
        preserveAspectRatio="none"
        className="h-14 w-full"
        role="img"
        aria-label={`${gaps.filter(({ yard, amount }) => helps(yard.gap, amount?.times)).length} of ${gaps.length} gaps are helped; too much by itself of ${over.length}`}
      >
        {yards.map((yard, i) => (
          <g key={yard.key} transform={`translate(${i * STEP + 1}, 0)`}>
            <title>{`${spelled(yard.name)}: ${beside(yard, food.amounts[i]?.value ?? null)}`}</title>
            <Board
              times={food.amounts[i]?.times ?? null}
              ceiling={yard.gap === "ceiling"}
              pale={!yard.gap}
              over={food.amounts[i]?.over}
            />
          </g>
        ))}
      </svg>
      <p className="text-label text-soft">
        {gaps.length > 0
          ? `The first ${gaps.length === 1 ? "board is the gap" : `${gaps.length} boards are the gaps`} of the recipe as it is stored, the most urgent first; then the other ${rest}. The line is what is asked of 1000 kcal.`
          : "The recipe has no gap; the line is what is asked of 1000 kcal."}
      </p>
      {listed.length > 0 && (
        <table className="w-full">
          <thead className="sr-only">
            <tr>
              <th>Gap</th>
              <th>{food.dosed ? "In a gram of it" : "In 1000 kcal of it"}</th>
              {!food.dosed && <th>Times what is asked</th>}
            </tr>
          </thead>
          <tbody>
            {listed.map(({ yard, amount }) => (
              <tr key={yard.key} className="border-line border-b">
                <td className={helps(yard.gap, amount?.times) ? "font-semibold" : ""}>
                  {spelled(yard.name)}
                </td>
                <td className="text-right">
                  {amount?.value == null ? (
                    <span className="border-ink border-b border-dashed">not known</span>
                  ) : food.dosed ? (
                    inAGram(profile, yard.key)
                  ) : (
                    beside(yard, amount.value)
                  )}
                </td>
                {!food.dosed && (
                  <td className="w-16 text-right">
                    {amount?.times == null ? "" : `${times(amount.times)} ×`}
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {over.length > 0 && (
        <p>
          <b>Too much by itself:</b> {over.map((y) => spelled(y.name)).join(", ")}. A little of it,
          beside the rest.
        </p>
      )}
    </section>
  );
}

/** What a gram of a supplement holds, as its profile has it. */
function inAGram(profile: Profile, key: string): string {
  const found = profile.values.find((v) => v.key === key);
  if (found?.per_100g == null) return "not known";
  const each = found.per_100g / 100;
  return `${number(each, each < 10 ? 2 : 0)} ${unitText(found.unit)} a gram`;
}

function helps(gap: string | null, share: number | null | undefined): boolean {
  return share != null && (gap === "ceiling" ? share < 1 : share > 1);
}

/** So many times, with as many figures as say something. */
function times(share: number): string {
  if (share >= 99) return "over 99";
  if (share === 0) return "0";
  return share < 0.05 ? "under 0.1" : number(share, share < 10 ? 1 : 0);
}
