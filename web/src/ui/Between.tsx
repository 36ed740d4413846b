import { Slider } from "radix-ui";

/** Two bounds on one scale, moved by hand or by keys. */
export function Between({
  label,
  most,
  step,
  value,
  onChange,
}: {
  label: string;
  most: number;
  step: number;
  value: readonly [number, number];
  onChange: (value: [number, number]) => void;
}) {
  return (
    <Slider.Root
      min={0}
      max={most}
      step={step}
      value={[...value]}
      onValueChange={([low = 0, high = most]) => onChange([low, high])}
      className="relative flex h-6 w-full touch-none select-none items-center"
    >
      <Slider.Track className="relative h-1 grow bg-groove">
        <Slider.Range className="absolute h-full bg-verdigris" />
      </Slider.Track>
      {(["at least", "at most"] as const).map((side) => (
        <Slider.Thumb
          key={side}
          aria-label={`${label}, ${side}`}
          className="block h-5 w-2.5 rounded-corner border border-sheet bg-verdigris"
        />
      ))}
    </Slider.Root>
  );
}
