import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { Navigate, Outlet, Route, Routes } from "react-router";
import { CaseFrame, CaseStart } from "~/features/cases/CaseFrame";
import { CaseList } from "~/features/cases/CaseList";
import { FirstStart } from "~/features/session/FirstStart";
import { SignIn } from "~/features/session/SignIn";
import { sessionQuery } from "~/shared/queries";
import { Written } from "~/shared/Written";
import { Loading, Problem } from "~/ui";
import { PageErrors } from "./PageErrors";
import { Shell } from "./Shell";

const PAGES = {
  bench: () => import("~/features/bench/Bench"),
  energy: () => import("~/features/energy/EnergyPage"),
  intake: () => import("~/features/intake/IntakePage"),
  plan: () => import("~/features/plan/PlanPage"),
  standards: () => import("~/features/standards/StandardsPage"),
  evidence: () => import("~/features/evidence/EvidencePage"),
  targets: () => import("~/features/targets/TargetsPage"),
  library: () => import("~/features/library/LibraryPage"),
  history: () => import("~/features/history/HistoryPage"),
  practice: () => import("~/features/practice/PracticePage"),
  client: () => import("~/features/clients/ClientPage"),
};
const Bench = lazy(PAGES.bench);
const EnergyPage = lazy(PAGES.energy);
const IntakePage = lazy(PAGES.intake);
const PlanPage = lazy(PAGES.plan);
const StandardsPage = lazy(PAGES.standards);
const EvidencePage = lazy(PAGES.evidence);
const TargetsPage = lazy(PAGES.targets);
const LibraryPage = lazy(PAGES.library);
const HistoryPage = lazy(PAGES.history);
const PracticePage = lazy(PAGES.practice);
const ClientPage = lazy(PAGES.client);

/** By then the first page is drawn. */
const QUIET_MS = 2000;

/** Fetch the other pages while nothing else is done, so that they are there when the network is not. */
function useAllPages(): void {
  useEffect(() => {
    const timer = setTimeout(() => {
      for (const load of Object.values(PAGES)) load().catch(() => undefined);
    }, QUIET_MS);
    return () => clearTimeout(timer);
  }, []);
}

export function App() {
  const session = useQuery(sessionQuery);
  useAllPages();
  if (session.isPending) return <Loading what="Wainscot" />;
  if (session.isError) return <Problem error={session.error} retry={() => session.refetch()} />;
  if (session.data.needs_setup) return <FirstStart />;
  if (!session.data.username) return <SignIn demo={session.data.demo} />;
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
              <Route index element={<CaseList />} />
              <Route path="library" element={<LibraryPage />} />
              <Route path="standards" element={<StandardsPage />} />
              <Route path="evidence" element={<EvidencePage />} />
              <Route path="practice" element={<PracticePage />} />
            </Route>
            <Route path="clients/:clientId" element={<ClientPage />} />
            <Route path="cases/:caseId" element={<CaseFrame />}>
              <Route index element={<CaseStart />} />
              <Route path="intake" element={<IntakePage />} />
              <Route path="energy" element={<EnergyPage />} />
              <Route path="targets" element={<TargetsPage />} />
              <Route path="plan" element={<PlanPage />} />
              <Route path="history" element={<HistoryPage />} />
              <Route path="recipes/:recipeId" element={<Bench />} />
            </Route>
            <Route path="*" element={<Navigate to="/" replace />} />
          </Route>
        </Routes>
      </Suspense>
    </PageErrors>
  );
}
