import { useCallback, useEffect, useRef, useState } from "react";
import {
  ApiError,
  api,
  type Change,
  type FormulateSettings,
  type FormulationChoices,
  type Job,
  type Proposal,
  take,
} from "~/api/client";
import { figureProblem } from "~/shared/amounts/boxes";
import { figure } from "~/shared/format";
import { type BenchLine, type Content, lineOf } from "./editor";

export type Role = "" | "free" | "fixed" | "excluded";

/** What may happen to a line, kept by the line's key so that it survives reordering. */
export interface Rule {
  role: Role;
  low: string;
  high: string;
  tieTo: string;
  ratio: string;
}

export const NO_RULE: Rule = { role: "", low: "", high: "", tieTo: "", ratio: "1" };

export interface Settings {
  mode: string;
  goals: string[] | null;
  /** Null for the usual number. */
  maxSupplements: string | null;
  margin: string;
  /** In so many of 100 batches one more answer is to hold, "" for no such answer. */
  sure: string;
  /** With the answers between the nearest and the fewest supplements. */
  steps: boolean;
  school: string;
  /** Foods ticked or unticked against the usual choice. */
  ticked: Record<string, boolean>;
  macros: { protein: string; fat: string; carbohydrate: string };
  /** A food whose split is matched instead of these. */
  matchFood: { id: string; name: string } | null;
  rules: Record<string, Rule>;
  /** Bounds on nutrients and ratios by key, as typed. */
  bounds: Record<string, { least: string; most: string }>;
}

export const NO_BOUND = { least: "", most: "" };

export const START: Settings = {
  mode: "rebalance",
  goals: null,
  maxSupplements: null,
  margin: "",
  sure: "",
  steps: false,
  school: "none",
  ticked: {},
  macros: { protein: "", fat: "", carbohydrate: "" },
  matchFood: null,
  rules: {},
  bounds: {},
};

export interface Run {
  state: "idle" | "running" | "done" | "failed";
  done: number;
  of: number;
  label: string;
  error: Error | null;
  proposal: Proposal | null;
  /** The bench as it was when the run started. */
  typed: string;
  lines: BenchLine[];
}

const IDLE: Run = {
  state: "idle",
  done: 0,
  of: 0,
  label: "",
  error: null,
  proposal: null,
  typed: "",
  lines: [],
};

const POLL_MS = 250;
// A restart of the server takes a few seconds.
const AWAY_MS = 1000;
const MOST_TRIES = 30;

/** Whether a box of the settings holds something that is no number. */
export function hasBadFigures({
  maxSupplements,
  margin,
  sure,
  macros,
  rules,
  bounds,
}: Settings): boolean {
  const boxes = [maxSupplements ?? "", margin, sure, ...Object.values(macros)];
  const ruled = Object.values(rules).flatMap(({ low, high, ratio }) => [low, high, ratio]);
  const bounded = Object.values(bounds).flatMap(({ least, most }) => [least, most]);
  return [...boxes, ...ruled, ...bounded].some((text) => figureProblem(text, 0, true) !== "");
}

/** Whether something is bounded that the answer can be seen of while it is moved. */
export function hasBounds({ rules, bounds }: Settings): boolean {
  const set = Object.values(bounds).some(({ least, most }) => least !== "" || most !== "");
  return set || Object.values(rules).some((rule) => rule.low !== "" || rule.high !== "");
}

/** The settings as the server takes them. */
export function asked(
  settings: Settings,
  lines: BenchLine[],
  allowed: string[],
): FormulateSettings {
  const position = (key: string) => lines.findIndex((line) => line.key === key);
  const rules = lines.flatMap((line, i) => {
    const rule = settings.rules[line.key];
    if (!rule) return [];
    const tie = rule.tieTo ? position(rule.tieTo) : -1;
    return [
      {
        line: i,
        role: rule.role,
        low_grams: figure(rule.low),
        high_grams: figure(rule.high),
        ...(tie >= 0 ? { tie_to: tie, tie_ratio: figure(rule.ratio) ?? 1 } : {}),
      },
    ];
  });
  const shares = [settings.macros.protein, settings.macros.fat, settings.macros.carbohydrate].map(
    figure,
  );
  const [protein, fat, carbohydrate] = shares;
  const bounds = Object.entries(settings.bounds).map(([key, { least, most }]) => [
    key,
    { least: figure(least), most: figure(most) },
  ]);
  return {
    bounds: Object.fromEntries(bounds),
    mode: settings.mode,
    max_supplements: figure(settings.maxSupplements ?? ""),
    margin_percent: figure(settings.margin),
    sure_percent: figure(settings.sure),
    steps: settings.steps,
    school: settings.school,
    allowed,
    lines: rules,
    ...(settings.goals ? { goals: settings.goals } : {}),
    ...(settings.mode === "match" && settings.matchFood
      ? { match_food: settings.matchFood.id }
      : {}),
    ...(protein != null && fat != null && carbohydrate != null
      ? { macros: { protein: protein / 100, fat: fat / 100, carbohydrate: carbohydrate / 100 } }
      : {}),
  };
}

