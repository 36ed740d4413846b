import type { Recipe } from "~/api/client";

/** A line: `text` as it stands in the box, `quantity` the last one that could be computed ("" for none yet). */
export interface BenchLine {
  key: string;
  food: string;
  name: string;
  quantity: string;
  text: string;
  /** How it is cooked from the form it is weighed in; "" for fed as weighed. */
  preparation: string;
  methods: { id: string; label: string }[];
  /** Why an incomplete food was let in under the strict policy. */
  override: string;
  note: string;
}

type Method = BenchLine["methods"][number];

/** A line as everything makes one. Without `accepted` its amount still has to be read. */
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
  accepted = false,
): BenchLine {
  return {
    preparation: "",
    override: "",
    note: "",
    ...from,
    key: newKey(),
    quantity: accepted ? from.text : "",
  };
}

/** A line as the server takes it: every field, so that none falls off on the way. */
export function sentLine(line: BenchLine, quantity: string) {
  const { food, note, preparation, override } = line;
  return { food, quantity, note, preparation, override };
}

export interface Content {
  coversDays: number;
  lines: BenchLine[];
}

interface State {
  present: Content;
  past: Content[];
  future: Content[];
  /** Edits of one box in a row are one step of undo; this names the box. */
  merging: string | null;
}

export type Action =
  | { type: "text"; key: string; text: string }
  | { type: "accept"; keys: string[] }
  | { type: "leave" }
  | { type: "add"; line: BenchLine }
  | { type: "prepare"; key: string; preparation: string }
  | { type: "remove"; key: string }
  | { type: "move"; key: string; by: number }
  | { type: "days"; coversDays: number }
  | { type: "apply"; lines: BenchLine[] }
  | { type: "undo" }
  | { type: "redo" }
  | { type: "load"; content: Content };

let counter = 0;

function newKey(): string {
  counter += 1;
  return `line-${counter}`;
}

export function contentOf(recipe: Recipe): Content {
  return {
    coversDays: recipe.covers_days ?? 1,
    lines: recipe.lines.map((line) => lineOf({ ...line, text: line.quantity }, true)),
  };
}

export function startState(content: Content): State {
  return { present: content, past: [], future: [], merging: null };
}

const DEPTH = 200;

function change(state: State, present: Content, merging: string | null = null): State {
  const merge = merging !== null && merging === state.merging;
  return {
    present,
    past: merge ? state.past : [...state.past, settled(state.present)].slice(-DEPTH),
    future: [],
    merging,
  };
}

/** What undo returns to: boxes show what was last computed. */
function settled(content: Content): Content {
  return {
    ...content,
    lines: content.lines.map((line) => ({ ...line, text: line.quantity || line.text })),
  };
}

function mapLine(content: Content, key: string, to: (line: BenchLine) => BenchLine): Content {
  return { ...content, lines: content.lines.map((line) => (line.key === key ? to(line) : line)) };
}

function reorder(content: Content, key: string, to: number): Content {
  const line = content.lines.find((l) => l.key === key);
  if (!line) return content;
  const rest = content.lines.filter((l) => l.key !== key);
  const at = Math.max(0, Math.min(rest.length, to));
  return { ...content, lines: [...rest.slice(0, at), line, ...rest.slice(at)] };
}

export function reduce(state: State, action: Action): State {
  const { present } = state;
  switch (action.type) {
    case "text":
      return {
        ...state,
        present: mapLine(present, action.key, (line) => ({ ...line, text: action.text })),
      };
    case "accept": {
      const changed = present.lines.filter(
        (line) => action.keys.includes(line.key) && line.text !== line.quantity,
      );
      const first = changed[0];
      if (!first) return state;
      const accepted = new Set(changed.map((line) => line.key));
      const lines = present.lines.map((line) =>
        accepted.has(line.key) ? { ...line, quantity: line.text } : line,
      );
      // The first amount of a new line belongs to the step that added it.
      if (changed.every((line) => line.quantity === "")) {
        return { ...state, present: { ...present, lines } };
      }
      return change(state, { ...present, lines }, `text:${first.key}`);
    }
    case "leave":
      return { ...state, merging: null };
    case "add":
      return change(state, { ...present, lines: [...present.lines, action.line] });
    case "prepare":
      return change(
        state,
        mapLine(present, action.key, (line) => ({ ...line, preparation: action.preparation })),
      );
    case "remove":
      return change(state, {
        ...present,
        lines: present.lines.filter((line) => line.key !== action.key),
      });
    case "move": {
      const from = present.lines.findIndex((line) => line.key === action.key);
      const to = from + action.by;
      if (from < 0 || to < 0 || to >= present.lines.length) return state;
      return change(state, reorder(present, action.key, to));
    }
    case "days":
      return change(state, { ...present, coversDays: action.coversDays }, "days");
    case "apply":
      return change(state, { ...present, lines: action.lines });
    case "undo": {
      const previous = state.past.at(-1);
      if (!previous) return state;
      return {
        present: previous,
        past: state.past.slice(0, -1),
        future: [settled(present), ...state.future],
        merging: null,
      };
    }
    case "redo": {
      const next = state.future[0];
      if (!next) return state;
      return {
        present: next,
        past: [...state.past, settled(present)],
        future: state.future.slice(1),
        merging: null,
      };
    }
    case "load":
      return startState(action.content);
  }
}
