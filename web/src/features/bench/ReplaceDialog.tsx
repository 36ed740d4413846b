import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, type Food, type Replacements, take } from "~/api/client";
import { AddFood } from "~/shared/foods/AddFood";
import { number, spelled, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { Button, Dialog } from "~/ui";
import { Toggle } from "~/ui/Toggle";
import { type BenchLine, lineOf } from "./editor";
import { MiniWall } from "./MiniWall";

type Keep = "energy" | "protein";

/** Replace a line by another food in the amount that keeps its energy or its protein. */
export function ReplaceDialog({
  recipeId,
  caseId,
  typed,
  line,
  position,
  onReplace,
  onClose,
}: {
  recipeId: number;
  caseId: number;
  typed: string;
  line: BenchLine;
  position: number;
  onReplace: (line: BenchLine, adjust: boolean) => void;
  onClose: () => void;
}) {
  const search = useRef<HTMLInputElement>(null);
  const [keep, setKeep] = useState<Keep>("energy");
  const found = useMutation({
    mutationFn: (food: Pick<Food, "id">) =>
      take(
        api.POST("/api/recipes/{id}/substitute", {
          params: { path: { id: recipeId } },
          body: { ...JSON.parse(typed), line: position, food: food.id, keep },
        }),
      ),
  });
  const like = useQuery({
    queryKey: keyOf("replacements", recipeId, typed, position, keep),
    queryFn: () =>
      take(
        api.POST("/api/recipes/{id}/replacements", {
          params: { path: { id: recipeId } },
          body: { ...JSON.parse(typed), line: position, keep },
        }),
      ),
  });
  const next = found.data;
  function replaced(): BenchLine | null {
    if (!next) return null;
    const { food, name, quantity, methods } = next;
    // In the place of the old line, with its note, but not its method: that was for another food.
    const made = lineOf({ food, name, methods, text: quantity, note: line.note });
    return { ...made, key: line.key };
  }
  function use(adjust: boolean) {
    const changed = replaced();
    if (changed) onReplace(changed, adjust);
  }
  return (
    <Dialog open onClose={onClose} title={`Replace ${line.name}`} wide>
      <div className="flex min-h-72 flex-col gap-3">
        <Toggle
          label="What the new amount keeps"
          value={keep}
          onChange={setKeep}
          options={[
            { id: "energy", label: "Same energy" },
            { id: "protein", label: "Same protein" },
          ]}
        />
        <AddFood
          inputRef={search}
          caseId={caseId}
          label="Replace by"
          placeholder="Another: turkey thigh, rabbit, cod…"
          below
          onAdd={(food) => found.mutate(food)}
        />
        {found.isError && <Problem error={found.error} />}
        {like.isPending && <Loading what="foods like it" />}
        {like.error && <Problem what="foods like it" error={like.error} retry={like.refetch} />}
        {like.data && (
          <Candidates
            of={like.data}
            chosen={next?.food}
            onChoose={(food) => found.mutate({ id: food })}
          />
        )}
        {next && (
          <>
            <p>
              <b>{next.name}</b>, {next.quantity}
            </p>
            {next.why_not && (
              <p role="alert" className="border-madder stile text-madder">
                Not for this dog: {next.why_not}.
              </p>
            )}
            <div className="flex gap-2">
              <Button kind="solid" onClick={() => use(true)}>
                Replace and adjust the rest
              </Button>
              <Button onClick={() => use(false)}>Only replace</Button>
            </div>
          </>
        )}
      </div>
    </Dialog>
  );
}

/** Foods like it, the gentlest on the wall first: what each mends and breaks, and its wall in short. */
function Candidates({
  of,
  chosen,
  onChoose,
}: {
  of: Replacements;
  chosen: string | undefined;
  onChoose: (food: string) => void;
}) {
  const list = useRef<HTMLUListElement>(null);
  if (of.found.length === 0)
    return <p className="text-soft">No food like it is known that this dog may have.</p>;
  return (
    <section aria-label="Foods like it">
      <p className="mb-1 text-data text-soft">
        As it is bought, in the amount that keeps what is kept. Dark boards are short, over or
        changed; {of.found.length > 1 ? `keys 1 to ${of.found.length} choose` : "key 1 chooses"}.
      </p>
      {/* Digits choose while the list has the focus. */}
      <ul
        ref={list}
        onKeyDown={(e) => {
          const food = of.found[Number(e.key) - 1];
          if (food) onChoose(food.food);
        }}
      >
        {of.found.map((r, i) => (
          <li key={r.food} className="border-line border-b">
            <button
              type="button"
              aria-pressed={chosen === r.food}
              onClick={() => onChoose(r.food)}
              className={`grid w-full grid-cols-[1.2rem_minmax(0,1fr)] gap-x-2 py-1 text-left mid:grid-cols-[1.2rem_minmax(0,1fr)_15rem] ${chosen === r.food ? "bg-sheet" : ""}`}
            >
              <span className="text-axis text-soft" aria-hidden="true">
                {i + 1}
              </span>
              <span>
                <b>{spelled(r.name)}</b> {r.quantity}{" "}
                <span className="text-data text-soft">{number(r.kcal)} kcal</span>
                <span className="block text-data">{effects(r)}</span>
                {r.caution && <span className="block text-data text-soft">{told(r.caution)}</span>}
              </span>
              <span className="col-start-2 mid:col-start-3">
                <MiniWall boards={r.boards} beside={of.before} />
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const NAMED = 4;

/** What a food in the place of another does, in words. */
function effects({ mends, breaks }: Replacements["found"][number]): string {
  const some = (keys: readonly string[]): string =>
    keys.length > NAMED
      ? `${keys.slice(0, NAMED).join(", ")} and ${keys.length - NAMED} more`
      : keys.join(", ");
  const words = [
    breaks.length > 0 ? `no longer held: ${some(breaks)}` : "",
    mends.length > 0 ? `mends ${some(mends)}` : "",
  ].filter(Boolean);
  return words.length > 0 ? words.join("; ") : "every board stands as it does";
}
