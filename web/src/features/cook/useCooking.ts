import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { ApiError, api, type Cook, type CookEntry, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { batchKept, forgetBatch, keepBatch } from "./offline";
import { sendAll, unsentOf } from "./unsent";

/** A batch to cook: by its number for who is signed in, by the owner's address otherwise. */
export type CookAt = { id: number } | { token: string };

/** Another tab, another phone: what they put down is seen after so long. */
const LOOK_AGAIN_MS = 4000;
const TRY_AGAIN_MS = 2500;

export function placeOf(at: CookAt): string {
  return "id" in at ? String(at.id) : `link-${at.token.slice(0, 24)}`;
}

function load(at: CookAt): Promise<Cook> {
  return "id" in at
    ? take(api.GET("/api/batches/{id}/cook", { params: { path: { id: at.id } } }))
    : take(api.GET("/api/cook/{token}", { params: { path: { token: at.token } } }));
}

function send(at: CookAt, entries: CookEntry[]): Promise<Cook> {
  return "id" in at
    ? take(
        api.POST("/api/batches/{id}/entries", {
          params: { path: { id: at.id } },
          body: { entries },
        }),
      )
    : take(
        api.POST("/api/cook/{token}", { params: { path: { token: at.token } }, body: { entries } }),
      );
}

export interface Cooking {
  cook: Cook | undefined;
  error: Error | null;
  retry: () => void;
  /** Put something down: kept here at once, sent as soon as the server answers. */
  put: (entry: CookEntry) => void;
  unsent: CookEntry[];
  /** The server did not answer the last time. */
  away: boolean;
  /** What it did not take, and why; null for nothing. */
  refused: { entry: CookEntry; why: string } | null;
  forgive: () => void;
}

export function useCooking(at: CookAt): Cooking {
  const client = useQueryClient();
  const place = placeOf(at);
  const key = useMemo(() => keyOf("cook", place), [place]);
  const store = useMemo(() => unsentOf(place, localStorage), [place]);
  const [unsent, setUnsent] = useState(() => store.all());
  const [away, setAway] = useState(false);
  const [refused, setRefused] = useState<Cooking["refused"]>(null);
  const sending = useRef(false);
  const found = useQuery({
    queryKey: key,
    queryFn: async () => {
      try {
        const cook = await load(at);
        // An answer that was asked for before something was put down is older than what is there.
        const here = client.getQueryData<Cook>(key);
        return here && here.number > cook.number ? here : cook;
      } catch (error) {
        // An address that opens nothing any more opens nothing from here either.
        if (error instanceof ApiError && [400, 403, 404].includes(error.status))
          forgetBatch(place, localStorage);
        throw error;
      }
    },
    initialData: () => batchKept(place, localStorage),
    initialDataUpdatedAt: 0,
    refetchInterval: LOOK_AGAIN_MS,
    refetchOnWindowFocus: true,
    staleTime: 0,
  });

  // biome-ignore lint/correctness/useExhaustiveDependencies: `at` is told by its place
  const flush = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    try {
      await sendAll(store, (entries) => send(at, entries), {
        taken: (cook) => {
          setAway(false);
          setUnsent(store.all());
          client.setQueryData<Cook>(key, (old) => (old && old.number > cook.number ? old : cook));
        },
        refused: (entry, why) => setRefused({ entry, why }),
        away: () => setAway(true),
      });
    } finally {
      sending.current = false;
      setUnsent(store.all());
    }
  }, [place, key, store, client]);

  useEffect(() => {
    if (found.data) keepBatch(place, found.data, localStorage);
  }, [found.data, place]);

  useEffect(() => {
    void flush();
    const timer = setInterval(() => {
      if (store.all().length > 0) void flush();
    }, TRY_AGAIN_MS);
    const again = () => void flush();
    addEventListener("online", again);
    return () => {
      clearInterval(timer);
      removeEventListener("online", again);
    };
  }, [flush, store]);

  const put = useCallback(
    (entry: CookEntry) => {
      store.add(entry);
      setUnsent(store.all());
      void flush();
    },
    [store, flush],
  );
  const status = found.error instanceof ApiError ? found.error.status : null;
  const gone = status === 0;
  // It was taken back, or is not to be fed: what is kept here is not shown any more.
  const shut = status !== null && [400, 403, 404].includes(status);
  return {
    cook: shut ? undefined : found.data,
    error: found.data && !shut ? null : found.error,
    retry: () => void found.refetch(),
    put,
    unsent,
    away: away || gone,
    refused,
    forgive: () => setRefused(null),
  };
}
