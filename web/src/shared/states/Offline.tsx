import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useSyncExternalStore } from "react";
import { api, take } from "~/api/client";
import { reach } from "~/api/reach";
import { keyOf } from "~/shared/keys";

const ASK_AGAIN_MS = 5000;

/** Since when the server does not answer; null while it does. */
export function useUnreachable(): Date | null {
  return useSyncExternalStore(reach.subscribe, reach.snapshot);
}

/** While the server cannot be reached figures stay, behind a dashed stile; it is asked again by itself, and
 * what is shown is fetched anew when it answers. */
export function OfflineStile({ children }: { children: ReactNode }) {
  const since = useUnreachable();
  const client = useQueryClient();
  const away = since !== null;
  useQuery({
    queryKey: keyOf("reach"),
    queryFn: () => take(api.GET("/api/session")),
    enabled: away,
    networkMode: "always",
    retry: false,
    refetchInterval: ASK_AGAIN_MS,
    gcTime: 0,
  });
  useEffect(() => {
    if (!away) return;
    return () => void client.invalidateQueries({ type: "active" });
  }, [away, client]);
  return (
    <div data-offline={away} className="contents">
      {children}
    </div>
  );
}
