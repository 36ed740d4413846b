import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, NavLink, Outlet } from "react-router";
import { Toaster } from "sonner";
import { api, type Session, take } from "~/api/client";
import { openDrafts } from "~/shared/saving/drafts";
import { SaveMark } from "~/shared/saving/SaveMark";
import { useUnsent } from "~/shared/saving/useDraft";
import { Button, focusWork } from "~/ui";
import { Wordmark } from "~/ui/Wordmark";
import { Palette } from "./Palette";
import { chooseTheme, storedTheme } from "./theme";

export function Shell({ session }: { session: Session }) {
  // Before any page of this user is drawn, and before anything listens.
  openDrafts(session.username ?? "");
  const { changes } = useUnsent();
  const client = useQueryClient();
  const [theme, setTheme] = useState(storedTheme);
  const other = theme === "light" ? "dark" : "light";
  async function signOut() {
    const lost = changes === 1 ? "1 change is" : `${changes} changes are`;
    if (
      changes > 0 &&
      !confirm(`${lost} kept in this browser only, until you sign in here again. Sign out?`)
    )
      return;
    await take(api.POST("/api/session/sign-out"));
    client.clear();
    sessionStorage.clear();
    location.assign("/");
  }
  function changeTheme() {
    chooseTheme(other);
    setTheme(other);
  }
  return (
    <div className="flex h-screen flex-col">
      <button
        type="button"
        onClick={focusWork}
        className="sr-only focus:not-sr-only focus:absolute focus:top-1 focus:left-1 focus:z-50 focus:rounded focus:bg-ink focus:px-3 focus:py-1.5 focus:text-sheet"
      >
        Skip to the work
      </button>
      <Palette onTheme={changeTheme} />
      <header className="flex h-11 shrink-0 items-center gap-4 border-line border-b px-4">
        <Link to="/" className="rounded">
          <Wordmark />
        </Link>
        <span className="text-soft">{session.practice}</span>
        <nav aria-label="Main" className="flex gap-1">
          {[
            ["/", "Cases"],
            ["/library", "Library"],
            ["/standards", "Standards"],
            ["/evidence", "How sure"],
            ["/practice", "Practice"],
          ].map(([to = "/", label]) => (
            <NavLink
              key={to}
              to={to}
              end={to === "/"}
              className={({ isActive }) =>
                `rounded px-2 py-1 ${isActive ? "font-semibold underline decoration-oak decoration-2 underline-offset-4" : "hover:bg-groove"}`
              }
            >
              {label}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-1">
          <SaveMark />
          <Button kind="quiet" aria-label={`Change to the ${other} theme`} onClick={changeTheme}>
            {other === "dark" ? "Dark" : "Light"}
          </Button>
          <Button kind="quiet" onClick={signOut}>
            Sign out
          </Button>
        </div>
      </header>
      <Outlet />
      <Toaster
        position="bottom-right"
        theme={theme}
        toastOptions={{ className: "!bg-ink !text-sheet !border-0 !font-sans" }}
      />
    </div>
  );
}
