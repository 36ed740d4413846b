import { useEffect, useState } from "react";
import type { Analysis } from "~/api/client";
import { AmountBox } from "~/shared/amounts/boxes";
import { decimal, number, percent } from "~/shared/format";

export function DaysInput({
  value,
  onChange,
}: {
  value: number;
  onChange: (days: number) => void;
}) {
  const [text, setText] = useState(String(value));
  const days = decimal(text);
  const valid = days > 0 && days <= 366;
  useEffect(() => setText(String(value)), [value]);
  return (
    <AmountBox
      aria-label="Days the recipe feeds"
      wrong={valid ? "" : "More than 0 and at most 366 days"}
      value={text}
      onChange={(e) => {
        setText(e.target.value);
        const next = decimal(e.target.value);
        if (next > 0 && next <= 366) onChange(next);
      }}
      onBlur={() => setText(String(value))}
      className="w-12"
    />
  );
}

export function EnergyGauge({ analysis }: { analysis: Analysis }) {
  const { kcal_per_day } = analysis.recipe;
  const target = analysis.energy.target_kcal;
  const share = kcal_per_day / target;
  return (
    <div className="flex items-center gap-2">
      <svg
        viewBox="0 0 100 10"
        className="h-2.5 w-14"
        aria-hidden="true"
        preserveAspectRatio="none"
      >
        <rect width="100" height="10" fill="var(--groove)" />
        <rect width={Math.min(100, share * 66.7)} height="10" fill="var(--oak)" />
        <rect x="66" width="1.6" height="10" fill="var(--ink)" />
      </svg>
      <span data-testid="energy">
        <b>{number(kcal_per_day)}</b> of {number(target)} kcal/day ({percent(share)})
      </span>
    </div>
  );
}
