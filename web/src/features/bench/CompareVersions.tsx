import { useQueries } from "@tanstack/react-query";
import { api, take, type Version } from "~/api/client";
import { foodWeight, money, number, spelled, unitText } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { Dialog } from "~/ui";

/** The bench and kept versions side by side, all computed as of now. */
export function CompareVersions({
  recipeId,
  typed,
  versions,
  onClose,
}: {
  recipeId: number;
  typed: string;
  versions: Version[];
  onClose: () => void;
}) {
  const bench = JSON.parse(typed);
  const variants = [
    { key: "bench", name: "On the bench", body: bench },
    ...versions.map((v) => ({
      key: String(v.id),
      name: v.name,
      body: {
        ...bench,
        covers_days: v.covers_days,
        lines: v.lines.map(({ food, quantity, preparation }) => ({ food, quantity, preparation })),
      },
    })),
  ];
  const found = useQueries({
    queries: variants.map((variant) => ({
      queryKey: keyOf("analysis", recipeId, JSON.stringify(variant.body)),
      queryFn: () =>
        take(
          api.POST("/api/recipes/{id}/analysis", {
            params: { path: { id: recipeId } },
            body: variant.body,
          }),
        ),
    })),
  });
  const failed = found.find((f) => f.error)?.error;
  const analyses = found.flatMap((f) => (f.data ? [f.data] : []));
  const first = analyses[0];
  const foods = [...new Map(analyses.flatMap((a) => a.recipe.lines.map((l) => [l.food, l.name])))];
  return (
    <Dialog open onClose={onClose} title="Variants side by side" wide>
      {failed && <Problem error={failed} />}
      {analyses.length < variants.length && !failed && <Loading what="the variants" />}
      {first && analyses.length === variants.length && (
        <table className="w-full">
          <thead>
            <tr className="border-line border-b align-bottom">
              <th className="text-left font-normal text-soft">differences are bold</th>
              {variants.map((v) => (
                <th key={v.key} className="w-36 pl-3 text-right font-semibold">
                  {v.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <Row label="kcal a day" cells={analyses.map((a) => number(a.recipe.kcal_per_day))} />
            <Row
              label="Cost a day"
              cells={analyses.map((a) =>
                a.cost.unpriced < a.recipe.lines.length ? money(a.cost.per_day) : "no prices",
              )}
            />
            {(["above safe limit", "over", "short", "unproven"] as const).map((status) => (
              <Row
                key={status}
                label={`Limits ${status}`}
                cells={analyses.map((a) =>
                  String([...a.nutrients, ...a.ratios].filter((x) => x.status === status).length),
                )}
              />
            ))}
            {foods.map(([food, name]) => (
              <Row
                key={food}
                label={name ?? ""}
                cells={analyses.map((a) => {
                  const grams = a.recipe.lines
                    .filter((l) => l.food === food)
                    .reduce((sum, l) => sum + l.grams / a.recipe.covers_days, 0);
                  return grams > 0 ? `${foodWeight(grams)} a day` : "–";
                })}
              />
            ))}
            {first.nutrients.flatMap((n, i) => {
              const rows = analyses.map((a) => a.nutrients[i]);
              const same = rows.every((r) => r?.status === n.status);
              if (!n.board || n.status === "no limit" || same) return [];
              return [
                <Row
                  key={n.key}
                  label={`${spelled(n.name)}, ${unitText(n.unit)}/1000 kcal`}
                  cells={rows.map(
                    (r) => `${number(r?.per_1000_kcal, n.decimals)} ${r?.status ?? ""}`,
                  )}
                />,
              ];
            })}
          </tbody>
        </table>
      )}
    </Dialog>
  );
}

function Row({ label, cells }: { label: string; cells: string[] }) {
  return (
    <tr className="border-line border-b">
      <td>{label}</td>
      {cells.map((cell, i) => (
        <td key={i} className={`pl-3 text-right ${cell !== cells[0] ? "font-bold" : ""}`}>
          {cell}
        </td>
      ))}
    </tr>
  );
}
