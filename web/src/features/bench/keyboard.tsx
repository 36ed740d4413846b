import { useEffect, useState } from "react";
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
  ["s", "what to buy, and whether it can be had"],
  ["w t i b", "wall, table, by ingredient, balance"],
  ["← →", "along the wall"],
  ["Ctrl+K", "go to another dog, step, recipe or page"],
  ["?", "this list"],
] as const;

const TAKES_TEXT = "input:not([type=checkbox]), textarea, [role=dialog]";

/** What takes letters for itself: boxes, and lists in which a letter chooses. */
const TAKES_LETTERS =
  "input:not([type=checkbox]), textarea, select, [role=combobox], [role=listbox], [role=menu], [role=dialog], [aria-haspopup]";

/** Whether a single key is for the bench: the focus is on it, or nowhere, and nothing there takes letters. */
function isForTheBench(target: EventTarget | null): boolean {
  if (!(target instanceof Element) || target === document.body) return true;
  return target.closest("main") !== null && target.closest(TAKES_LETTERS) === null;
}

const SINGLE_KEYS = "wainscot-single-keys";

function singleKeysOn(): boolean {
  return localStorage.getItem(SINGLE_KEYS) !== "off";
}

/** The two keys that lead somewhere from everywhere, unless something there is typed in. */
function fromAnywhere(run: (event: KeyboardEvent) => void) {
  return (event: KeyboardEvent) => {
    const at = event.target;
    const taken = at instanceof Element && at.closest(TAKES_TEXT) !== null;
    if (singleKeysOn() && !taken) run(event);
  };
}

/** A single key, while it is for the bench and single keys are wanted. */
export function plain(run: (event: KeyboardEvent) => void) {
  return (event: KeyboardEvent) => {
    if (singleKeysOn() && isForTheBench(event.target)) run(event);
  };
}

/** The same, and the browser does nothing of its own with the key. */
export function ours(run: () => void) {
  return (event: KeyboardEvent) => {
    event.preventDefault();
    run();
  };
}

/** The keys of the bench, while nothing is typed. */
export function useBenchKeys({
  onFind,
  onView,
  onSide,
  onHelp,
  onWorst,
  onBuy,
}: {
  onFind: () => void;
  onView: (view: View) => void;
  onSide: (side: Side) => void;
  onHelp: () => void;
  onWorst: () => void;
  onBuy: () => void;
}) {
  useEffect(() => {
    const find = fromAnywhere(ours(onFind));
    const view = (to: View) => plain(() => onView(to));
    return tinykeys(window, {
      // Where these two stand differs from keyboard to keyboard, with Shift or without.
      "/": find,
      "Shift+/": find,
      "?": fromAnywhere(onHelp),
      "Shift+?": fromAnywhere(onHelp),
      a: plain(ours(() => onSide("adjust"))),
      v: plain(ours(() => onSide("versions"))),
      d: plain(() => onSide("detail")),
      g: plain(onWorst),
      s: plain(ours(onBuy)),
      w: view("wall"),
      t: view("table"),
      i: view("lines"),
      b: view("balance"),
    });
  }, [onFind, onView, onSide, onHelp, onWorst, onBuy]);
}

export function ShortcutsDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [single, setSingle] = useState(singleKeysOn);
  return (
    <Dialog open={open} onClose={onClose} title="Keyboard">
      <label className="mb-3 flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-verdigris"
          checked={single}
          onChange={(e) => {
            localStorage.setItem(SINGLE_KEYS, e.target.checked ? "on" : "off");
            setSingle(e.target.checked);
          }}
        />
        Single letters are keys while the focus is on the bench
      </label>
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
