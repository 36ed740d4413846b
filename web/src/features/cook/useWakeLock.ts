import { useEffect, useState } from "react";

/** Keep the screen on while someone cooks. Says whether the device lets us. */
export function useWakeLock(): boolean {
  const [held, setHeld] = useState(false);
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    let over = false;
    async function hold() {
      if (document.visibilityState !== "visible" || !("wakeLock" in navigator)) return;
      try {
        lock = await navigator.wakeLock.request("screen");
        lock.addEventListener("release", () => setHeld(false));
        if (over) await lock.release();
        else setHeld(true);
      } catch {
        // A low battery may refuse it: then the screen goes dark as usual.
        setHeld(false);
      }
    }
    void hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", hold);
      void lock?.release();
    };
  }, []);
  return held;
}
