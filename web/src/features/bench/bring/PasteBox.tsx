import { type UseMutationResult, useQuery } from "@tanstack/react-query";
import { type DragEvent, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { ApiError, api, type Review, take } from "~/api/client";
import { when } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Button } from "~/ui";

/** The text of a file, whatever it was saved in. */
async function textOf(file: File): Promise<string> {
  const bytes = await file.arrayBuffer();
  const marks = new Uint8Array(bytes.slice(0, 2));
  const wide = marks[0] === 0xff && marks[1] === 0xfe;
  if (wide) return new TextDecoder("utf-16le").decode(bytes);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

/** Why a text was not read, as a sentence. */
function refusal(error: Error): string {
  const field = error instanceof ApiError ? error.field : "";
  return field ? `The ${field} ${error.message}.` : error.message;
}

/** Where a text comes in: pasted, typed, dropped or chosen. What was pasted into the empty box is read at once. */
export function PasteBox({
  recipeId,
  text: before,
  reading,
  back,
  onRead,
  onLeave,
}: {
  recipeId: number;
  text: string;
  reading: UseMutationResult<Review, Error, { text: string; days: number | null }>;
  back: string;
  onRead: (text: string) => void;
  /** Back to what was read; null where nothing was. */
  onLeave: (() => void) | null;
}) {
  const [text, setText] = useState(before);
  const [over, setOver] = useState(false);
  const box = useRef<HTMLTextAreaElement>(null);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => box.current?.focus(), []);
  const kept = useQuery({
    queryKey: keyOf("brought", recipeId),
    queryFn: () =>
      take(api.GET("/api/recipes/{id}/brought", { params: { path: { id: recipeId } } })),
  });
  async function take_(chosen: File | undefined) {
    if (!chosen) return;
    const found = await textOf(chosen);
    // A file that is no text is told so by the server; the box stays as it is.
    if (!found.startsWith("%PDF") && !found.includes("\0")) setText(found);
    onRead(found);
  }
  function drop(event: DragEvent) {
    event.preventDefault();
    setOver(false);
    void take_(event.dataTransfer.files[0]);
  }
  return (
    <div className="mx-auto flex min-h-0 w-full max-w-3xl flex-1 flex-col gap-2">
      <h2>Bring in what the client has</h2>
      <p className="text-soft">
        Paste a recipe as it was sent: a message, a list, a page’s text, a column of a spreadsheet.
        Nothing enters the recipe before you have looked at it.
      </p>
      <textarea
        ref={box}
        aria-label="The recipe as it was sent"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onPaste={(e) => {
          const pasted = e.clipboardData.getData("text/plain");
          if (text.trim() || !pasted.trim()) return;
          e.preventDefault();
          setText(pasted);
          onRead(pasted);
        }}
        onKeyDown={(e) => {
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) {
            e.preventDefault();
            onRead(text);
          }
          if (e.key === "Escape" && onLeave) onLeave();
        }}
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        placeholder={
          "500 g chicken thighs, skin off\n2 cups rice, cooked\n3 carrots\n1 tsp fish oil a day\n\nBoil the rice and the carrots and drain…"
        }
        className={`min-h-60 w-full flex-1 rounded-corner border bg-sheet px-3 py-2 text-[1rem] leading-7 ${over ? "border-verdigris border-2" : "border-edge"}`}
      />
      {reading.isError && (
        <p role="alert" className="border-madder stile">
          {refusal(reading.error)} What you pasted is still here.
        </p>
      )}
      <div className="flex flex-wrap items-center gap-2">
        <Button
          kind="solid"
          disabled={!text.trim()}
          busy={reading.isPending}
          onClick={() => onRead(text)}
        >
          {reading.isPending ? "Reading…" : "Read it"} <kbd>Ctrl Enter</kbd>
        </Button>
        <Button onClick={() => file.current?.click()}>Choose a file…</Button>
        <input
          ref={file}
          type="file"
          aria-label="A file with the recipe"
          className="sr-only"
          tabIndex={-1}
          accept=".txt,.md,.html,.htm,.csv,.json,text/*"
          onChange={(e) => {
            void take_(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
        <span className="text-data text-soft">
          or drop it: text, a saved page, CSV, a case file
        </span>
        <span className="ml-auto flex gap-2">
          {onLeave ? (
            <Button onClick={onLeave}>
              Back to what was read <kbd>Esc</kbd>
            </Button>
          ) : (
            <Link to={back} className="px-2 py-1 hover:bg-groove">
              Back to the bench
            </Link>
          )}
        </span>
      </div>
      {kept.data && kept.data.length > 0 && (
        <section aria-label="Brought in before" className="mt-2 max-h-48 overflow-auto">
          <h3 className="text-soft">Brought in before</h3>
          <ul>
            {kept.data.map((one) => (
              <li key={one.id} className="border-line border-t py-1">
                <div className="flex flex-wrap items-baseline gap-x-3">
                  <span>
                    {when(one.created)}, {one.by}:{" "}
                    {one.taken === 0 ? "nothing taken yet" : `${one.taken} lines taken`}
                    {one.left_out.length > 0 && `, ${one.left_out.length} left out`}
                  </span>
                  <Button small onClick={() => setText(one.text)}>
                    Show it again
                  </Button>
                </div>
                {one.asked.length > 0 && (
                  <p className="text-data">Waits for the owner: {one.asked.join(" ")}</p>
                )}
                {one.left_out.length > 0 && (
                  <p className="text-data text-soft">
                    Left out: {one.left_out.map((x) => `“${x.text}” (${x.reason})`).join("; ")}
                  </p>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
