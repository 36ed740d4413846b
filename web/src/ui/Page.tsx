import { type ReactNode, useEffect } from "react";
import { focusWork } from ".";

/** Whether a page was shown before: the first one leaves the focus at the top of the window. */
let shown = false;

/** A page's work. Whoever comes to it by a link or a command goes on in it, not at the top. */
export function Page({
  className = "",
  scrolls = false,
  children,
}: {
  className?: string;
  /** It scrolls by itself and may hold nothing that the keyboard could go to. */
  scrolls?: boolean;
  children: ReactNode;
}) {
  useEffect(() => {
    if (shown && !document.activeElement?.closest("main, [role=dialog]")) focusWork();
    shown = true;
  }, []);
  return (
    <main className={className} {...(scrolls ? { tabIndex: 0 } : {})}>
      {children}
    </main>
  );
}
