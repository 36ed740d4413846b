import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { Cook } from "~/api/client";
import { Loading, Problem } from "~/shared/states";
import { applyTheme, chooseTheme, storedTheme } from "~/shared/theme";
import { useTitle } from "~/shared/useTitle";
import { Written } from "~/shared/Written";
import { CookSummary } from "./CookSummary";
import { keepPage } from "./offline";
import { markOf } from "./progress";
import { StepList } from "./StepList";
import { StepScreen } from "./StepScreen";
import { type CookAt, type Cooking, placeOf, useCooking } from "./useCooking";
import { useWakeLock } from "./useWakeLock";

/** Cook a batch, one step a screen: for wet hands on a phone, and for a laptop beside the stove. */
export default function CookPage() {
  const { token, batchId } = useParams();
  const at: CookAt = batchId ? { id: Number(batchId) } : { token: token ?? "" };
  const cooking = useCooking(at);
  const opened = cooking.cook !== undefined;
  useEffect(() => {
    if (opened) void keepPage();
  }, [opened]);
  if (!cooking.cook && !cooking.error) return <Loading what="the batch" />;
  if (!cooking.cook && cooking.error)
    return <Problem what="the batch" error={cooking.error} retry={cooking.retry} />;
  if (!cooking.cook) return null;
  return (
    <Written by={cooking.cook.conventions}>
      <Cookery at={at} cook={cooking.cook} cooking={cooking} />
    </Written>
  );
}

/** The first step that is not done; the end where all are. */
function firstOpen(cook: Cook, cooking: Cooking): number {
  const i = cook.steps.findIndex((s) => markOf(cook, s, cooking.unsent) === "open");
  return i < 0 ? cook.steps.length : i;
}

function Cookery({ at, cook, cooking }: { at: CookAt; cook: Cook; cooking: Cooking }) {
  useTitle(`Cook ${cook.code}`, cook.dogs.join(", "));
  const kept = `wainscot-cook-at/${placeOf(at)}`;
  const [now, setNow] = useState(() => {
    const stored = Number(sessionStorage.getItem(kept) ?? Number.NaN);
    return Number.isInteger(stored) ? stored : firstOpen(cook, cooking);
  });
  const last = cook.steps.length;
  const go = (to: number) => {
    const next = Math.max(0, Math.min(last, to));
    sessionStorage.setItem(kept, String(next));
    setNow(next);
  };
  const step = cook.steps[now];
  // biome-ignore lint/correctness/useExhaustiveDependencies: the keys move from where it stands
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      const box = event.target instanceof HTMLInputElement && event.target.value !== "";
      if (box || event.altKey || event.ctrlKey || event.metaKey) return;
      if (event.key === "ArrowRight") go(now + 1);
      if (event.key === "ArrowLeft") go(now - 1);
    }
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [now, last]);
  return (
    <div className="flex h-dvh flex-col overflow-hidden">
      <Bar at={at} cook={cook} cooking={cooking} />
      {cooking.refused && (
        <p role="alert" className="flex flex-wrap items-center gap-3 bg-madder-pale px-4 py-2">
          <span>
            <b className="font-semibold">Not kept:</b> {cooking.refused.why}.
          </span>
          <button type="button" className="h-12 px-3 underline" onClick={cooking.forgive}>
            I see
          </button>
        </p>
      )}
      <div className="grid min-h-0 flex-1 mid:grid-cols-[17rem_minmax(0,1fr)]">
        <StepList cook={cook} cooking={cooking} now={now} go={go} />
        {step ? (
          <StepScreen
            key={step.id}
            at={at}
            cook={cook}
            cooking={cooking}
            step={step}
            number={now}
            go={go}
          />
        ) : (
          <CookSummary at={at} cook={cook} cooking={cooking} back={() => go(last - 1)} />
        )}
      </div>
      <Foot cook={cook} cooking={cooking} now={now} go={go} />
    </div>
  );
}

function Bar({ at, cook, cooking }: { at: CookAt; cook: Cook; cooking: Cooking }) {
  const [theme, setTheme] = useState(storedTheme);
  const awake = useWakeLock();
  useEffect(() => applyTheme(theme), [theme]);
  const other = theme === "light" ? "dark" : "light";
  const waiting = cooking.unsent.length;
  return (
    <header className="flex h-12 shrink-0 items-center gap-3 border-ink border-b-2 px-3.5 mid:px-5">
      <h1 className="truncate">
        {cook.dogs.join(", ")}, {cook.code}
      </h1>
      <span className="hidden truncate text-soft mid:inline">
        {cook.recipe_name}. {cook.edition}
      </span>
      <span className="ml-auto flex items-center gap-3">
        <span role="status" className={cooking.away ? "text-madder" : "text-soft"}>
          {cooking.away
            ? `no network, ${waiting} kept here`
            : waiting > 0
              ? `sending ${waiting}`
              : "kept"}
        </span>
        {awake && <span className="hidden text-soft mid:inline">screen stays on</span>}
        <button
          type="button"
          aria-label={`To the ${other} theme`}
          className="h-12 min-w-12 rounded-corner hover:bg-groove"
          onClick={() => {
            chooseTheme(other);
            setTheme(other);
          }}
        >
          {other}
        </button>
        {"id" in at && cook.case !== null && (
          <Link
            to={`/cases/${cook.case}/kitchen`}
            className="hidden h-12 items-center underline mid:flex"
          >
            Leave
          </Link>
        )}
      </span>
    </header>
  );
}

/** On a phone the list is a row of pegs at the foot. */
function Foot({
  cook,
  cooking,
  now,
  go,
}: {
  cook: Cook;
  cooking: Cooking;
  now: number;
  go: (to: number) => void;
}) {
  return (
    <nav
      aria-label="Steps"
      className="flex h-13 shrink-0 items-center gap-1 border-line border-t px-1 mid:hidden"
    >
      <button
        type="button"
        aria-label="The step before"
        disabled={now === 0}
        className="h-12 w-12 rounded-corner text-name disabled:opacity-40"
        onClick={() => go(now - 1)}
      >
        ‹
      </button>
      <span aria-hidden="true" className="flex min-w-0 flex-1 items-center gap-px">
        {cook.steps.map((s, i) => (
          <span
            key={s.id}
            className={`h-3 min-w-0 flex-1 border ${i === now ? "border-2 border-ink" : "border-edge"} ${markOf(cook, s, cooking.unsent) === "open" ? "" : "bg-oak-deep"}`}
          />
        ))}
      </span>
      <span className="whitespace-nowrap px-1 text-soft">
        {Math.min(now + 1, cook.steps.length)} of {cook.steps.length}
      </span>
      <button
        type="button"
        aria-label="The next step"
        disabled={now >= cook.steps.length}
        className="h-12 w-12 rounded-corner text-name disabled:opacity-40"
        onClick={() => go(now + 1)}
      >
        ›
      </button>
    </nav>
  );
}
