import { useEffect } from "react";
import { tinykeys } from "tinykeys";
import { Button } from "~/ui";
import { Clash } from "./Clash";
import { isAbout } from "./fields";
import type { Saving } from "./useDraft";

/** Undo and redo of a record, from the keyboard too while nothing is typed. */
export function UndoRedo({ saving, everywhere = false }: { saving: Saving; everywhere?: boolean }) {
  const { draft, state } = saving;
  useEffect(() => {
    const free = (run: () => void) => (event: KeyboardEvent) => {
      const at = event.target;
      const typing = at instanceof HTMLInputElement || at instanceof HTMLTextAreaElement;
      if (typing && !everywhere) return;
      event.preventDefault();
      run();
    };
    const redo = free(() => draft.redo());
    return tinykeys(window, {
      "$mod+z": free(() => draft.undo()),
      "$mod+Shift+z": redo,
      "$mod+y": redo,
    });
  }, [draft, everywhere]);
  return (
    <span className="flex items-center">
      <Button
        kind="quiet"
        aria-label="Undo"
        title="Undo (Ctrl+Z)"
        disabled={state.past.length === 0}
        onClick={() => draft.undo()}
      >
        ↶
      </Button>
      <Button
        kind="quiet"
        aria-label="Redo"
        title="Redo (Ctrl+Shift+Z)"
        disabled={state.future.length === 0}
        onClick={() => draft.redo()}
      >
        ↷
      </Button>
    </span>
  );
}

/** What of a record could not be stored and is said nowhere else: `shown` tells which fields the page itself
 * says it of. */
export function SavingNote({
  saving,
  words,
  shown = () => false,
}: {
  saving: Saving;
  words: (path: string) => string;
  shown?: (path: string) => boolean;
}) {
  const { state, draft } = saving;
  const refused = Object.entries(state.errors).filter(([path]) => !shown(path));
  return (
    <div className="flex flex-col gap-1 print:hidden">
      {state.note && (
        <p role="status" className="text-data">
          {state.note}
        </p>
      )}
      {refused.map(([path, message]) => (
        <p key={path} role="alert" className="text-data text-madder">
          {words(path)} is not saved: {message}.{" "}
          <button type="button" className="underline" onClick={() => draft.drop(path)}>
            Go back to what is stored
          </button>
        </p>
      ))}
      {state.collisions
        .filter((met) => !shown(met.path))
        .map((met) => (
          <Clash key={met.path} saving={saving} met={met} what={words(met.path)} />
        ))}
    </div>
  );
}

/** Collisions of one place of a record, at that place. */
export function ClashAt({ saving, path, what }: { saving: Saving; path: string; what: string }) {
  const met = saving.state.collisions.find((c) => isAbout(c.path, path));
  return met ? <Clash saving={saving} met={met} what={what} /> : null;
}
