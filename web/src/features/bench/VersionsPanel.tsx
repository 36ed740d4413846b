import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api, type Recipe, type TimelineStep, take, type Version } from "~/api/client";
import { day, foodWeight, number, spelled } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { timelineQuery, versionsQuery } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { Button, Dialog, TextInput } from "~/ui";
import { CompareVersions } from "./CompareVersions";
import { MiniWall } from "./MiniWall";
import { ShareDialog } from "./ShareDialog";

const MOST_COMPARED = 4;

/** Keep, name, compare, branch, restore and share versions of a recipe. */
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
  const versions = useQuery(versionsQuery(recipe.id));
  // The walls come after the names: each is read from what was kept.
  const walls = useQuery(timelineQuery(recipe.id));
  const [ticked, setTicked] = useState<number[]>([]);
  const [open, setOpen] = useState<"compare" | { restore: Version } | { share: Version } | null>(
    null,
  );
  const { keep, restore, branch, remove, failed } = useVersionWrites(recipe, (stored) => {
    setOpen(null);
    onRestored(stored);
  });
  if (versions.isPending) return <Loading what="the versions" />;
  if (!versions.data)
    return <Problem what="the versions" error={versions.error} retry={() => versions.refetch()} />;
  const chosen = versions.data.filter((v) => ticked.includes(v.id));
  const restoring = open !== null && typeof open === "object" && "restore" in open && open.restore;
  const sharing = open !== null && typeof open === "object" && "share" in open && open.share;
  return (
    <div className="flex flex-col gap-3">
      <KeepForm disabled={!saved || keep.isPending} onKeep={(name) => keep.mutate(name)} />
      {failed && <Problem error={failed} />}
      {versions.data.length === 0 && (
        <Empty>
          No version is kept yet. Keep one before you try something: you can compare, go back, and
          give others its sheet.
        </Empty>
      )}
      {/* The newest above: a peg each, solid where somebody kept it, open where it was kept by itself. */}
      <ol className="flex flex-col">
        {versions.data.map((version, i) => (
          <VersionRow
            key={version.id}
            version={version}
            last={i === versions.data.length - 1}
            step={walls.data?.find((s) => s.number === version.number)}
            before={walls.data?.find(
              (s) => s.number === walls.data.find((x) => x.number === version.number)?.since,
            )}
            ticked={ticked.includes(version.id)}
            full={ticked.length >= MOST_COMPARED - 1}
            onTick={(on) =>
              setTicked((now) =>
                on ? [...now, version.id] : now.filter((id) => id !== version.id),
              )
            }
            onRestore={() => setOpen({ restore: version })}
            onBranch={() => branch.mutate(version)}
            onShare={() => setOpen({ share: version })}
            onDelete={() => remove.mutate(version.id)}
          />
        ))}
      </ol>
      {versions.data.length > 0 && (
        <Button disabled={chosen.length === 0} onClick={() => setOpen("compare")}>
          Compare {chosen.length ? `${chosen.length} with the bench` : "(tick up to three)"}
        </Button>
      )}
      {open === "compare" && (
        <CompareVersions
          recipeId={recipe.id}
          typed={typed}
          versions={chosen}
          onClose={() => setOpen(null)}
        />
      )}
      {sharing && <ShareDialog version={sharing} onClose={() => setOpen(null)} />}
      {restoring && (
        <Dialog open onClose={() => setOpen(null)} title={`Restore “${restoring.name}”?`}>
          <p>The recipe becomes what it was then. What is on the bench now is kept as a version.</p>
          <div className="mt-4 flex gap-2">
            <Button
              kind="solid"
              disabled={!saved}
              busy={restore.isPending}
              onClick={() => restore.mutate(restoring.id)}
            >
              Restore
            </Button>
            <Button kind="quiet" onClick={() => setOpen(null)}>
              Cancel
            </Button>
          </div>
        </Dialog>
      )}
    </div>
  );
}

function useVersionWrites(recipe: Recipe, onRestored: (stored: Recipe) => void) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const refresh = () => client.invalidateQueries({ queryKey: keyOf("versions", recipe.id) });
  const keep = useMutation({
    mutationFn: (name: string) =>
      take(
        api.POST("/api/recipes/{id}/versions", {
          params: { path: { id: recipe.id } },
          body: { name },
        }),
      ),
    onSuccess: (kept) => {
      notice(`Kept as version ${kept.number}.`);
      return refresh();
    },
  });
  const restore = useMutation({
    mutationFn: (id: number) =>
      take(api.POST("/api/versions/{id}/restore", { params: { path: { id } } })),
    onSuccess: (stored) => {
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
  return { keep, restore, branch, remove, failed };
}

function KeepForm({ disabled, onKeep }: { disabled: boolean; onKeep: (name: string) => void }) {
  const [name, setName] = useState("");
  const box = useRef<HTMLInputElement>(null);
  // Whoever opens the versions from the keyboard goes on there.
  useEffect(() => box.current?.focus(), []);
  return (
    <form
      className="flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onKeep(name.trim() || `Version of ${day(new Date().toISOString())}`);
        setName("");
      }}
    >
      <TextInput
        ref={box}
        aria-label="Name of the version to keep"
        placeholder="Name, for example “with turkey”"
        value={name}
        maxLength={120}
        onChange={(e) => setName(e.target.value)}
        className="min-w-0 flex-1"
      />
      <Button type="submit" disabled={disabled}>
        Keep
      </Button>
    </form>
  );
}

