import { useMutation, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, type Recipe, take, type Version } from "~/api/client";
import { number } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { versionsQuery } from "~/shared/queries";
import { Button, Dialog, Loading, Problem, TextInput } from "~/ui";

const MOST_COMPARED = 4;

/** Keep, name, compare, branch and restore versions of a recipe. */
export function VersionsPanel({
  recipe,
  typed,
  saved,
  onRestored,
}: {
  recipe: Recipe;
  typed: string;
  saved: boolean;
  onRestored: (recipe: Recipe) => void;
}) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const versions = useQuery(versionsQuery(recipe.id));
  const [name, setName] = useState("");
  const [ticked, setTicked] = useState<number[]>([]);
  const [comparing, setComparing] = useState(false);
  const [restoring, setRestoring] = useState<Version | null>(null);
  const refresh = () => client.invalidateQueries({ queryKey: keyOf("versions", recipe.id) });
  const keep = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/recipes/{id}/versions", {
          params: { path: { id: recipe.id } },
          body: { name: name.trim() || `Version of ${new Date().toLocaleDateString("en-GB")}` },
        }),
      ),
    onSuccess: () => {
      setName("");
      return refresh();
    },
  });
  const restore = useMutation({
    mutationFn: (id: number) =>
      take(api.POST("/api/versions/{id}/restore", { params: { path: { id } } })),
    onSuccess: (stored) => {
      setRestoring(null);
      onRestored(stored);
      return refresh();
    },
  });
  const branch = useMutation({
    mutationFn: (version: Version) =>
      take(
        api.POST("/api/versions/{id}/branch", {
          params: { path: { id: version.id } },
          body: { name: `${recipe.name}, ${version.name}`.slice(0, 120) },
        }),
      ),
    onSuccess: async (stored) => {
      await client.invalidateQueries({ queryKey: keyOf("case", recipe.case) });
      navigate(`/cases/${recipe.case}/recipes/${stored.id}`);
    },
  });
  const remove = useMutation({
    mutationFn: (id: number) =>
      take(api.DELETE("/api/versions/{id}", { params: { path: { id } } })),
    onSuccess: refresh,
  });
  const failed = [keep, restore, branch, remove].find((m) => m.error)?.error;
  if (versions.isPending) return <Loading what="the versions" />;
  if (versions.isError) return <Problem error={versions.error} retry={() => versions.refetch()} />;
  const chosen = versions.data.filter((v) => ticked.includes(v.id));
  return (
    <div className="flex flex-col gap-3">
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          keep.mutate();
        }}
      >
        <TextInput
          aria-label="Name of the version to keep"
          placeholder="Name, for example “with turkey”"
          value={name}
          maxLength={120}
          onChange={(e) => setName(e.target.value)}
          className="min-w-0 flex-1"
        />
        <Button type="submit" disabled={!saved || keep.isPending}>
          Keep
        </Button>
      </form>
      {failed && <Problem error={failed} />}
      {versions.data.length === 0 && (
        <p className="text-soft">
          No version is kept yet. Keep one before you try something, and compare or go back later.
        </p>
      )}
      <ul className="flex flex-col gap-2">
        {versions.data.map((version) => (
          <li key={version.id} className="border-line border-b pb-2">
            <label className="flex items-baseline gap-2">
              <input
                type="checkbox"
                className="accent-verdigris"
                aria-label={`Compare ${version.name}`}
                checked={ticked.includes(version.id)}
                disabled={!ticked.includes(version.id) && ticked.length >= MOST_COMPARED - 1}
                onChange={(e) =>
                  setTicked((now) =>
                    e.target.checked ? [...now, version.id] : now.filter((id) => id !== version.id),
                  )
                }
              />
              <span className="flex-1">
                <b>{version.name}</b>{" "}
                <span className="text-[13px] text-soft">
                  {version.number}, {new Date(version.created).toLocaleDateString("en-GB")},{" "}
                  {version.lines.length} lines
                </span>
              </span>
            </label>
            <div className="pl-5">
              <Button kind="quiet" className="h-6 px-1.5" onClick={() => setRestoring(version)}>
                Restore
              </Button>
              <Button kind="quiet" className="h-6 px-1.5" onClick={() => branch.mutate(version)}>
                Branch
              </Button>
              <Button
                kind="quiet"
                className="h-6 px-1.5"
                aria-label={`Delete ${version.name}`}
                onClick={() =>
                  confirm(`Delete the version “${version.name}”? This cannot be undone.`) &&
                  remove.mutate(version.id)
                }
              >
                Delete
              </Button>
            </div>
          </li>
        ))}
      </ul>
      {versions.data.length > 0 && (
        <Button disabled={chosen.length === 0} onClick={() => setComparing(true)}>
          Compare {chosen.length ? `${chosen.length} with the bench` : "(tick up to three)"}
        </Button>
      )}
      {comparing && (
        <CompareVersions
          recipeId={recipe.id}
          typed={typed}
          versions={chosen}
          onClose={() => setComparing(false)}
        />
      )}
      <Dialog
        open={restoring !== null}
        onClose={() => setRestoring(null)}
        title={`Restore “${restoring?.name ?? ""}”?`}
      >
        <p>The recipe becomes what it was then. What is on the bench now is kept as a version.</p>
        <div className="mt-4 flex gap-2">
          <Button
            kind="solid"
            disabled={!saved || restore.isPending}
            onClick={() => restoring && restore.mutate(restoring.id)}
          >
            Restore
          </Button>
          <Button kind="quiet" onClick={() => setRestoring(null)}>
            Leave it
          </Button>
        </div>
      </Dialog>
    </div>
  );
}

function CompareVersions({
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
                a.cost.unpriced < a.recipe.lines.length ? number(a.cost.per_day, 2) : "no prices",
              )}
            />
            {(["above safe limit", "over", "short", "unproven"] as const).map((status) => (
              <Row
                key={status}
                label={`Nutrients ${status}`}
                cells={analyses.map((a) =>
                  String(a.nutrients.filter((n) => n.board && n.status === status).length),
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
                  return grams > 0 ? `${number(grams, 1)} g a day` : "–";
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
                  label={`${n.name}, ${n.unit}/1000 kcal`}
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
