import { clock } from "~/shared/format";
import { useUnreachable } from "~/shared/states/Offline";
import { Button } from "~/ui";
import { sendAll } from "./drafts";
import { useUnsent } from "./useDraft";

/** How saving stands, of everything that is open: always at the same place. */
export function SaveMark() {
  const { changes, why, stuck } = useUnsent();
  const count = changes === 1 ? "1 change" : `${changes} changes`;
  const away = useUnreachable();
  const words =
    changes === 0
      ? away
        ? `Offline: as fetched before ${clock(away.toISOString())}`
        : "Saved"
      : why
        ? `${count} kept here, to send`
        : stuck
          ? `${count} not saved: see where`
          : "Saving…";
  return (
    <span className="flex items-center gap-1">
      {why && (
        <span role="alert" className="sr-only">
          {why}
        </span>
      )}
      {why && (
        <Button small title={why} className="whitespace-nowrap" onClick={sendAll}>
          Send now
        </Button>
      )}
      <span
        role="status"
        data-testid="save-state"
        className={`whitespace-nowrap px-2 text-data ${stuck || why || away ? "border-madder border-b" : "text-soft"}`}
      >
        {words}
      </span>
    </span>
  );
}
