import { useEffect, useState } from "react";

/** A time that runs: until when, or what is left of it while it stands. */
interface Kept {
  ends: number | null;
  left: number;
  whole: number;
}

const KEPT = "wainscot-cook-time/";

function read(name: string): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(KEPT + name) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

export interface Timer {
  running: boolean;
  /** Seconds that are left; below 0 it is over. */
  left: number;
  whole: number;
  start: () => void;
  pause: () => void;
  more: (minutes: number) => void;
}

/** A kitchen timer that goes on while another step is done, and over a reload. */
export function useTimer(name: string, minutes: number): Timer {
  const fresh: Kept = { ends: null, left: minutes * 60, whole: minutes * 60 };
  const [kept, setKept] = useState<Kept>(() => read(name) ?? fresh);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (kept.ends === null) return;
    const timer = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(timer);
  }, [kept.ends]);
  const left = kept.ends === null ? kept.left : (kept.ends - now) / 1000;
  function put(next: Kept) {
    localStorage.setItem(KEPT + name, JSON.stringify(next));
    setNow(Date.now());
    setKept(next);
  }
  const over = kept.ends !== null && left <= 0;
  useEffect(() => {
    if (over) navigator.vibrate?.([300, 120, 300, 120, 300]);
  }, [over]);
  return {
    running: kept.ends !== null && left > 0,
    left,
    whole: kept.whole,
    start: () => put({ ...kept, ends: Date.now() + Math.max(0, left) * 1000 }),
    pause: () => put({ ...kept, ends: null, left: Math.max(0, left) }),
    more: (by) =>
      put({
        ends: kept.ends === null ? null : Math.max(kept.ends, Date.now()) + by * 60_000,
        left: Math.max(0, kept.left) + by * 60,
        whole: kept.whole + by * 60,
      }),
  };
}

/** "12:40"; past its end "+0:30". */
export function clockText(seconds: number): string {
  const whole = Math.ceil(Math.abs(seconds) - (seconds < 0 ? 1 : 0));
  const text = `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
  return seconds < 0 ? `+${text}` : text;
}
