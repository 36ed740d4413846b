import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Robustness, take } from "~/api/client";
import { told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Loading, Problem, Stale } from "~/shared/states";
import { useSettled } from "~/shared/useSettled";
import { Select } from "~/ui/Select";
import { Carried } from "./Carried";
import { Doubts } from "./Doubts";
import { SawnWall } from "./SawnWall";

/** Whether the recipe survives a kitchen: the wall with its tops as they come out, what a doubt comes from, and the
 * lines it cannot live without. */
export function RobustView({
  recipeId,
  typed,
  tones,
  onHighlight,
}: {
  recipeId: number;
  /** What stands in the boxes, as it is asked for. */
  typed: string;
  tones: Readonly<Record<string, string>>;
  onHighlight: (line: number | null) => void;
}) {
  const asked = useSettled(typed);
  const [mixed, setMixed] = useState("");
  const found = useQuery({
    queryKey: keyOf("robustness", recipeId, asked, mixed),
    queryFn: () =>
      take(
        api.POST("/api/recipes/{id}/robustness", {
          params: { path: { id: recipeId } },
          body: { ...JSON.parse(asked), mixed },
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
  const [picked, setPicked] = useState<string | null>(null);
  if (found.isPending) return <Loading what="ten thousand batches" />;
  if (!found.data)
    return <Problem what="the kitchens" error={found.error} retry={() => found.refetch()} />;
  const { chances, carrying, doubtful, words, not_in_it, source, confidence } = found.data;
  const chosen = picked ?? doubtful[0] ?? null;
  const limit = chances.limits.find((c) => c.key === chosen);
  return (
    <div className="h-full overflow-auto pr-1">
      <Stale
        why={found.isPlaceholderData ? "of what was asked before: the new ones are drawn" : ""}
      >
        <div className="grid gap-x-6 gap-y-4 wide:grid-cols-[minmax(0,1fr)_18rem_21rem]">
          <section aria-label="Tops of ten thousand batches" className="min-w-0">
            <SawnWall
              limits={chances.limits}
              doubtful={doubtful}
              chosen={chosen}
              onChoose={setPicked}
            />
            <p className="mt-1 text-label text-soft">
              {told(sizeOf(chances))} Each board’s top is cut through all of them, the lowest at the
              left: what lies over the rail is the share that holds. {told(not_in_it)}.{" "}
              {`${source}; confidence ${confidence}.`}
            </p>
          </section>
          <div className="flex min-w-0 flex-col gap-3">
            <Doubts limit={limit} doubts={found.data.doubts} onHighlight={onHighlight} />
            {(mixed || chances.limits.some((c) => c.day)) && (
              <div>
                <span className="font-medium">Supplements are</span>
                <Select
                  label="Supplements are"
                  value={found.data.mixed}
                  onChange={setMixed}
                  options={found.data.ways.map((way) => ({ id: way.id, label: told(way.name) }))}
                  className="w-full"
                />
              </div>
            )}
          </div>
          <Carried
            recipeId={recipeId}
            asked={asked}
            carrying={carrying}
            words={words}
            tones={tones}
            onHighlight={onHighlight}
          />
        </div>
      </Stale>
    </div>
  );
}

function sizeOf(of: Robustness["chances"]): string {
  const { kitchens, batches } = of;
  return `${kitchens} kitchens with ${batches} ${batches === 1 ? "batch" : "batches"} each in four weeks.`;
}
