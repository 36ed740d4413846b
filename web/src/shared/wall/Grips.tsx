import type { KeyboardEvent, PointerEvent } from "react";
import { number, unitText } from "~/shared/format";
import type { Posture } from "./Board";
import type { BoardFacts } from "./boards";
import { amountAt, CORNICE, heightOf, RAIL } from "./scale";

export type Side = "least" | "most";

/** Bounds that someone sets on boards, by key, and what is done with them. */
export interface Bounding {
  bounds: Readonly<Record<string, Readonly<Record<Side, number | null>>>>;
  onBound: (key: string, side: Side, amount: number) => void;
}

const NAMES: Record<Side, string> = { least: "at least", most: "at most" };
/** An arrow key moves a bound by this share of a board. */
const STEP = 0.02;

/** Where a bound lies on its board: as it is set, or where the target's own line is. */
function heightAt(board: BoardFacts, side: Side, bounding: Bounding): number {
  const set = bounding.bounds[board.key]?.[side];
  const height = set == null ? null : heightOf(set, board.min, board.ceiling);
  if (height != null) return Math.min(height, 0.97);
  return side === "least" ? (board.hasMin ? RAIL : 0) : CORNICE;
}

/** The bounds of one board: the lines that are set, and grips to move them on the board that is looked at. */
export function Grips({
  board,
  bounding,
  posture,
  held,
}: {
  board: BoardFacts;
  bounding: Bounding;
  posture: Posture;
  /** It is the board whose bounds can be moved. */
  held: boolean;
}) {
  const set = bounding.bounds[board.key];
  const sides = (["least", "most"] as const).filter((side) => held || set?.[side] != null);
  return sides.map((side) => (
    <Grip key={side} board={board} side={side} bounding={bounding} posture={posture} held={held} />
  ));
}

function Grip({
  board,
  side,
  bounding,
  posture,
  held,
}: {
  board: BoardFacts;
  side: Side;
  bounding: Bounding;
  posture: Posture;
  held: boolean;
}) {
  const height = heightAt(board, side, bounding);
  const standing = posture === "standing";
  const set = bounding.bounds[board.key]?.[side];
  const place = standing ? { bottom: `${height * 100}%` } : { left: `${height * 100}%` };
  const line = `absolute ${standing ? "-inset-x-[2px] border-t-2" : "-inset-y-[2px] border-l-2"} border-verdigris border-dashed`;
  if (!held)
    return <span data-bound={side} className={`pointer-events-none z-10 ${line}`} style={place} />;
  function moveTo(to: number) {
    const amount = amountAt(to, board.min, board.ceiling);
    if (amount != null) bounding.onBound(board.key, side, amount);
  }
  function onPointerDown(event: PointerEvent<HTMLElement>) {
    event.preventDefault();
    event.currentTarget.focus();
    event.currentTarget.setPointerCapture(event.pointerId);
  }
  function onPointerMove(event: PointerEvent<HTMLElement>) {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const box = event.currentTarget.parentElement?.getBoundingClientRect();
    if (!box) return;
    moveTo(
      standing ? (box.bottom - event.clientY) / box.height : (event.clientX - box.left) / box.width,
    );
  }
  function onKeyDown(event: KeyboardEvent) {
    const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    moveTo(height + way * STEP);
  }
  const unit = unitText(board.unit);
  const told = set == null ? "as the target" : `${number(set, board.decimals)} ${unit}`.trim();
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-orientation={standing ? "vertical" : "horizontal"}
      aria-label={`${board.name}, ${NAMES[side]}`}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(height * 100)}
      aria-valuetext={told}
      data-grip={side}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onKeyDown={onKeyDown}
      className={`pointer-events-auto absolute z-20 touch-none ${standing ? "-inset-x-[3px] h-3 translate-y-1/2 cursor-ns-resize" : "-inset-y-[3px] w-3 -translate-x-1/2 cursor-ew-resize"}`}
      style={place}
    >
      <span
        className={`absolute bg-verdigris ${standing ? "inset-x-0 top-1/2 h-1 -translate-y-1/2" : "inset-y-0 left-1/2 w-1 -translate-x-1/2"}`}
      />
    </span>
  );
}
