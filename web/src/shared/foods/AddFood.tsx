import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type Ref, useEffect, useId, useState } from "react";
import type { Food } from "~/api/client";
import { number, spelled } from "~/shared/format";
import { foodsQuery } from "~/shared/queries";
import { TextInput } from "~/ui";

/** Type to find an ingredient; arrows and Enter add it. The server reads a leading amount: "3 large eggs". */
export function AddFood({
  onAdd,
  inputRef,
  caseId,
  label = "Add an ingredient",
  placeholder = "Add an ingredient: “200 g chicken thigh”   /",
  below = false,
}: {
  caseId: number;
  label?: string;
  placeholder?: string;
  /** Open the list under the box, not over it. */
  below?: boolean;
  onAdd: (food: Food, quantity: string) => void;
  inputRef: Ref<HTMLInputElement>;
}) {
  const id = useId();
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const [entered, setEntered] = useState(false);
  const words = text.trim();
  const found = useQuery({
    ...foodsQuery(caseId, words),
    enabled: words.length > 1,
    placeholderData: keepPreviousData,
  });
  const open = words.length > 1;
  const foods = open ? (found.data ?? []) : [];

  const current = open && found.isSuccess && !found.isPlaceholderData;

  function choose(food: Food | undefined) {
    setEntered(false);
    if (!food) return;
    onAdd(food, food.quantity);
    setText("");
    setAt(0);
  }
  // Enter before the answer is there takes the first one when it comes.
  useEffect(() => {
    if (entered && current) choose(foods[at]);
  });
  function onKeyDown(event: KeyboardEvent) {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const step = event.key === "ArrowDown" ? 1 : -1;
      setAt((i) => Math.max(0, Math.min(foods.length - 1, i + step)));
    } else if (event.key === "Enter") {
      event.preventDefault();
      if (current) choose(foods[at]);
      else setEntered(open);
    } else if (event.key === "Escape") {
      setText("");
    }
  }
  return (
    <div className="relative">
      <TextInput
        ref={inputRef}
        data-add-food
        role="combobox"
        aria-label={label}
        aria-expanded={open}
        aria-controls={`${id}-list`}
        aria-activedescendant={foods[at] ? `${id}-${at}` : undefined}
        autoComplete="off"
        placeholder={placeholder}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
          setEntered(false);
        }}
        onKeyDown={onKeyDown}
        className="w-full"
      />
      {open && (
        <ul
          id={`${id}-list`}
          // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: a combobox popup
          role="listbox"
          aria-label="Ingredients found"
          className={`absolute left-0 z-30 max-h-80 w-full overflow-auto ${below ? "top-full mt-1" : "bottom-full mb-1 min-w-md"} rounded-corner border border-edge bg-sheet p-1`}
        >
          {foods.map((food, i) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: keys are handled by the input
            <li
              key={`${i} ${food.id}`}
              id={`${id}-${i}`}
              // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: an option of the popup
              role="option"
              aria-selected={i === at}
              tabIndex={-1}
              onPointerMove={() => setAt(i)}
              aria-disabled={!current}
              onClick={() => current && choose(food)}
              className={`flex cursor-pointer justify-between gap-3 rounded-corner px-2 py-0.5 ${i === at ? "bg-groove" : ""} ${current ? "" : "opacity-60"}`}
            >
              <span className="truncate">{spelled(food.name)}</span>
              <span className="shrink-0 text-soft">
                {food.mark && <b className="font-semibold text-madder">{food.mark} · </b>}
                {food.derived && "derived · "}
                {food.klass === "supplement"
                  ? "supplement"
                  : `${number(food.kcal_per_100g)} kcal/100 g`}
              </span>
            </li>
          ))}
          {foods.length === 0 && (
            <li className="px-2 py-1 text-soft">
              {found.isError
                ? found.error.message
                : found.isFetching
                  ? "Looking…"
                  : `Nothing found for “${words}”. Try the plain name, for example “beef liver raw”.`}
            </li>
          )}
        </ul>
      )}
    </div>
  );
}
