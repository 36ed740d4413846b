import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { api, type HistoryEvent, take } from "~/api/client";
import { clock, day, weekday } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button, TextInput } from "~/ui";
import { Page } from "~/ui/Page";
import { Select } from "~/ui/Select";
import { PracticeTabs } from "./PracticeTabs";

const ANY = "any";
const KINDS = [
  { id: ANY, label: "Everything" },
  { id: "person", label: "People and sign-ins" },
  { id: "case.seen", label: "Who looked at a case" },
  { id: "record", label: "What was taken out" },
  { id: "case", label: "Cases" },
  { id: "recipe", label: "Recipes" },
  { id: "release", label: "Plans on their way" },
  { id: "link", label: "Links to owners" },
  { id: "vet", label: "Vets" },
  { id: "day", label: "Days put down" },
  { id: "batch", label: "Batches" },
  { id: "food", label: "Foods" },
  { id: "standard", label: "Standards" },
];

/** Who saw, changed, let out and took out what, newest first. What is asked for stands in the address. */
export default function AuditPage() {
  useTitle("Who did what");
  const [asked, setAsked] = useSearchParams();
  const query = Object.fromEntries(
    ["by", "kind", "since", "until"].flatMap((name) => {
      const value = asked.get(name);
      return value ? [[name, value]] : [];
    }),
  );
  const people = useQuery({
    queryKey: keyOf("people"),
    queryFn: () => take(api.GET("/api/people")),
  });
  const pages = useInfiniteQuery({
    queryKey: keyOf("audit", query),
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/audit", {
          params: { query: pageParam === null ? query : { ...query, before: pageParam } },
        }),
      ),
    initialPageParam: null as number | null,
    getNextPageParam: (last) => last.next,
    staleTime: 0,
  });
  function ask(name: string, value: string) {
    const next = new URLSearchParams(asked);
    if (value && value !== ANY) next.set(name, value);
    else next.delete(name);
    setAsked(next, { replace: true });
  }
  const events = pages.data?.pages.flatMap((page) => page.events) ?? [];
  return (
    <Page className="mx-auto w-full max-w-5xl p-4 mid:p-6 wide:overflow-auto" scrolls>
      <h1 className="mb-2 text-page">Practice</h1>
      <PracticeTabs />
      <div className="mb-3 flex flex-wrap items-end gap-3">
        <Select
          label="By whom"
          value={asked.get("by") ?? ANY}
          onChange={(value) => ask("by", value)}
          options={[
            { id: ANY, label: "Anybody" },
            ...(people.data?.people ?? []).map((p) => ({ id: p.username, label: p.username })),
          ]}
          className="w-40"
        />
        <Select
          label="What"
          value={asked.get("kind") ?? ANY}
          onChange={(value) => ask("kind", value)}
          options={KINDS}
          className="w-56"
        />
        {(["since", "until"] as const).map((name) => (
          <label key={name} htmlFor={name} className="flex items-center gap-1.5">
            {name === "since" ? "From" : "To"}
            <TextInput
              id={name}
              type="date"
              value={asked.get(name) ?? ""}
              onChange={(event) => ask(name, event.target.value)}
            />
          </label>
        ))}
        <a
          href={`/api/audit/export?${new URLSearchParams(query)}`}
          className="ml-auto py-1 underline"
          download
        >
          All of it as a table (CSV)
        </a>
      </div>
      {pages.isPending && <Loading what="what was done" />}
      {pages.isError && (
        <Problem what="what was done" error={pages.error} retry={() => pages.refetch()} />
      )}
      {pages.data && events.length === 0 && (
        <Empty>Nothing of this kind is recorded in this time.</Empty>
      )}
      {byDay(events).map(({ on, events }) => (
        <section key={on} className="mb-3">
          <h2 className="mb-1 text-base">
            {weekday(events[0]?.at ?? "")}, {on}
          </h2>
          <ul className="border-line border-t">
            {events.map((event) => (
              <li
                key={event.id}
                className="grid grid-cols-[3.5rem_minmax(0,1fr)] items-baseline gap-x-3 border-line border-b py-1 wrap-anywhere mid:grid-cols-[3.5rem_8rem_minmax(0,1fr)_minmax(0,12rem)]"
              >
                <span className="text-soft">{clock(event.at)}</span>
                <span>{event.by}</span>
                <span className="col-start-2 mid:col-start-3">
                  {event.what}
                  {event.times > 1 && <span className="text-soft">, {event.times} times</span>}
                </span>
                <span className="col-start-2 mid:col-start-4 mid:text-right">
                  {event.dog ? (
                    <Link to={`/cases/${event.case}/history`} className="underline">
                      {event.dog}
                    </Link>
                  ) : (
                    event.case !== null && (
                      <span className="text-soft">case {event.case}, deleted</span>
                    )
                  )}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
      {pages.hasNextPage && (
        <Button
          className="mt-3"
          disabled={pages.isFetchingNextPage}
          onClick={() => pages.fetchNextPage()}
        >
          Older
        </Button>
      )}
      <p className="mt-3 max-w-prose text-data text-soft">
        Nothing here can be changed or taken out, by nobody. That somebody looked at a case is put
        down once an hour.
      </p>
    </Page>
  );
}

/** The events by the day they were, in the order they come. */
function byDay(events: readonly HistoryEvent[]): { on: string; events: HistoryEvent[] }[] {
  const found: { on: string; events: HistoryEvent[] }[] = [];
  for (const event of events) {
    const on = day(event.at, true);
    const last = found.at(-1);
    if (last?.on === on) last.events.push(event);
    else found.push({ on, events: [event] });
  }
  return found;
}
