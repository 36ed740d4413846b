import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useState } from "react";
import { matchPath, useLocation, useNavigate } from "react-router";
import { api, take } from "~/api/client";
import { figureText, sentence, spelled, told, unitText } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { caseQuery, casesQuery, foodsQuery } from "~/shared/queries";
import { asking } from "~/shared/useAsked";
import { useFirstFocus } from "~/shared/useFirstFocus";
import { useSettled } from "~/shared/useSettled";

interface Entry {
  label: string;
  hint: string;
  /** What speaks against it. */
  warning?: string;
  run: () => void;
}

interface Named {
  id: number;
  name: string;
}

const STEPS = [
  "intake",
  "energy",
  "targets",
  "plan",
  "checks",
  "kitchen",
  "follow",
  "history",
] as const;
const STEP_WORDS: Partial<Record<string, string>> = { follow: "follow-up" };
const FOODS = 5;
const SHOWN = 12;

/** Every word of the text must stand in the label, in any order. */
function matches(label: string, text: string): boolean {
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  return wanted.every((word) => label.toLowerCase().includes(word));
}

/** How many of the words begin a word of the label: what begins like it stands before what only has it inside. */
function begun(label: string, text: string): number {
  const words = label.toLowerCase().split(/[^\p{L}\p{N}]+/u);
  const typed = text.toLowerCase().split(/\s+/).filter(Boolean);
  return typed.filter((wanted) => words.some((word) => word.startsWith(wanted))).length;
}

/** The case and the recipe whose page is open. */
function useHere() {
  const { pathname } = useLocation();
  const caseId = Number(matchPath("/cases/:caseId/*", pathname)?.params.caseId) || null;
  const open = Number(matchPath("/cases/:caseId/recipes/:id/*", pathname)?.params.id) || null;
  const found = useQuery({ ...caseQuery(caseId ?? 0), enabled: caseId !== null });
  const current = caseId === null ? undefined : found.data;
  const recipes = current?.recipes ?? [];
  // Where none is open, the only one there is.
  const recipe = recipes.find((r) => r.id === open) ?? (recipes.length === 1 ? recipes[0] : null);
  return { current, recipe };
}

interface Commands {
  /** What can mean nothing else. */
  first: Entry[];
  rest: Entry[];
  /** Why what looks like a command is none. */
  problem: string;
  looking: boolean;
}

/** What the words ask for in the case that is open: an end of a window to move, windows, foods with their amount. */
function useCommands(text: string): Commands {
  const navigate = useNavigate();
  const { current, recipe } = useHere();
  const words = useSettled(text.trim());
  const asked = current !== undefined && words.length > 1;
  const id = current?.id ?? 0;
  const command = useQuery({
    // A figure a day is read at the energy of the case: never answered from before a change.
    queryKey: keyOf("command", id, current?.version, words),
    staleTime: 0,
    queryFn: () =>
      take(
        api.GET("/api/cases/{id}/command", { params: { path: { id }, query: { text: words } } }),
      ),
    enabled: asked,
  });
  const foods = useQuery({
    ...foodsQuery(id, words),
    enabled: asked && recipe !== null && command.data?.adds === true,
  });
  // What was asked for other words is not offered for these.
  const settled = words === text.trim();
  if (!asked || !settled || !current)
    return {
      first: [],
      rest: [],
      problem: "",
      looking: text.trim() !== "" && current !== undefined,
    };
  const { limit, windows = [], problem = "" } = command.data ?? {};
  const targets = `/cases/${id}/targets`;
  const first: Entry[] = [];
  const rest: Entry[] = [];
  if (limit) {
    const { key, bound, value } = limit;
    first.push({
      label: `${spelled(limit.name)} ${bound === "min" ? "at least" : "at most"} ${figureText(value)}${limit.unit === "ratio" ? "" : ` ${unitText(limit.unit)} per 1000 kcal`}`,
      hint: `“${limit.typed}”; now ${figureText(limit.now) || "no limit"}; give the reason`,
      run: () => navigate(targets, asking({ do: "limit", key, bound, value })),
    });
  }
  for (const { key, name } of windows) {
    if (recipe)
      rest.push({
        label: `${spelled(name)} on the wall`,
        hint: recipe.name,
        run: () => navigate(`/cases/${id}/recipes/${recipe.id}`, asking({ do: "window", key })),
      });
    rest.push({
      label: `${spelled(name)}: its window`,
      hint: "targets",
      run: () => navigate(targets, asking({ do: "window", key })),
    });
  }
  for (const food of (command.data?.adds ? (foods.data ?? []) : []).slice(0, FOODS)) {
    const { quantity } = food;
    rest.push({
      label: [quantity, spelled(food.name)].filter(Boolean).join(" "),
      warning: food.mark ?? "",
      hint: `add to ${recipe?.name}`,
      run: () =>
        navigate(`/cases/${id}/recipes/${recipe?.id}`, asking({ do: "add", food, quantity })),
    });
  }
  return { first, rest, problem, looking: command.isFetching || foods.isFetching };
}

