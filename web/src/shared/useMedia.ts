import { useSyncExternalStore } from "react";

/** Whether a media query holds now. */
export function useMedia(query: string): boolean {
  return useSyncExternalStore(
    (listener) => {
      const media = matchMedia(query);
      media.addEventListener("change", listener);
      return () => media.removeEventListener("change", listener);
    },
    () => matchMedia(query).matches,
  );
}

/** From this width on the bench has its parts beside each other (1100 px); the same as `wide:` in styles. */
export const WIDE = "(min-width: 68.75rem)";
