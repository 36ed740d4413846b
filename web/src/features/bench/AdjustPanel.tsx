import { useQuery } from "@tanstack/react-query";
import { type Ref, useLayoutEffect, useRef } from "react";
import { Link } from "react-router";
import type { FormulationChoices } from "~/api/client";
import { Figure } from "~/shared/amounts/Figure";
import { formulationQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import type { BoardFacts } from "~/shared/wall/boards";
import { Button } from "~/ui";
import { Select } from "~/ui/Select";
import { Allowed, Goals, LineRules, MacroTarget } from "./AdjustParts";
import { Bounds, LiveResult } from "./Bounds";
import type { Content } from "./editor";
import { type Adjust, allowedFoods, hasBadFigures, type Settings } from "./useAdjust";
import type { Live } from "./useLive";

/** Adjust the recipe: what may move, what may be added, in which order goals count. */
export function AdjustPanel({
  caseId,
  adjust,
  content,
  typed,
  hasErrors,
  boards,
  grams,
  selected,
  live,
  onShow,
  onBegin,
}: {
  caseId: number;
  adjust: Adjust;
  content: Content;
  typed: string;
  hasErrors: boolean;
  /** The wall, and the board that is looked at: its lines can be moved. */
  boards: readonly BoardFacts[];
  /** What the lines weigh. */
  grams: readonly number[];
  selected: string | null;
  live: Live;
  /** Look at the answers again. */
  onShow: () => void;
  /** Begin the recipe with these foods. */
  onBegin: (foods: string[]) => void;
}) {
  const choices = useQuery(formulationQuery(caseId));
  const { settings, setSettings, run } = adjust;
  const put = (part: Partial<Settings>) => setSettings((now) => ({ ...now, ...part }));
  const mode = choices.data?.modes.find((m) => m.id === settings.mode);
  const allowed = choices.data ? allowedFoods(choices.data, settings) : [];
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
    // It stands at the foot whatever is scrolled to.
    go.current?.focus({ preventScroll: true });
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
      {(live.answer || live.error) && <LiveResult live={live} lines={content.lines} />}
      {settings.mode === "match" && (
        <MacroTarget
          settings={settings}
          put={put}
          choices={choices.data}
          caseId={caseId}
          onBegin={content.lines.length === 0 ? onBegin : null}
        />
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
        <Figure
          label="Also an answer that holds in"
          value={settings.sure}
          placeholder="–"
          after="of 100 batches"
          onChange={(sure) => put({ sure })}
        />
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-verdigris"
          checked={settings.steps}
          onChange={(e) => put({ steps: e.target.checked })}
        />
        Also the steps between few changes and few supplements
      </label>
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
      <details open={Object.keys(settings.bounds).length > 0 || undefined}>
        <summary className="cursor-pointer">
          Your bounds <span className="text-soft">({Object.keys(settings.bounds).length})</span>
        </summary>
        <Bounds settings={settings} put={put} boards={boards} selected={selected} />
      </details>
      <details>
        <summary className="cursor-pointer">
          What may happen to each line{" "}
          <span className="text-soft">({ruleCount(settings, content)} set)</span>
        </summary>
        <LineRules settings={settings} put={put} lines={content.lines} grams={grams} />
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
      <WithoutStrength choices={choices.data} />
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
      {run.state === "failed" && run.error && run.error.message !== live.error?.message && (
        <Problem error={run.error} />
      )}
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

/** What would be offered if somebody had read its pack. */
function WithoutStrength({ choices }: { choices: FormulationChoices }) {
  const waiting = choices.allowed.filter((a) => a.needs_strength);
  if (waiting.length === 0) return null;
  return (
    <p className="text-data text-soft">
      Not offered until its strength is entered:{" "}
      {waiting.map((a, i) => (
        <span key={a.food}>
          {i > 0 && ", "}
          <Link to={`/library?food=${encodeURIComponent(a.food)}`} className="underline">
            {a.name}
          </Link>
        </span>
      ))}
      .
    </p>
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
    <div className="sticky -bottom-2 z-10 flex flex-col bg-paper py-2">
      <Button
        ref={innerRef}
        data-go=""
        kind="solid"
        disabled={running || disabled}
        onClick={onGo}
        className="justify-center"
      >
        {running ? "Working…" : "Find the amounts"}
      </Button>
    </div>
  );
}

function ruleCount(settings: Settings, content: Content): number {
  return content.lines.filter((line) => {
    const rule = settings.rules[line.key];
    return rule && (rule.role || rule.low || rule.high || rule.tieTo);
  }).length;
}
