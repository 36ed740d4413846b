import { useEffect, useState } from "react";
import { tinykeys } from "tinykeys";
import { Dialog } from "~/ui";
import { Entries } from "./PaletteEntries";

/** Ctrl+K: go anywhere by typing a few letters of it. */
export function Palette({ onTheme }: { onTheme: () => void }) {
  const [open, setOpen] = useState(false);
  useEffect(
    () =>
      tinykeys(window, {
        "$mod+KeyK": (event) => {
          event.preventDefault();
          setOpen((now) => !now);
        },
      }),
    [],
  );
  return (
    <Dialog open={open} onClose={() => setOpen(false)} title="Go to">
      <Entries onTheme={onTheme} onDone={() => setOpen(false)} />
    </Dialog>
  );
}
