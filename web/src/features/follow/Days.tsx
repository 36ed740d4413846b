import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type FollowEntry, take } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { bodyFigure, day, number } from "~/shared/format";
import { forget } from "~/shared/keys";
import { SIGN_WORDS } from "./signs";

/** So many of them are shown at first. */
const FIRST_SHOWN = 12;

/** What was put down, the newest first; what does not count stays, struck through. */
export function Days({ caseId, entries }: { caseId: number; entries: readonly FollowEntry[] }) {
  const client = useQueryClient();
  const [all, setAll] = useState(false);
  const strike = useMutation({
    mutationFn: (row: FollowEntry) =>
      take(
        api.POST("/api/follow-entries/{id}/struck", {
          params: { path: { id: row.id } },
          body: { struck: !row.struck, version: row.version },
        }),
      ),
    onSettled: () => forget(client, "follow"),
  });
  if (entries.length === 0) return null;
  return (
    <section aria-label="What was put down" className="mt-4" data-case={caseId}>
      <h3 className="font-semibold">What was put down</h3>
      {strike.error && (
        <p role="alert" className="border-madder stile">
          Not kept: {strike.error.message}.
        </p>
      )}
      <ul className="border-line border-t">
        {(all ? entries : entries.slice(0, FIRST_SHOWN)).map((row) => (
          <li
            key={row.id}
            className="flex flex-wrap items-baseline gap-x-4 border-line border-b py-1"
          >
            <span className={`min-w-28 ${row.struck ? "text-soft line-through" : ""}`}>
              {day(row.entry.date)}
            </span>
            <span className={row.struck ? "text-soft line-through" : ""}>{wordsOf(row.entry)}</span>
            <span className="ml-auto text-data text-soft">{row.by}</span>
            <button
              type="button"
              aria-disabled={strike.isPending}
              className="underline aria-disabled:opacity-40"
              aria-label={`${row.struck ? "count it" : "does not count"}: ${day(row.entry.date)}`}
              onClick={() => !strike.isPending && strike.mutate(row)}
            >
              {row.struck ? "count it" : "does not count"}
            </button>
          </li>
        ))}
      </ul>
      {entries.length > FIRST_SHOWN && (
        <button type="button" className="mt-1 underline" onClick={() => setAll(!all)}>
          {all ? `The last ${FIRST_SHOWN} only` : `All ${entries.length}`}
        </button>
      )}
    </section>
  );
}

function wordsOf(entry: FollowEntry["entry"]): string {
  const said = (words: string, value: number | null | undefined, unit = "") =>
    value == null ? [] : [`${words}${number(value, value % 1 ? 1 : 0)}${unit}`];
  return [
    ...(entry.weight_kg == null
      ? []
      : [`${number(bodyFigure(entry.weight_kg), 2)} ${conventions().body}`]),
    ...(entry.scale ? [`on ${entry.scale}`] : []),
    ...said("fed ", entry.kcal_fed, " kcal"),
    ...said("left ", entry.left_percent, " %"),
    ...said("treats ", entry.extra_kcal, " kcal"),
    ...said("condition ", entry.body_condition, "/9"),
    ...said("stool ", entry.stool, "/7"),
    ...said("itch ", entry.itch, "/10"),
    ...said("vomited ", entry.vomiting, " times"),
    ...said("ate ", entry.appetite_percent, " %"),
    ...said("stools ", entry.stools),
    ...said("energy ", entry.energy, "/10"),
    ...said("", entry.breaths, " breaths a minute asleep"),
    ...(entry.muscle ? [`muscle: ${entry.muscle}`] : []),
    ...(entry.fluid ? ["not tissue: fluid"] : []),
    ...entry.signs.map((sign) => SIGN_WORDS[sign]),
    ...(entry.changed ? [`changed: ${entry.changed}`] : []),
    ...(entry.note ? [entry.note] : []),
  ].join(", ");
}
