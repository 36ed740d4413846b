import { useQuery } from "@tanstack/react-query";
import { type Ref, useId, useLayoutEffect, useRef, useState } from "react";
import type { FormulationChoices } from "~/api/client";
import { AmountBox, figureProblem } from "~/shared/amounts/boxes";
import { AddFood } from "~/shared/foods/AddFood";
import { formulationQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";
import type { BenchLine, Content } from "./editor";
import {
  type Adjust,
  hasBadFigures,
  NO_RULE,
  type Role,
  type Rule,
  type Settings,
} from "./useAdjust";

/** Adjust the recipe: what may move, what may be added, in which order goals count. */
export function AdjustPanel({
  caseId,
  adjust,
  content,
  typed,
  hasErrors,
  onShow,
}: {
  caseId: number;
  adjust: Adjust;
  content: Content;
  typed: string;
  hasErrors: boolean;
  /** Look at the answers again. */
  onShow: () => void;
}) {
  const choices = useQuery(formulationQuery(caseId));
  const { settings, setSettings, run } = adjust;
  const put = (part: Partial<Settings>) => setSettings((now) => ({ ...now, ...part }));
  const mode = choices.data?.modes.find((m) => m.id === settings.mode);
  const allowed = choices.data ? allowedFoods(choices.data, settings, mode?.allowed ?? []) : [];
  const running = run.state === "running";
  const badFigures = hasBadFigures(settings);
  const disabled = hasErrors || badFigures;
  const start = () => {
    void adjust.start(typed, content, allowed);
  };
  // The key is ready before the choices are: pressed early, it goes as soon as they have come.
  const go = useRef<HTMLButtonElement>(null);
  const early = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the choices come
  useLayoutEffect(() => {
    go.current?.focus();
    if (!choices.isSuccess || !early.current) return;
    early.current = false;
    if (!disabled && !running) start();
  }, [choices.isSuccess]);
  if (choices.isPending)
    return (
      <div className="flex flex-col gap-3">
        <Loading what="the choices" />
        <GoButton
          innerRef={go}
          running={running}
          disabled={disabled}
          onGo={() => {
            early.current = true;
          }}
        />
      </div>
    );
  if (!choices.data)
    return <Problem what="the choices" error={choices.error} retry={() => choices.refetch()} />;
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-col gap-1">
        <Select
          label="How to adjust"
          value={settings.mode}
          onChange={(id) => put({ mode: id, goals: null })}
          options={choices.data.modes.map((m) => ({ id: m.id, label: m.name }))}
        />
        <p className="text-data text-soft">{mode?.words}</p>
      </div>
      {settings.mode === "match" && (
        <MacroTarget settings={settings} put={put} choices={choices.data} caseId={caseId} />
      )}
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Figure
          label="Supplements at most"
          value={settings.maxSupplements ?? String(choices.data.max_supplements)}
          onChange={(maxSupplements) => put({ maxSupplements })}
        />
        <Figure
          label="Margin over minimums, %"
          value={settings.margin}
          placeholder="auto"
          onChange={(margin) => put({ margin })}
        />
      </div>
      {settings.margin === "" && (
        <p className="text-data text-soft">
          Without a margin each limit is aimed at with room for what its foods vary by.
        </p>
      )}
      <Select
        label="School"
        value={settings.school}
        onChange={(school) =>
          put({ school, goals: school === "none" ? null : (mode?.goals_with_school ?? null) })
        }
        options={choices.data.schools.map((s) => ({ id: s.id, label: s.name }))}
      />
      <details>
        <summary className="cursor-pointer">
          What may happen to each line{" "}
          <span className="text-soft">({ruleCount(settings, content)} set)</span>
        </summary>
        <LineRules settings={settings} put={put} lines={content.lines} />
      </details>
      <details>
        <summary className="cursor-pointer">
          What may be added <span className="text-soft">({allowed.length})</span>
        </summary>
        <Allowed
          choices={choices.data}
          settings={settings}
          put={put}
          caseId={caseId}
          usual={mode?.allowed ?? []}
        />
      </details>
      <details>
        <summary className="cursor-pointer">Order of goals</summary>
        <Goals
          goals={settings.goals ?? mode?.goals ?? []}
          choices={choices.data}
          onChange={(goals) => put({ goals })}
        />
      </details>
      <GoButton innerRef={go} running={running} disabled={disabled} onGo={start} />
      {content.lines.length === 0 && (
        <p className="text-data text-soft">
          The recipe is empty: it is begun from what may be added, in the proportions of the way of
          feeding.
        </p>
      )}
      {hasErrors && <p className="text-data text-madder">Mend the amounts that cannot be read.</p>}
      {badFigures && (
        <p role="alert" className="text-data text-madder">
          Mend the figures above that are no numbers.
        </p>
      )}
      {running && (
        <div role="status" className="flex items-center gap-2">
          <progress
            aria-label="Progress of the formulation"
            className="h-2 flex-1 accent-oak"
            max={Math.max(run.of, 1)}
            value={run.done}
          />
          <span className="text-data text-soft">{run.label || "starting"}</span>
          <Button kind="quiet" onClick={() => adjust.cancel()}>
            Stop
          </Button>
        </div>
      )}
      {run.state === "failed" && run.error && <Problem error={run.error} />}
      {run.state === "done" && run.proposal && (
        <div className="flex flex-col items-start gap-2 border-line border-t pt-2">
          {run.typed === typed ? (
            <Button onClick={onShow}>Back to the answers</Button>
          ) : (
            <p role="alert" className="text-data text-madder">
              The recipe was changed since. Find the amounts again.
            </p>
          )}
          <Button kind="quiet" onClick={adjust.clear}>
            Put the answers away
          </Button>
        </div>
      )}
    </div>
  );
}

