import { useEffect, useMemo, useRef } from "react";
import { isIngredient, type State, type Stretch } from "./review";

const MARKS: Record<string, string> = {
  taken: "border-b-2 border-verdigris",
  done: "text-soft border-b-2 border-verdigris",
  asked: "border-b-2 border-ink border-dotted",
  out: "text-soft line-through",
  open: "border-b-2 border-ink border-dashed",
};

const LEGEND = [
  { mark: MARKS.open, words: "not looked at" },
  { mark: MARKS.taken, words: "taken" },
  { mark: MARKS.asked, words: "asked about" },
  { mark: "text-soft", words: "not used" },
] as const;

/** The owner's text as it was sent, every stretch of it marked by what became of it. */
export function Letter({
  state,
  current,
  numbers,
  onSelect,
  onUse,
}: {
  state: State;
  current: string | null;
  numbers: ReadonlyMap<string, number>;
  onSelect: (key: string) => void;
  onUse: (key: string) => void;
}) {
  const holder = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!current) return;
    holder.current
      ?.querySelector(`[data-stretch="${current}"]`)
      ?.scrollIntoView({ block: "nearest" });
  }, [current]);
  // Places are counted in whole characters: a browser counts a smile as two.
  const letters = useMemo(() => Array.from(state.text), [state.text]);
  const between = (from: number, to?: number) => letters.slice(from, to).join("");
  const parts = [...state.stretches]
    .filter((s) => s.end > s.begin)
    .sort((a, b) => a.begin - b.begin || b.end - a.end);
  const drawn: React.ReactNode[] = [];
  let at = 0;
  for (const stretch of parts) {
    // What was parted in two stands in the letter once, under its first part.
    if (stretch.begin < at) continue;
    drawn.push(between(at, stretch.begin));
    drawn.push(
      <Mark
        key={stretch.key}
        stretch={stretch}
        words={between(stretch.begin, stretch.end)}
        number={numbers.get(stretch.key)}
        current={stretch.key === current}
        onSelect={onSelect}
        onUse={onUse}
      />,
    );
    at = stretch.end;
  }
  drawn.push(between(at));
  return (
    <>
      <div
        ref={holder}
        className="min-h-0 flex-1 overflow-auto whitespace-pre-wrap break-words py-1 text-[1rem] leading-7"
      >
        {drawn}
      </div>
      <ul aria-hidden="true" className="flex flex-wrap gap-x-4 border-line border-t py-1 text-data">
        {LEGEND.map(({ mark, words }) => (
          <li key={words} className="flex items-center gap-1.5">
            <span className={`inline-block w-6 ${mark}`}>&nbsp;</span>
            {words}
          </li>
        ))}
      </ul>
    </>
  );
}

function Mark({
  stretch,
  words,
  number,
  current,
  onSelect,
  onUse,
}: {
  stretch: Stretch;
  words: string;
  number: number | undefined;
  current: boolean;
  onSelect: (key: string) => void;
  onUse: (key: string) => void;
}) {
  const { key, kind } = stretch;
  if (kind === "heading") return <b>{words}</b>;
  if (!isIngredient(stretch)) {
    return (
      <Inline
        title={`${kind === "step" ? "How it is made" : "No ingredient"}; click to make a line of it`}
        onClick={() => onUse(key)}
        className="text-soft hover:underline"
      >
        {words}
      </Inline>
    );
  }
  return (
    <Inline
      stretch={key}
      current={current}
      onClick={() => onSelect(key)}
      className={`${MARKS[stretch.decision]} ${current ? "bg-verdigris-pale" : ""}`}
    >
      <sup className="mr-0.5 font-semibold text-axis">{number}</sup>
      {words}
    </Inline>
  );
}

/** A button that breaks across lines as the words around it do. */
function Inline({
  stretch,
  current = false,
  title,
  onClick,
  className,
  children,
}: {
  stretch?: string;
  current?: boolean;
  title?: string;
  onClick: () => void;
  className: string;
  children: React.ReactNode;
}) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button element is a box and does not break
    <span
      role="button"
      tabIndex={0}
      data-stretch={stretch}
      aria-current={current ? "true" : undefined}
      title={title}
      onClick={onClick}
      onKeyDown={(e) => {
        if (e.key !== "Enter" && e.key !== " ") return;
        e.preventDefault();
        e.stopPropagation();
        onClick();
      }}
      className={`cursor-pointer ${className}`}
    >
      {children}
    </span>
  );
}
