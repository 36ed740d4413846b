import { useState } from "react";
import { Link } from "react-router";
import { LabReport } from "~/features/follow/LabReport";
import { OwnFoodDialog } from "~/features/library/OwnFoodDialog";
import { notice } from "~/shared/notice";
import { useCase } from "~/shared/useCase";
import { Button } from "~/ui";

/** What was sent in words: a mail becomes a recipe, a bag a food, a report values. */
export function Paste() {
  const current = useCase();
  const [what, setWhat] = useState<"" | "bag" | "report">("");
  const recipe = current.recipes.find((r) => !r.archived);
  const close = () => setWhat("");
  return (
    <section aria-label="Paste what was sent" className="flex flex-col gap-2">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <h2>Paste what was sent</h2>
        {recipe && (
          <Link
            to={`/cases/${current.id}/recipes/${recipe.id}/bring`}
            className="inline-flex h-8 items-center rounded-corner border border-edge bg-sheet px-3 font-medium hover:border-soft"
          >
            A mail with a recipe
          </Link>
        )}
        <Button onClick={() => setWhat("bag")}>A bag’s label</Button>
        <Button
          aria-expanded={what === "report"}
          onClick={() => setWhat(what === "report" ? "" : "report")}
        >
          A blood result
        </Button>
      </div>
      {what === "report" && (
        <LabReport
          caseId={current.id}
          onDone={close}
          onKept={(values) =>
            notice(
              `${values === 1 ? "1 value is" : `${values} values are`} put down; they stand at Follow-up.`,
            )
          }
        />
      )}
      {what === "bag" && (
        <OwnFoodDialog
          onClose={close}
          onSaved={(food) => {
            close();
            notice(
              `${food.name} is in the library now: it can be put into a recipe and eaten now.`,
            );
          }}
        />
      )}
    </section>
  );
}
