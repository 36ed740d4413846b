import { type RefObject, useEffect } from "react";
import { tinykeys } from "tinykeys";
import { Dialog } from "~/ui";
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
  ["v", "versions: type a name, Enter keeps the recipe as it is"],
  ["d", "back to the detail"],
  ["w t i b", "wall, table, by ingredient, balance"],
  ["← →", "along the wall"],
  ["Ctrl+K", "go to another dog, step, recipe or page"],
  ["?", "this list"],
] as const;

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLInputElement ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement
  );
}

/** The same, while nothing is typed. */
function plain(run: (event: KeyboardEvent) => void) {
  return (event: KeyboardEvent) => {
    if (!typing(event.target)) run(event);
  };
}

/** The same, and the browser does nothing of its own with the key. */
function ours(run: () => void) {
  return (event: KeyboardEvent) => {
    event.preventDefault();
    run();
  };
}

/** The keys of the bench, while nothing is typed. */
export function useBenchKeys({
  search,
  onView,
  onSide,
  onHelp,
  onWorst,
}: {
  search: RefObject<HTMLInputElement | null>;
  onView: (view: View) => void;
  onSide: (side: Side) => void;
  onHelp: () => void;
  onWorst: () => void;
}) {
  useEffect(() => {
    const find = plain(ours(() => search.current?.focus()));
    const view = (to: View) => plain(() => onView(to));
    return tinykeys(window, {
      // Where these two stand differs from keyboard to keyboard, with Shift or without.
      "/": find,
      "Shift+/": find,
      "?": plain(onHelp),
      "Shift+?": plain(onHelp),
      a: plain(ours(() => onSide("adjust"))),
      v: plain(ours(() => onSide("versions"))),
      d: plain(() => onSide("detail")),
      g: plain(onWorst),
      w: view("wall"),
      t: view("table"),
      i: view("lines"),
      b: view("balance"),
    });
  }, [search, onView, onSide, onHelp, onWorst]);
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
