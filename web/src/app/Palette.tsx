import { Suspense, useEffect, useState } from "react";
import { tinykeys } from "tinykeys";
import { Loading } from "~/shared/states";
import { Dialog } from "~/ui";
import { coded } from "./page";

/** What is found and done by it: much code, and not for the first page. */
export const Entries = coded(() => import("./Entries"));

/** Ctrl+K: the command line. Go anywhere by a few letters of it; in a case, add a food with its amount or move an end of
 * a window. */
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
    <Dialog open={open} onClose={() => setOpen(false)} title="Command line">
      <Suspense fallback={<Loading what="the command line" />}>
        <Entries onTheme={onTheme} onDone={() => setOpen(false)} />
      </Suspense>
    </Dialog>
  );
}
