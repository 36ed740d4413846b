import { useId } from "react";
import { AmountBox, figureProblem } from "./boxes";

/** A figure that is asked for. */
export function Figure({
  label,
  value,
  placeholder,
  after,
  onChange,
}: {
  label: string;
  value: string;
  placeholder?: string;
  /** What stands behind the box. */
  after?: string;
  onChange: (value: string) => void;
}) {
  const id = useId();
  return (
    <label htmlFor={id} className="flex items-center gap-1.5">
      <span>{label}</span>
      <AmountBox
        id={id}
        value={value}
        placeholder={placeholder}
        wrong={figureProblem(value, 0, true)}
        onChange={(e) => onChange(e.target.value)}
        className="w-12"
      />
      {after && <span>{after}</span>}
    </label>
  );
}
