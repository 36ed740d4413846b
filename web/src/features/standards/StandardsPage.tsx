import { useSearchParams } from "react-router";
import { useTitle } from "~/shared/useTitle";
import { Page } from "~/ui/Page";
import { AsTable } from "./AsTable";
import { Overlay } from "./Overlay";

const VIEWS = [
  { id: "", label: "Over each other" },
  { id: "table", label: "As a table, own copies" },
] as const;

/** The published standards: laid over each other and signed against the print, or row by row. */
export default function StandardsPage() {
  useTitle("Standards");
  const [query, setQuery] = useSearchParams();
  const view = query.get("view") ?? "";
  return (
    <Page className="p-4 mid:px-6 mid:py-4 wide:overflow-auto">
      <div className="mb-3 flex flex-wrap items-baseline gap-x-6 gap-y-1">
        <h1 className="text-page">Standards</h1>
        <nav aria-label="How they are shown" className="flex gap-4">
          {VIEWS.map(({ id, label }) => (
            <button
              key={id}
              type="button"
              aria-pressed={view === id}
              className={`border-b-2 pb-0.5 ${view === id ? "border-verdigris font-semibold" : "border-transparent text-soft hover:border-line"}`}
              onClick={() =>
                setQuery(
                  (was) => {
                    const next = new URLSearchParams(was);
                    if (id) next.set("view", id);
                    else next.delete("view");
                    return next;
                  },
                  { replace: true },
                )
              }
            >
              {label}
            </button>
          ))}
        </nav>
      </div>
      {view === "table" ? <AsTable /> : <Overlay />}
    </Page>
  );
}
