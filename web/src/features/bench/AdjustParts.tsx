import { useRef, useState } from "react";
import type { FormulationChoices } from "~/api/client";
import { Figure } from "~/shared/amounts/Figure";
import { AddFood } from "~/shared/foods/AddFood";
import { figure } from "~/shared/format";
import { Button } from "~/ui";
import { Between } from "~/ui/Between";
import { Eaten } from "./Eaten";
import type { BenchLine } from "./editor";
import { MadeOf } from "./MadeOf";
import { NO_RULE, type Role, type Rule, type Settings } from "./useAdjust";

/** The split of energy that is matched: by shares, or a food's. */
export function MacroTarget({
  settings,
  put,
  choices,
  caseId,
  onBegin,
}: {
  settings: Settings;
  put: (part: Partial<Settings>) => void;
  choices: FormulationChoices;
  caseId: number;
  /** Begin the recipe with these foods; null where there is one. */
  onBegin: ((foods: string[]) => void) | null;
}) {
  const search = useRef<HTMLInputElement>(null);
  const { matchFood } = settings;
  const present = choices.present_macros;
  const parts = [
    ["protein", "Protein"],
    ["fat", "Fat"],
    ["carbohydrate", "Carbohydrate"],
  ] as const;
  if (matchFood)
    return (
      <div className="flex flex-col gap-1">
        <p className="flex items-center justify-between gap-2">
          <span>
            The split of <b>{matchFood.name}</b>
          </span>
          <Button kind="quiet" small onClick={() => put({ matchFood: null })}>
            Another split
          </Button>
        </p>
        <Eaten key={matchFood.id} food={matchFood} />
        <MadeOf
          food={matchFood}
          choices={choices}
          onUse={(foods, alone) => {
            const others = choices.allowed.filter((a) => a.kind === "food");
            const out = alone ? Object.fromEntries(others.map((a) => [a.food, false])) : {};
            const also = Object.fromEntries(foods.map((f) => [f, true]));
            put({ ticked: { ...settings.ticked, ...out, ...also } });
            onBegin?.(foods);
          }}
        />
      </div>
    );
  return (
    <fieldset className="flex flex-col gap-1">
      <legend>Share of energy, %</legend>
      <div className="flex flex-wrap gap-2">
        {parts.map(([key, label]) => (
          <Figure
            key={key}
            label={label}
            value={settings.macros[key]}
            onChange={(value) => put({ macros: { ...settings.macros, [key]: value } })}
          />
        ))}
      </div>
      {present && (
        <Button
          kind="quiet"
          className="self-start"
          onClick={() =>
            put({
              macros: {
                protein: (present.protein * 100).toFixed(0),
                fat: (present.fat * 100).toFixed(0),
                carbohydrate: (
                  100 -
                  Number((present.protein * 100).toFixed(0)) -
                  Number((present.fat * 100).toFixed(0))
                ).toFixed(0),
              },
            })
          }
        >
          Take those of the present diet
        </Button>
      )}
      <AddFood
        inputRef={search}
        caseId={caseId}
        label="Match a food"
        placeholder="or match a food, for example a bought diet"
        below
        onAdd={({ id, name }) => put({ matchFood: { id, name } })}
      />
    </fieldset>
  );
}

const ROLES: { id: Role | "tied" | "mode"; label: string }[] = [
  { id: "mode", label: "as the mode says" },
  { id: "free", label: "free" },
  { id: "fixed", label: "fixed" },
  { id: "tied", label: "tied to" },
  { id: "excluded", label: "left out" },
];

/** What may happen to each line. */
export function LineRules({
  settings,
  put,
  lines,
  grams,
}: {
  settings: Settings;
  put: (part: Partial<Settings>) => void;
  lines: BenchLine[];
  /** What the lines weigh now. */
  grams: readonly number[];
}) {
  function set(key: string, part: Partial<Rule>) {
    const rule = { ...NO_RULE, ...settings.rules[key], ...part };
    put({ rules: { ...settings.rules, [key]: rule } });
  }
  return (
    <ul className="mt-1 flex flex-col gap-1.5">
      {lines.map((line, i) => {
        const rule = settings.rules[line.key] ?? NO_RULE;
        const others = lines.filter((other) => other.key !== line.key);
        return (
          <li key={line.key} className="border-line border-b pb-1.5">
            <div className="flex items-center justify-between gap-2">
              <span className="truncate">{line.name}</span>
              <select
                aria-label={`What may happen to ${line.name}`}
                value={rule.tieTo ? "tied" : rule.role || "mode"}
                onChange={(e) => {
                  const next = e.target.value;
                  if (next === "tied") set(line.key, { role: "free", tieTo: others[0]?.key ?? "" });
                  else if (next === "free") set(line.key, { role: "free", tieTo: "" });
                  // Bounds that are not seen do not hold.
                  else set(line.key, { ...NO_RULE, role: next === "mode" ? "" : (next as Role) });
                }}
                className="shrink-0 rounded-corner bg-sheet py-0.5 text-data"
              >
                {ROLES.filter((r) => r.id !== "tied" || others.length > 0).map((r) => (
                  <option key={r.id} value={r.id}>
                    {r.label}
                  </option>
                ))}
              </select>
            </div>
            {rule.role === "free" && (grams[i] ?? 0) > 0 && (
              <LineBetween
                name={line.name}
                grams={grams[i] ?? 0}
                rule={rule}
                onChange={(part) => set(line.key, part)}
              />
            )}
            {rule.role === "free" && (
              <div className="mt-1 flex flex-wrap items-center gap-2 text-data">
                <Figure
                  label="from g"
                  value={rule.low}
                  onChange={(low) => set(line.key, { low })}
                />
                <Figure
                  label="to g"
                  value={rule.high}
                  onChange={(high) => set(line.key, { high })}
                />
                {rule.tieTo && (
                  <>
                    <Figure
                      label="ratio"
                      value={rule.ratio}
                      onChange={(ratio) => set(line.key, { ratio })}
                    />
                    <select
                      aria-label={`The line ${line.name} follows`}
                      value={rule.tieTo}
                      onChange={(e) => set(line.key, { tieTo: e.target.value })}
                      className="max-w-40 rounded-corner bg-sheet"
                    >
                      {others.map((other) => (
                        <option key={other.key} value={other.key}>
                          x {other.name}
                        </option>
                      ))}
                    </select>
                  </>
                )}
              </div>
            )}
          </li>
        );
      })}
    </ul>
  );
}

