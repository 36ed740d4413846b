import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useNavigate } from "react-router";
import { api, type Desk, take } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { forget } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Button } from "~/ui";

/** How things are written, in one line that shows it. */
function written(): string {
  const { body, food, measures, temperature, currency } = conventions();
  const cups = { us: "US cups", metric: "metric cups", australian: "Australian cups" }[measures];
  return `Dogs in ${body}, food in ${food === "g" ? "grams" : "ounces"}, ${cups}, °${temperature}, ${currency}`;
}

/** Before the first dog: what a practice sets up, on a rail with a peg for each; nothing of it has to be done first. */
export function Beginning({
  of,
  onNew,
}: {
  of: NonNullable<Desk["beginning"]>;
  onNew: () => void;
}) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const sample = useMutation({
    mutationFn: () => take(api.POST("/api/cases/sample")),
    onSuccess: async (made) => {
      await forget(client, "cases");
      navigate(`/cases/${made.id}`);
    },
    onError: (error) => notice(error.message),
  });
  const steps: { title: string; now: string; done: boolean; way: ReactNode }[] = [
    {
      title: "How things are written",
      now: written(),
      done: true,
      way: <Way to="/practice">Change units</Way>,
    },
    {
      title: "Your letterhead",
      now:
        of.letterhead.length > 0
          ? of.letterhead.join(" · ")
          : "Papers have the name of the practice alone.",
      done: of.letterhead.length > 0,
      way: <Way to="/practice#letterhead">Write it</Way>,
    },
    {
      title: "Your shelf",
      now:
        of.on_shelf > 0
          ? `${of.on_shelf} ${of.on_shelf === 1 ? "supplement stands" : "supplements stand"} there.`
          : of.shelf_asked
            ? "Nothing stands there: recipes are closed with plain single supplements."
            : "What you sell or trust, from its labels: recipes are closed with these first.",
      done: of.shelf_asked || of.on_shelf > 0,
      way: <Way to="/shelf">Say what stands there</Way>,
    },
    {
      title: "A dog to try",
      now: "Pebble is made up: nine years, heart failure, and a bowl that is wrong on purpose. Take her through, then delete her.",
      done: false,
      way: (
        <Button busy={sample.isPending} onClick={() => sample.mutate()}>
          {sample.isPending ? "She is coming…" : "Try Pebble"}
        </Button>
      ),
    },
  ];
  return (
    <section aria-label="Before the first dog">
      <h2 className="mb-1">Before the first dog</h2>
      <p className="mb-3 max-w-prose text-soft">
        In any order, and none of it first: whatever is left out can be said later. What is due
        stands on this page on its day.
      </p>
      <ol>
        {steps.map(({ title, now, done, way }, i) => (
          <li key={title} className="relative grid grid-cols-[2rem_minmax(0,1fr)] gap-x-2 pb-5">
            {/* The rail from peg to peg. */}
            {i < steps.length - 1 && (
              <span
                aria-hidden="true"
                className="absolute top-5 bottom-[-2px] left-[9px] w-0.5 bg-ink"
              />
            )}
            <svg viewBox="0 0 20 20" className="mt-0.5 size-5" aria-hidden="true">
              <circle
                cx="10"
                cy="10"
                r="7.5"
                className={`stroke-2 stroke-ink ${done ? "fill-ink" : "fill-paper"}`}
              />
            </svg>
            <div className="flex flex-wrap items-start gap-x-6 gap-y-1">
              <div className="min-w-56 max-w-prose flex-1">
                <h3 className="font-semibold">
                  {title}
                  <span className="sr-only">{done ? ", done" : ", open"}</span>
                </h3>
                <p className="text-soft">{now}</p>
              </div>
              {way}
            </div>
          </li>
        ))}
        <li className="grid grid-cols-[2rem_minmax(0,1fr)] gap-x-2">
          <span />
          <div>
            <Button kind="solid" onClick={onNew}>
              Begin with a dog of yours
            </Button>
          </div>
        </li>
      </ol>
    </section>
  );
}

function Way({ to, children }: { to: string; children: ReactNode }) {
  return (
    <Link
      to={to}
      className="inline-flex h-8 items-center rounded-corner border border-edge bg-sheet px-3 font-medium hover:border-soft"
    >
      {children}
    </Link>
  );
}
