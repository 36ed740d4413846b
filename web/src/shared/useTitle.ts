import { useEffect } from "react";

/** The title of the page, from the narrowest to the widest: "What she eats now, Juniper – Wainscot". Without
 * any part it is left to the page inside. */
export function useTitle(...parts: (string | undefined)[]): void {
  const said = parts.filter(Boolean).join(", ");
  useEffect(() => {
    if (said) document.title = `${said} – Wainscot`;
  }, [said]);
}
