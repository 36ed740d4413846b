import { Button } from "~/ui";
import { type CaseSaving, savingWords } from "./useCaseSaving";

/** How saving stands, and what to do where a change cannot be stored. */
export function SavingNote({ saving }: { saving: CaseSaving }) {
  const { state } = saving;
  return (
    <div className="mb-3 flex flex-col gap-2 print:hidden">
      <p role="status" className="text-[13px] text-soft">
        {savingWords(state)}
      </p>
      {state.unreachable && state.pending.length > 0 && (
        <p role="alert" className="text-[13px] text-madder">
          {state.unreachable}{" "}
          <button type="button" className="underline" onClick={saving.retry}>
            Try now
          </button>
        </p>
      )}
      {state.collisions.map((met) => (
        <div key={met.path} role="alert" className="border-madder border-l-2 pl-2 text-[13px]">
          <p>
            <b>{met.path}</b> was changed elsewhere meanwhile.
          </p>
          <p>Stored: {said(met.stored)}</p>
          <p>Yours: {said(met.yours)}</p>
          <div className="mt-1 flex gap-2">
            <Button onClick={() => saving.keepMine(met.path)}>Keep mine</Button>
            <Button onClick={() => saving.drop(met.path)}>Take theirs</Button>
          </div>
        </div>
      ))}
    </div>
  );
}

function said(value: unknown): string {
  if (value === null || value === "") return "nothing";
  return typeof value === "object" ? JSON.stringify(value) : String(value);
}
