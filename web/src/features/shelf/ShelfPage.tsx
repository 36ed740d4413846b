import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, type ShelfEntry, take } from "~/api/client";
import { money, number, spelled } from "~/shared/format";
import { forget } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { sessionQuery, shelfQuery } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button } from "~/ui";
import { Page } from "~/ui/Page";
import { figureOf } from "./figureOf";
import { LabelForm } from "./LabelForm";

/** The supplements a practice really stocks, by their labels. */
export default function ShelfPage() {
  useTitle("Shelf");
  const shelf = useQuery(shelfQuery);
  const session = useQuery(sessionQuery);
  const client = useQueryClient();
  const navigate = useNavigate();
  const [open, setOpen] = useState<string | "new" | null>(null);
  const move = useMutation({
    mutationFn: ({ id, stocked }: { id: string; stocked: boolean }) =>
      take(api.PATCH("/api/shelf/{slug}", { params: { path: { slug: id } }, body: { stocked } })),
    onSuccess: (entry) => {
      void forget(client, "shelf");
      if (!entry.retired) return;
      setOpen(null);
      notice(`${entry.name} is off the shelf. Recipes that hold it keep it.`, {
        action: { label: "Undo", onClick: () => move.mutate({ id: entry.id, stocked: true }) },
      });
    },
  });
  const later = useMutation({
    mutationFn: () => take(api.POST("/api/shelf/asked")),
    onSuccess: async () => {
      await forget(client, "shelf");
      navigate("/");
    },
  });
  if (shelf.isPending) return <Loading what="the shelf" />;
  if (!shelf.data)
    return <Problem what="the shelf" error={shelf.error} retry={() => shelf.refetch()} />;
  const { items } = shelf.data;
  const stocked = items.filter((item) => !item.retired);
  const away = items.filter((item) => item.retired);
  const chosen = items.find((item) => item.id === open);
  return (
    <Page className="flex min-h-0 flex-1 flex-col wide:flex-row">
      <section
        aria-label="On the shelf"
        className={`${open ? "hidden wide:block" : ""} min-w-0 border-line p-4 wide:w-[24rem] wide:flex-none wide:overflow-auto wide:border-r`}
      >
        <div className="mb-3 flex items-center gap-3">
          <h1 className="text-page">Shelf</h1>
          {stocked.length > 0 && (
            <Button kind="solid" className="ml-auto" onClick={() => setOpen("new")}>
              Enter a label
            </Button>
          )}
        </div>
        {stocked.length === 0 ? (
          <Empty
            action={
              <>
                <Button kind="solid" onClick={() => setOpen("new")}>
                  Enter a label
                </Button>
                {session.data && !session.data.shelf_asked && (
                  <Button busy={later.isPending} onClick={() => later.mutate()}>
                    Nothing for now
                  </Button>
                )}
              </>
            }
          >
            What stands on your shelf? Recipes are closed with what you enter here first, and with
            plain single supplements where it does not do.
          </Empty>
        ) : (
          <>
            <p className="mb-2 text-soft">
              Recipes are closed with these first, then with plain single supplements.
            </p>
            <Items
              items={stocked}
              open={open}
              onOpen={setOpen}
              act={{
                label: "Take off",
                run: (item) => move.mutate({ id: item.id, stocked: false }),
              }}
            />
          </>
        )}
        {away.length > 0 && (
          <>
            <h2 className="mt-6 mb-1 font-semibold">Taken off</h2>
            <p className="mb-2 text-data text-soft">
              Never proposed; recipes that hold it keep it.
            </p>
            <Items
              items={away}
              open={open}
              onOpen={setOpen}
              act={{
                label: "Put back",
                run: (item) => move.mutate({ id: item.id, stocked: true }),
              }}
            />
          </>
        )}
        {move.isError && (
          <p role="alert" className="mt-3 border-madder stile">
            {move.error.message}
          </p>
        )}
      </section>
      <section
        aria-label="Label"
        className={`${open ? "" : "hidden wide:block"} min-w-0 flex-1 p-4 wide:overflow-auto`}
      >
        {open === null ? (
          <p className="max-w-prose text-soft">
            A label is copied as it is printed, a nutrient a line. Beside it stands what was read of
            each; what is not understood is asked, never guessed.
          </p>
        ) : (
          <LabelForm
            key={chosen ? `${chosen.id} ${chosen.version}` : "new"}
            page={shelf.data}
            entry={chosen}
            onClose={() => setOpen(null)}
            onSaved={(entry) => {
              setOpen(null);
              notice(`${entry.name} stands on the shelf.`);
            }}
          />
        )}
      </section>
    </Page>
  );
}

function Items({
  items,
  open,
  onOpen,
  act,
}: {
  items: ShelfEntry[];
  open: string | null;
  onOpen: (id: string) => void;
  act: { label: string; run: (item: ShelfEntry) => void };
}) {
  return (
    <ul>
      {items.map((item) => (
        <li
          key={item.id}
          className={`flex items-start gap-2 border-line border-t py-2 ${open === item.id ? "bg-groove" : ""}`}
        >
          <button
            type="button"
            onClick={() => onOpen(item.id)}
            className="min-w-0 flex-1 text-left"
            aria-expanded={open === item.id}
          >
            <span className="font-semibold underline-offset-2 hover:underline">{item.name}</span>
            <span className="block text-data text-soft">{held(item)}</span>
            {item.price !== null && (
              <span className="block text-data text-soft">
                {money(item.price)} for {number(item.pack, 0)}{" "}
                {item.unit === "100 g" ? "g" : item.unit}
              </span>
            )}
            {item.blocked && (
              <span className="block text-data text-madder">Never proposed: {item.blocked}</span>
            )}
          </button>
          <Button small onClick={() => act.run(item)} aria-label={`${act.label}: ${item.name}`}>
            {act.label}
          </Button>
        </li>
      ))}
    </ul>
  );
}

const SHOWN = 4;
/** What carries the active part is told only where there is nothing else. */
const CARRIERS = new Set(["ENERC", "PROCNT", "FAT", "CHOCDF"]);

/** What one piece holds, in a line. */
function held(item: ShelfEntry): string {
  const active = item.brings.filter((b) => !CARRIERS.has(b.key));
  const some = active.length > 0 ? active : item.brings;
  const told = some
    .slice(0, SHOWN)
    .map((b) => `${spelled(b.name)} ${figureOf(b.amount)} ${spelled(b.unit)}`)
    .join(", ");
  const more = some.length > SHOWN ? ` and ${some.length - SHOWN} more` : "";
  const what = item.kind === "premix" ? "All-in-one. " : "";
  return `${what}In ${item.unit === "100 g" ? "100 g" : `a ${item.unit}`}: ${told}${more}`;
}
