import { type ComponentProps, useState } from "react";
import { figure } from "~/shared/format";

/** The box of one amount, figures at the right. `wrong`: why it cannot be what stands in it. */
export function AmountBox({
  wrong = "",
  className = "",
  ...input
}: ComponentProps<"input"> & { wrong?: string }) {
  return (
    <input
      inputMode="decimal"
      aria-invalid={wrong !== ""}
      title={wrong || undefined}
      {...input}
      className={`h-7 rounded-corner border border-edge bg-sheet px-1.5 text-right aria-[invalid=true]:border-madder ${className}`}
    />
  );
}

/** An amount that is taken on Enter or when its box is left, so that a half-typed one is not judged.
 * What `check` says is wrong stays in the box, with why, and is not taken; Escape goes back. */
export function SettledBox({
  label,
  value,
  check = () => "",
  onChange,
  className,
}: {
  label: string;
  value: string;
  check?: (text: string) => string;
  onChange: (text: string) => void;
  className?: string;
}) {
  const [text, setText] = useState(value);
  const [was, setWas] = useState(value);
  const [wrong, setWrong] = useState("");
  if (was !== value) {
    setWas(value);
    setText(value);
    setWrong("");
  }
  function take() {
    const typed = text.trim();
    const found = typed === value ? "" : check(typed);
    setWrong(found);
    if (!found && typed !== value) onChange(typed);
  }
  return (
    <>
      <AmountBox
        aria-label={label}
        value={text}
        wrong={wrong}
        onChange={(e) => setText(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => {
          if (e.key === "Enter") take();
          if (e.key === "Escape") {
            setText(value);
            setWrong("");
          }
        }}
        className={className}
      />
      {wrong && (
        <div role="alert" className="text-label text-madder">
          {wrong}
        </div>
      )}
    </>
  );
}

/** What is wrong with a figure as typed: "" for a number of at least `least`. */
export function figureProblem(text: string, least: number, mayBeEmpty = false): string {
  const value = figure(text);
  if (value === null) return mayBeEmpty ? "" : "give a number";
  if (!Number.isFinite(value)) return `“${text}” is not a number`;
  return value < least ? `must be ${least} or more` : "";
}