/** What may be added: the usual of the mode, with what was ticked and unticked. */
export function allowedFoods(choices: FormulationChoices, settings: Settings): string[] {
  const usual = choices.modes.find((m) => m.id === settings.mode)?.allowed ?? [];
  const known = new Set(choices.allowed.map((a) => a.food));
  const listed = choices.allowed
    .filter((a) => !a.why_not)
    .filter((a) => settings.ticked[a.food] ?? usual.includes(a.food))
    .map((a) => a.food);
  const own = Object.keys(settings.ticked).filter((f) => settings.ticked[f] && !known.has(f));
  return [...listed, ...own];
}

/** Whether a job was asked of these very lines. */
export function askedOf(job: Job, lines: BenchLine[]): boolean {
  return (
    job.lines.length === lines.length &&
    job.lines.every((asked, i) => {
      const line = lines[i];
      return (
        asked.food === line?.food &&
        asked.quantity === line.text &&
        (asked.preparation ?? "") === line.preparation
      );
    })
  );
}

/** How a job stands; a server that cannot be reached for a moment is asked again. */
async function askFor(job: string): Promise<Job> {
  for (let tries = 1; ; tries += 1) {
    try {
      return await take(api.GET("/api/formulations/{job}", { params: { path: { job } } }));
    } catch (error) {
      const away = error instanceof ApiError && error.status === 0;
      if (!away || tries >= MOST_TRIES) throw error;
      await pause(AWAY_MS);
    }
  }
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Settings of a formulation, its run with progress and cancel, and what it proposes. */
export function useAdjust(recipeId: number) {
  const [settings, setSettings] = useState(START);
  const [run, setRun] = useState<Run>(IDLE);
  // Whether the answers are looked at, or what was asked.
  const [shown, setShown] = useState(true);
  const job = useRef<string | null>(null);
  const serial = useRef(0);

  const cancel = useCallback(async () => {
    if (!job.current) return;
    await take(
      api.DELETE("/api/formulations/{job}", { params: { path: { job: job.current } } }),
    ).catch(() => undefined);
  }, []);

  // Watch a job until its end; a later one takes over.
  const follow = useCallback(
    async (begin: () => Promise<Job | null>, typed: string, lines: BenchLine[]) => {
      serial.current += 1;
      const mine = serial.current;
      try {
        let found = await begin();
        if (mine !== serial.current) return;
        if (!found) return;
        job.current = found.job;
        while (found.state === "waiting" || found.state === "running") {
          const { done, of, label } = found;
          setRun({ ...IDLE, state: "running", done, of, label, typed, lines });
          await pause(POLL_MS);
          found = await askFor(found.job);
          if (mine !== serial.current) return;
        }
        if (found.result) setRun({ ...IDLE, state: "done", proposal: found.result, typed, lines });
        else setRun(IDLE);
      } catch (error) {
        if (mine !== serial.current) return;
        const problem = error instanceof Error ? error : new Error(String(error));
        setRun({ ...IDLE, state: "failed", error: problem, typed, lines });
      }
    },
    [],
  );

  const start = useCallback(
    (typed: string, content: Content, allowed: string[]) => {
      const { lines } = content;
      setShown(true);
      setRun({ ...IDLE, state: "running", typed, lines });
      const body = { ...JSON.parse(typed), settings: asked(settings, lines, allowed) };
      const begin = () =>
        take(api.POST("/api/recipes/{id}/formulate", { params: { path: { id: recipeId } }, body }));
      return follow(begin, typed, lines);
    },
    [recipeId, settings, follow],
  );

  // A page that was reloaded goes on with the run it left, if the bench still is what it was.
  const resume = useCallback(
    (typed: string, { lines }: Content, onFound: () => void) =>
      follow(
        async () => {
          const { last } = await take(
            api.GET("/api/recipes/{id}/formulate", { params: { path: { id: recipeId } } }),
          ).catch(() => ({ last: null }));
          if (!last || !askedOf(last, lines)) return null;
          onFound();
          return last;
        },
        typed,
        lines,
      ),
    [recipeId, follow],
  );

  // Leaving the bench stops what runs.
  useEffect(
    () => () => {
      serial.current += 1;
      void cancel();
    },
    [cancel],
  );

  // What was taken or left is not offered again.
  const clear = useCallback(() => {
    setRun(IDLE);
    void cancel();
    job.current = null;
  }, [cancel]);
  return { settings, setSettings, run, shown, setShown, start, resume, cancel, clear };
}

export type Adjust = ReturnType<typeof useAdjust>;

export function changeKey(change: Change): string {
  return change.line === null ? `+${change.food}` : `${change.line}`;
}

/** The lines of the bench with the chosen changes made. */
export function withChanges(
  lines: BenchLine[],
  changes: Change[],
  chosen: ReadonlySet<string>,
): BenchLine[] {
  const wanted = changes.filter((c) => c.kind !== "kept" && chosen.has(changeKey(c)));
  const byLine = new Map(wanted.filter((c) => c.line !== null).map((c) => [c.line, c]));
  const kept = lines.flatMap((line, i) => {
    const change = byLine.get(i);
    if (!change) return [line];
    if (change.kind === "removed") return [];
    return [{ ...line, text: change.after }];
  });
  const added = wanted
    .filter((c) => c.kind === "added")
    .map(({ food, name, methods, after }) => lineOf({ food, name, methods, text: after }));
  return [...kept, ...added];
}