function VersionRow({
  version,
  step,
  before,
  last,
  ticked,
  full,
  onTick,
  onRestore,
  onBranch,
  onShare,
  onDelete,
}: {
  version: Version;
  /** Its wall, and what was changed to come to it; none where nothing was kept of it, or not yet. */
  step: TimelineStep | undefined;
  before: TimelineStep | undefined;
  /** The oldest: the rail ends here. */
  last: boolean;
  ticked: boolean;
  full: boolean;
  onTick: (on: boolean) => void;
  onRestore: () => void;
  onBranch: () => void;
  onShare: () => void;
  onDelete: () => void;
}) {
  const links = version.links === 1 ? "1 open link" : `${version.links} open links`;
  const lost = version.links > 0 ? ` Its ${links} will open nothing any more.` : "";
  return (
    <li className="relative pb-3 pl-6">
      {!last && (
        <span aria-hidden="true" className="absolute top-3 bottom-[-4px] left-[6px] w-0.5 bg-ink" />
      )}
      <svg viewBox="0 0 14 14" className="absolute top-1 left-0 size-3.5" aria-hidden="true">
        <circle
          cx="7"
          cy="7"
          r="5.5"
          className={`stroke-2 stroke-ink ${version.automatic ? "fill-paper" : "fill-ink"}`}
        />
      </svg>
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          className="accent-verdigris"
          aria-label={`Compare ${version.name}`}
          checked={ticked}
          disabled={!ticked && full}
          onChange={(e) => onTick(e.target.checked)}
        />
        <span className="flex-1">
          <b>{version.name}</b>{" "}
          <span className="text-data text-soft">
            {version.number}, {day(version.created)}, {version.lines.length} lines
            {version.automatic && ", kept by itself"}
            {version.links > 0 && `, ${links}`}
          </span>
        </span>
      </label>
      {step && (
        <div className="py-1">
          <MiniWall
            boards={step.wall.boards}
            beside={sameBoards(step, before) ? before?.wall.boards : undefined}
          />
          <p className="text-data">{standing(step)}</p>
          {step.since !== null && <p className="text-data text-soft">{changed(step)}</p>}
        </div>
      )}
      <div className="-ml-1.5">
        <Button kind="quiet" small onClick={onRestore}>
          Restore
        </Button>
        <Button kind="quiet" small onClick={onBranch}>
          Branch
        </Button>
        {version.snapshot && (
          <>
            <a
              href={`/papers/versions/${version.id}/sheet`}
              target="_blank"
              rel="noreferrer"
              aria-label={`Sheet of ${version.name}`}
              className="inline-flex h-6.5 items-center rounded-corner px-1.5 font-medium hover:bg-groove"
            >
              Sheet
            </a>
            <Button kind="quiet" small aria-label={`Share ${version.name}`} onClick={onShare}>
              Share
            </Button>
          </>
        )}
        <Button
          kind="quiet"
          small
          aria-label={`Delete ${version.name}`}
          onClick={() =>
            confirm(`Delete the version “${version.name}”? This cannot be undone.${lost}`) &&
            onDelete()
          }
        >
          Delete
        </Button>
      </div>
      {!version.snapshot && (
        <p className="text-data text-soft">
          Kept without its figures: it could not be computed then, or is from an older Wainscot.
        </p>
      )}
    </li>
  );
}

/** Two walls can be held against each other where they have the same boards. */
function sameBoards(step: TimelineStep, before: TimelineStep | undefined): boolean {
  return before !== undefined && before.wall.keys.join() === step.wall.keys.join();
}

function standing({ kcal, short, unproven, over }: TimelineStep): string {
  const counts = [
    [short, "short"],
    [unproven, "unproven"],
    [over, "over"],
  ] as const;
  const open = counts.filter(([count]) => count > 0).map(([count, what]) => `${count} ${what}`);
  return `${number(kcal)} kcal a day, ${open.join(", ") || "every limit held"}`;
}

/** At most so many are named; the others are counted. */
const NAMED = 4;

function some(names: readonly string[]): string {
  const shown = names.slice(0, NAMED).join(", ");
  return names.length > NAMED ? `${shown} and ${names.length - NAMED} more` : shown;
}

/** What was changed since the version before, and what that did. */
function changed({ since, lines, mends, breaks }: TimelineStep): string {
  const foods = lines.map(({ name, before_g, after_g }) => {
    if (before_g === null) return `${spelled(name)} came, ${foodWeight(after_g ?? 0)}`;
    if (after_g === null) return `${spelled(name)} went`;
    return `${spelled(name)} ${foodWeight(before_g)} to ${foodWeight(after_g)}`;
  });
  const words = [
    foods.length > 0 ? `${some(foods)} a day` : "the same foods",
    mends.length > 0 ? `mends ${some(mends.map(spelled))}` : "",
    breaks.length > 0 ? `no longer held: ${some(breaks.map(spelled))}` : "",
  ];
  return `Since ${since}: ${words.filter(Boolean).join("; ")}.`;
}
