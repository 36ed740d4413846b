import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, take } from "~/api/client";
import { number, spelled } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { RailList } from "~/shared/rails/RailList";
import { byPanel } from "~/shared/rails/rows";
import { placeOf, unitOf } from "~/shared/rails/scale";
import { Loading, Problem } from "~/shared/states";
import { useMedia, WIDE } from "~/shared/useMedia";
import { Term } from "~/shared/words/Term";
import { Select } from "~/ui/Select";
import { Slips } from "./Slips";
import { type Column, columnId, type Nutrient, nextUnread, spokenRow, strictest } from "./windows";

/** Height of a strand, and room over the first. */
const STRAND = 6;
/** How far an open window is drawn, as a share of the width. */
const FADES = 0.3;

/** All standards over each other for one kind of dog, each row to be signed against its print. */
export function Overlay() {
  const [query, setQuery] = useSearchParams();
  const dog = query.get("dog") ?? "adult";
  const found = useQuery({
    queryKey: keyOf("standards", "beside", dog),
    queryFn: () => take(api.GET("/api/standards/beside", { params: { query: { dog } } })),
    placeholderData: (old) => old,
  });
  const wide = useMedia(WIDE);
  const chosen = query.get("nutrient");
  const [reading, setReading] = useState<string | null>(null);
  if (found.isPending) return <Loading what="the standards" />;
  if (!found.data)
    return <Problem what="the standards" error={found.error} retry={() => found.refetch()} />;
  const { columns, dogs, own, without } = found.data;
  const nutrients = byPanel(found.data.nutrients);
  const set = (change: Record<string, string | null>) =>
    setQuery(
      (was) => {
        const next = new URLSearchParams(was);
        for (const [key, value] of Object.entries(change))
          if (value === null) next.delete(key);
          else next.set(key, value);
        return next;
      },
      { replace: true },
    );
  const choose = (key: string | null) => {
    setReading(null);
    set({ nutrient: key });
  };
  const nutrient = nutrients.find((n) => n.key === chosen);
  const slips = nutrient && (
    <Slips
      key={nutrient.key}
      nutrient={nutrient}
      nutrients={nutrients}
      columns={columns}
      own={own}
      reading={reading}
      read={setReading}
      onSigned={(column) => {
        const next = nextUnread(nutrients, column, nutrient.key);
        set({ nutrient: next?.key ?? nutrient.key });
        setReading(next ? column : null);
      }}
      onClose={() => choose(null)}
    />
  );
  return (
    <div className="flex gap-6">
      <div className="min-w-0 flex-1">
        <div className="mb-2 flex flex-wrap items-end gap-x-6 gap-y-2">
          <Select
            label="For a dog"
            value={dog}
            onChange={(id) => set({ dog: id })}
            options={dogs.map((d) => ({ id: d.id, label: spelled(d.name) }))}
            className="w-80 max-w-full"
          />
          {without.length > 0 && (
            <p className="pb-1.5 text-data text-soft">
              {without.join(", ")} {without.length === 1 ? "has" : "have"} no column for it.
            </p>
          )}
        </div>
        <Legend
          columns={columns}
          reading={reading}
          begin={(column) => {
            const first = nextUnread(nutrients, columnId(column), "");
            set({ nutrient: first?.key ?? nutrients[0]?.key ?? null });
            setReading(first ? columnId(column) : null);
          }}
        />
        <h2 className="sr-only">Every nutrient</h2>
        <Fades />
        <RailList
          rows={nutrients}
          chosen={nutrient?.key ?? null}
          onChoose={choose}
          under={!wide && slips && <div className="px-2 py-3">{slips}</div>}
          draw={(row) => ({
            spoken: spokenRow(row),
            ...strictest(row),
            rail: <Strands nutrient={row} columns={columns} />,
          })}
        />
        <p className="text-label text-soft">
          <Term id="per-1000">Per 1000 kcal</Term>. The rail is the most that any of them asks for
          at least; each step to the right doubles it. Figures: the strictest end of all. Thick:
          read off its publication; thin: from memory. A tall end is the strictest; one that fades
          out has no most.
        </p>
        <p className="text-label text-soft max-mid:hidden">
          <kbd>↑</kbd> <kbd>↓</kbd> a nutrient, <kbd>←</kbd> <kbd>→</kbd> a panel, <kbd>Esc</kbd>{" "}
          leave it
        </p>
      </div>
      {wide && (
        <aside
          aria-label="As printed"
          className="sticky top-0 max-h-[calc(100vh-5rem)] w-[23rem] shrink-0 self-start overflow-auto border-line border-l pr-1 pl-5"
        >
          {slips || (
            <p className="max-w-[40ch] text-soft">
              Choose a row to see what every standard prints, word for word. Every figure was put in
              from memory of its publication: with the book or the file before you, read it off
              there, and it counts as signed by you.
            </p>
          )}
        </aside>
      )}
    </div>
  );
}

