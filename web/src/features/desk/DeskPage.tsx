import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { api, type Desk, type DeskRow, type DeskThing, take } from "~/api/client";
import { NewCase } from "~/features/cases/NewCase";
import { DeskAppointments } from "~/features/office/DeskAppointments";
import { Addresses } from "~/shared/Addresses";
import { today as localToday } from "~/shared/days";
import { day, nearDay, sentence, told, weekday } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { appointmentsQuery, deskQuery, sessionQuery } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { useFirstFocus } from "~/shared/useFirstFocus";
import { useTitle } from "~/shared/useTitle";
import { Button } from "~/ui";
import { Page } from "~/ui/Page";
import { Beginning } from "./Beginning";
import { Fortnight, KINDS, Mark } from "./marks";

const GROUPS = [
  ["practice", "In your hands"],
  ["vet", "With the vet"],
  ["owner", "With the owner"],
] as const;

/** What was said of something last: it can be taken back. */
interface Said {
  case: number;
  dog: string;
  kind: DeskThing["kind"];
  words: string;
}

/** What is due today, by who holds it. */
export default function DeskPage() {
  useTitle("Desk");
  const found = useQuery(deskQuery);
  const met = useQuery(appointmentsQuery);
  const session = useQuery(sessionQuery);
  const [adding, setAdding] = useState(false);
  const [said, setSaid] = useState<Said | null>(null);
  const heading = useRef<HTMLHeadingElement>(null);
  const nothing =
    found.data !== undefined && found.data.due.length + found.data.coming.length === 0;
  useEffect(() => {
    // The list went with the last that was due: the focus would go with it.
    if (said && nothing) heading.current?.focus();
  }, [said, nothing]);
  // Together: what stands above the list would push it down when it comes.
  if (found.isPending || met.isPending) return <Loading what="the desk" />;
  if (!found.data)
    return <Problem what="the desk" error={found.error} retry={() => found.refetch()} />;
  const { today, due, coming, more, behind, beginning } = found.data;
  return (
    <Page className="mx-auto w-full max-w-6xl p-4 mid:p-6 wide:overflow-auto">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 ref={heading} tabIndex={-1} className="text-page">
          Desk, {weekday(`${today}T12:00`)} {day(today)}
        </h1>
        <Button kind="solid" className="ml-auto" onClick={() => setAdding(true)}>
          New case
        </Button>
      </div>
      {session.data && !session.data.shelf_asked && !beginning && (
        <p className="mb-3 border-oak stile">
          Recipes are closed with plain single supplements until you{" "}
          <Link to="/shelf" className="underline">
            say what stands on your shelf
          </Link>
          .
        </p>
      )}
      {said && (
        <SaidLine key={`${said.case}${said.words}`} said={said} onGone={() => setSaid(null)} />
      )}
      <DeskAppointments found={met} />
      {beginning ? (
        <Beginning of={beginning} onNew={() => setAdding(true)} />
      ) : nothing ? (
        <Empty action={<Button onClick={() => setAdding(true)}>Start a case</Button>}>
          Nothing is due. Drafts that lie open, plans with the vet, weights and rechecks that are
          late, food that runs out and steps of trials stand here on their day. All dogs stand under{" "}
          <Link to="/cases" className="underline">
            Cases
          </Link>
          .
        </Empty>
      ) : (
        <Groups due={due} coming={coming} today={today} onSaid={setSaid} />
      )}
      {(more || behind) && (
        <p role="status" className="mt-3 text-soft">
          {behind
            ? "Some cases that changed are still being looked through: they come in by themselves."
            : "There is more than is shown here: what is longest due comes first."}
        </p>
      )}
      <details className="mt-6">
        <summary className="cursor-pointer text-soft">The desk in your calendar</summary>
        <Addresses
          kept={keyOf("desk-feeds")}
          words="Let your calendar subscribe to this address: what is due of every dog on its day, what is late on today. Whoever has the address reads the names of the dogs and what is due."
          load={() => take(api.GET("/api/desk-feeds"))}
          make={() => take(api.POST("/api/desk-feeds"))}
          close={(id) => take(api.DELETE("/api/desk-feeds/{id}", { params: { path: { id } } }))}
        />
      </details>
      {adding && <NewCase onClose={() => setAdding(false)} />}
    </Page>
  );
}

