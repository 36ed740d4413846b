import { type ReactNode, useEffect } from "react";
import { focusWork } from ".";

/** Whether a page was shown before: the first one leaves the focus at the top of the window. */
let shown = false;

/** A page's work. Whoever comes to it by a link or a command goes on in it, not at the top. */
export function Page({ className = "", children }: { className?: string; children: ReactNode }) {
  useEffect(() => {
    if (shown && !document.activeElement?.closest("main, [role=dialog]")) focusWork();
    shown = true;
  }, []);
  return <main className={className}>{children}</main>;
}