/** A line may grow to this multiple of what it is on the scale of its bounds; more is typed. */
const WIDEST = 2.5;

/** The bounds of a line on a scale: at its ends nothing is set. */
function LineBetween({
  name,
  grams,
  rule,
  onChange,
}: {
  name: string;
  grams: number;
  rule: Rule;
  onChange: (part: Pick<Rule, "low" | "high">) => void;
}) {
  const low = figure(rule.low) ?? 0;
  const widest = Math.ceil(Math.max(grams * WIDEST, figure(rule.high) ?? 0, low));
  const high = figure(rule.high) ?? widest;
  return (
    <Between
      label={name}
      most={widest}
      step={grams < 20 ? 0.1 : 1}
      value={[low, Math.max(high, low)]}
      onChange={([from, to]) =>
        onChange({ low: from > 0 ? String(from) : "", high: to < widest ? String(to) : "" })
      }
    />
  );
}

/** What may be added. */
export function Allowed({
  choices,
  settings,
  put,
  caseId,
  usual,
}: {
  choices: FormulationChoices;
  settings: Settings;
  put: (part: Partial<Settings>) => void;
  caseId: number;
  usual: readonly string[];
}) {
  const search = useRef<HTMLInputElement>(null);
  const [names, setNames] = useState<Record<string, string>>({});
  const known = new Set(choices.allowed.map((a) => a.food));
  const own = Object.keys(settings.ticked).filter((f) => !known.has(f));
  const tick = (food: string, on: boolean) => put({ ticked: { ...settings.ticked, [food]: on } });
  const rows = [
    ...choices.allowed,
    ...own.map((food) => ({
      food,
      name: names[food] ?? food,
      kind: "food",
      why_not: "",
      caution: "",
    })),
  ];
  return (
    <div className="mt-1 flex flex-col gap-2">
      {(["food", "supplement"] as const).map((kind) => (
        <ul key={kind} aria-label={kind === "food" ? "Foods" : "Supplements"}>
          <li className="text-data text-soft">{kind === "food" ? "Foods" : "Supplements"}</li>
          {rows
            .filter((a) => a.kind === kind)
            .map((a) => (
              <li key={a.food}>
                <label className={`flex items-baseline gap-1.5 ${a.why_not ? "text-soft" : ""}`}>
                  <input
                    type="checkbox"
                    className="accent-verdigris"
                    disabled={!!a.why_not}
                    checked={!a.why_not && (settings.ticked[a.food] ?? usual.includes(a.food))}
                    onChange={(e) => tick(a.food, e.target.checked)}
                  />
                  <span>
                    {a.name}
                    {(a.why_not || a.caution) && (
                      <span className="text-data">: {a.why_not || `rather not: ${a.caution}`}</span>
                    )}
                  </span>
                </label>
              </li>
            ))}
        </ul>
      ))}
      <AddFood
        inputRef={search}
        caseId={caseId}
        label="Allow another food"
        placeholder="Allow another food"
        onAdd={(food) => {
          setNames((now) => ({ ...now, [food.id]: food.name }));
          tick(food.id, true);
        }}
      />
    </div>
  );
}

/** The order in which goals count. */
export function Goals({
  goals,
  choices,
  onChange,
}: {
  goals: readonly string[];
  choices: FormulationChoices;
  onChange: (goals: string[]) => void;
}) {
  function move(i: number, by: number) {
    const next = [...goals];
    const [goal] = next.splice(i, 1);
    if (goal) next.splice(i + by, 0, goal);
    onChange(next);
  }
  return (
    <ol className="mt-1">
      <li className="flex items-center gap-1 py-0.5 text-soft">
        <span className="w-5 text-right">0.</span> Never break an upper limit or an exclusion
      </li>
      {goals.map((id, i) => {
        const goal = choices.goals.find((g) => g.id === id);
        return (
          <li key={id} className="flex items-center gap-1" title={goal?.words}>
            <span className="w-5 text-right">{i + 1}.</span>
            <span className="flex-1">{goal?.name}</span>
            <Button
              kind="quiet"
              aria-label={`${goal?.name} earlier`}
              disabled={i === 0}
              onClick={() => move(i, -1)}
              small
            >
              ↑
            </Button>
            <Button
              kind="quiet"
              aria-label={`${goal?.name} later`}
              disabled={i === goals.length - 1}
              onClick={() => move(i, 1)}
              small
            >
              ↓
            </Button>
          </li>
        );
      })}
    </ol>
  );
}
