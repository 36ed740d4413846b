import { useQuery } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense, useEffect } from "react";
import { Navigate, Outlet, Route, Routes, useLocation } from "react-router";
import { CaseFrame, CaseStart } from "~/features/cases/CaseFrame";
import { sessionQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { Written } from "~/shared/Written";

import { PageErrors } from "./PageErrors";
import { Entries } from "./Palette";
import { FOR_OWNERS, fetchAll, isForOwner, OF_CASE, OF_CLIENT, OF_PRACTICE } from "./pages";
import { Shell } from "./Shell";

const SignIn = lazy(() => import("~/features/session/SignIn"));
const waysIn = () => import("~/features/session/WaysIn");
const Forgot = lazy(() => waysIn().then((m) => ({ default: m.Forgot })));
const Reset = lazy(() => waysIn().then((m) => ({ default: m.Reset })));
const Join = lazy(() => waysIn().then((m) => ({ default: m.Join })));
const FirstStart = lazy(() => import("~/features/session/FirstStart"));
/** What pages need at times. */
const PARTS = [() => import("./Notices"), Entries.ahead];

/** By then the first page is drawn. */
const QUIET_MS = 2000;

/** Fetch the other pages while nothing else is done, so that they are there when the network is not. */
function useAllPages(): void {
  useEffect(() => {
    const timer = setTimeout(() => {
      fetchAll();
      for (const load of PARTS) load().catch(() => undefined);
    }, QUIET_MS);
    return () => clearTimeout(timer);
  }, []);
}

export function App() {
  return isForOwner(useLocation().pathname) ? (
    <PageErrors>
      <Suspense fallback={<Loading what="the page" />}>
        <Routes>{routes(FOR_OWNERS)}</Routes>
      </Suspense>
    </PageErrors>
  ) : (
    <Routes>
      <Route path="forgot" element={<WayIn page={<Forgot />} />} />
      <Route path="reset/:token" element={<WayIn page={<Reset />} />} />
      <Route path="invitation/:token" element={<WayIn page={<Join />} />} />
      <Route path="*" element={<Office />} />
    </Routes>
  );
}

function routes(places: typeof OF_CASE): ReactNode {
  return places.map(([path, Page]) => <Route key={path} path={path} element={<Page />} />);
}

/** A page for who is not signed in, or is not yet anybody. */
function WayIn({ page }: { page: ReactNode }) {
  return (
    <PageErrors>
      <Suspense fallback={<Loading what="the page" />}>{page}</Suspense>
    </PageErrors>
  );
}

function Office() {
  const session = useQuery(sessionQuery);
  useAllPages();
  if (session.isPending) return <Loading what="Wainscot" />;
  if (session.isError)
    return <Problem what="Wainscot" error={session.error} retry={() => session.refetch()} />;
  if (session.data.needs_setup || !session.data.username) {
    return (
      <Suspense fallback={<Loading what="Wainscot" />}>
        {session.data.needs_setup ? (
          <FirstStart asksKey={session.data.needs_key} />
        ) : (
          <SignIn demo={session.data.demo} />
        )}
      </Suspense>
    );
  }
  return (
    <PageErrors>
      <Suspense fallback={<Loading what="this page" />}>
        <Routes>
          <Route element={<Shell session={session.data} />}>
            <Route
              element={
                <Written by={session.data.conventions}>
                  <Outlet />
                </Written>
              }
            >
              {routes(OF_PRACTICE)}
            </Route>
            {routes(OF_CLIENT)}
            <Route path="cases/:caseId" element={<CaseFrame />}>
              <Route index element={<CaseStart />} />
              {routes(OF_CASE)}
            </Route>
            <Route path="*" element={<Navigate to="/" replace />} />
          </Route>
        </Routes>
      </Suspense>
    </PageErrors>
  );
}
