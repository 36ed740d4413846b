import { useState } from "react";

/** A choice that was not made yet and outlives the page, in this tab. */
export function useKept(name: string): [string, (value: string) => void] {
  const [value, setValue] = useState(() => sessionStorage.getItem(name) ?? "");
  return [
    value,
    (next) => {
      if (next === "") sessionStorage.removeItem(name);
      else sessionStorage.setItem(name, next);
      setValue(next);
    },
  ];
}
