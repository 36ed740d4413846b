import { useEffect } from "react";
import { Toaster } from "sonner";
import { notices } from "~/shared/notice";
import type { Theme } from "~/shared/theme";

/** Where notes are shown. */
export default function Notices({ theme }: { theme: Theme }) {
  useEffect(() => notices.mounted(), []);
  return (
    <Toaster
      position="bottom-right"
      theme={theme}
      toastOptions={{ className: "!bg-ink !text-sheet !border-0 !font-sans" }}
    />
  );
}
