import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Case, type Checks, take, type VetWord, type Weighed } from "~/api/client";
import { day, told } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Empty } from "~/shared/states";
import { Button } from "~/ui";
import { ConcernMark } from "./ConcernMark";
import { DecideForm } from "./DecideForm";

interface Group {
  id: string;
  title: string;
  hint: string;
  of: (w: Weighed) => boolean;
}

const decided = (w: Weighed) => w.state === "settled";

/** The gravest first. What was decided stands in its group: nothing is hidden by deciding it. */
const GROUPS: Group[] = [
  {
    id: "block",
    title: "Cannot go out",
    hint: "Take it out of the recipe. Only the vet's written decision lets it stay.",
    of: (w) => w.concern.level === "block",
  },
  {
    id: "label",
    title: "Read on the label",
    hint: "Tick what somebody read on the very pack that is bought.",
    of: (w) => w.concern.about === "prompt",
  },
  {
    id: "finding",
    title: "To decide",
    hint: "Mend it in the recipe, or say why it may stay.",
    of: (w) => w.concern.level === "decide" && w.concern.about === "finding",
  },
  {
    id: "gap",
    title: "Limits not held",
    hint: "Close them in the recipe, or choose some and say once why they may stay.",
    of: (w) => w.concern.level === "decide" && w.concern.about === "gap",
  },
  {
    id: "warn",
    title: "To watch",
    hint: "Nobody has to decide these. They go to the vet with the plan.",
    of: (w) => w.concern.level === "warn",
  },
  { id: "note", title: "To know", hint: "", of: (w) => w.concern.level === "note" },
];

/** Record a decision, or take one back; what is told is what the server answers. */
export function useDeciding(recipe: number) {
  const client = useQueryClient();
  const settle = (answer: Checks) => {
    client.setQueryData(keyOf("checks", recipe), answer);
    void forget(client, "release");
  };
  const decide = useMutation({
    mutationFn: ({
      concerns,
      reason,
      vet,
    }: {
      concerns: readonly Weighed[];
      reason: string;
      vet: VetWord | null;
    }) =>
      take(
        api.POST("/api/recipes/{id}/decisions", {
          params: { path: { id: recipe } },
          body: {
            concerns: concerns.map(({ concern: { key, basis } }) => ({ key, basis })),
            reason,
            vet,
          },
        }),
      ),
    onSuccess: settle,
  });
  const undo = useMutation({
    mutationFn: (id: number) =>
      take(api.DELETE("/api/decisions/{id}", { params: { path: { id } } })),
    onSuccess: settle,
    onError: (error) => notice(error.message),
  });
  return { decide, undo };
}

export function ConcernList({ checks, current }: { checks: Checks; current: Case }) {
  const deciding = useDeciding(checks.recipe);
  if (checks.concerns.length === 0) {
    return <Empty>Nothing is told of this recipe: no hazard, no gap, no label to read.</Empty>;
  }
  return (
    <div className="flex flex-col gap-5">
      {GROUPS.map((group) => {
        const found = checks.concerns.filter(group.of);
        // A block about a label is a block.
        const rows =
          group.id === "label" ? found.filter((w) => w.concern.level !== "block") : found;
        return rows.length > 0 ? (
          <GroupOf
            key={group.id}
            group={group}
            rows={rows}
            checks={checks}
            current={current}
            deciding={deciding}
          />
        ) : null;
      })}
    </div>
  );
}

