import type { Boards } from "~/api/client";

/** Boards are filled up to so many times their bound; what lies over that is drawn as a ragged top where it is too much. */
const MOST = 2;
const HEIGHT = 28;
const STEP = 5;

/** A wall in short: a bar for each board, the rail at its bound. What differs from another wall is drawn dark. */
export function MiniWall({ boards, beside }: { boards: Boards; beside?: Boards }) {
  const { filled, statuses } = boards;
  const rail = HEIGHT - HEIGHT / MOST;
  return (
    <svg
      aria-hidden="true"
      className="h-7 w-full max-w-60"
      viewBox={`0 0 ${filled.length * STEP} ${HEIGHT}`}
      preserveAspectRatio="none"
    >
      {filled.map((share, i) => {
        const status = statuses[i];
        const changed = beside !== undefined && beside.statuses[i] !== status;
        const x = i * STEP;
        const height = Math.max(1, (Math.min(share ?? 0, MOST) / MOST) * HEIGHT);
        const short = status === "short" || status === "unproven";
        const over = status === "over" || status === "above safe limit";
        return (
          <g key={x}>
            <rect
              x={x}
              y={HEIGHT - height}
              width={STEP - 1.2}
              height={height}
              className={changed || short || over ? "fill-oak-deep" : "fill-oak-pale"}
            />
            {status === "short" && (
              <rect
                x={x}
                y={HEIGHT - height - 2.5}
                width={STEP - 1.2}
                height="2.5"
                className="fill-madder"
              />
            )}
            {status === "unproven" && (
              <rect
                x={x + 0.4}
                y={1}
                width={STEP - 2}
                height={HEIGHT - height - 1}
                className="fill-none stroke-ink"
                strokeWidth="0.6"
                strokeDasharray="1.5 1"
              />
            )}
            {over && <rect x={x} y="0" width={STEP - 1.2} height="5" className="fill-madder" />}
          </g>
        );
      })}
      <line
        x1="0"
        x2={filled.length * STEP}
        y1={rail}
        y2={rail}
        className="stroke-ink"
        strokeWidth="0.8"
      />
    </svg>
  );
}
