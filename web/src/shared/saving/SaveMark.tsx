import { Button } from "~/ui";
import { sendAll } from "./drafts";
import { useUnsent } from "./useDraft";

/** How saving stands, of everything that is open: always at the same place. */
export function SaveMark() {
  const { changes, why, stuck } = useUnsent();
  const count = changes === 1 ? "1 change" : `${changes} changes`;
  const words =
    changes === 0
      ? "Saved"
      : why
        ? `${count} kept here, to send`
        : stuck
          ? `${count} not saved: see where`
          : "Saving…";
  return (
    <span className="flex items-center gap-1">
      {why && (
        <span role="alert" className="max-w-96 truncate text-[13px] text-madder" title={why}>
          {why}
        </span>
      )}
      {why && (
        <Button small onClick={sendAll}>
          Send now
        </Button>
      )}
      <span
        role="status"
        data-testid="save-state"
        className={`px-2 text-[13px] ${stuck || why ? "border-madder border-b" : "text-soft"}`}
      >
        {words}
      </span>
    </span>
  );
}
