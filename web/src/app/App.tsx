import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Navigate, Route, Routes } from "react-router";
import { CaseFrame, CaseStart } from "~/features/cases/CaseFrame";
import { CaseList } from "~/features/cases/CaseList";
import { FirstStart } from "~/features/session/FirstStart";
import { SignIn } from "~/features/session/SignIn";
import { sessionQuery } from "~/shared/queries";
import { Loading, Problem } from "~/ui";
import { Shell } from "./Shell";

const Bench = lazy(() => import("~/features/bench/Bench"));
const EnergyPage = lazy(() => import("~/features/energy/EnergyPage"));
const IntakePage = lazy(() => import("~/features/intake/IntakePage"));
const PlanPage = lazy(() => import("~/features/plan/PlanPage"));
const StandardsPage = lazy(() => import("~/features/standards/StandardsPage"));
const EvidencePage = lazy(() => import("~/features/evidence/EvidencePage"));
const TargetsPage = lazy(() => import("~/features/targets/TargetsPage"));
const LibraryPage = lazy(() => import("~/features/library/LibraryPage"));
const HistoryPage = lazy(() => import("~/features/history/HistoryPage"));

export function App() {
  const session = useQuery(sessionQuery);
  if (session.isPending) return <Loading what="Wainscot" />;
  if (session.isError) return <Problem error={session.error} retry={() => session.refetch()} />;
  if (session.data.needs_setup) return <FirstStart />;
  if (!session.data.username) return <SignIn demo={session.data.demo} />;
  return (
    <Suspense fallback={<Loading what="this page" />}>
      <Routes>
        <Route element={<Shell session={session.data} />}>
          <Route index element={<CaseList />} />
          <Route path="library" element={<LibraryPage />} />
          <Route path="standards" element={<StandardsPage />} />
          <Route path="evidence" element={<EvidencePage />} />
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
  );
}
