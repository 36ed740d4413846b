import { useQuery } from "@tanstack/react-query";
import type { Case } from "~/api/client";
import { conditionsQuery } from "~/shared/queries";
import { useKept } from "~/shared/useKept";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";
import { FieldTrouble, useSaving } from "./fields";

type Mine = Partial<Case["conditions"][number]> & { id: string };

/** The diagnoses of the dog, each at its stage. A condition with stages counts once its stage is said: none is
 * taken for granted. */
export function ConditionsEditor({ caseId }: { caseId: number }) {
  const saving = useSaving();
  // Chosen, and its stage not said yet.
  const [open, setOpen] = useKept(`stage-of-${caseId}`);
  const all = useQuery(conditionsQuery);
  const known = all.data ?? [];
  const mine = (saving.value("conditions") ?? []) as Mine[];
  const set = (conditions: Mine[]) => saving.set("conditions", conditions);
  const asked = known.find((c) => c.id === open && !mine.some((m) => m.id === open));
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
      {asked && (
        <fieldset className="flex flex-col gap-1 border-ink border-l-2 border-dashed pl-3">
          <legend className="sr-only">Stage of {asked.name}</legend>
          <p>
            <b>{asked.name}: which stage?</b> It counts once that is said.
          </p>
          <div className="flex flex-wrap gap-1">
            {asked.stages.map((stage) => (
              <Button
                key={stage.id}
                onClick={() => {
                  set([...mine, { id: asked.id, name: asked.name, stage: stage.id }]);
                  setOpen("");
                }}
              >
                {stage.name}
              </Button>
            ))}
            <Button kind="quiet" onClick={() => setOpen("")}>
              Leave it out
            </Button>
          </div>
        </fieldset>
      )}
      {mine.length === 0 && !asked && (
        <p className="text-soft">None: the standard's own limits hold.</p>
      )}
      <Select
        label="Add a condition"
        value=""
        onChange={(id) => {
          const facts = known.find((c) => c.id === id);
          if (!facts) return;
          if (facts.stages.length > 1) setOpen(id);
          else set([...mine, { id, name: facts.name, stage: facts.stages[0]?.id ?? "" }]);
        }}
        options={[
          { id: "add", label: "Add a condition" },
          ...known
            .filter((c) => !mine.some((m) => m.id === c.id))
            .map((c) => ({ id: c.id, label: c.name })),
        ]}
        placeholder="Add a condition"
        className="w-72 max-w-full"
      />
      <FieldTrouble path="conditions" what="Conditions" />
    </div>
  );
}
