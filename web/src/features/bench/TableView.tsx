import { useMemo } from "react";
import type { Analysis, Nutrient } from "~/api/client";
import { BASES, type Basis, number, percent, spelled, unitText } from "~/shared/format";
import { type SortableColumn, SortableTable } from "~/shared/table/SortableTable";

interface Row {
  n: Nutrient;
  proposed: Nutrient | null;
  beside: string;
}

/** The wall's facts as a table, worst first unless sorted; choosing a row chooses the board. */
export function TableView({
  analysis,
  after,
  basis,
  selected,
  onSelect,
}: {
  analysis: Analysis;
  after: Analysis | null;
  basis: Basis;
  selected: string | null;
  onSelect: (key: string) => void;
}) {
  const rows = useMemo(
    () =>
      analysis.nutrients
        .map((n, i) => ({
          n,
          proposed: after?.nutrients[i] ?? null,
          beside: analysis.second[n.key]?.status ?? "no limit",
        }))
        .filter(({ n }) => n.board)
        .sort((a, b) => b.n.urgency - a.n.urgency),
    [analysis, after],
  );
  const columns = useMemo(
    () => columnsOf(basis, after !== null, analysis.second_name, onSelect),
    [basis, after, analysis.second_name, onSelect],
  );
  return (
    <div className="h-full overflow-auto">
      <SortableTable
        rows={rows}
        columns={columns}
        rowKey={({ n }) => n.key}
        rowClass={({ n }) => (n.key === selected ? "bg-oak-pale/60" : "")}
      />
    </div>
  );
}

/** A figure of a nutrient as a column. */
function figure(id: string, title: string, of: (row: Row) => number | null | undefined) {
  return {
    id,
    title,
    value: of,
    cell: (row: Row) => number(of(row), row.n.decimals),
    figures: true,
  };
}

function columnsOf(
  basis: Basis,
  proposal: boolean,
  second: string,
  onSelect: (key: string) => void,
): SortableColumn<Row>[] {
  const share = (id: string, title: string, of: (n: Nutrient) => number) => ({
    id,
    title,
    value: ({ n }: Row) => of(n),
    cell: ({ n }: Row) => percent(of(n)),
    figures: true,
  });
  return [
    {
      id: "name",
      title: "Nutrient",
      value: ({ n }) => n.name,
      cell: ({ n }) => (
        <button type="button" className="text-left hover:underline" onClick={() => onSelect(n.key)}>
          {spelled(n.name)}
        </button>
      ),
    },
    {
      ...figure("amount", BASES.find((b) => b.id === basis)?.unit ?? "", ({ n }) => n[basis]),
      cell: ({ n }) => `${number(n[basis], n.decimals)} ${unitText(n.unit)}`,
    },
    ...(proposal
      ? [
          {
            ...figure("proposed", "proposed", ({ proposed }) => proposed?.[basis]),
            cell: ({ n, proposed }: Row) => (
              <>
                {number(proposed?.[basis], n.decimals)}
                {proposed && proposed.status !== n.status && (
                  <span className="text-soft"> {proposed.status}</span>
                )}
              </>
            ),
          },
        ]
      : []),
    ...(basis === "per_1000_kcal"
      ? []
      : [figure("per-mcal", "/1000 kcal", ({ n }) => n.per_1000_kcal)]),
    figure("min", "min", ({ n }) => n.min),
    figure("recommended", "recommended", ({ n }) => n.recommended),
    figure("max", "max", ({ n }) => n.max),
    figure("safe", "safe limit", ({ n }) => n.safe_limit),
    {
      id: "state",
      title: "state",
      value: ({ n }) => n.status,
      cell: ({ n }) => (
        <span className={n.breaks ? "font-semibold text-madder" : ""}>{n.status}</span>
      ),
      className: "pl-3",
    },
    ...(second
      ? [
          {
            id: "second",
            title: second,
            value: ({ beside }: Row) => beside,
            cell: ({ beside }: Row) => beside,
            className: "pl-3",
          },
        ]
      : []),
    share("known", "known", (n) => n.known_share),
    share("estimated", "estimated", (n) => n.estimated_share),
    {
      id: "set-by",
      title: "set by",
      value: ({ n }) => n.set_by?.source,
      cell: ({ n }) => (
        <span title={n.set_by?.citation} className="text-data text-soft">
          {n.set_by?.source}
        </span>
      ),
      className: "max-w-64 truncate pl-3",
    },
  ];
}
