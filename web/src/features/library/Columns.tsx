import type { ColumnUse, FoundColumn, ImportResult, TableBasis } from "~/api/client";
import { spelled, unitText } from "~/shared/format";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";

const FIELDS: { id: string; label: string }[] = [
  { id: "name", label: "name of the food" },
  { id: "slug", label: "short name (slug)" },
  { id: "class", label: "class" },
  { id: "form", label: "form" },
  { id: "ingredients", label: "ingredient statement" },
  { id: "fibre", label: "kind of fibre" },
];
const OUT = "left out";
const NOTHING: ColumnUse = { field: "", tag: "", unit: "", per: null, crude: false, above: false };

const PER: { id: TableBasis | "table"; label: string }[] = [
  { id: "table", label: "as the table" },
  { id: "per-100-g", label: "per 100 g" },
  { id: "per-kg", label: "per kg" },
  { id: "dry-matter", label: "per 100 g dry" },
];

/** What a use is among what can be chosen. */
function choiceOf(use: ColumnUse): string {
  if (use.field) return `field ${use.field}`;
  if (!use.tag) return OUT;
  return `${use.crude ? "crude" : use.above ? "above" : "tag"} ${use.tag}`;
}

/** The columns of a table by their headings: what each holds, and what a heading leaves open. */
export function Columns({
  of,
  columns,
  said,
  onSay,
  onLeaveRest,
}: {
  of: ImportResult;
  columns: readonly FoundColumn[];
  said: Record<number, ColumnUse>;
  onSay: (position: number, use: ColumnUse) => void;
  /** Leave out whatever is not known and nobody has said anything of. */
  onLeaveRest: () => void;
}) {
  const unknown = columns.filter(
    (c) => !c.sure && !said[c.position] && choiceOf(c.use) === OUT,
  ).length;
  const choices = [
    { id: OUT, label: "left out" },
    ...FIELDS.map((f) => ({ id: `field ${f.id}`, label: f.label })),
    ...of.nutrients.flatMap((n) => [
      { id: `tag ${n.tag}`, label: spelled(n.name) },
      ...(n.tag === "FIBTG" ? [{ id: `crude ${n.tag}`, label: spelled("Crude fibre") }] : []),
    ]),
    ...of.nutrients
      .filter((n) => columns.some((c) => c.use.above && c.use.tag === n.tag))
      .map((n) => ({ id: `above ${n.tag}`, label: `${spelled(n.name)}, how much more` })),
  ];
  function choose(column: FoundColumn, choice: string) {
    const [kind = "", key = ""] = choice.split(" ");
    if (choice === OUT) return onSay(column.position, NOTHING);
    if (kind === "field") return onSay(column.position, { ...NOTHING, field: key });
    const units = of.nutrients.find((n) => n.tag === key)?.units ?? [];
    const was = said[column.position] ?? column.use;
    onSay(column.position, {
      ...NOTHING,
      tag: key,
      unit: units.find((u) => u === was.unit) ?? units[0] ?? "",
      per: was.per ?? null,
      crude: kind === "crude",
      above: kind === "above",
    });
  }
  return (
    <section aria-label="What the columns hold">
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h2>What each column holds</h2>
        {unknown > 1 && (
          <Button small onClick={onLeaveRest}>
            Leave out the {unknown} that are not known
          </Button>
        )}
      </div>
      <ul className="border-ink border-t-2">
        {columns.map((column) => {
          const use = said[column.position] ?? column.use;
          const open = !column.sure && !said[column.position];
          const name = column.header || `column ${column.position + 1}`;
          const units = of.nutrients.find((n) => n.tag === use.tag)?.units ?? [];
          return (
            <li
              key={column.position}
              className={`grid grid-cols-1 items-center gap-x-3 border-line border-b py-1 mid:grid-cols-[minmax(0,11rem)_minmax(0,1fr)] ${open ? "bg-sheet" : ""}`}
            >
              <div className="min-w-0">
                <b className="font-medium">{name}</b>
                <span className="block truncate text-label text-soft">
                  {column.samples.length > 0 ? column.samples.join("  ·  ") : "nothing in it"}
                </span>
              </div>
              <div className="flex min-w-0 flex-wrap items-center gap-1.5">
                <Select
                  label={`What “${name}” holds`}
                  value={choiceOf(use)}
                  onChange={(choice) => choose(column, choice)}
                  options={choices}
                  className={`w-44 ${use.tag || use.field ? "" : "text-soft"}`}
                />
                {use.tag && (
                  <>
                    <Select
                      label={`Unit of “${name}”`}
                      value={use.unit ?? ""}
                      onChange={(unit) => onSay(column.position, { ...use, unit })}
                      options={units.map((u) => ({ id: u, label: unitText(u) }))}
                    />
                    <Select
                      label={`What the figures of “${name}” are for`}
                      value={use.per ?? "table"}
                      onChange={(per) =>
                        onSay(column.position, { ...use, per: per === "table" ? null : per })
                      }
                      options={PER}
                    />
                  </>
                )}
                {open && (
                  <Button
                    small
                    aria-label={`${choiceOf(use) === OUT ? "Leave it out" : "That is it"}: ${name}`}
                    onClick={() => onSay(column.position, use)}
                  >
                    {choiceOf(use) === OUT ? "Leave it out" : "That is it"}
                  </Button>
                )}
              </div>
              {open && (
                <p className="col-span-full text-data">
                  <span aria-hidden="true">? </span>
                  {column.why}
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
