import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { api, type ListedFood, take } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { number, percent, priceBy, spelled } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button, TextInput } from "~/ui";
import { Page } from "~/ui/Page";
import { Select } from "~/ui/Select";
import { Compare } from "./Compare";
import { ImportDialog } from "./ImportDialog";
import { OwnFoodDialog } from "./OwnFoodDialog";
import { ProfilePanel } from "./ProfilePanel";

const ANY = "any";
const COMPLETE = [
  { id: ANY, label: "Complete for: any" },
  { id: "energy", label: "Macros complete" },
  { id: "amino", label: "Amino acids complete" },
  { id: "fats", label: "Fats complete" },
  { id: "minerals", label: "Minerals complete" },
  { id: "vitamins", label: "Vitamins complete" },
];
const MOST = 4;

/** The library: find, filter, open, compare; add and import own foods. */
export default function LibraryPage() {
  useTitle("Library");
  const [q, setQ] = useState("");
  const [klass, setKlass] = useState(ANY);
  const [without, setWithout] = useState(ANY);
  const [richest, setRichest] = useState(ANY);
  const [complete, setComplete] = useState(ANY);
  const [available, setAvailable] = useState(false);
  const [all, setAll] = useState(false);
  const [asked] = useSearchParams();
  const [open, setOpen] = useState(asked.get("food"));
  const [picked, setPicked] = useState<string[]>([]);
  const [comparing, setComparing] = useState(false);
  const [dialog, setDialog] = useState<"own" | "import" | null>(null);
  const only = (value: string) => (value === ANY ? undefined : value);
  const query = {
    q: q.trim() || undefined,
    klass: only(klass),
    without: only(without),
    richest: only(richest),
    complete: only(complete),
    available: available || undefined,
    all: all || undefined,
  };
  const listing = useQuery({
    queryKey: keyOf("library", query),
    queryFn: () => take(api.GET("/api/library", { params: { query } })),
    placeholderData: keepPreviousData,
  });
  if (listing.isPending) return <Loading what="the library" />;
  if (!listing.data)
    return <Problem what="the library" error={listing.error} retry={() => listing.refetch()} />;
  const { foods, classes, allergens, nutrients } = listing.data;
  const rich = nutrients.find((n) => n.id === richest);
  const named = (any: string, list: string[]) => [
    { id: ANY, label: any },
    ...list.map((id) => ({ id, label: id })),
  ];
  function clear() {
    setQ("");
    for (const set of [setKlass, setWithout, setRichest, setComplete]) set(ANY);
    setAvailable(false);
  }
  function pick(id: string) {
    setPicked((old) =>
      old.includes(id) ? old.filter((p) => p !== id) : [...old, id].slice(-MOST),
    );
  }
  return (
    <Page className="flex min-h-0 flex-1 flex-col">
      <h1 className="sr-only">Library</h1>
      <div className="flex flex-wrap items-center gap-2 border-line border-b px-4 py-2">
        <TextInput
          type="search"
          aria-label="Find a food"
          placeholder="Find: chicken thigh, courgette, mince"
          value={q}
          onChange={(e) => setQ(e.target.value)}
          className="w-64 max-w-full"
        />
        <Select
          label="Class"
          value={klass}
          onChange={setKlass}
          options={named("Any class", classes)}
        />
        <Select
          label="Free of"
          value={without}
          onChange={setWithout}
          options={named("Free of: –", allergens)}
        />
        <Select
          label="Richest in"
          value={richest}
          onChange={setRichest}
          options={[
            { id: ANY, label: "Richest in: –" },
            ...nutrients.map((n) => ({ id: n.id, label: spelled(n.name) })),
          ]}
          className="max-w-44"
        />
        <Select label="Complete for" value={complete} onChange={setComplete} options={COMPLETE} />
        <Check label="available" value={available} onChange={setAvailable} />
        <Check label="prepared and mixed foods too" value={all} onChange={setAll} />
        <div className="flex gap-1 wide:ml-auto">
          <Button disabled={picked.length < 2} onClick={() => setComparing(true)}>
            Compare {picked.length > 0 && picked.length}
          </Button>
          <Button onClick={() => setDialog("import")}>Import, export</Button>
          <Button kind="solid" onClick={() => setDialog("own")}>
            Own food
          </Button>
        </div>
      </div>
      <div className="flex min-h-0 flex-1">
        <section
          aria-label="Foods"
          className={`${open ? "hidden wide:flex" : "flex"} min-w-0 flex-1 flex-col`}
        >
          <p role="status" className="px-4 py-1 text-data text-soft">
            {number(foods.length)} foods
            {!all && !q && ", plain whole foods and supplements only"}
            {rich && `, richest in ${rich.name} per 1000 kcal first`}
          </p>
          {foods.length === 0 ? (
            <Empty
              className="mx-4"
              action={
                <>
                  <Button onClick={clear}>Take away every filter</Button>
                  <Button onClick={() => setDialog("own")}>Enter the food yourself</Button>
                </>
              }
            >
              Nothing passes.
            </Empty>
          ) : (
            <FoodRows
              foods={foods}
              open={open}
              picked={picked}
              richest={rich?.name}
              onOpen={setOpen}
              onPick={pick}
            />
          )}
        </section>
        <section
          aria-label="Profile"
          className={`${open ? "block" : "hidden wide:block"} min-w-0 flex-1 border-line wide:w-[30rem] wide:flex-none wide:overflow-auto wide:border-l`}
        >
          {open && (
            <Button className="mx-4 mt-2 wide:hidden" onClick={() => setOpen(null)}>
              Back to the foods
            </Button>
          )}
          {open ? (
            <ProfilePanel key={open} foodId={open} onOpen={setOpen} />
          ) : (
            <p className="p-4 text-soft">
              Choose a food to see its values, where each comes from, and what is not known. Tick up
              to four to compare them.
            </p>
          )}
        </section>
      </div>
      {comparing && <Compare foodIds={picked} onClose={() => setComparing(false)} />}
      {dialog === "own" && (
        <OwnFoodDialog
          onClose={() => setDialog(null)}
          onSaved={(food) => {
            setDialog(null);
            setOpen(food.food_id);
          }}
        />
      )}
      {dialog === "import" && <ImportDialog onClose={() => setDialog(null)} />}
    </Page>
  );
}