/** The strands from top to bottom, how much of each was read off, and the way to go on with it. */
function Legend({
  columns,
  reading,
  begin,
}: {
  columns: readonly Column[];
  reading: string | null;
  begin: (column: Column) => void;
}) {
  return (
    <ol aria-label="Standards, from the top strand down" className="mb-3 max-w-4xl">
      {columns.map((c, n) => (
        <li
          key={columnId(c)}
          className="flex flex-wrap items-center gap-x-3 border-line border-b py-1"
        >
          <svg className="h-6 w-10 shrink-0" aria-hidden="true">
            {columns.map((other, m) => (
              <line
                key={columnId(other)}
                x1="0"
                x2="40"
                y1={(24 / (columns.length + 1)) * (m + 1)}
                y2={(24 / (columns.length + 1)) * (m + 1)}
                className={m === n ? "stroke-[3] stroke-oak-deep" : "stroke-line"}
              />
            ))}
          </svg>
          <span className="min-w-0 flex-1">
            <b>{c.name}</b>, {spelled(c.stage_name)}{" "}
            <span className="text-data text-soft">{c.table}</span>
          </span>
          <span className="text-data text-soft">
            {c.read ? `${c.read} of ${c.rows} rows read off` : `none of ${c.rows} rows read off`}
          </span>
          {c.read < c.rows && (
            <button
              type="button"
              className="text-data underline"
              aria-pressed={reading === columnId(c)}
              onClick={() => begin(c)}
            >
              {c.read ? "Go on" : "Begin"}
              <span className="sr-only">
                {" "}
                to read off {c.name}, {c.stage_name}
              </span>
            </button>
          )}
        </li>
      ))}
    </ol>
  );
}

/** What fades out, once on a page. */
function Fades() {
  return (
    <svg className="absolute size-0" aria-hidden="true">
      <defs>
        <linearGradient id="fades">
          <stop offset="0.3" className="[stop-color:var(--color-oak-deep)]" />
          <stop offset="1" className="[stop-color:var(--color-oak-deep)]" stopOpacity="0" />
        </linearGradient>
      </defs>
    </svg>
  );
}

/** One strand for each standard, in the legend's order. */
function Strands({ nutrient, columns }: { nutrient: Nutrient; columns: readonly Column[] }) {
  const height = STRAND * columns.length + 6;
  const { least, most } = strictest(nutrient);
  const unit = unitOf({ rail: least, max: most, safe_limit: null });
  if (unit === null) return <svg style={{ height }} className="w-full" aria-hidden="true" />;
  const place = (value: number) => placeOf(value / unit);
  const at = (share: number) => `${number(share * 100, 3)}%`.replace(",", ".");
  return (
    <svg style={{ height }} className="w-full overflow-visible" aria-hidden="true">
      <line
        x1={at(placeOf(1))}
        x2={at(placeOf(1))}
        y1="0"
        y2="100%"
        className="stroke-line"
        visibility={least === null ? "hidden" : undefined}
      />
      {columns.map((column, n) => {
        const w = nutrient.windows.find((x) => columnId(x) === columnId(column));
        if (!w) return null;
        const y = 3 + STRAND * n + STRAND / 2;
        const from = w.least == null ? 0 : place(w.least);
        const to = w.most == null ? 1 : place(w.most);
        // An open window fades out: how far it goes nobody says.
        const until = w.most == null ? Math.min(1, from + FADES) : to;
        const thick = w.checked ? 4 : 1.5;
        const end = (share: number, tall: boolean) => (
          <line
            x1={at(share)}
            x2={at(share)}
            y1={y - (tall ? 5 : 2)}
            y2={y + (tall ? 5 : 2)}
            className={tall ? "stroke-2 stroke-ink" : "stroke-ink"}
          />
        );
        return (
          <g key={columnId(column)}>
            <rect
              x={at(from)}
              width={at(Math.max(0.004, until - from))}
              y={y - thick / 2}
              height={thick}
              fill={w.most == null ? "url(#fades)" : undefined}
              className={w.most == null ? undefined : "fill-oak-deep"}
            />
            {w.least != null && end(from, w.strictest_least)}
            {w.most != null && end(to, w.strictest_most)}
          </g>
        );
      })}
    </svg>
  );
}
