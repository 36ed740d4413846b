import { api, take } from "~/api/client";
import { Addresses } from "~/shared/Addresses";
import { keyOf } from "~/shared/keys";
import { useCase } from "~/shared/useCase";

const LASTS = 90;

/** Addresses by which the owner puts days down without an account. */
export function DiaryLinks({ caseId }: { caseId: number }) {
  const path = { id: caseId };
  return (
    <details className="mt-6">
      <summary className="cursor-pointer font-semibold">Let the owner put days down</summary>
      <Addresses
        owner={useCase().client}
        kept={keyOf("diary-links", caseId)}
        words="A short form for a phone, without an account: weight, what was eaten, stool, itch, what was changed. What is sent stands here."
        load={() => take(api.GET("/api/cases/{id}/diary-links", { params: { path } }))}
        make={(send) =>
          take(
            api.POST("/api/cases/{id}/diary-links", {
              params: { path },
              body: { days: LASTS, send },
            }),
          )
        }
        close={(id) => take(api.DELETE("/api/diary-links/{id}", { params: { path: { id } } }))}
      />
    </details>
  );
}
