import type { ReactNode } from "react";
import { figureText } from "~/shared/format";
import { RailList } from "~/shared/rails/RailList";
import { ROW } from "~/shared/rails/rows";
import { Term } from "~/shared/words/Term";
import { type Conflict, type Draft, type Limit, spoken, topOf } from "./limits";
import { LAYER_WORDS, layersIn, Sign } from "./marks";
import { CrossHatch, Rail } from "./Rail";

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
  return (
    <div>
      <CrossHatch />
      <RailList
        rows={limits}
        chosen={chosen}
        onChoose={onChoose}
        under={under}
        onKey={(key, row) => {
          if (!["[", "]", "="].includes(key)) return false;
          onChoose(row);
          onEnd(key === "]" ? "max" : "min");
          return true;
        }}
        draw={(limit) => {
          const conflict = conflicts.find((c) => c.key === limit.key);
          const open = conflict !== undefined && !conflict.decided;
          const slit = narrow.includes(limit.key) && !open;
          return {
            spoken: spoken(limit, open, narrow.includes(limit.key)),
            least: limit.min,
            most: topOf(limit),
            loud: open,
            rail: (
              <Rail
                limit={limit}
                conflict={conflict}
                draft={draft?.key === limit.key ? draft : null}
              />
            ),
            notes: (open || slit) && (
              <p className={`${ROW} pb-1 text-label`}>
                <span className={`col-start-3 col-end-5 ${open ? "text-madder" : "text-soft"}`}>
                  {open
                    ? `most ${figureText(conflict.ceiling.value)} lies under least ${figureText(conflict.floor.value)}: decide which gives way`
                    : "a narrow window"}
                </span>
              </p>
            ),
          };
        }}
      />
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
