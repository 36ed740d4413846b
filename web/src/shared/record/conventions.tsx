import type { Conventions } from "~/shared/conventions";
import { Choice } from "./fields";

type Field = Exclude<keyof Conventions, "words">;

/** What can be chosen of how things are written, each shown as it then looks. */
const CHOICES: {
  id: Field;
  label: string;
  options: readonly { value: string; label: string }[];
}[] = [
  {
    id: "body",
    label: "A dog's weight",
    options: [
      { value: "kg", label: "kilograms, 8.2 kg" },
      { value: "lb", label: "pounds, 18.1 lb" },
    ],
  },
  {
    id: "food",
    label: "Food is weighed in",
    options: [
      { value: "g", label: "grams" },
      { value: "oz", label: "ounces, with grams beside them" },
    ],
  },
  {
    id: "measures",
    label: "Cups and spoons",
    options: [
      { value: "us", label: "US: cup 237 ml, tablespoon 14.8 ml" },
      { value: "metric", label: "metric: cup 250 ml, tablespoon 15 ml" },
      { value: "australian", label: "Australian: cup 250 ml, tablespoon 20 ml" },
    ],
  },
  {
    id: "temperature",
    label: "Temperatures",
    options: [
      { value: "C", label: "Celsius, 74 °C" },
      { value: "F", label: "Fahrenheit, 165 °F" },
    ],
  },
  {
    id: "dates",
    label: "Dates",
    options: [
      { value: "day-first", label: "3 Dec 2026" },
      { value: "month-first", label: "Dec 3, 2026, and 2:05 pm" },
      { value: "year-first", label: "2026-12-03" },
    ],
  },
  {
    id: "numbers",
    label: "Numbers",
    options: [
      { value: "space-point", label: "12 500.5" },
      { value: "comma-point", label: "12,500.5" },
      { value: "point-comma", label: "12.500,5" },
      { value: "space-comma", label: "12 500,5" },
    ],
  },
  {
    id: "currency",
    label: "Prices",
    options: [
      "USD",
      "EUR",
      "GBP",
      "CAD",
      "AUD",
      "NZD",
      "CHF",
      "SEK",
      "NOK",
      "DKK",
      "PLN",
      "ZAR",
    ].map((code) => ({ value: code, label: code })),
  },
  {
    id: "spelling",
    label: "Names",
    options: [
      { value: "british", label: "British: fibre, yoghurt, courgette" },
      { value: "american", label: "American: fiber, yogurt, zucchini" },
    ],
  },
];

/** How things are written. `otherwise`: of whom, where every choice may also be left to the practice. */
export function ConventionFields({ otherwise }: { otherwise?: Conventions }) {
  return (
    <div className="grid grid-cols-[repeat(auto-fill,minmax(min(20rem,100%),1fr))] gap-x-6 gap-y-3">
      {CHOICES.map(({ id, label, options }) => {
        const practice = options.find((o) => o.value === otherwise?.[id])?.label;
        return (
          <Choice
            key={id}
            path={`conventions.${id}`}
            label={label}
            options={
              practice === undefined
                ? options
                : [{ value: null, label: `as the practice: ${practice}` }, ...options]
            }
            className="w-full"
          />
        );
      })}
    </div>
  );
}