function Groups({
  due,
  coming,
  today,
  onSaid,
}: {
  due: readonly DeskRow[];
  coming: readonly DeskRow[];
  today: string;
  onSaid: (said: Said) => void;
}) {
  const list = useRef<HTMLDivElement>(null);
  const links = () => [...(list.current?.querySelectorAll<HTMLElement>("[data-first]") ?? [])];
  // Where the focus goes when what had it is no longer due.
  const next = useRef<number | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it follows what is shown.
  useEffect(() => {
    if (next.current === null) return;
    const found = links();
    found[Math.min(next.current, found.length - 1)]?.focus();
    next.current = null;
  }, [due, coming]);
  function say(made: Said) {
    const row = document.activeElement?.closest("li")?.querySelector<HTMLElement>("[data-first]");
    next.current = row ? links().indexOf(row) : 0;
    onSaid(made);
  }
  const kinds = [...new Set([...due, ...coming].flatMap((r) => r.things.map((t) => t.kind)))];
  function walk(event: KeyboardEvent) {
    const by = STEPS[event.key];
    const typing = event.target instanceof HTMLElement && event.target.closest("form");
    if (by === undefined || typing || event.ctrlKey || event.metaKey) return;
    const all = links();
    const row = document.activeElement?.closest("li")?.querySelector<HTMLElement>("[data-first]");
    const at = row ? all.indexOf(row) : -1;
    const wanted = all[Math.min(all.length - 1, Math.max(0, at + by))];
    if (!wanted) return;
    event.preventDefault();
    wanted.focus();
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: arrows walk between links that tab reaches too.
    <div ref={list} onKeyDown={walk}>
      {GROUPS.map(([holder, title]) => {
        const rows = due.filter((r) => r.holder === holder);
        if (rows.length === 0 && holder !== "practice") return null;
        return (
          <Group key={holder} title={title} rows={rows} today={today} onSaid={say}>
            Nothing is in your hands today.
          </Group>
        );
      })}
      {coming.length > 0 && (
        <Group title="In the next two weeks" rows={coming} today={today} onSaid={say}>
          Nothing.
        </Group>
      )}
      <p className="mt-4 flex flex-wrap items-center gap-x-4 gap-y-1 text-data text-soft max-mid:hidden">
        {kinds.map((kind) => (
          <span key={kind} className="inline-flex items-center gap-1.5">
            <svg width={16} height={16} viewBox="-8 -8 16 16" aria-hidden="true">
              <Mark kind={kind} />
            </svg>
            {KINDS[kind]}
          </span>
        ))}
        <span>red line: late</span>
        <span className="ml-auto">Arrow keys or J and K: from dog to dog; Enter: go there</span>
      </p>
    </div>
  );
}

const STEPS: Record<string, number> = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1 };

function Group({
  title,
  rows,
  today,
  onSaid,
  children,
}: {
  title: string;
  rows: readonly DeskRow[];
  today: string;
  onSaid: (said: Said) => void;
  children: string;
}) {
  return (
    <section aria-label={title} className="mt-4">
      <h2 className="border-ink border-b-2 font-semibold text-part">
        {title} <span className="font-normal text-soft">{rows.length || ""}</span>
      </h2>
      {rows.length === 0 ? (
        <p className="py-2 text-soft">{children}</p>
      ) : (
        <ul>
          {rows.map((row) => (
            <Row key={row.case} row={row} today={today} onSaid={onSaid} />
          ))}
        </ul>
      )}
    </section>
  );
}

function placeOf(row: DeskRow, thing: DeskThing): string {
  const at = `/cases/${row.case}`;
  if (thing.place === "bench") return `${at}/recipes/${thing.recipe}`;
  if (thing.place === "checks") return `${at}/checks/${thing.recipe}`;
  return `${at}/${thing.place}`;
}

function Row({
  row,
  today,
  onSaid,
}: {
  row: DeskRow;
  today: string;
  onSaid: (said: Said) => void;
}) {
  const key = useRef<HTMLButtonElement>(null);
  const [first, ...others] = row.things;
  const [open, setOpen] = useState(false);
  if (!first) return null;
  return (
    <li className="border-line border-b py-1.5">
      <div className="grid items-center gap-x-4 gap-y-1 mid:grid-cols-[11rem_minmax(0,1fr)_auto_auto]">
        <div className="min-w-0">
          <Link
            to={`/cases/${row.case}`}
            className="font-semibold underline-offset-2 hover:underline"
          >
            {row.dog}
          </Link>
          <div className="truncate text-data text-soft">{row.about || row.client}</div>
        </div>
        <div className="min-w-0">
          <Link
            data-first
            to={placeOf(row, first)}
            className="font-semibold underline decoration-oak underline-offset-2"
          >
            {told(first.what)}
          </Link>{" "}
          <Late thing={first} today={today} />
          <div className="text-data text-soft">
            {told(sentence(first.why))}
            {first.put_off && `; put off: ${first.put_off}`}
          </div>
          {others.map((thing) => (
            <div key={thing.kind + (thing.recipe ?? "")} className="text-data">
              <Link to={placeOf(row, thing)} className="underline underline-offset-2">
                {told(thing.what)}
              </Link>{" "}
              <Late thing={thing} today={today} />
            </div>
          ))}
        </div>
        <Fortnight things={row.things} today={today} />
        <button
          ref={key}
          type="button"
          className="justify-self-start underline"
          aria-expanded={open}
          aria-label={`Done or later: ${row.dog}`}
          onClick={() => setOpen(!open)}
        >
          Done or later
        </button>
      </div>
      {open && (
        <Say
          row={row}
          onSaid={(said) => {
            onSaid(said);
            setOpen(false);
          }}
          onClose={() => {
            setOpen(false);
            key.current?.focus();
          }}
        />
      )}
    </li>
  );
}

