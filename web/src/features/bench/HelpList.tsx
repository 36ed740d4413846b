import { useMutation } from "@tanstack/react-query";
import { type Analysis, api, type Help, take } from "~/api/client";
import { number, percent } from "~/shared/format";
import { Problem } from "~/shared/states";
import { Button } from "~/ui";

const KINDS: { id: Help["kind"]; label: string }[] = [
  { id: "food", label: "Whole foods" },
  { id: "single", label: "Single supplements" },
  { id: "premix", label: "All-in-one premix" },
];

/** What would close one gap, with the side effects; each can be added with one press. */
export function HelpList({
  recipeId,
  typed,
  nutrient,
  analysis,
  onAdd,
}: {
  recipeId: number;
  typed: string;
  nutrient: string;
  analysis: Analysis;
  onAdd: (help: Help) => void;
}) {
  const found = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/recipes/{id}/help", {
          params: { path: { id: recipeId } },
          body: { ...JSON.parse(typed), key: nutrient },
        }),
      ),
  });
  const short = new Map(analysis.nutrients.map((n) => [n.key, n.short]));
  const names = (keys: string[]) => keys.map((k) => short.get(k) ?? k).join(", ");
  if (!found.data) {
    return (
      <div>
        <Button onClick={() => found.mutate()} busy={found.isPending}>
          {found.isPending ? "Looking…" : "What would close it"}
        </Button>
        {found.isError && <Problem error={found.error} />}
      </div>
    );
  }
  const list = found.data;
  return (
    <section aria-label="What would close it" className="flex flex-col gap-2">
      {list.length === 0 && (
        <p className="text-soft">
          Nothing in the library that this dog may have closes it in an amount that fits the bowl.
        </p>
      )}
      {KINDS.map((kind) => {
        const rows = list.filter((h) => h.kind === kind.id);
        if (rows.length === 0) return null;
        return (
          <div key={kind.id}>
            <h3 className="font-semibold">{kind.label}</h3>
            <ul>
              {rows.map((h) => (
                <li key={h.food} className="border-line border-b py-0.5">
                  <div className="flex items-baseline justify-between gap-2">
                    <span className="min-w-0 flex-1">
                      {h.name}{" "}
                      <span className="whitespace-nowrap text-soft">
                        {h.text}, {number(h.kcal)} kcal
                        {h.closes < 1 && `, ${percent(h.closes)} of the gap`}
                      </span>
                    </span>
                    <Button
                      kind="quiet"
                      small
                      aria-label={`Add ${h.text} ${h.name}`}
                      onClick={() => onAdd(h)}
                    >
                      Add
                    </Button>
                  </div>
                  {h.caution && (
                    <div className="text-data text-madder">Rather not: {h.caution}</div>
                  )}
                  {(h.mends.length > 0 || h.breaks.length > 0) && (
                    <div className="text-label text-soft leading-tight">
                      {h.mends.length > 0 && <>also mends {names(h.mends)}</>}
                      {h.mends.length > 0 && h.breaks.length > 0 && "; "}
                      {h.breaks.length > 0 && (
                        <span className="text-madder">puts out {names(h.breaks)}</span>
                      )}
                    </div>
                  )}
                </li>
              ))}
            </ul>
          </div>
        );
      })}
    </section>
  );
}
