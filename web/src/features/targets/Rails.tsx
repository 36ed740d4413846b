import { type KeyboardEvent, type ReactNode, useRef } from "react";
import { figureText, spelled, unitText } from "~/shared/format";
import { PANELS } from "~/shared/wall/boards";
import { Term } from "~/shared/words/Term";
import { type Conflict, type Draft, type Limit, spoken, topOf } from "./limits";
import { LAYER_WORDS, layersIn, Sign } from "./marks";
import { CrossHatch, Rail } from "./Rail";
import { placeOf, TICKS } from "./scale";

const PANEL_LABELS: Record<string, string> = Object.fromEntries(PANELS.map((p) => [p.id, p.label]));
/** What stands in the first column of two. */
const FIRST = ["energy", "amino", "fats"];
const ROW =
  "grid grid-cols-[minmax(0,5.25rem)_2.75rem_minmax(0,1fr)_2.75rem] items-center gap-x-2 px-1";

const clamped = (n: number, of: number) => Math.min(of - 1, Math.max(0, n));

/** All windows on one rail. `under` is shown below the chosen row, where there is no room beside. */
export function Rails({
  limits,
  conflicts,
  narrow,
  chosen,
  onChoose,
  onEnd,
  draft,
  under,
}: {
  limits: readonly Limit[];
  conflicts: readonly Conflict[];
  narrow: readonly string[];
  chosen: string | null;
  onChoose: (key: string | null) => void;
  /** An end of the chosen window is to be moved. */
  onEnd: (bound: "min" | "max") => void;
  draft: Draft | null;
  under: ReactNode;
}) {
  const groups = [...new Set(limits.map((x) => x.group))];
  const drawn = groups.flatMap((group) => limits.filter((x) => x.group === group));
  const at = chosen ?? drawn[0]?.key;
  const list = useRef<HTMLDivElement>(null);
  const go = (key: string) => {
    onChoose(key);
    list.current?.querySelector<HTMLElement>(`[data-window="${key}"]`)?.focus();
  };
  const press = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const row = (event.target as HTMLElement).closest<HTMLElement>("[data-window]");
    if (!row) return;
    const n = drawn.findIndex((x) => x.key === row.dataset.window);
    const group = groups.indexOf(drawn[n]?.group ?? "");
    const first = (of: number) => drawn.findIndex((x) => x.group === groups[of]);
    const to: Record<string, number> = {
      ArrowDown: n + 1,
      ArrowUp: n - 1,
      ArrowRight: first(Math.min(groups.length - 1, group + 1)),
      ArrowLeft: first(Math.max(0, group - 1)),
      Home: 0,
      End: drawn.length - 1,
    };
    const next = to[event.key];
    const found = next === undefined ? undefined : drawn[clamped(next, drawn.length)];
    if (found) {
      event.preventDefault();
      go(found.key);
    } else if (event.key === "[" || event.key === "]" || event.key === "=") {
      event.preventDefault();
      onChoose(row.dataset.window ?? null);
      onEnd(event.key === "]" ? "max" : "min");
    } else if (event.key === "Escape") onChoose(null);
  };
  const panels = (wanted: (group: string) => boolean) =>
    groups.filter(wanted).map((group) => (
      <section key={group} aria-label={PANEL_LABELS[group] ?? group} className="mb-1">
        <h3 className="border-line border-b px-1 font-semibold font-title">
          {PANEL_LABELS[group] ?? group}
        </h3>
        <ul>
          {limits
            .filter((x) => x.group === group)
            .map((limit) => {
              const conflict = conflicts.find((c) => c.key === limit.key);
              const open = conflict !== undefined && !conflict.decided;
              const slit = narrow.includes(limit.key);
              const here = limit.key === chosen;
              return (
                <li
                  key={limit.key}
                  className={here ? "bg-sheet outline-1 outline-verdigris outline" : ""}
                >
                  <button
                    type="button"
                    data-window={limit.key}
                    aria-pressed={here}
                    tabIndex={limit.key === at ? 0 : -1}
                    onClick={() => onChoose(here ? null : limit.key)}
                    className={`w-full text-left ${ROW}`}
                  >
                    <span className="sr-only">{spoken(limit, open, slit)}</span>
                    <span
                      aria-hidden="true"
                      className={`truncate ${open ? "font-semibold text-madder" : ""}`}
                    >
                      {spelled(limit.short)}{" "}
                      <span className="text-label text-soft">
                        {limit.unit === "ratio" ? "" : unitText(limit.unit)}
                      </span>
                    </span>
                    <span
                      aria-hidden="true"
                      className={`text-right text-data ${open ? "font-semibold text-madder" : ""}`}
                    >
                      {figureText(limit.min) || "–"}
                    </span>
                    <Rail
                      limit={limit}
                      conflict={conflict}
                      draft={draft?.key === limit.key ? draft : null}
                    />
                    <span
                      aria-hidden="true"
                      className={`text-data ${open ? "font-semibold text-madder" : ""}`}
                    >
                      {figureText(topOf(limit)) || "–"}
                    </span>
                  </button>
                  {open && conflict && (
                    <p className={`${ROW} pb-1 text-label`}>
                      <span className="col-start-3 col-end-5 text-madder">
                        most {figureText(conflict.ceiling.value)} lies under least{" "}
                        {figureText(conflict.floor.value)}: decide which gives way
                      </span>
                    </p>
                  )}
                  {slit && !open && (
                    <p className={`${ROW} pb-1 text-label text-soft`}>
                      <span className="col-start-3 col-end-5">a narrow window</span>
                    </p>
                  )}
                  {here && under}
                </li>
              );
            })}
        </ul>
      </section>
    ));
  const head = (
    <div className={`${ROW} text-axis text-soft`} aria-hidden="true">
      <span className="col-start-2 text-right">least</span>
      <span className="relative h-4">
        {TICKS.map(([multiple, text]) => (
          <span
            key={text}
            className="-translate-x-1/2 absolute"
            style={{ left: `${placeOf(multiple) * 100}%` }}
          >
            {text}
          </span>
        ))}
      </span>
      <span>most</span>
    </div>
  );
  return (
    // Keys are taken from the rows inside, which have the focus.
    // biome-ignore lint/a11y/noStaticElementInteractions: the rows are the controls
    <div ref={list} onKeyDown={press}>
      <CrossHatch />
      <div className="grid gap-x-6 wide:grid-cols-2">
        <div>
          {head}
          {panels((group) => FIRST.includes(group))}
        </div>
        <div>
          <div className="max-wide:hidden">{head}</div>
          {panels((group) => !FIRST.includes(group))}
        </div>
      </div>
      <p className="flex flex-wrap items-center gap-x-4 text-label text-soft">
        {layersIn(limits).map((layer) => (
          <span key={layer} className="inline-flex items-center gap-1">
            <Sign layer={layer} />
            {layer === "safe" ? (
              <Term id="safe-limit">{LAYER_WORDS.safe}</Term>
            ) : (
              LAYER_WORDS[layer]
            )}
          </span>
        ))}
      </p>
      <p className="text-label text-soft">
        Figures are <Term id="per-1000">per 1000 kcal</Term>. All windows hang on one rail: what is
        asked for at least; each step to the right doubles it. Open at the right: no most is set.
      </p>
      <p className="text-label text-soft max-mid:hidden">
        <kbd>↑</kbd> <kbd>↓</kbd> a nutrient, <kbd>←</kbd> <kbd>→</kbd> a panel, <kbd>[</kbd>{" "}
        <kbd>]</kbd> move an end, <kbd>Esc</kbd> leave it
      </p>
    </div>
  );
}