function Late({ thing, today }: { thing: DeskThing; today: string }) {
  if (thing.shown_on > today)
    return <span className="text-data text-soft">{nearDay(thing.shown_on)}</span>;
  if (thing.late_days === 0) return <span className="text-data text-soft">today</span>;
  return (
    <span className="text-data text-madder">
      since {thing.late_days === 1 ? "yesterday" : `${thing.late_days} days`}
    </span>
  );
}

/** What was said last, and the way back. */
function SaidLine({ said, onGone }: { said: Said; onGone: () => void }) {
  const client = useQueryClient();
  const back = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases/{id}/due-taken-back", {
          params: { path: { id: said.case } },
          body: { kind: said.kind },
        }),
      ),
    onSuccess: (seen) => {
      client.setQueryData(keyOf("desk"), seen);
      onGone();
    },
  });
  return (
    <p role="status" className="mb-2 border-ink stile">
      {said.words}.{" "}
      <button
        type="button"
        className="underline"
        aria-disabled={back.isPending}
        onClick={() => !back.isPending && back.mutate()}
      >
        Take it back
      </button>
      {back.error && <span className="text-madder"> Not taken back: {back.error.message}.</span>}
    </p>
  );
}

/** What is due of a dog: that it was done, or is put off with a reason. */
function Say({
  row,
  onSaid,
  onClose,
}: {
  row: DeskRow;
  onSaid: (said: Said) => void;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const box = useFirstFocus<HTMLDivElement>();
  const path = { id: row.case };
  function keep(seen: Desk, of: DeskThing["kind"], how: string) {
    const what = row.things.find((t) => t.kind === of)?.what ?? "";
    onSaid({ case: row.case, dog: row.dog, kind: of, words: `${row.dog}, ${told(what)}: ${how}` });
    client.setQueryData(keyOf("desk"), seen);
  }
  const done = useMutation({
    mutationFn: (kind: DeskThing["kind"]) =>
      take(
        api.POST("/api/cases/{id}/due-done", {
          params: { path },
          body: { kind, on: localToday() },
        }),
      ),
    onSuccess: (seen, of) => keep(seen, of, "done today"),
  });
  const [kind, setKind] = useState(row.things[0]?.kind ?? "draft");
  const form = useServerForm({
    defaults: { until: "", reason: "" },
    send: (typed: { until: string; reason: string }) =>
      take(api.POST("/api/cases/{id}/due-put-off", { params: { path }, body: { ...typed, kind } })),
    onSaved: (seen) => keep(seen, kind, "put off"),
  });
  const reminded = useMutation({
    mutationFn: (kind: DeskThing["kind"]) =>
      take(api.POST("/api/cases/{id}/due-reminded", { params: { path }, body: { kind } })),
    onSuccess: () => forget(client, "release"),
  });
  const sayable = row.things.filter((t) => t.can_say_done);
  return (
    <div ref={box} className="mt-2 border-ink stile">
      {sayable.map((thing) => (
        <p key={thing.kind} className="mb-2">
          <Button busy={done.isPending} onClick={() => !done.isPending && done.mutate(thing.kind)}>
            {told(thing.what)}: done today
          </Button>
        </p>
      ))}
      {row.things
        .filter((t) => t.can_remind)
        .map((thing) => (
          <p key={thing.kind} className="mb-2 flex flex-wrap items-center gap-3">
            <Button
              busy={reminded.isPending}
              onClick={() => !reminded.isPending && reminded.mutate(thing.kind)}
            >
              Remind {row.client}: {told(thing.what)}
            </Button>
            {reminded.isSuccess && reminded.variables === thing.kind && (
              <span role="status">
                Written:{" "}
                <Link to="/outbox" className="underline">
                  see the outbox
                </Link>
                .
              </span>
            )}
          </p>
        ))}
      {(done.error ?? reminded.error) && (
        <p role="alert" className="text-madder">
          Not kept: {(done.error ?? reminded.error)?.message}.
        </p>
      )}
      <Form
        of={form}
        className="flex flex-wrap items-end gap-3"
        actions={
          <>
            <Button type="submit" busy={form.pending}>
              Put it off
            </Button>
            <Button kind="quiet" onClick={onClose}>
              Close
            </Button>
          </>
        }
      >
        <label className="flex flex-col gap-1">
          <span className="font-medium">What</span>
          <select
            value={kind}
            onChange={(e) => setKind(e.target.value as DeskThing["kind"])}
            className="h-8 rounded-corner border border-edge bg-sheet px-2"
          >
            {row.things.map((t) => (
              <option key={t.kind + (t.recipe ?? "")} value={t.kind}>
                {t.what}
              </option>
            ))}
          </select>
        </label>
        <TextField
          form={form.form}
          id={`until-${row.case}`}
          name="until"
          label="Until"
          placeholder="2026-12-03"
          required
          className="w-36"
        />
        <TextField
          form={form.form}
          id={`reason-${row.case}`}
          name="reason"
          label="Why"
          required
          maxLength={300}
        />
      </Form>
    </div>
  );
}
