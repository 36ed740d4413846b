import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef } from "react";
import type { GapTable, ListedFood } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { number, percent, priceBy, spelled, told } from "~/shared/format";
import { useMedia } from "~/shared/useMedia";
import { closesWords, Strip } from "./density";

const ROW = 30;

/** Pixels from one board of a strip to the next; on a phone they stand closer. */
const STEP = 38;
const NARROW = 15;

/** The foods of a list, only those that are seen drawn; beside a dog each with its strip. */
export function FoodRows({
  foods,
  open,
  picked,
  richest,
  table,
  onOpen,
  onPick,
}: {
  foods: ListedFood[];
  open: string | null;
  picked: string[];
  richest: string | undefined;
  /** The gaps of a dog's recipe, and the foods beside them. */
  table: GapTable | undefined;
  onOpen: (id: string) => void;
  onPick: (id: string) => void;
}) {
  const step = useMedia("(min-width: 43.75rem)") ? STEP : NARROW;
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: foods.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const beside = table && table.gaps.length > 0 ? table : undefined;
  const found = useMemo(() => new Map(beside?.foods.map((c) => [c.food, c])), [beside]);
  const columns = beside
    ? "grid grid-cols-[2rem_1fr_auto] mid:grid-cols-[2rem_1fr_4.5rem_auto] items-center gap-2 px-4"
    : "grid grid-cols-[2rem_1fr_6rem] mid:grid-cols-[2rem_1fr_6.5rem_5rem_6rem_4rem_5rem] items-center gap-2 px-4";
  const more = "max-mid:hidden";
  return (
    <>
      {beside && (
        <p className="px-4 text-data mid:hidden">
          Gaps, from the left: {beside.gaps.map((gap) => spelled(gap.short)).join(", ")}.
        </p>
      )}
      <div
        aria-hidden="true"
        className={`${columns} border-line border-b py-1 text-data text-soft`}
      >
        <span />
        <span>Food</span>
        {!beside && <span className={more}>Class</span>}
        {!beside && <span className={more}>Form</span>}
        <span className={`text-right ${beside ? more : ""}`}>
          {richest ? "/1000 kcal" : "kcal/100 g"}
        </span>
        {beside ? (
          <span className="flex" style={{ width: beside.gaps.length * step }}>
            {beside.gaps.map((gap) => (
              <span
                key={gap.key}
                title={`${spelled(gap.name)}, ${gap.gap === "ceiling" ? "too much" : gap.status}`}
                className="flex-1 overflow-hidden text-ellipsis whitespace-nowrap text-center text-axis max-mid:hidden"
              >
                {spelled(gap.short)}
              </span>
            ))}
          </span>
        ) : (
          <>
            <span className={`${more} text-right`}>Known</span>
            <span className={`${more} text-right`}>
              Price/{conventions().food === "g" ? "kg" : "lb"}
            </span>
          </>
        )}
      </div>
      <div
        ref={scroller}
        className="h-[70dvh] min-h-60 overflow-auto wide:h-auto wide:min-h-0 wide:flex-1"
      >
        <ul style={{ height: rows.getTotalSize(), position: "relative" }}>
          {rows.getVirtualItems().map((item) => {
            const food = foods[item.index];
            if (!food) return null;
            const closes = found.get(food.id);
            return (
              <li
                key={food.id}
                className={`${columns} absolute inset-x-0 border-line border-b ${open === food.id ? "bg-groove" : "hover:bg-groove/60"}`}
                style={{ top: item.start, height: ROW }}
              >
                <input
                  type="checkbox"
                  aria-label={`Compare ${food.name}`}
                  checked={picked.includes(food.id)}
                  onChange={() => onPick(food.id)}
                  className="accent-verdigris"
                />
                <button
                  type="button"
                  onClick={() => onOpen(food.id)}
                  className="truncate text-left"
                >
                  {spelled(food.name)}
                  {food.unavailable && (
                    <span className="ml-2 text-data text-madder">not to be had now</span>
                  )}
                  {beside && closes?.why_not && (
                    <span className="ml-2 text-data text-madder" title={told(closes.why_not)}>
                      not for {beside.dog}
                    </span>
                  )}
                  {beside && closes && !closes.why_not && closes.over.length > 0 && (
                    <span className="ml-2 text-data text-soft">
                      too much {closes.over.map(spelled).slice(0, 2).join(", ")}
                      {closes.over.length > 2 && ` +${closes.over.length - 2}`}
                    </span>
                  )}
                  {beside && closes && (
                    <span className="sr-only">, {closesWords(beside.gaps, closes.times)}</span>
                  )}
                </button>
                {!beside && <span className={`${more} truncate text-soft`}>{food.klass}</span>}
                {!beside && (
                  <span
                    className={`${more} truncate text-soft`}
                    title={
                      food.derived
                        ? "Made from other rows and published figures, not analysed"
                        : undefined
                    }
                  >
                    {food.form}
                    {food.derived && ", derived"}
                  </span>
                )}
                <span className={`text-right ${beside ? more : ""}`}>
                  {food.value !== null
                    ? number(food.value, food.value < 10 ? 2 : 0)
                    : number(food.kcal_per_100g)}
                </span>
                {beside ? (
                  closes ? (
                    <Strip gaps={beside.gaps} times={closes.times} step={step} />
                  ) : (
                    <span />
                  )
                ) : (
                  <>
                    <span className={`${more} text-right`}>{percent(food.known_share)}</span>
                    <span className={`${more} text-right`}>{priceBy(food.price_per_kg)}</span>
                  </>
                )}
              </li>
            );
          })}
        </ul>
      </div>
    </>
  );
}
