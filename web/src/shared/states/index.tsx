import type { ReactNode } from "react";
import { ApiError } from "~/api/client";
import { useLasting } from "~/shared/useLasting";
import { Button } from "~/ui";

/** An answer that comes within this is not announced as being awaited. */
const PATIENCE_MS = 300;

/** Something is fetched: nothing at first, then its rail is drawn from left to right. */
export function Loading({ what }: { what: string }) {
  const lasting = useLasting(true, PATIENCE_MS);
  return (
    <p role="status" className="p-6 text-soft">
      {lasting && (
        <>
          <span aria-hidden="true" className="rail-drawn mb-2 block w-40 max-w-full" />
          Fetching {what}…
        </>
      )}
    </p>
  );
}

/** What someone can do about a refusal. */
function remedy(error: Error): string {
  const status = error instanceof ApiError ? error.status : null;
  if (status === 0) return "Check the connection. What you typed is kept in this browser.";
  if (error instanceof ApiError && error.field === "role") return "";
  if (status === 401 || status === 403) return "Sign in again: what you typed is kept here.";
  if (status === 404) return "It may have been deleted elsewhere: go back to the cases.";
  if (status !== null && status >= 500) {
    return "Try again in a moment. If it stays so, tell whoever looks after Wainscot at your practice, with the time.";
  }
  return "";
}

/** What is wanted cannot be shown: a broken rail, what and why, what to do, and a key. */
export function Problem({
  error,
  what,
  retry,
}: {
  error: Error;
  /** What cannot be shown: "the targets"; left out where something was to be done, not shown. */
  what?: string;
  retry?: () => void;
}) {
  const advice = remedy(error);
  return (
    <div role="alert" className="m-4 max-w-xl">
      <span aria-hidden="true" className="mb-2 flex w-40 max-w-full items-center">
        <span className="h-0.5 flex-1 bg-ink" />
        <span className="w-10 border-madder border-t-2 border-dashed" />
        <span className="h-0.5 flex-1 bg-ink" />
      </span>
      <p>
        {what && <b>{`${what[0]?.toUpperCase()}${what.slice(1)} cannot be shown. `}</b>}
        {error.message}
      </p>
      {advice && <p className="text-soft">{advice}</p>}
      {retry && (
        <Button className="mt-2" onClick={retry}>
          Try again
        </Button>
      )}
    </div>
  );
}

/** There is nothing yet: the frame stands, and the next step is written in it. */
export function Empty({
  children,
  action,
  className = "",
}: {
  children: ReactNode;
  action?: ReactNode;
  className?: string;
}) {
  return (
    <div className={`max-w-xl border border-edge border-dashed px-4 py-3 ${className}`}>
      <div>{children}</div>
      {action && <div className="mt-2 flex flex-wrap gap-2">{action}</div>}
    </div>
  );
}

/** Figures of other amounts than those that stand beside them: grey, with the reason; "" for those that are
 * of these. The reason lies over them and takes no room, for what is pressed must not move away. */
export function Stale({ why, children }: { why: string; children: ReactNode }) {
  return (
    <div data-stale={why !== ""}>
      <div className="sticky top-0 z-10 flex h-0 justify-end">
        {why && (
          <div className="h-fit bg-paper px-2">
            <StaleNote why={why} />
          </div>
        )}
      </div>
      <div className="figure">{children}</div>
    </div>
  );
}

export function StaleNote({ why }: { why: string }) {
  return (
    <p role="status" className="mb-1 w-fit shrink-0 border-ink border-b border-dashed text-data">
      {why}
    </p>
  );
}
