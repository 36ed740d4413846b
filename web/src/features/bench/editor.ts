import { newKey } from "~/shared/newKey";
import type { Edit, EditOptions } from "~/shared/saving/draft";
import { type Fields, isFields } from "~/shared/saving/fields";

/** A line as it stands on the bench; `text` is its amount as typed. */
export interface BenchLine {
  key: string;
  food: string;
  name: string;
  text: string;
  /** How it is cooked from the form it is weighed in; "" for fed as weighed. */
  preparation: string;
  methods: { id: string; label: string }[];
  /** Why an incomplete food was let in under the strict policy. */
  override: string;
  note: string;
}

type Method = BenchLine["methods"][number];

/** What a food is called and how it can be cooked. */
export interface FoodWords {
  name: string;
  methods: Method[];
}

/** A line as everything makes one. */
export function lineOf(
  from: {
    food: string;
    name: string;
    text: string;
    methods: Method[];
    preparation?: string;
    override?: string;
    note?: string;
  },
  key = newKey(),
): BenchLine {
  return { preparation: "", override: "", note: "", ...from, key };
}

/** A line as the server takes it: every field, so that none falls off on the way. */
export function sentLine({ food, text, note, preparation, override }: BenchLine) {
  return { food, quantity: text, note, preparation, override };
}

export interface Content {
  coversDays: number;
  lines: BenchLine[];
}

export type Action =
  | { type: "text"; key: string; text: string }
  | { type: "leave" }
  | { type: "add"; line: BenchLine }
  | { type: "prepare"; key: string; preparation: string }
  | { type: "remove"; key: string }
  | { type: "move"; key: string; by: number }
  | { type: "days"; coversDays: number }
  | { type: "apply"; lines: BenchLine[]; keepAs?: string };

function text(value: unknown): string {
  return typeof value === "string" ? value : "";
}

/** The bench as the recipe's fields say; `words` knows the foods. */
export function contentOf(fields: Fields, words: (food: string) => FoodWords | undefined): Content {
  const rows = isFields(fields.lines) ? fields.lines : {};
  const order = Array.isArray(fields.order) ? (fields.order as string[]) : [];
  const keys = [
    ...order.filter((key) => key in rows),
    ...Object.keys(rows).filter((key) => !order.includes(key)),
  ];
  return {
    coversDays: typeof fields.covers_days === "number" ? fields.covers_days : 1,
    lines: keys.flatMap((key) => {
      const row = rows[key];
      if (!isFields(row)) return [];
      const food = text(row.food);
      return [
        {
          key,
          food,
          name: words(food)?.name ?? food,
          methods: words(food)?.methods ?? [],
          text: text(row.quantity),
          preparation: text(row.preparation),
          override: text(row.override),
          note: text(row.note),
        },
      ];
    }),
  };
}

/** Typing is saved when it rests. */
const TYPING_MS = 400;

/** What an action changes of the recipe, field by field. */
export function editsOf(content: Content, action: Action): { edits: Edit[]; options: EditOptions } {
  const { lines } = content;
  const order = lines.map((line) => line.key);
  switch (action.type) {
    case "text":
      return {
        edits: [{ path: `lines.${action.key}.quantity`, value: action.text }],
        options: { merge: `amount ${action.key}`, wait: TYPING_MS },
      };
    case "add":
      return {
        edits: [{ path: `lines.${action.line.key}`, value: sentLine(action.line) }],
        options: {},
      };
    case "prepare":
      return {
        edits: [{ path: `lines.${action.key}.preparation`, value: action.preparation }],
        options: {},
      };
    case "remove":
      return {
        edits: [
          { path: `lines.${action.key}`, value: null },
          { path: "order", value: order.filter((key) => key !== action.key) },
        ],
        options: {},
      };
    case "move": {
      const from = order.indexOf(action.key);
      const to = from + action.by;
      if (from < 0 || to < 0 || to >= order.length) return { edits: [], options: {} };
      const rest = order.filter((key) => key !== action.key);
      const value = [...rest.slice(0, to), action.key, ...rest.slice(to)];
      return { edits: [{ path: "order", value }], options: {} };
    }
    case "days":
      return {
        edits: [{ path: "covers_days", value: action.coversDays }],
        options: { merge: "days", wait: TYPING_MS },
      };
    case "apply":
      return {
        edits: replaced(lines, action.lines),
        options: action.keepAs ? { keepAs: action.keepAs } : {},
      };
    default:
      return { edits: [], options: {} };
  }
}

/** The edits that make these lines of those: lines of one key change, the others come and go. */
function replaced(before: BenchLine[], after: BenchLine[]): Edit[] {
  const old = new Map(before.map((line) => [line.key, line]));
  const kept = new Set(after.map((line) => line.key));
  const gone = before.filter((line) => !kept.has(line.key));
  const edits = after.flatMap((line): Edit[] => {
    const was = old.get(line.key);
    if (!was) return [{ path: `lines.${line.key}`, value: sentLine(line) }];
    const then = Object.entries(sentLine(was));
    const now: Record<string, string> = sentLine(line);
    return then
      .filter(([name, value]) => now[name] !== value)
      .map(([name]) => ({ path: `lines.${line.key}.${name}`, value: now[name] }));
  });
  return [
    ...gone.map((line) => ({ path: `lines.${line.key}`, value: null })),
    ...edits,
    { path: "order", value: after.map((line) => line.key) },
  ];
}
