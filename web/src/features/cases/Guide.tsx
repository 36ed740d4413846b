import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { RefObject } from "react";
import { Link, useLocation } from "react-router";
import { api, type StepsOfCase, take } from "~/api/client";
import { spelled, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Button } from "~/ui";
import { STATE_WORDS, StepMark } from "./StepMark";

type Way = NonNullable<StepsOfCase["guide"]>;
type Stop = Way["stops"][number];

/** Be led, or no longer. */
export function useGuiding(caseId: number) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (guided: boolean) =>
      take(
        api.POST("/api/cases/{id}/guide", { params: { path: { id: caseId } }, body: { guided } }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: keyOf("steps", caseId) }),
    onError: (error) => notice(error.message),
  });
}

/** Where one is on the way through a first case: what this step is for, what is to do, and the way on. */
export function Guide({
  strip,
  way,
  toStop,
  onLeave,
}: {
  strip: RefObject<HTMLElement | null>;
  way: Way;
  toStop: (stop: Stop) => string;
  onLeave: () => void;
}) {
  // "/cases/7/recipes/3" is at the recipe.
  const place = useLocation().pathname.split("/")[3];
  const here = way.stops.findIndex(({ kind }) => place === (kind === "recipe" ? "recipes" : kind));
  // Whoever looks ahead, or back, is told of the step they look at; the way on stays in sight.
  const shown = way.stops[here === -1 ? (way.at ?? way.stops.length - 1) : here];
  const next = way.at === null ? undefined : way.stops[way.at];
  if (!shown) return null;
  return (
    <section
      ref={strip}
      tabIndex={-1}
      aria-label="Guide"
      className="flex flex-wrap items-start gap-x-5 gap-y-1 border-line border-b bg-sheet px-4 py-2"
    >
      <ol className="flex items-center gap-1 pt-0.5" aria-label="The way">
        {way.stops.map((stop) => (
          <li
            key={stop.kind}
            className={stop === shown ? "rounded-sm outline-2 outline-verdigris outline" : ""}
            aria-current={stop === shown ? "step" : undefined}
          >
            <Link
              to={toStop(stop)}
              title={spelled(stop.title)}
              aria-label={`${spelled(stop.title)}, ${STATE_WORDS[stop.state]}`}
              className="grid size-6 place-items-center"
            >
              <StepMark state={stop.state} />
            </Link>
          </li>
        ))}
      </ol>
      <div className="min-w-60 max-w-[80ch] flex-1">
        <p>
          <b>{spelled(shown.title)}.</b> {told(shown.what)}.
        </p>
        {shown.todo && <p className="text-soft">Still to do here: {told(shown.todo)}.</p>}
        {!next && (
          <p>
            That was the way. What is left waits for somebody else, and stands on the desk on its
            day.
          </p>
        )}
      </div>
      <div className="ml-auto flex items-center gap-2">
        {next && next !== shown && (
          <Link
            to={toStop(next)}
            className="inline-flex h-8 items-center rounded-corner bg-ink px-3 font-medium text-paper"
          >
            Go on: {spelled(next.title)}
          </Link>
        )}
        <Button kind="quiet" onClick={onLeave}>
          Leave the guide
        </Button>
      </div>
    </section>
  );
}
