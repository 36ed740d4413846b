import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { type ReactNode, type RefObject, useRef, useState } from "react";
import { Link } from "react-router";
import { glossaryQuery } from "~/shared/queries";

/** A word of the trade, with its meaning behind it. */
export function Term({ id, children }: { id: string; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  const word = useRef<HTMLButtonElement>(null);
  return (
    <>
      <button
        ref={word}
        type="button"
        title="What it means"
        aria-haspopup="dialog"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className="cursor-help whitespace-nowrap text-left underline decoration-dotted underline-offset-2"
      >
        {children}
      </button>
      {/* Only then: a word in every row costs nothing until it is asked about. */}
      {open && <Meaning id={id} word={word} onClose={() => setOpen(false)} />}
    </>
  );
}

function Meaning({
  id,
  word,
  onClose,
}: {
  id: string;
  word: RefObject<HTMLButtonElement | null>;
  onClose: () => void;
}) {
  const glossary = useQuery(glossaryQuery);
  const term = glossary.data?.terms.find((t) => t.id === id);
  return (
    <Popover.Root open onOpenChange={(next) => !next && onClose()}>
      <Popover.Anchor virtualRef={word as RefObject<HTMLButtonElement>} />
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={8}
          aria-label="What it means"
          // The word itself closes it: that is no click elsewhere.
          onInteractOutside={(event) => {
            if (word.current?.contains(event.target as Node)) event.preventDefault();
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            word.current?.focus();
          }}
          className="z-50 w-80 max-w-[92vw] rounded-corner border border-edge bg-sheet p-3 text-left font-normal text-ink"
        >
          {term ? (
            <p>
              <b>{term.term}.</b> {term.says} {term.more}
            </p>
          ) : (
            <p>{glossary.error?.message ?? "Looking it up…"}</p>
          )}
          <p className="mt-1 text-data text-soft">
            {term?.source && `${term.source}. `}
            <Link to={`/words#${id}`} className="underline">
              All words
            </Link>
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
