import { NavLink } from "react-router";

const TABS: readonly (readonly [string, string])[] = [
  ["/practice", "Settings"],
  ["/people", "People"],
  ["/audit", "Who did what"],
  ["/installation", "Backups and disk"],
];

/** What an owner keeps of the practice. */
export function PracticeTabs() {
  return (
    <nav aria-label="Practice" className="mb-4 flex flex-wrap gap-x-4 gap-y-1 border-line border-b">
      {TABS.map(([to, label]) => (
        <NavLink
          key={to}
          to={to}
          className={({ isActive }) =>
            `-mb-px border-b-2 py-1.5 ${isActive ? "border-oak font-semibold" : "border-transparent hover:border-soft"}`
          }
        >
          {label}
        </NavLink>
      ))}
    </nav>
  );
}
