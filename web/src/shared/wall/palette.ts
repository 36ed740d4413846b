import { useSyncExternalStore } from "react";

/** What a variable of the style sheet stands for in the theme of now: "--tone-w0" is "#543b20". */
export type Palette = (variable: string) => string;

function fresh(): Palette {
  const seen = new Map<string, string>();
  return (variable) => {
    const known = seen.get(variable);
    if (known !== undefined) return known;
    const style = getComputedStyle(document.documentElement);
    const value = style.getPropertyValue(variable).trim();
    seen.set(variable, value);
    return value;
  };
}

let palette: Palette | null = null;

function subscribe(listener: () => void): () => void {
  const observer = new MutationObserver(() => {
    palette = null;
    listener();
  });
  observer.observe(document.documentElement, { attributeFilter: ["data-theme"] });
  return () => observer.disconnect();
}

/** The colours themselves, for what is drawn at every key: a board that names a dozen variables is looked up
 * and read a dozen times, and there are forty of them. */
export function usePalette(): Palette {
  return useSyncExternalStore(subscribe, () => {
    palette ??= fresh();
    return palette;
  });
}
