import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { glossaryQuery } from "~/shared/queries";

/** A word of the trade, with its meaning behind it. Where the glossary cannot be fetched it is just the word. */
export function Term({ id, children }: { id: string; children?: ReactNode }) {
  const term = useQuery(glossaryQuery).data?.terms.find((t) => t.id === id);
  if (!term) return <>{children}</>;
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`${typeof children === "string" ? children : term.term}: what it means`}
        className="cursor-help underline decoration-dotted underline-offset-2"
      >
        {children ?? term.term}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={8}
          className="z-50 w-80 max-w-[92vw] rounded-corner border border-edge bg-sheet p-3 text-left font-normal text-ink"
        >
          <p>
            <b>{term.term}.</b> {term.says} {term.more}
          </p>
          <p className="mt-1 text-data text-soft">
            {term.source && `${term.source}. `}
            <Link to={`/words#${term.id}`} className="underline">
              All words
            </Link>
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
