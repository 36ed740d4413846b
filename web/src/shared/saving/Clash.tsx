import { Button } from "~/ui";
import type { Collision } from "./changes";
import type { Saving } from "./useDraft";

/** A field that was changed here and elsewhere: both texts side by side, one to choose. */
export function Clash({
  saving,
  met,
  what,
  said = plainly,
}: {
  saving: Saving;
  met: Collision;
  /** What the field is called; "" where it stands right there. */
  what: string;
  said?: (value: unknown) => string;
}) {
  const { draft } = saving;
  return (
    <div
      role="alert"
      className="flex flex-wrap items-center gap-x-3 gap-y-1 text-data"
      onKeyDown={(e) => {
        if (e.key === "1") draft.keepMine(met.path);
        if (e.key === "2") draft.drop(met.path);
      }}
    >
      <span aria-hidden="true" className="clash h-6 w-3 shrink-0" />
      <span>{what ? <b>{what}</b> : "This"} was changed elsewhere too.</span>
      <Button small onClick={() => draft.keepMine(met.path)}>
        1 Keep mine: {said(met.yours)}
      </Button>
      <Button small onClick={() => draft.drop(met.path)}>
        2 Take theirs: {said(met.stored)}
      </Button>
    </div>
  );
}

/** A value as it is shown to choose by. */
function plainly(value: unknown): string {
  if (value === null || value === undefined || value === "") return "nothing";
  if (Array.isArray(value)) return value.length === 0 ? "nothing" : value.map(plainly).join("; ");
  if (typeof value === "object") {
    const parts = Object.values(value).filter((part) => part !== null && part !== "");
    return parts.map(plainly).join(", ");
  }
  if (typeof value === "boolean") return value ? "yes" : "no";
  return String(value);
}