export default function Entries({ onTheme, onDone }: { onTheme: () => void; onDone: () => void }) {
  const navigate = useNavigate();
  // The dialog may have opened before this was there.
  const box = useFirstFocus<HTMLDivElement>();
  const [text, setText] = useState("");
  const { current, recipe } = useHere();
  const commands = useCommands(text);
  // The first word that is not a step is a dog, or her client: the others are looked for in what is found.
  const who = text
    .split(/\s+/)
    .find((word) => word && !STEPS.some((s) => s.startsWith(word.toLowerCase())));
  const cases = useQuery(casesQuery({ words: useSettled(who ?? "") }));
  const page = (label: string, to: string, hint = "page"): Entry => ({
    label,
    hint,
    run: () => navigate(to),
  });
  const ofCase = (c: { id: number; dog: string; recipes: readonly Named[] }): Entry[] => [
    ...c.recipes.map((r) =>
      page(`${c.dog}: ${r.name}`, `/cases/${c.id}/recipes/${r.id}`, "recipe"),
    ),
    ...STEPS.map((step) =>
      page(`${c.dog}: ${STEP_WORDS[step] ?? step}`, `/cases/${c.id}/${step}`, "step"),
    ),
  ];
  const side = (label: string, to: "adjust" | "versions"): Entry => ({
    label,
    hint: recipe?.name ?? "",
    run: () =>
      navigate(`/cases/${current?.id}/recipes/${recipe?.id}`, asking({ do: "side", side: to })),
  });
  const entries: Entry[] = [
    // What is open comes before what is elsewhere.
    ...(current && recipe
      ? [side("Adjust: close the gaps", "adjust"), side("Versions of the recipe", "versions")]
      : []),
    ...(current ? ofCase({ ...current, dog: current.dog.name }) : []),
    page("Desk", "/"),
    page("Cases", "/cases"),
    page("Issued plans", "/issued"),
    page("Outbox", "/outbox"),
    page("Library", "/library"),
    page("Shelf", "/shelf"),
    page("Standards", "/standards"),
    page("How sure are we", "/evidence"),
    page("Words: what they mean", "/words"),
    page("Practice: units, dates, money", "/practice"),
    { label: "Change between light and dark", hint: "look", run: onTheme },
    ...(cases.data?.rows ?? []).filter((c) => c.id !== current?.id).flatMap(ofCase),
  ];
  const places = entries
    .filter((entry) => matches(entry.label, text))
    .sort((a, b) => begun(b.label, text) - begun(a.label, text));
  const found = [...commands.first, ...places, ...commands.rest];
  return (
    // Which entries match is decided here: cmdk's own order is by likeness of letters.
    <Command ref={box} label="Where to go" shouldFilter={false} loop>
      <Command.Input
        placeholder={
          current
            ? "“turkey 200 g”, “sodium below 600 mg”, a nutrient, a dog, a step, a page"
            : "A dog, a step, a recipe, a page"
        }
        value={text}
        onValueChange={setText}
        className="h-8 w-full rounded-corner border border-edge bg-sheet px-2 placeholder:text-soft"
      />
      {commands.problem && (
        <p role="alert" className="mt-2 border-madder stile">
          {told(sentence(commands.problem))}.
        </p>
      )}
      <Command.List label="Commands" className="mt-2">
        <Command.Empty className="px-2 py-1 text-soft">
          {commands.looking ? "Looking…" : commands.problem ? "" : "Nothing is called that."}
        </Command.Empty>
        {found.slice(0, SHOWN).map((entry, i) => (
          <Command.Item
            // Two dogs may have one name: the place tells their entries apart.
            key={`${entry.label} ${i}`}
            value={`${entry.label} ${i}`}
            onSelect={() => {
              onDone();
              entry.run();
            }}
            className="flex cursor-pointer justify-between gap-4 rounded-corner px-2 py-1 data-[selected=true]:bg-groove"
          >
            <span className="min-w-0 truncate">{entry.label}</span>
            <span className="min-w-0 shrink-0 truncate text-soft">
              {entry.warning && <b className="font-semibold text-madder">{entry.warning} · </b>}
              {entry.hint}
            </span>
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  );
}
