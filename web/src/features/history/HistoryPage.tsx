import { useInfiniteQuery } from "@tanstack/react-query";
import { api, type HistoryEvent, take } from "~/api/client";
import { clock, day, weekday } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Empty, Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { Button } from "~/ui";
import { Page } from "~/ui/Page";

/** What was done in this case, when and by whom, newest first, by day. */
export default function HistoryPage() {
  const current = useCase();
  const pages = useInfiniteQuery({
    queryKey: keyOf("events", current.id),
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/cases/{id}/events", {
          params: {
            path: { id: current.id },
            query: pageParam === null ? {} : { before: pageParam },
          },
        }),
      ),
    initialPageParam: null as number | null,
    getNextPageParam: (last) => last.next,
    staleTime: 0,
  });
  if (pages.isPending) return <Loading what="the history" />;
  if (!pages.data)
    return <Problem what="the history" error={pages.error} retry={() => pages.refetch()} />;
  const events = pages.data.pages.flatMap((page) => page.events);
  return (
    <Page className="p-4 mid:p-6 wide:overflow-auto" scrolls>
      <h2 className="mb-3">History</h2>
      {events.length === 0 && (
        <Empty>
          Nothing is recorded yet. What is done from now on stands here and cannot be changed.
        </Empty>
      )}
      {byDay(events).map(([on, rows]) => (
        <section key={on} className="mb-4 max-w-4xl">
          <h3 className="mb-1 font-semibold">{on}</h3>
          <table className="w-full">
            <tbody>
              {rows.map((event) => (
                <tr key={event.id} className="border-line border-b align-baseline">
                  <td className="w-20 py-1 text-soft">{clock(event.at)}</td>
                  <td className="py-1">
                    {event.what}
                    {event.times > 1 && <span className="text-soft">, {event.times} times</span>}
                  </td>
                  <td className="w-16 py-1 mid:w-48 text-right text-soft">{event.by}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      ))}
      {pages.hasNextPage && (
        <Button disabled={pages.isFetchingNextPage} onClick={() => pages.fetchNextPage()}>
          Older
        </Button>
      )}
    </Page>
  );
}

function byDay(events: HistoryEvent[]): [string, HistoryEvent[]][] {
  const days = new Map<string, HistoryEvent[]>();
  for (const event of events) {
    const on = `${weekday(event.at)}, ${day(event.at, true)}`;
    days.set(on, [...(days.get(on) ?? []), event]);
  }
  return [...days];
}
