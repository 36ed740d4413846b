import { Select as RadixSelect } from "radix-ui";

export function Select<T extends string>({
  value,
  onChange,
  options,
  label,
  placeholder,
  className = "",
}: {
  placeholder?: string;
  value: T;
  onChange: (value: T) => void;
  options: { id: T; label: string }[];
  label: string;
  className?: string;
}) {
  return (
    <RadixSelect.Root value={value} onValueChange={(next) => onChange(next as T)}>
      <RadixSelect.Trigger
        aria-label={label}
        className={`inline-flex h-8 max-w-full items-center justify-between gap-2 rounded-corner border border-edge bg-sheet px-2 ${className}`}
      >
        <span className="truncate">
          <RadixSelect.Value placeholder={placeholder} />
        </span>
        <RadixSelect.Icon className="text-soft">▾</RadixSelect.Icon>
      </RadixSelect.Trigger>
      <RadixSelect.Portal>
        <RadixSelect.Content
          position="popper"
          sideOffset={2}
          className="z-50 max-h-96 overflow-hidden rounded-corner border border-edge bg-sheet"
        >
          <RadixSelect.Viewport className="p-1">
            {options.map((option) => (
              <RadixSelect.Item
                key={option.id}
                value={option.id}
                className="cursor-pointer rounded-corner px-2 py-1 outline-none data-[highlighted]:bg-groove data-[state=checked]:font-semibold"
              >
                <RadixSelect.ItemText>{option.label}</RadixSelect.ItemText>
              </RadixSelect.Item>
            ))}
          </RadixSelect.Viewport>
        </RadixSelect.Content>
      </RadixSelect.Portal>
    </RadixSelect.Root>
  );
}
