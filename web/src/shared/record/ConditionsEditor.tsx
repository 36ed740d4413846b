import { useQuery } from "@tanstack/react-query";
import type { Case } from "~/api/client";
import { conditionsQuery } from "~/shared/queries";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";
import { FieldTrouble, useSaving } from "./fields";

type Mine = Partial<Case["conditions"][number]> & { id: string };

/** The diagnoses of the dog, each at its stage. A condition with stages counts once its stage is said: none is
 * taken for granted. */
export function ConditionsEditor() {
  const saving = useSaving();
  const all = useQuery(conditionsQuery);
  const known = all.data ?? [];
  const mine = (saving.value("conditions") ?? []) as Mine[];
  const set = (conditions: Mine[]) => saving.set("conditions", conditions);
  // Named, and their stage not said yet.
  const unstaged = ((saving.value("intake.unstaged") ?? []) as Mine[]).filter(
    (u) => !mine.some((m) => m.id === u.id),
  );
  const setUnstaged = (open: Mine[]) => saving.set("intake.unstaged", open);
  return (
    <div className="flex max-w-3xl flex-col gap-1" data-field="conditions">
      {mine.map((condition) => {
        const facts = known.find((c) => c.id === condition.id);
        const name = condition.name || (facts?.name ?? condition.id);
        return (
          <div key={condition.id} className="flex flex-wrap items-center gap-x-2">
            <span className="w-56 wide:w-72">{name}</span>
            {facts && facts.stages.length > 1 && (
              <Select
                label={`Stage of ${name}`}
                value={condition.stage ?? ""}
                onChange={(stage) =>
                  set(mine.map((c) => (c.id === condition.id ? { ...c, stage } : c)))
                }
                options={facts.stages.map((s) => ({ id: s.id, label: s.name }))}
                className="w-56 max-w-full wide:w-72"
              />
            )}
            <Button
              kind="quiet"
              aria-label={`Remove ${name}`}
              onClick={() => set(mine.filter((c) => c.id !== condition.id))}
            >
              Remove
            </Button>
          </div>
        );
      })}
      {unstaged.map((open) => {
        const facts = known.find((c) => c.id === open.id);
        const name = facts?.name ?? open.name ?? open.id;
        return (
          <fieldset
            key={open.id}
            data-unstaged=""
            className="flex flex-col gap-1 border-ink border-l-2 border-dashed pl-3"
          >
            <legend className="sr-only">Stage of {name}</legend>
            <p>
              <b>{name}: which stage?</b> It counts once that is said.
            </p>
            <div className="flex flex-wrap gap-1">
              {facts?.stages.map((stage) => (
                <Button
                  key={stage.id}
                  onClick={() => set([...mine, { id: open.id, name, stage: stage.id }])}
                >
                  {stage.name}
                </Button>
              ))}
              <Button
                kind="quiet"
                onClick={() => setUnstaged(unstaged.filter((u) => u.id !== open.id))}
              >
                Leave it out
              </Button>
            </div>
          </fieldset>
        );
      })}
      {mine.length === 0 && unstaged.length === 0 && (
        <p className="text-soft">None: the standard's own limits hold.</p>
      )}
      <Select
        label="Add a condition"
        value=""
        onChange={(id) => {
          const facts = known.find((c) => c.id === id);
          if (!facts) return;
          if (facts.stages.length > 1)
            setUnstaged([...unstaged, { id, name: facts.name, stage: "" }]);
          else set([...mine, { id, name: facts.name, stage: facts.stages[0]?.id ?? "" }]);
        }}
        options={[
          { id: "add", label: "Add a condition" },
          ...known
            .filter((c) => ![...mine, ...unstaged].some((m) => m.id === c.id))
            .map((c) => ({ id: c.id, label: c.name })),
        ]}
        placeholder="Add a condition"
        className="w-72 max-w-full"
      />
      <FieldTrouble path="conditions" what="Conditions" />
    </div>
  );
}
