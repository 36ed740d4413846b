import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_text,
  tableFeatures,
  useTable,
} from "@tanstack/react-table";
import { type ReactNode, useMemo } from "react";

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { text: sortFn_text },
});

/** A column: its title, what it sorts by (null is unknown and comes last), what it shows. */
export interface SortableColumn<T> {
  id: string;
  title: string;
  value: (row: T) => string | number | null | undefined;
  cell: (row: T) => ReactNode;
  figures?: boolean;
  className?: string;
}

const ARROWS = { asc: " ↑", desc: " ↓" };
const ORDERS = { asc: "ascending", desc: "descending" } as const;

/** An order that who asked for the rows chooses: by one of these columns, and which way each goes. */
export interface GivenOrder {
  by: string;
  ways: Record<string, keyof typeof ARROWS>;
  onBy: (id: string) => void;
}

/** Rows in the order they are given, until a title is clicked: up, down, and back again. */
export function SortableTable<T>({
  rows,
  columns,
  rowKey,
  rowClass = () => "",
  actions,
  given,
}: {
  rows: readonly T[];
  columns: readonly SortableColumn<T>[];
  rowKey: (row: T) => string;
  rowClass?: (row: T) => string;
  /** Buttons at the end of a row, under this label. */
  actions?: { label: string; cell: (row: T) => ReactNode };
  /** The rows come in an order already, a page of many: only these columns can order them. */
  given?: GivenOrder;
}) {
  const defs = useMemo(() => {
    const helper = createColumnHelper<typeof features, { row: T }>();
    return columns.map((column) =>
      helper.accessor(({ row }): unknown => column.value(row) ?? undefined, {
        id: column.id,
        header: column.title,
        sortUndefined: "last",
        sortDescFirst: column.figures ?? false,
      }),
    );
  }, [columns]);
  const data = useMemo(() => rows.map((row) => ({ row })), [rows]);
  const table = useTable({ features, columns: defs, data, enableMultiSort: false });
  const byId = new Map(columns.map((column) => [column.id, column]));
  return (
    <div className="relative overflow-x-auto wide:overflow-visible">
      <table className="w-full border-collapse">
        <thead className="z-10 bg-paper wide:sticky wide:top-0">
          {table.getHeaderGroups().map((group) => (
            <tr key={group.id} className="border-line border-b text-data text-soft">
              {group.headers.map((header) => {
                const column = byId.get(header.column.id);
                const sorted = given
                  ? given.by === header.column.id && (given.ways[header.column.id] ?? false)
                  : header.column.getIsSorted();
                const fixed = given !== undefined && !(header.column.id in given.ways);
                return (
                  <th
                    key={header.id}
                    aria-sort={sorted ? ORDERS[sorted] : fixed ? undefined : "none"}
                    className={`font-normal ${column?.figures ? "text-right" : "text-left"} ${column?.className ?? ""}`}
                  >
                    {fixed ? (
                      <span className="inline-block py-1">{column?.title}</span>
                    ) : (
                      <button
                        type="button"
                        onClick={
                          given
                            ? () => given.onBy(header.column.id)
                            : header.column.getToggleSortingHandler()
                        }
                        className={`py-1 hover:underline ${sorted ? "font-semibold text-ink" : ""}`}
                      >
                        {column?.title}
                        {sorted && <span aria-hidden="true">{ARROWS[sorted]}</span>}
                      </button>
                    )}
                  </th>
                );
              })}
              {actions && <th aria-label={actions.label} />}
            </tr>
          ))}
        </thead>
        <tbody>
          {table.getRowModel().rows.map(({ original: { row } }) => (
            <tr key={rowKey(row)} className={`border-line border-b ${rowClass(row)}`}>
              {columns.map((column) => (
                <td
                  key={column.id}
                  className={`${column.figures ? "text-right" : ""} ${column.className ?? ""}`}
                >
                  {column.cell(row)}
                </td>
              ))}
              {actions && <td className="whitespace-nowrap text-right">{actions.cell(row)}</td>}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