function GoButton({
  innerRef,
  running,
  disabled,
  onGo,
}: {
  innerRef: Ref<HTMLButtonElement>;
  running: boolean;
  disabled: boolean;
  onGo: () => void;
}) {
  return (
    <Button
      ref={innerRef}
      kind="solid"
      disabled={running || disabled}
      onClick={onGo}
      className="justify-center"
    >
      {running ? "Working…" : "Find the amounts"}
    </Button>
  );
}

function ruleCount(settings: Settings, content: Content): number {
  return content.lines.filter((line) => {
    const rule = settings.rules[line.key];
    return rule && (rule.role || rule.low || rule.high || rule.tieTo);
  }).length;
}

function allowedFoods(
  choices: FormulationChoices,
  settings: Settings,
  usual: readonly string[],
): string[] {
  const known = new Set(choices.allowed.map((a) => a.food));
  const listed = choices.allowed
    .filter((a) => !a.why_not)
    .filter((a) => settings.ticked[a.food] ?? usual.includes(a.food))
    .map((a) => a.food);
  const own = Object.keys(settings.ticked).filter((f) => settings.ticked[f] && !known.has(f));
  return [...listed, ...own];
}

function Figure({
  label,
  value,
  placeholder,
  onChange,
}: {
  label: string;
  value: string;
  placeholder?: string;
  onChange: (value: string) => void;
}) {
  const id = useId();
  return (
    <label htmlFor={id} className="flex items-center gap-1.5">
      <span>{label}</span>
      <AmountBox
        id={id}
        value={value}
        placeholder={placeholder}
        wrong={figureProblem(value, 0, true)}
        onChange={(e) => onChange(e.target.value)}
        className="w-12"
      />
    </label>
  );
}

function MacroTarget({
  settings,
  put,
  choices,
  caseId,
}: {
  settings: Settings;
  put: (part: Partial<Settings>) => void;
  choices: FormulationChoices;
  caseId: number;
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
      <p className="flex items-center justify-between gap-2">
        <span>
          The split of <b>{matchFood.name}</b>
        </span>
        <Button kind="quiet" small onClick={() => put({ matchFood: null })}>
          Another split
        </Button>
      </p>
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

function LineRules({
  settings,
  put,
  lines,
}: {
  settings: Settings;
  put: (part: Partial<Settings>) => void;
  lines: BenchLine[];
}) {
  function set(key: string, part: Partial<Rule>) {
    const rule = { ...NO_RULE, ...settings.rules[key], ...part };
    put({ rules: { ...settings.rules, [key]: rule } });
  }
  return (
    <ul className="mt-1 flex flex-col gap-1.5">
      {lines.map((line) => {
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
                  else set(line.key, { role: next === "mode" ? "" : (next as Role), tieTo: "" });
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

function Allowed({
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

function Goals({
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
