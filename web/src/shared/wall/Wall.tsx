import { type KeyboardEvent, memo, useMemo, useRef } from "react";
import { useMedia, WIDE } from "~/shared/useMedia";
import { BoardFill, type Posture } from "./Board";
import { type BoardFacts, type Mark, PANELS } from "./boards";
import { type Bounding, Grips } from "./Grips";

interface Looking {
  /** While an answer of a formulation is drawn: where the recipe is now, and the other answers. */
  marks?: ReadonlyMap<string, Mark[]> | null;
  selected: string | null;
  onSelect: (key: string) => void;
  highlight: number | null;
  pointed: string | null;
  onPoint: (key: string | null) => void;
  /** Bounds that can be moved; null while nothing is adjusted. */
  bounding?: Bounding | null;
}

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/** The wall: a board per nutrient, filled towards the rail. */
export const Wall = memo(function Wall({ boards, ...looking }: { boards: BoardFacts[] } & Looking) {
  const { selected, onSelect } = looking;
  const posture: Posture = useMedia(WIDE) ? "standing" : "lying";
  const holder = useRef<HTMLDivElement>(null);
  const panels = useMemo(
    () =>
      PANELS.map((panel) => ({
        ...panel,
        boards: boards.filter((board) => board.group === panel.id),
      })).filter((panel) => panel.boards.length > 0),
    [boards],
  );
  const order = panels.flatMap((panel) => panel.boards.map((board) => board.key));
  const tabStop = selected && order.includes(selected) ? selected : order[0];

  function onKeyDown(event: KeyboardEvent) {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const at = order.indexOf(selected ?? order[0] ?? "");
    const next = order[Math.max(0, Math.min(order.length - 1, at + step))];
    if (!next) return;
    onSelect(next);
    holder.current?.querySelector<HTMLElement>(`[data-board="${next}"]`)?.focus();
  }

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: arrow keys move between the buttons inside
    <div
      ref={holder}
      onKeyDown={onKeyDown}
      className={
        posture === "standing" ? "flex h-full items-stretch gap-2.5" : "flex flex-col gap-3"
      }
    >
      {panels.map((panel) =>
        posture === "standing" ? (
          <Standing key={panel.id} panel={panel} tabStop={tabStop} looking={looking} />
        ) : (
          <Lying key={panel.id} panel={panel} tabStop={tabStop} looking={looking} />
        ),
      )}
    </div>
  );
});

interface PanelProps {
  panel: { label: string; boards: BoardFacts[] };
  tabStop: string | undefined;
  looking: Looking;
}

/** Boards beside each other, their names under them. */
function Standing({ panel, tabStop, looking }: PanelProps) {
  return (
    <section
      aria-label={panel.label}
      style={{ flexGrow: panel.boards.length, flexBasis: 0 }}
      className="flex min-w-10 flex-col"
    >
      <div className="flex min-h-0 flex-1 gap-[3px] border-soft border-b-2">
        {panel.boards.map((board) => (
          <BoardButton
            key={board.key}
            board={board}
            posture="standing"
            tabStop={board.key === tabStop}
            looking={looking}
            className="w-full rounded-t-corner"
          />
        ))}
      </div>
      <div className="flex gap-[3px]" aria-hidden="true">
        {panel.boards.map((board) => (
          <span
            key={board.key}
            className={`flex h-[4rem] min-w-0 flex-1 rotate-180 flex-col justify-center pb-1 text-right text-label leading-none [writing-mode:vertical-rl] ${weight(board, looking)}`}
          >
            {board.short}
          </span>
        ))}
      </div>
      <h3 className="truncate border-line border-t pt-0.5 text-label text-soft">{panel.label}</h3>
    </section>
  );
}

/** Boards under each other, their names before them and what there is behind. */
function Lying({ panel, tabStop, looking }: PanelProps) {
  return (
    <section aria-label={panel.label}>
      <h3 className="mb-1 text-label text-soft">{panel.label}</h3>
      <div className="flex flex-col gap-[3px] border-soft border-l-2">
        {panel.boards.map((board) => (
          <div key={board.key} className="board-row relative flex items-center justify-between">
            <BoardButton
              board={board}
              posture="lying"
              tabStop={board.key === tabStop}
              looking={looking}
              className="absolute inset-0"
            />
            {["short", "figure"].map((part) => (
              <span
                key={part}
                aria-hidden="true"
                className={`pointer-events-none relative w-22 truncate px-1.5 text-data ${part === "figure" ? "text-right" : ""} ${weight(board, looking)}`}
              >
                {part === "short" ? board.short : board.figure}
              </span>
            ))}
          </div>
        ))}
      </div>
    </section>
  );
}

function weight(board: BoardFacts, looking: Looking): string {
  if (board.key === looking.selected) return "font-bold";
  return board.status === "met" ? "text-soft" : "font-semibold";
}

function BoardButton({
  board,
  posture,
  tabStop,
  looking,
  className,
}: {
  board: BoardFacts;
  posture: Posture;
  tabStop: boolean;
  looking: Looking;
  className: string;
}) {
  const { marks, selected, onSelect, highlight, pointed, onPoint, bounding } = looking;
  const marked = marks?.get(board.key);
  const looked = board.key === selected || board.key === pointed;
  const groove = looked ? "bg-oak-pale/60" : "bg-groove";
  const fill = (
    <BoardFill
      board={board}
      marks={marked}
      posture={posture}
      looked={looked}
      highlight={highlight}
    />
  );
  const grips = bounding && (
    <Grips board={board} bounding={bounding} posture={posture} held={board.key === selected} />
  );
  const button = (
    <button
      type="button"
      data-board={board.key}
      data-status={board.status}
      aria-label={`${board.name}: ${board.words}${marked ? `; ${marked.map((m) => m.words).join("; ")}` : ""}`}
      aria-pressed={board.key === selected}
      tabIndex={tabStop ? 0 : -1}
      onClick={() => onSelect(board.key)}
      onFocus={() => onPoint(board.key)}
      onBlur={() => onPoint(null)}
      onPointerEnter={() => onPoint(board.key)}
      onPointerLeave={() => onPoint(null)}
      className={`${className} ${posture === "standing" ? `relative ${groove}` : ""}`}
    >
      {posture === "standing" ? (
        fill
      ) : (
        <span className={`absolute inset-x-22 inset-y-0 ${groove}`}>{fill}</span>
      )}
    </button>
  );
  // A slider may not stand inside a button: it lies over it.
  if (posture === "standing")
    return (
      <span className="relative flex min-w-0 flex-1">
        {button}
        {grips}
      </span>
    );
  return (
    <>
      {button}
      {grips && <span className="pointer-events-none absolute inset-x-22 inset-y-0">{grips}</span>}
    </>
  );
}
