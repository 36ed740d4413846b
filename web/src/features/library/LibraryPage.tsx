import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, type GapTable, type ListedFood, take } from "~/api/client";
import { number, spelled } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { casesQuery, gapsQuery } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button, TextInput } from "~/ui";
import { Page } from "~/ui/Page";
import { Select } from "~/ui/Select";
import { Compare } from "./Compare";
import { FoodRows } from "./FoodRows";
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
  const [asked, ask] = useSearchParams();
  const [open, setOpen] = useState(asked.get("food"));
  const recipe = Number(asked.get("recipe")) || null;
  const [picked, setPicked] = useState<string[]>([]);
  const [comparing, setComparing] = useState(false);
  const [own, setOwn] = useState(false);
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
  const wide = all || q.trim() !== "";
  const gaps = useQuery({ ...gapsQuery(recipe ?? 0, wide), enabled: recipe !== null });
  const table = recipe === null ? undefined : gaps.data;
  if (listing.isPending) return <Loading what="the library" />;
  if (!listing.data)
    return <Problem what="the library" error={listing.error} retry={() => listing.refetch()} />;
  const { classes, allergens, nutrients } = listing.data;
  const rich = nutrients.find((n) => n.id === richest);
  const foods = table && !rich ? inOrder(listing.data.foods, table) : listing.data.foods;
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
        <BesideDog
          recipe={recipe}
          dog={table?.dog}
          onChange={(id) =>
            ask(
              (old) => {
                if (id === null) old.delete("recipe");
                else old.set("recipe", String(id));
                return old;
              },
              { replace: true },
            )
          }
        />
        {/* What narrows is on one row; what is done with it, and the ticks, on the next. */}
        <span className="hidden h-0 basis-full wide:block" />
        <Check label="available" value={available} onChange={setAvailable} />
        <Check label="prepared and mixed foods too" value={all} onChange={setAll} />
        <div className="flex gap-1 wide:ml-auto">
          <Button disabled={picked.length < 2} onClick={() => setComparing(true)}>
            Compare {picked.length > 0 && picked.length}
          </Button>
          <Link
            to="/library/import"
            className="inline-flex h-8 items-center rounded-corner border border-edge bg-sheet px-3 font-medium hover:border-soft"
          >
            Bring in a table
          </Link>
          <Button kind="solid" onClick={() => setOwn(true)}>
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
            {table &&
              !rich &&
              table.gaps.length > 0 &&
              `, what closes most of ${table.dog}’s gaps first`}
          </p>
          {recipe !== null && gaps.error && (
            <Problem what="the gaps" error={gaps.error} retry={() => gaps.refetch()} />
          )}
          {table && table.gaps.length === 0 && (
            <p className="px-4 pb-1">
              {table.fed
                ? `The recipe of ${table.dog} has no gap.`
                : `The recipe of ${table.dog} is empty: nothing is missing of it yet.`}
            </p>
          )}
          {foods.length === 0 ? (
            <Empty
              className="mx-4"
              action={
                <>
                  <Button onClick={clear}>Take away every filter</Button>
                  <Button onClick={() => setOwn(true)}>Enter the food yourself</Button>
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
              table={table}
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
            <ProfilePanel key={open} foodId={open} recipe={recipe} onOpen={setOpen} />
          ) : (
            <p className="p-4 text-soft">
              Choose a food to see its values, where each comes from, and what is not known. Tick up
              to four to compare them.
            </p>
          )}
        </section>
      </div>
      {comparing && (
        <Compare foodIds={picked} recipe={recipe} onClose={() => setComparing(false)} />
      )}
      {own && (
        <OwnFoodDialog
          onClose={() => setOwn(false)}
          onSaved={(food) => {
            setOwn(false);
            setOpen(food.food_id);
          }}
        />
      )}
    </Page>
  );
}

/** Foods as the gaps have them in order; what is not held against them comes last. */
function inOrder(foods: ListedFood[], table: GapTable): ListedFood[] {
  const place = new Map(table.foods.map((c, i) => [c.food, i]));
  const last = table.foods.length;
  return [...foods].sort((a, b) => (place.get(a.id) ?? last) - (place.get(b.id) ?? last));
}

/** Whose gaps the foods are held against. */
function BesideDog({
  recipe,
  dog,
  onChange,
}: {
  recipe: number | null;
  /** The dog of the recipe, where it is none of the latest. */
  dog: string | undefined;
  onChange: (recipe: number | null) => void;
}) {
  const cases = useQuery(casesQuery({ order: "changed" }));
  const options = (cases.data?.rows ?? []).flatMap((row) => {
    const recipes = row.recipes.filter((r) => !r.archived);
    return recipes.map((r) => ({
      id: String(r.id),
      label: recipes.length > 1 ? `For ${row.dog}: ${r.name}` : `For ${row.dog}`,
    }));
  });
  const mine = recipe === null ? ANY : String(recipe);
  if (recipe !== null && !options.some((o) => o.id === mine))
    options.unshift({ id: mine, label: `For ${dog ?? "this dog"}` });
  return (
    <Select
      label="Beside a dog’s gaps"
      value={mine}
      onChange={(id) => onChange(id === ANY ? null : Number(id))}
      options={[{ id: ANY, label: "For: no dog" }, ...options]}
      className={`max-w-52 ${recipe === null ? "" : "border-verdigris"}`}
    />
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
