import { useEffect, useState } from "react";
import { api, take } from "~/api/client";
import type { CookAt } from "./useCooking";

/** What a scale shows (server: ScaleReadingView). */
export interface Reading {
  sequence: number;
  gross_g: number | null;
  tare_g: number;
  net_g: number | null;
  stable: boolean;
  doubt: string;
  in_ounces: boolean;
  device: string;
  step_g: number;
}

export type ScaleKind = "kitchen" | "fine";
export type Fault =
  | "disconnect"
  | "tare-lost"
  | "battery"
  | "ounces"
  | "stuck"
  | "draught"
  | "twice"
  | "backwards"
  | "late";

interface ScaleAsk {
  do: "put" | "tare" | "zero" | "fault";
  grams?: number | null;
  fault?: Fault | null;
  on?: boolean;
}

function addressOf(at: CookAt, kind: ScaleKind): string {
  return "id" in at
    ? `/api/scales/${kind}`
    : `/api/cook/${encodeURIComponent(at.token)}/scales/${kind}`;
}

/** Follow a scale while it is wanted. The browser takes up a stream that broke by itself, from the last reading it
 * had; lost: it is broken now, and what was shown is not what it shows. */
export function useScale(at: CookAt, kind: ScaleKind | null) {
  const [reading, setReading] = useState<Reading | null>(null);
  const [lost, setLost] = useState(false);
  const address = kind === null ? null : addressOf(at, kind);
  useEffect(() => {
    setReading(null);
    setLost(false);
    if (address === null) return;
    const source = new EventSource(address);
    source.onmessage = (event: MessageEvent<string>) => {
      setLost(false);
      setReading(JSON.parse(event.data) as Reading);
    };
    source.onerror = () => setLost(true);
    return () => source.close();
  }, [address]);
  async function act(body: ScaleAsk): Promise<void> {
    if (kind === null) return;
    const found = await ("id" in at
      ? take(api.POST("/api/scales/{kind}", { params: { path: { kind } }, body }))
      : take(
          api.POST("/api/cook/{token}/scales/{kind}", {
            params: { path: { token: at.token, kind } },
            body,
          }),
        ));
    setReading((old) => (old && old.sequence > found.sequence ? old : found));
  }
  return { reading: lost ? null : reading, lost, act };
}
