import { type Dispatch, type RefObject, useEffect } from "react";
import { Dialog } from "~/ui";
import type { Action } from "./editor";
import type { Side, View } from "./views";

const SHORTCUTS = [
  ["/", "add an ingredient"],
  ["↑ ↓ Enter", "between amounts"],
  ["Alt+↑ Alt+↓", "move a line"],
  ["Ctrl+E", "replace the line by another food"],
  ["Ctrl+Backspace", "remove the line"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["g", "jump to the worst gap"],
  ["a", "adjust: Enter finds the amounts, Enter again accepts them"],
  ["d", "back to the detail"],
  ["w t i b", "wall, table, by ingredient, balance"],
  ["← →", "along the wall"],
  ["Ctrl+K", "go to another dog, step, recipe or page"],
  ["?", "this list"],
] as const;

const VIEW_KEYS: Record<string, View> = { w: "wall", t: "table", i: "lines", b: "balance" };

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLInputElement ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement
  );
}

/** The keys of the bench, while nothing is typed (undo and redo always). */
export function useBenchKeys({
  dispatch,
  search,
  onView,
  onSide,
  onHelp,
  onWorst,
}: {
  dispatch: Dispatch<Action>;
  search: RefObject<HTMLInputElement | null>;
  onView: (view: View) => void;
  onSide: (side: Side) => void;
  onHelp: () => void;
  onWorst: () => void;
}) {
  useEffect(() => {
    function onKey(event: globalThis.KeyboardEvent) {
      const mod = event.ctrlKey || event.metaKey;
      if (mod && event.key.toLowerCase() === "z") {
        event.preventDefault();
        dispatch({ type: event.shiftKey ? "redo" : "undo" });
      } else if (mod && event.key.toLowerCase() === "y") {
        event.preventDefault();
        dispatch({ type: "redo" });
      } else if (!typing(event.target) && !mod && !event.altKey) {
        const view = VIEW_KEYS[event.key];
        if (event.key === "/") {
          event.preventDefault();
          search.current?.focus();
        } else if (event.key === "?") {
          onHelp();
        } else if (event.key === "a") {
          event.preventDefault();
          onSide("adjust");
        } else if (event.key === "d") {
          onSide("detail");
        } else if (view) {
          onView(view);
        } else if (event.key === "g") {
          onWorst();
        }
      }
    }
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [dispatch, search, onView, onSide, onHelp, onWorst]);
}

export function ShortcutsDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Keyboard">
      <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
        {SHORTCUTS.map(([keys, does]) => (
          <div key={keys} className="contents">
            <dt>
              <kbd className="font-semibold">{keys}</kbd>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
