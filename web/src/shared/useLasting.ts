import { useEffect, useState } from "react";

/** Whether something has been so for a while. */
export function useLasting(now: boolean, ms: number): boolean {
  const [lasting, setLasting] = useState(false);
  useEffect(() => {
    if (!now) {
      setLasting(false);
      return;
    }
    const timer = setTimeout(() => setLasting(true), ms);
    return () => clearTimeout(timer);
  }, [now, ms]);
  return now && lasting;
}
