import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { forget } from "~/shared/keys";
import { DayForm } from "./DayForm";
import { DiaryLinks } from "./DiaryLinks";

/** Put a day down, or let the owner. */
export function PutDown({ caseId }: { caseId: number }) {
  const client = useQueryClient();
  return (
    <div>
      <section aria-label="Put down a day">
        <h3 className="font-semibold">Put down a day</h3>
        <DayForm
          keptAs={`follow-${caseId}`}
          send={(body) =>
            take(
              api.POST("/api/cases/{id}/follow-entries", {
                params: { path: { id: caseId } },
                body,
              }),
            )
          }
          onSaved={() => void forget(client, "follow")}
        />
      </section>
      <DiaryLinks caseId={caseId} />
    </div>
  );
}
