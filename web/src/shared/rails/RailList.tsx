import { type KeyboardEvent, type ReactNode, useRef } from "react";
import { figureText, spelled, unitText } from "~/shared/format";
import { byPanel, isFirst, panelLabel, RailHead, ROW, type Row, stepped } from "./rows";

interface Named extends Row {
  short: string;
  unit: string;
}

/** How a row is drawn. */
export interface Drawn {
  /** What it says to who does not see it. */
  spoken: string;
  least: number | null | undefined;
  most: number | null | undefined;
  /** What is drawn on the rail. */
  rail: ReactNode;
  /** Its name and figures stand out. */
  loud?: boolean;
  /** What is said of it below. */
  notes?: ReactNode;
}

/** Windows on rails, panel by panel in two columns; gone through by keys. */
export function RailList<T extends Named>({
  rows,
  chosen,
  onChoose,
  draw,
  under,
  onKey,
}: {
  rows: readonly T[];
  chosen: string | null;
  onChoose: (key: string | null) => void;
  draw: (row: T) => Drawn;
  /** What is shown below the chosen row, where there is no room beside. */
  under: ReactNode;
  /** A key of the caller's own at a row; true when it was taken. */
  onKey?: (key: string, row: string) => boolean;
}) {
  const drawn = byPanel(rows);
  const groups = [...new Set(drawn.map((x) => x.group))];
  const at = chosen ?? drawn[0]?.key;
  const list = useRef<HTMLDivElement>(null);
  const press = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const row = (event.target as HTMLElement).closest<HTMLElement>("[data-window]")?.dataset.window;
    if (row === undefined) return;
    const next = stepped(event.key, drawn, row);
    if (next !== undefined) {
      event.preventDefault();
      onChoose(next);
      list.current?.querySelector<HTMLElement>(`[data-window="${next}"]`)?.focus();
    } else if (event.key === "Escape") onChoose(null);
    else if (onKey?.(event.key, row)) event.preventDefault();
  };
  const panels = (wanted: (group: string) => boolean) =>
    groups.filter(wanted).map((group) => (
      <section key={group} aria-label={panelLabel(group)} className="mb-1">
        <h3 className="border-line border-b px-1 font-semibold font-title">{panelLabel(group)}</h3>
        <ul>
          {drawn
            .filter((x) => x.group === group)
            .map((row) => {
              const { spoken, least, most, rail, loud, notes } = draw(row);
              const here = row.key === chosen;
              const tone = loud ? "font-semibold text-madder" : "";
              return (
                <li
                  key={row.key}
                  className={here ? "bg-sheet outline-1 outline-verdigris outline" : ""}
                >
                  <button
                    type="button"
                    data-window={row.key}
                    aria-pressed={here}
                    tabIndex={row.key === at ? 0 : -1}
                    onClick={() => onChoose(here ? null : row.key)}
                    className={`w-full text-left ${ROW}`}
                  >
                    <span className="sr-only">{spoken}</span>
                    <span aria-hidden="true" className={`truncate ${tone}`}>
                      {spelled(row.short)}{" "}
                      <span className="text-label text-soft">
                        {row.unit === "ratio" ? "" : unitText(row.unit)}
                      </span>
                    </span>
                    <span aria-hidden="true" className={`text-right text-data ${tone}`}>
                      {figureText(least) || "–"}
                    </span>
                    {rail}
                    <span aria-hidden="true" className={`text-data ${tone}`}>
                      {figureText(most) || "–"}
                    </span>
                  </button>
                  {notes}
                  {here && under}
                </li>
              );
            })}
        </ul>
      </section>
    ));
  return (
    // Keys are taken from the rows inside, which have the focus.
    // biome-ignore lint/a11y/noStaticElementInteractions: the rows are the controls
    <div ref={list} onKeyDown={press} className="grid gap-x-6 wide:grid-cols-2">
      <div>
        <RailHead />
        {panels(isFirst)}
      </div>
      <div>
        <div className="max-wide:hidden">
          <RailHead />
        </div>
        {panels((group) => !isFirst(group))}
      </div>
    </div>
  );
}
