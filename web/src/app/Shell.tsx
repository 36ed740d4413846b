import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useState, useSyncExternalStore } from "react";
import { Link, NavLink, Outlet } from "react-router";
import { api, type Session, take } from "~/api/client";
import { door } from "~/api/door";
import { forgetAllBatches } from "~/features/cook/offline";
import { notices } from "~/shared/notice";
import { openDrafts } from "~/shared/saving/drafts";
import { SaveMark } from "~/shared/saving/SaveMark";
import { useUnsent } from "~/shared/saving/useDraft";
import { OfflineStile } from "~/shared/states/Offline";
import { chooseTheme, storedTheme } from "~/shared/theme";
import { Button, focusWork } from "~/ui";
import { Menu, MenuButton, MenuLink } from "~/ui/Menu";
import { Wordmark } from "~/ui/Wordmark";
import { Palette } from "./Palette";

const SignInAgain = lazy(() => import("~/features/session/SignInAgain"));
const Notices = lazy(() => import("./Notices"));

const PAGES: readonly (readonly [string, string])[] = [
  ["/", "Desk"],
  ["/cases", "Cases"],
  ["/issued", "Issued"],
  ["/outbox", "Outbox"],
  ["/library", "Library"],
  ["/shelf", "Shelf"],
  ["/standards", "Standards"],
  ["/evidence", "How sure"],
  ["/words", "Words"],
];
const OWNERS: readonly (readonly [string, string])[] = [["/practice", "Practice"]];

export function Shell({ session }: { session: Session }) {
  // Before any page of this user is drawn, and before anything listens.
  openDrafts(session.username ?? "");
  const { changes } = useUnsent();
  const client = useQueryClient();
  const isShut = useSyncExternalStore(door.subscribe, door.snapshot);
  const pages = session.may.includes("run") ? [...PAGES, ...OWNERS] : PAGES;
  const reads = !session.may.includes("formulate");
  const [noticed, setNoticed] = useState(false);
  useEffect(() => notices.onWanted(() => setNoticed(true)), []);
  const [theme, setTheme] = useState(storedTheme);
  const other = theme === "light" ? "dark" : "light";
  const toOther = other === "dark" ? "Dark theme" : "Light theme";
  async function signOut() {
    const lost = changes === 1 ? "1 change is" : `${changes} changes are`;
    if (
      changes > 0 &&
      !confirm(`${lost} kept in this browser only, until you sign in here again. Sign out?`)
    )
      return;
    await take(api.POST("/api/session/sign-out"));
    forgetAllBatches(localStorage);
    client.clear();
    sessionStorage.clear();
    location.assign("/");
  }
  function changeTheme() {
    chooseTheme(other);
    setTheme(other);
  }
  return (
    <div className="flex min-h-dvh flex-col wide:h-dvh">
      <button
        type="button"
        onClick={focusWork}
        className="sr-only focus:not-sr-only focus:absolute focus:top-1 focus:left-1 focus:z-50 focus:rounded-corner focus:bg-ink focus:px-3 focus:py-1.5 focus:text-sheet"
      >
        Skip to the work
      </button>
      <Palette onTheme={changeTheme} />
      <header className="flex h-11 shrink-0 items-center gap-4 border-line border-b px-4">
        <Link to="/" className="rounded-corner">
          <Wordmark />
        </Link>
        <span className="hidden truncate text-soft wide:inline">{session.practice}</span>
        <nav aria-label="Main" className="hidden gap-1 wide:flex">
          {pages.map(([to, label]) => (
            <NavLink
              key={to}
              to={to}
              end={to === "/" || to === "/cases"}
              className={({ isActive }) =>
                `rounded-corner px-2 py-1 ${isActive ? "font-semibold underline decoration-oak decoration-2 underline-offset-4" : "hover:bg-groove"}`
              }
            >
              {label}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex min-w-0 items-center gap-1">
          <SaveMark />
          <span className="hidden wide:contents">
            <Link to="/account" className="rounded-corner px-3 py-1.5 font-medium hover:bg-groove">
              {session.username}
            </Link>
            <Button kind="quiet" onClick={changeTheme}>
              {toOther}
            </Button>
            <Button kind="quiet" onClick={signOut}>
              Sign out
            </Button>
          </span>
          <Menu label="Menu" className="wide:hidden">
            {pages.map(([to, label]) => (
              <MenuLink key={to} to={to}>
                {label}
              </MenuLink>
            ))}
            <MenuLink to="/account">Your account</MenuLink>
            <MenuButton onChoose={changeTheme}>{toOther}</MenuButton>
            <MenuButton onChoose={signOut}>Sign out</MenuButton>
          </Menu>
        </div>
      </header>
      {reads && (
        <p className="shrink-0 border-line border-b bg-groove px-4 py-1 text-data">
          You read, log and cook here. What you change in a case or a recipe is not taken: a
          consultant of {session.practice} does that.
        </p>
      )}
      <OfflineStile>
        <Outlet />
      </OfflineStile>
      {isShut && (
        <Suspense>
          <SignInAgain as={session.username ?? ""} />
        </Suspense>
      )}
      {noticed && (
        <Suspense>
          <Notices theme={theme} />
        </Suspense>
      )}
    </div>
  );
}
