import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type SentSheet, take } from "~/api/client";
import { Addresses } from "~/shared/Addresses";
import { day, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { useSaving } from "~/shared/record/fields";
import { whenStored } from "~/shared/saving/whenStored";
import { useCase } from "~/shared/useCase";
import { Button } from "~/ui";
import { goTo } from "./Ask";
import { Bar } from "./Bar";

export type Piece = SentSheet["pieces"][number];
export interface Waiting {
  sheet: number;
  piece: Piece;
}

const LASTS = 21;

/** The answers of the owner that nobody looked at yet, the oldest sheet first. */
export function waitingOf(sheets: readonly SentSheet[]): readonly Waiting[] {
  return sheets.flatMap((s) =>
    s.pieces.filter((p) => p.settled === "").map((piece) => ({ sheet: s.id, piece })),
  );
}

/** One answer of the owner beside what the record has: taken over, left, or written by hand. */
export function LookThrough({
  waiting,
  at,
  go,
}: {
  waiting: readonly Waiting[];
  /** Which one is looked at. */
  at: Waiting;
  go: (to: Waiting | undefined) => void;
}) {
  const { piece, sheet } = at;
  const saving = useSaving();
  const settle = useSettle();
  const can = piece.changes.length > 0;
  const settled = (of: Waiting, made: "taken" | "left") => {
    settle.mutate({ sheet: of.sheet, settled: { [of.piece.id]: made } });
    go(undefined);
  };
  // It is taken over once it is stored: what the record refuses is said at its box, and waits on.
  const taking = useMutation({
    mutationFn: ({ piece: { changes } }: Waiting) => {
      saving.change(changes.map(({ path, value }) => ({ path, value })));
      return whenStored(
        saving.draft,
        changes.map((c) => c.path),
      );
    },
    onSuccess: (stored, of) => (stored ? settled(of, "taken") : goTo(of.piece.field, false)),
    networkMode: "always",
  });
  const takeIt = () => {
    if (!taking.isPending) taking.mutate(at);
  };
  const refused = taking.data === false && taking.variables?.piece.id === piece.id;
  const later = () => go(waiting[(waiting.indexOf(at) + 1) % waiting.length]);
  const keys: Record<string, () => void> = {
    ...(can ? { "1": takeIt } : {}),
    "2": () => settled(at, "left"),
    e: () => goTo(piece.field, true),
    l: later,
  };
  return (
    <Bar
      label="Look through"
      at={`${sheet} ${piece.id}`}
      keys={keys}
      words={
        <>
          <p className="text-data text-soft">
            <span className="inline-block first-letter:uppercase">{told(piece.what)}</span>, in the
            owner’s words; {waiting.length} {waiting.length === 1 ? "answer waits" : "answers wait"}
          </p>
          <p className="max-h-32 overflow-auto whitespace-pre-line font-title text-part [overflow-wrap:anywhere]">
            {piece.says}
          </p>
          <p className="text-data text-soft [overflow-wrap:anywhere]">
            {piece.stands
              ? `In the record: ${told(piece.stands)}. `
              : "Nothing in the record yet. "}
            {!can && `Not taken over by a key: ${told(piece.why_not)}.`}
          </p>
          {refused && (
            <p role="alert" className="text-madder">
              Not taken over: the record does not hold it. What is wrong stands at its box.
            </p>
          )}
          {settle.isError && (
            <p role="alert" className="text-madder">
              {settle.error.message}.
            </p>
          )}
        </>
      }
    >
      {can && (
        <Button onClick={takeIt} kind="solid" busy={taking.isPending}>
          Take it over<kbd>1</kbd>
        </Button>
      )}
      <Button onClick={() => settled(at, "left")}>
        {can ? "Leave it" : "Looked at"}
        <kbd>2</kbd>
      </Button>
      <Button kind={can ? "plain" : "solid"} onClick={() => goTo(piece.field, true)}>
        Write it<kbd>E</kbd>
      </Button>
      {waiting.length > 1 && (
        <Button kind="quiet" onClick={later}>
          Later<kbd>L</kbd>
        </Button>
      )}
    </Bar>
  );
}

function useSettle() {
  const { id } = useCase();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (asked: { sheet: number; settled: Record<string, "" | "taken" | "left"> }) =>
      take(
        api.POST("/api/sheets/{id}/settle", {
          params: { path: { id: asked.sheet } },
          body: { settled: asked.settled },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keyOf("sheets", id) });
      await client.invalidateQueries({ queryKey: keyOf("intake", id) });
    },
  });
}

const SETTLED_WORDS: Record<string, string> = {
  taken: "taken over",
  left: "looked at",
  "": "waits",
};

/** What the owner sent, as she sent it, and the address by which she does. */
export function AskTheOwner({ sheets }: { sheets: readonly SentSheet[] }) {
  const current = useCase();
  const settle = useSettle();
  const path = { id: current.id };
  const [open, setOpen] = useState(sheets.length > 0);
  return (
    <details open={open} onToggle={(e) => setOpen(e.currentTarget.open)} data-owner-sheet="">
      <summary className="cursor-pointer font-semibold font-title text-part">
        Let {current.client.name} answer
      </summary>
      {open && (
        <Addresses
          owner={current.client}
          kept={keyOf("sheet-links", current.id)}
          words="A sheet for a phone, without an account: the same questions in plain words. What is sent waits here as hatched marks on the dog; none of it counts before it is looked at."
          load={() => take(api.GET("/api/cases/{id}/sheet-links", { params: { path } }))}
          make={(send) =>
            take(
              api.POST("/api/cases/{id}/sheet-links", {
                params: { path },
                body: { days: LASTS, send },
              }),
            )
          }
          close={(id) => take(api.DELETE("/api/sheet-links/{id}", { params: { path: { id } } }))}
        />
      )}
      {sheets.map((s) => (
        <section key={s.id} aria-label={`Sheet of ${day(s.at)}`} className="mt-3 max-w-3xl">
          <h3>Sheet of {day(s.at)}</h3>
          <ul>
            {s.pieces.map((p) => (
              <li key={p.id} className="flex flex-wrap gap-x-3 border-line border-b py-1">
                <span className="w-56 text-soft">{told(p.what)}</span>
                <span className="min-w-0 flex-1 whitespace-pre-line [overflow-wrap:anywhere]">
                  {p.says}
                </span>
                <span className="text-soft">{SETTLED_WORDS[p.settled]}</span>
                {p.settled !== "" && (
                  <button
                    type="button"
                    className="underline"
                    onClick={() => settle.mutate({ sheet: s.id, settled: { [p.id]: "" } })}
                  >
                    Look at it again
                    <span className="sr-only">: {told(p.what)}</span>
                  </button>
                )}
              </li>
            ))}
          </ul>
        </section>
      ))}
    </details>
  );
}