function Check({
  label,
  value,
  onChange,
}: {
  label: string;
  value: boolean;
  onChange: (value: boolean) => void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      <input
        type="checkbox"
        checked={value}
        onChange={(e) => onChange(e.target.checked)}
        className="accent-verdigris"
      />
      {label}
    </label>
  );
}

const ROW = 30;

function FoodRows({
  foods,
  open,
  picked,
  richest,
  onOpen,
  onPick,
}: {
  foods: ListedFood[];
  open: string | null;
  picked: string[];
  richest: string | undefined;
  onOpen: (id: string) => void;
  onPick: (id: string) => void;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: foods.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const columns =
    "grid grid-cols-[2rem_1fr_6rem] mid:grid-cols-[2rem_1fr_6.5rem_5rem_6rem_4rem_5rem] items-center gap-2 px-4";
  const more = "max-mid:hidden";
  return (
    <>
      <div
        aria-hidden="true"
        className={`${columns} border-line border-b py-1 text-data text-soft`}
      >
        <span />
        <span>Food</span>
        <span className={more}>Class</span>
        <span className={more}>Form</span>
        <span className="text-right">{richest ? "/1000 kcal" : "kcal/100 g"}</span>
        <span className={`${more} text-right`}>Known</span>
        <span className={`${more} text-right`}>
          Price/{conventions().food === "g" ? "kg" : "lb"}
        </span>
      </div>
      <div
        ref={scroller}
        className="h-[70dvh] min-h-60 overflow-auto wide:h-auto wide:min-h-0 wide:flex-1"
      >
        <ul style={{ height: rows.getTotalSize(), position: "relative" }}>
          {rows.getVirtualItems().map((item) => {
            const food = foods[item.index];
            if (!food) return null;
            return (
              <li
                key={food.id}
                className={`${columns} absolute inset-x-0 border-line border-b ${open === food.id ? "bg-groove" : "hover:bg-groove/60"}`}
                style={{ top: item.start, height: ROW }}
              >
                <input
                  type="checkbox"
                  aria-label={`Compare ${food.name}`}
                  checked={picked.includes(food.id)}
                  onChange={() => onPick(food.id)}
                  className="accent-verdigris"
                />
                <button
                  type="button"
                  onClick={() => onOpen(food.id)}
                  className="truncate text-left"
                >
                  {spelled(food.name)}
                  {food.unavailable && (
                    <span className="ml-2 text-data text-madder">not to be had now</span>
                  )}
                </button>
                <span className={`${more} truncate text-soft`}>{food.klass}</span>
                <span
                  className={`${more} truncate text-soft`}
                  title={
                    food.derived
                      ? "Made from other rows and published figures, not analysed"
                      : undefined
                  }
                >
                  {food.form}
                  {food.derived && ", derived"}
                </span>
                <span className="text-right">
                  {food.value !== null
                    ? number(food.value, food.value < 10 ? 2 : 0)
                    : number(food.kcal_per_100g)}
                </span>
                <span className={`${more} text-right`}>{percent(food.known_share)}</span>
                <span className={`${more} text-right`}>{priceBy(food.price_per_kg)}</span>
              </li>
            );
          })}
        </ul>
      </div>
    </>
  );
}
