import { useEffect, useRef } from "react";
import { tinykeys } from "tinykeys";
import { ours, plain } from "../keyboard";
import type { Typing } from "./StretchRow";

interface Keys {
  /** Not while something else is open. */
  on: boolean;
  onStep: (by: number) => void;
  onTake: () => void;
  onChoose: (at: number) => void;
  onAmount: () => void;
  onType: (what: Typing) => void;
  onJoin: () => void;
  onAsk: () => void;
  onSure: () => void;
  onMessage: () => void;
  onEdit: () => void;
  onFinish: () => void;
  onUndo: () => void;
  onRedo: () => void;
}

const MOST_CHOICES = 6;

/** Enter on a button is that button's. */
function unlessOnButton(run: () => void) {
  return (event: KeyboardEvent) => {
    const at = event.target;
    if (at instanceof Element && at.closest("button, a")) return;
    event.preventDefault();
    run();
  };
}

/** The keys of a text that is looked at. */
export function useBringKeys(keys: Keys): void {
  const latest = useRef(keys);
  latest.current = keys;
  const { on } = keys;
  useEffect(() => {
    if (!on) return;
    const now = () => latest.current;
    const free = (run: () => void) => plain(ours(run));
    const numbers = Array.from({ length: MOST_CHOICES }, (_, i) => [
      String(i + 1),
      free(() => now().onChoose(i)),
    ]);
    return tinykeys(window, {
      ...Object.fromEntries(numbers),
      ArrowDown: free(() => now().onStep(1)),
      ArrowUp: free(() => now().onStep(-1)),
      Enter: plain(unlessOnButton(() => now().onTake())),
      "=": free(() => now().onAmount()),
      "Shift+=": free(() => now().onAmount()),
      "Shift+0": free(() => now().onAmount()),
      f: free(() => now().onType("food")),
      s: free(() => now().onType("words")),
      x: free(() => now().onType("reason")),
      j: free(() => now().onJoin()),
      q: free(() => now().onAsk()),
      y: free(() => now().onSure()),
      w: free(() => now().onMessage()),
      e: free(() => now().onEdit()),
      "$mod+Enter": ours(() => now().onFinish()),
      "$mod+z": free(() => now().onUndo()),
      "$mod+Shift+z": free(() => now().onRedo()),
      "$mod+y": free(() => now().onRedo()),
    });
  }, [on]);
}
