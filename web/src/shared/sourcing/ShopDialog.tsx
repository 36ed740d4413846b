import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useState } from "react";
import type { ShopItem, Shopping } from "~/api/client";
import { foodWeight, money, number, sentence, spelled, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { OwnerMessage } from "~/shared/OwnerMessage";
import { Loading, Problem } from "~/shared/states";
import { useSettled } from "~/shared/useSettled";
import { Button, Dialog, Sideways, TextInput } from "~/ui";
import { type Said, useSaid } from "./useSaid";

const CHOICES: { id: Said; label: string; key: string }[] = [
  { id: "can-get", label: "can get", key: "g" },
  { id: "special-order", label: "order", key: "o" },
  { id: "cannot-get", label: "cannot get", key: "c" },
  { id: "will-not-use", label: "will not use", key: "w" },
];

const IN_WORDS: Partial<Record<ShopItem["had"], string>> = {
  shelf: "on your shelf",
  tap: "from the tap",
};

/** What has to be bought, for how many days, and whether the owner can get it. */
export function ShopDialog({
  caseId,
  dog,
  email,
  of,
  days,
  load,
  paper,
  onReplace,
  onClose,
}: {
  caseId: number;
  dog: string;
  email: string;
  /** What the list depends on beside the days. */
  of: readonly unknown[];
  /** As many days as one batch or round feeds. */
  days: number;
  load: (days: number) => Promise<Shopping>;
  /** Where it can be printed; null while that is not what is stored. */
  paper: string | null;
  /** Look for another food instead of one. */
  onReplace?: (food: string) => void;
  onClose: () => void;
}) {
  const [typed, setTyped] = useState(String(days));
  const [asking, setAsking] = useState(false);
  const settled = useSettled(typed);
  const wanted = Number(settled.replace(",", "."));
  const sound = settled.trim() !== "" && Number.isFinite(wanted) && wanted > 0 && wanted <= 366;
  const found = useQuery({
    queryKey: keyOf("shopping", caseId, ...of, wanted),
    queryFn: () => load(wanted),
    placeholderData: keepPreviousData,
    enabled: sound,
  });
  const said = useSaid(caseId);
  // What was noted in one go, which can be taken back in one.
  const [together, setTogether] = useState<string[] | null>(null);
  function say(foods: string[], mark: Said, ahead?: number | null) {
    setTogether(null);
    said.mutate({ foods, mark, days: ahead ?? null });
  }
  const list = found.data?.shop_list;
  const items = list?.aisles.flatMap((aisle) => aisle.items) ?? [];
  const unasked = items.filter((item) => item.had === "not-asked" && !item.against);
  const client = found.data?.client ?? "";
  function allTheRest() {
    const foods = unasked.map((item) => item.food);
    say(foods, "can-get");
    setTogether(foods);
  }
  if (asking && found.data)
    return (
      <Dialog open wide onClose={() => setAsking(false)} title="What the owner is asked">
        <OwnerMessage
          email={email}
          subject={`${dog}’s recipe: what can you buy?`}
          message={found.data.message}
          onClose={() => setAsking(false)}
        />
      </Dialog>
    );
  return (
    <Dialog open wide onClose={onClose} title="What to buy, and whether it can be had">
      <div className="flex flex-col gap-3">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
          <span className="flex items-center gap-2">
            For
            <TextInput
              inputMode="decimal"
              aria-label="Days to buy for"
              aria-invalid={!sound}
              value={typed}
              onChange={(e) => setTyped(e.target.value)}
              className="w-16 text-right tabular-nums"
            />
            days
          </span>
          <span className="ml-auto flex flex-wrap gap-2">
            {together ? (
              <Button onClick={() => say(together, "not-asked")}>Take the rest back</Button>
            ) : (
              <Button disabled={unasked.length === 0} onClick={allTheRest}>
                The rest can be had
              </Button>
            )}
            <Button disabled={unasked.length === 0} onClick={() => setAsking(true)}>
              Ask the owner…
            </Button>
            <a
              href={paper ? `${paper}?days=${wanted}` : undefined}
              aria-disabled={!paper || !sound}
              title={paper ? "As it is saved" : "Saving first"}
              target="_blank"
              rel="noreferrer"
              className="inline-flex h-8 items-center rounded-corner border border-edge bg-sheet px-3 font-medium hover:border-soft aria-disabled:pointer-events-none aria-disabled:opacity-50"
            >
              Print the list
            </a>
          </span>
        </div>
        {!sound && (
          <p role="alert" className="text-madder">
            Say for how many days: a number up to 366.
          </p>
        )}
        {found.isError && <Problem what="the list" error={found.error} retry={found.refetch} />}
        {sound && found.isPending && <Loading what="the list" />}
        {list && (
          <>
            <Standing list={list} />
            <Sideways>
              <List list={list} client={client} onSay={say} {...(onReplace ? { onReplace } : {})} />
            </Sideways>
            <p className="text-data text-soft">
              Keys in a row: g can get, o to be ordered, c cannot get, w will not use, Backspace not
              asked. It is kept for {client}: what cannot be got or will not be used is no longer
              proposed, what must be ordered is a second choice.
            </p>
            {list.sources.map((source) => (
              <p key={source} className="text-data text-soft">
                {source}
              </p>
            ))}
          </>
        )}
      </div>
    </Dialog>
  );
}

/** What stands between the list and a finished draft. */
function Standing({ list }: { list: Shopping["shop_list"] }) {
  const { against, missing, not_asked, ordered, days } = list.sourcing;
  const names = (all: readonly string[]) => all.map(spelled).join(", ");
  return (
    <div role="status" className="flex flex-col gap-0.5">
      {against.length > 0 && (
        <p className="border-madder stile">
          <b className="font-semibold text-madder">Must not be in this bowl:</b> {names(against)}.
          Do not let it be bought.
        </p>
      )}
      {missing.length > 0 && (
        <p className="border-madder stile">
          <b className="font-semibold text-madder">Cannot be had or used:</b> {names(missing)}.
          Replace it before the draft is finished.
        </p>
      )}
      {not_asked.length > 0 ? (
        <p>
          <b className="font-semibold">{not_asked.length} not asked yet.</b>{" "}
          <span className="text-soft">
            The draft is finished once {not_asked.length === 1 ? "it is" : "they are"}.
          </span>
        </p>
      ) : (
        missing.length + against.length === 0 && <p>Everything can be had.</p>
      )}
      {ordered.length > 0 && (
        <p>
          To be ordered
          {days !== null && ` at least ${days} ${days === 1 ? "day" : "days"} before cooking`}:{" "}
          {names(ordered)}.
        </p>
      )}
    </div>
  );
}

function List({
  list,
  client,
  onSay,
  onReplace,
}: {
  list: Shopping["shop_list"];
  client: string;
  onSay: (foods: string[], mark: Said, days?: number | null) => void;
  onReplace?: (food: string) => void;
}) {
  const priced = list.price > 0;
  return (
    <table className="w-full border-collapse leading-tight max-mid:block">
      <thead className="text-left text-data text-soft max-mid:hidden">
        <tr>
          <th className="font-normal">Buy</th>
          <th className="px-2 text-right font-normal">how much</th>
          {priced && <th className="px-2 text-right font-normal">price</th>}
          <th className="pl-3 font-normal">can {client || "the owner"} get it?</th>
        </tr>
      </thead>
      {list.aisles.map((aisle) => (
        <tbody key={aisle.id} className="max-mid:block">
          <tr className="max-mid:block">
            <th
              colSpan={priced ? 4 : 3}
              scope="rowgroup"
              className="pt-2 text-left font-semibold text-soft"
            >
              {aisle.name}
            </th>
          </tr>
          {aisle.items.map((item) => (
            <Row
              key={item.food}
              item={item}
              priced={priced}
              onSay={onSay}
              {...(onReplace ? { onReplace } : {})}
            />
          ))}
        </tbody>
      ))}
      {priced && (
        <tfoot className="max-mid:block">
          <tr className="border-line border-t max-mid:grid max-mid:grid-cols-[1fr_auto_auto]">
            <td>
              Together
              {list.unpriced > 0 && (
                <span className="text-soft">, {list.unpriced} without a price</span>
              )}
            </td>
            <td />
            <td className="px-2 text-right tabular-nums">{money(list.price)}</td>
            <td />
          </tr>
        </tfoot>
      )}
    </table>
  );
}

/** The row after this one gets the focus: an owner on the phone is asked one after the other. */
function goOn(row: HTMLTableRowElement, by: 1 | -1) {
  const rows = [...(row.closest("table")?.querySelectorAll("tr[data-food]") ?? [])];
  const next = rows[rows.indexOf(row) + by];
  next?.querySelector<HTMLElement>("[role=radio][tabindex='0'], [role=radio]")?.focus();
}

function Row({
  item,
  priced,
  onSay,
  onReplace,
}: {
  item: ShopItem;
  priced: boolean;
  onSay: (foods: string[], mark: Said, days?: number | null) => void;
  onReplace?: (food: string) => void;
}) {
  const name = spelled(item.instead || item.name);
  const fixed = IN_WORDS[item.had];
  const notes = notesOf(item);
  function onKeyDown(event: KeyboardEvent<HTMLTableRowElement>) {
    const typing = event.target instanceof HTMLInputElement;
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
    const row = event.currentTarget;
    const chosen = CHOICES.find((c) => c.key === event.key);
    if (chosen) {
      onSay([item.food], chosen.id);
      // How long it takes is asked next.
      if (chosen.id !== "special-order") goOn(row, 1);
    } else if (event.key === "Backspace") onSay([item.food], "not-asked");
    else if (event.key === "ArrowDown") goOn(row, 1);
    else if (event.key === "ArrowUp") goOn(row, -1);
    else return;
    event.preventDefault();
  }
  return (
    <tr
      data-food={item.food}
      onKeyDown={onKeyDown}
      className={`border-line border-t align-baseline max-mid:grid max-mid:items-baseline ${priced ? "max-mid:grid-cols-[1fr_auto_auto]" : "max-mid:grid-cols-[1fr_auto]"}`}
    >
      <td className="py-1">
        {name}
        {item.against && (
          <span className="block text-data text-madder">{sentence(told(item.against))}</span>
        )}
        {notes && <span className="block text-data text-soft">{notes}</span>}
      </td>
      <td className="whitespace-nowrap px-2 text-right tabular-nums">
        {item.against || item.had === "tap"
          ? ""
          : item.pieces_sure
            ? item.pieces
            : foodWeight(item.buy_grams)}
      </td>
      {priced && (
        <td className="px-2 text-right tabular-nums">
          {item.price === null ? "–" : money(item.price)}
        </td>
      )}
      <td className="w-px whitespace-nowrap py-1 pl-3 max-mid:col-span-full max-mid:w-auto max-mid:pl-0">
        {fixed ? (
          <span className="text-soft">{fixed}</span>
        ) : item.mark === "unavailable" || item.mark === "said" ? (
          <span className="text-madder">{item.why}</span>
        ) : (
          <Choice item={item} name={name} onSay={onSay} />
        )}
        {(item.had === "cannot" || item.against) && onReplace && (
          <Button small kind="quiet" className="ml-1" onClick={() => onReplace(item.food)}>
            Replace…
          </Button>
        )}
      </td>
    </tr>
  );
}

function notesOf(item: ShopItem): string {
  if (item.had === "tap") return "";
  const notes = [
    item.pieces_sure ? foodWeight(item.needed_grams) : item.pieces,
    item.instead ? `gives ${foodWeight(item.needed_grams)} cooked` : "",
    item.most_grams > item.buy_grams
      ? `${item.instead ? "" : `${foodWeight(item.needed_grams)} in the pot; `}up to ${foodWeight(item.most_grams)}: ${item.how}`
      : item.how,
    item.where,
  ];
  return sentence(told(notes.filter(Boolean).join("; ")));
}

/** One of four, none of them while nobody asked; what is ordered asks how long before. */
function Choice({
  item,
  name,
  onSay,
}: {
  item: ShopItem;
  name: string;
  onSay: (foods: string[], mark: Said, days?: number | null) => void;
}) {
  return (
    <span className="flex items-center gap-1.5 max-mid:flex-wrap">
      <span
        role="radiogroup"
        aria-label={`Can it be had: ${name}`}
        className="inline-flex h-6.5 overflow-hidden rounded-corner border border-edge text-data"
      >
        {CHOICES.map((choice, i) => {
          const on = item.mark === choice.id;
          return (
            // biome-ignore lint/a11y/useSemanticElements: one can be taken back, which a radio input cannot
            <button
              key={choice.id}
              type="button"
              role="radio"
              aria-checked={on}
              tabIndex={on || (item.mark === null && i === 0) ? 0 : -1}
              title={`${choice.label} (${choice.key})`}
              onClick={() => onSay([item.food], on ? "not-asked" : choice.id)}
              className="bg-sheet px-1.5 aria-checked:bg-ink aria-checked:text-sheet"
            >
              {choice.label}
            </button>
          );
        })}
      </span>
      {item.mark === "special-order" && (
        <DaysAhead
          key={item.days ?? ""}
          name={name}
          days={item.days}
          onDays={(days) => onSay([item.food], "special-order", days)}
        />
      )}
    </span>
  );
}

function DaysAhead({
  name,
  days,
  onDays,
}: {
  name: string;
  days: number | null;
  onDays: (days: number | null) => void;
}) {
  const [text, setText] = useState(days === null ? "" : number(days));
  const whole = /^\d{0,3}$/.test(text.trim()) && Number(text) <= 120;
  const changed = text.trim() !== (days === null ? "" : String(days));
  return (
    <span className="flex items-center gap-1 text-data text-soft">
      <TextInput
        inputMode="numeric"
        aria-label={`Days before, ${name}`}
        aria-invalid={!whole}
        placeholder="?"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => whole && changed && onDays(text.trim() === "" ? null : Number(text))}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        className="h-6.5 w-10 px-1 text-right"
      />
      days before
    </span>
  );
}
