import type { ExternalToast } from "sonner";

let wanted = () => {};
let shown = () => {};
const mounted = new Promise<void>((resolve) => {
  shown = resolve;
});

/** Notes are drawn by something that is fetched with the first of them, not with the first page. */
export const notices = {
  /** Call back when the first note is to be shown. */
  onWanted: (then: () => void) => {
    wanted = then;
  },
  /** What draws them is there. */
  mounted: () => shown(),
};

/** A short note at the foot of the window. */
export function notice(text: string, more: ExternalToast = {}): void {
  wanted();
  void mounted.then(() => import("sonner")).then(({ toast }) => toast(text, more));
}
