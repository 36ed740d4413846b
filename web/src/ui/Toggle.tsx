import { ToggleGroup } from "radix-ui";

export function Toggle<T extends string>({
  value,
  onChange,
  options,
  label,
  small = false,
}: {
  value: T;
  onChange: (value: T) => void;
  options: { id: T; label: string }[];
  label: string;
  small?: boolean;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      value={value}
      onValueChange={(next) => next && onChange(next as T)}
      aria-label={label}
      className={`inline-flex ${small ? "h-6.5 text-data" : "h-8"} w-fit shrink-0 overflow-hidden rounded-corner border border-edge`}
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.id}
          value={option.id}
          className="bg-sheet px-2 data-[state=on]:bg-ink data-[state=on]:text-sheet"
        >
          {option.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
