import { type CSSProperties, memo } from "react";
import type { BoardFacts, Mark } from "./boards";
import { fillOf, spans } from "./fill";
import { usePalette } from "./palette";
import { CORNICE, RAIL } from "./scale";

/** A board stands, its fill rising from the floor; where there is no room beside each other, it lies. */
export type Posture = "standing" | "lying";

interface Axis {
  /** At a share of its length from the floor. */
  at: (share: number) => CSSProperties;
  long: (share: number) => CSSProperties;
  /** At a share of its width from the edge. */
  across: (share: number) => CSSProperties;
  /** Across the board: inside its edges, and over them. */
  inside: string;
  over: string;
  /** Lines across: at the far end of what they bound. */
  line: Record<"lid" | "dots" | "rail" | "cornice" | "bar" | "now", string>;
  open: string;
  ragged: string;
}

/** Each answer has a place of its own across a board. */
const MOST_ANSWERS = 6;

const percent = (share: number) => `${share * 100}%`;

const AXES: Record<Posture, Axis> = {
  standing: {
    at: (share) => ({ bottom: percent(share) }),
    long: (share) => ({ height: percent(share) }),
    across: (share) => ({ left: percent(share) }),
    inside: "inset-x-[2px]",
    over: "-inset-x-[2px]",
    line: {
      lid: "border-t-[3px]",
      dots: "border-t-[3px] border-dotted",
      rail: "border-t-2",
      cornice: "border-t-[3px]",
      bar: "border-t-4",
      now: "border-t-2",
    },
    open: "border-b-0",
    ragged: "polygon(0 100%, 0 25%, 25% 0, 50% 30%, 75% 0, 100% 25%, 100% 100%)",
  },
  lying: {
    at: (share) => ({ left: percent(share) }),
    long: (share) => ({ width: percent(share) }),
    across: (share) => ({ top: percent(share) }),
    inside: "inset-y-[2px]",
    over: "-inset-y-[2px]",
    line: {
      lid: "border-l-[3px]",
      dots: "border-l-[3px] border-dotted",
      rail: "border-l-2",
      cornice: "border-l-[3px]",
      bar: "border-l-4",
      now: "border-l-2",
    },
    open: "border-l-0",
    ragged: "polygon(0 0, 75% 0, 100% 25%, 70% 50%, 100% 75%, 75% 100%, 0 100%)",
  },
};

/** What is drawn of a board: its fill of ingredients, and every line it is held to. */
export const BoardFill = memo(function BoardFill({
  board,
  marks,
  posture,
  looked,
  highlight,
}: {
  board: BoardFacts;
  marks: readonly Mark[] | undefined;
  posture: Posture;
  /** Someone is looking at this board: what is fine to see is drawn. */
  looked: boolean;
  highlight: number | null;
}) {
  const palette = usePalette();
  const axis = AXES[posture];
  const height = Math.min(board.height ?? 0, 1);
  const over = board.status === "over" || board.status === "above safe limit";
  const unproven = board.status === "unproven";
  const below = Math.min(height, CORNICE);
  const target = board.hasMin ? RAIL : CORNICE;
  const end = posture === "standing" ? "border-t-0" : "border-r-0";
  return (
    <span className="absolute inset-0">
      {below > 0 && (
        <span
          className={`board-fill absolute ${axis.inside} border border-wood-edge`}
          style={{
            ...axis.at(0),
            ...axis.long(below),
            ...fillOf(board.segments, posture === "standing", highlight, palette),
          }}
        >
          {highlight !== null &&
            spans(board.segments)
              .filter(({ segment }) => segment.line === highlight)
              .map(({ segment, from, to }) => (
                <span
                  key={segment.line}
                  className={`absolute border-2 border-verdigris ${posture === "standing" ? "inset-x-0" : "inset-y-0"}`}
                  style={{ ...axis.at(from), ...axis.long(to - from) }}
                />
              ))}
        </span>
      )}
      <span
        className={`pointer-events-none absolute ${axis.over} ${axis.line.rail} border-ink`}
        style={axis.at(RAIL)}
      />
      {board.status === "short" && height < target && (
        <span
          className={`missing absolute ${axis.inside} ${axis.line.lid} border-madder`}
          style={axis.at(height)}
        />
      )}
      {board.most != null && board.most > height + 0.004 && (
        <span
          data-most={board.most.toFixed(3)}
          className={`absolute ${axis.inside} border border-dashed ${
            unproven ? "border-ink" : "border-soft/70"
          } ${axis.open} ${board.most >= 1 ? end : ""}`}
          style={{ ...axis.at(below), ...axis.long(Math.min(board.most, 1) - below) }}
        />
      )}
      {board.range && looked && (
        <span
          data-range
          className={`absolute z-10 bg-ink/70 ${posture === "standing" ? "left-1/2 w-[3px] -translate-x-1/2" : "top-1/2 h-[3px] -translate-y-1/2"}`}
          style={{
            ...axis.at(board.range[0]),
            ...axis.long(Math.max(0.008, board.range[1] - board.range[0])),
          }}
        />
      )}
      {board.open && (
        <span
          data-open
          className={`open-weight absolute ${axis.inside} border border-ink border-dashed`}
          style={{
            ...axis.at(board.open[0]),
            ...axis.long(Math.max(0.012, board.open[1] - board.open[0])),
          }}
        />
      )}
      {board.advice != null && (
        <span
          data-advice
          className={`absolute ${axis.over} ${axis.line.bar} z-10 border-oak-deep`}
          style={axis.at(board.advice)}
        />
      )}
      {board.cornice && !over && (
        <span
          data-cornice={board.cornice}
          className={`absolute ${axis.over} ${board.cornice === "max" ? axis.line.cornice : axis.line.dots} border-ink`}
          style={axis.at(CORNICE)}
        />
      )}
      {board.second && (
        <span
          title={`Second standard: ${board.second.status}`}
          data-second={board.second.status}
          className={`absolute ${axis.over} ${axis.line.dots} border-soft`}
          style={axis.at(board.second.height)}
        />
      )}
      {marks?.map((mark) =>
        mark.of === "now" ? (
          <span
            key="now"
            data-now
            className={`absolute ${axis.over} ${axis.line.now} z-10 border-soft border-dashed`}
            style={axis.at(Math.min(mark.height, 0.99))}
          />
        ) : (
          <span
            key={mark.of}
            data-answer={mark.of}
            className={`absolute z-10 bg-ink ${posture === "standing" ? "h-[3px] w-[5px]" : "h-[5px] w-[3px]"}`}
            style={{
              ...axis.at(Math.min(mark.height, 0.99)),
              ...axis.across((mark.of - 1) / MOST_ANSWERS),
            }}
          />
        ),
      )}
      {over && (
        <span
          className={`absolute ${posture === "standing" ? "inset-x-0" : "inset-y-0"} bg-madder`}
          style={{
            ...axis.at(CORNICE),
            ...axis.long(Math.max(0.05, height - CORNICE)),
            clipPath: axis.ragged,
          }}
        />
      )}
    </span>
  );
});