function GroupOf({
  group,
  rows,
  checks,
  current,
  deciding,
}: {
  group: Group;
  rows: Weighed[];
  checks: Checks;
  current: Case;
  deciding: ReturnType<typeof useDeciding>;
}) {
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [open, setOpen] = useState<string | null>(null);
  const undecided = rows.filter((w) => !decided(w) && w.state !== "known");
  const byReason = undecided.filter((w) => w.concern.settle === "reason");
  const picked = byReason.filter((w) => chosen.includes(w.concern.key));
  const many = byReason.length > 1;
  const toggle = (key: string) =>
    setChosen((now) => (now.includes(key) ? now.filter((k) => k !== key) : [...now, key]));
  return (
    <section aria-labelledby={`group-${group.id}`}>
      <h3 id={`group-${group.id}`} className="font-semibold">
        {group.title}{" "}
        <span className="font-normal text-soft">
          {undecided.length > 0
            ? `${undecided.length} open of ${rows.length}`
            : rows.length > 1
              ? String(rows.length)
              : ""}
        </span>
      </h3>
      {group.hint && <p className="text-data text-soft">{group.hint}</p>}
      {many && (
        <div className="mt-1">
          <p className="flex flex-wrap items-center gap-2">
            <Button
              small
              kind="quiet"
              onClick={() =>
                setChosen(
                  picked.length === byReason.length ? [] : byReason.map((w) => w.concern.key),
                )
              }
            >
              {picked.length === byReason.length ? "Choose none" : "Choose all"}
            </Button>
            <span className="text-soft">
              {picked.length === 0 ? "None chosen." : `${picked.length} chosen.`}
            </span>
          </p>
          {picked.length > 0 && (
            <DecideForm
              rows={picked}
              deciding={deciding}
              onDone={() => setChosen([])}
              onCancel={() => setChosen([])}
            />
          )}
        </div>
      )}
      <ul className="mt-1 border-line border-t">
        {rows.map((w) => {
          const { key, settle } = w.concern;
          const openRow = !decided(w) && w.state !== "known";
          return (
            <li key={key} className="flex items-start gap-2.5 border-line border-b py-1.5">
              {openRow && settle === "tick" ? (
                <input
                  type="checkbox"
                  className="mt-0.5 accent-verdigris"
                  checked={false}
                  disabled={deciding.decide.isPending}
                  aria-label={`Read on the label: ${w.concern.what}`}
                  onChange={() =>
                    deciding.decide.mutate(
                      { concerns: [w], reason: "", vet: null },
                      { onError: (error) => notice(error.message) },
                    )
                  }
                />
              ) : openRow && settle === "reason" && many ? (
                <input
                  type="checkbox"
                  className="mt-0.5 accent-verdigris"
                  checked={chosen.includes(key)}
                  aria-label={`Choose: ${w.concern.what}`}
                  onChange={() => toggle(key)}
                />
              ) : (
                <ConcernMark of={w} />
              )}
              <div className="min-w-0 flex-1">
                <Told of={w} current={current} recipe={checks.recipe} />
                {w.decision && (
                  <p className={decided(w) ? "" : "border-oak stile"}>
                    {decided(w) ? "" : "Open again, something behind it changed. Before: "}
                    {settle === "tick" ? "Read" : "Accepted"} by <b>{w.decision.by}</b> on{" "}
                    {day(w.decision.at)}
                    {w.decision.reason && `: ${w.decision.reason}`}
                    {w.decision.vet &&
                      ` By the written decision of ${w.decision.vet.name}, licence ${w.decision.vet.licence}, of ${day(w.decision.vet.on)}.`}{" "}
                    {decided(w) && (
                      <button
                        type="button"
                        className="py-0.5 underline"
                        aria-label={`Take back the decision: ${w.concern.what}`}
                        onClick={() => w.decision && deciding.undo.mutate(w.decision.id)}
                      >
                        take back
                      </button>
                    )}
                  </p>
                )}
                {openRow && open === key && (
                  <DecideForm
                    rows={[w]}
                    deciding={deciding}
                    onDone={() => setOpen(null)}
                    onCancel={() => setOpen(null)}
                  />
                )}
              </div>
              {openRow && open !== key && (settle === "vet" || (settle === "reason" && !many)) && (
                <Button small onClick={() => setOpen(key)} aria-label={`Decide: ${w.concern.what}`}>
                  Decide
                </Button>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** What is told, why, and what to do; what it points at is opened. */
function Told({ of, current, recipe }: { of: Weighed; current: Case; recipe: number }) {
  const { concern } = of;
  const to = placeOf(of, current, recipe);
  return (
    <p>
      <b>
        {to ? (
          <Link
            to={to}
            className="underline decoration-line underline-offset-2 hover:decoration-ink"
          >
            {told(concern.what)}
          </Link>
        ) : (
          told(concern.what)
        )}
      </b>
      {concern.why && <span>. {told(ended(concern.why))}</span>}{" "}
      {of.state !== "settled" && concern.about !== "gap" && <span>{told(concern.do)} </span>}
      {concern.source && <span className="text-data text-soft">{concern.source}</span>}
    </p>
  );
}

function ended(text: string): string {
  const said = text.charAt(0).toUpperCase() + text.slice(1);
  return /[.!?]$/.test(said) ? said : `${said}.`;
}

function placeOf({ concern }: Weighed, current: Case, recipe: number): string {
  const root = `/cases/${current.id}`;
  if (concern.kind === "conflict") return `${root}/targets`;
  if (/^(dog|intake)\./.test(concern.field)) return `${root}/intake`;
  if (concern.field) return `${root}/targets`;
  if (concern.kind === "medicine") return `${root}/intake`;
  if (concern.nutrient)
    return `${root}/recipes/${recipe}?nutrient=${encodeURIComponent(concern.nutrient)}`;
  return `${root}/recipes/${recipe}`;
}
