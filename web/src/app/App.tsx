import { useQuery } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense, useEffect } from "react";
import { Navigate, Outlet, Route, Routes, useLocation } from "react-router";
import { CaseFrame, CaseStart } from "~/features/cases/CaseFrame";
import { sessionQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { Written } from "~/shared/Written";

import { PageErrors } from "./PageErrors";
import { Shell } from "./Shell";

const PAGES = {
  desk: () => import("~/features/desk/DeskPage"),
  cases: () => import("~/features/cases/CaseList"),
  bench: () => import("~/features/bench/Bench"),
  bring: () => import("~/features/bench/bring/BringPage"),
  energy: () => import("~/features/energy/EnergyPage"),
  intake: () => import("~/features/intake/IntakePage"),
  plan: () => import("~/features/plan/PlanPage"),
  checks: () => import("~/features/checks/ChecksPage"),
  diary: () => import("~/features/follow/DiaryPage"),
  sheet: () => import("~/features/sheet/SheetPage"),
  follow: () => import("~/features/follow/FollowPage"),
  kitchen: () => import("~/features/kitchen/KitchenPage"),
  cook: () => import("~/features/cook/CookPage"),
  issued: () => import("~/features/issued/IssuedPage"),
  invoices: () => import("~/features/office/InvoicesPage"),
  outbox: () => import("~/features/outbox/OutboxPage"),
  standards: () => import("~/features/standards/StandardsPage"),
  evidence: () => import("~/features/evidence/EvidencePage"),
  targets: () => import("~/features/targets/TargetsPage"),
  library: () => import("~/features/library/LibraryPage"),
  import: () => import("~/features/library/ImportPage"),
  shelf: () => import("~/features/shelf/ShelfPage"),
  history: () => import("~/features/history/HistoryPage"),
  glossary: () => import("~/features/glossary/GlossaryPage"),
  practice: () => import("~/features/practice/PracticePage"),
  people: () => import("~/features/people/PeoplePage"),
  audit: () => import("~/features/people/AuditPage"),
  installation: () => import("~/features/people/InstallationPage"),
  account: () => import("~/features/people/AccountPage"),
  client: () => import("~/features/clients/ClientPage"),
};
const SignIn = lazy(() => import("~/features/session/SignIn"));
const waysIn = () => import("~/features/session/WaysIn");
const Forgot = lazy(() => waysIn().then((m) => ({ default: m.Forgot })));
const Reset = lazy(() => waysIn().then((m) => ({ default: m.Reset })));
const Join = lazy(() => waysIn().then((m) => ({ default: m.Join })));
const FirstStart = lazy(() => import("~/features/session/FirstStart"));
/** What pages need at times. */
const PARTS = [() => import("./Notices")];
const DeskPage = lazy(PAGES.desk);
const CaseList = lazy(PAGES.cases);
const Bench = lazy(PAGES.bench);
const BringPage = lazy(PAGES.bring);
const EnergyPage = lazy(PAGES.energy);
const IntakePage = lazy(PAGES.intake);
const PlanPage = lazy(PAGES.plan);
const ChecksPage = lazy(PAGES.checks);
const KitchenPage = lazy(PAGES.kitchen);
const DiaryPage = lazy(PAGES.diary);
const SheetPage = lazy(PAGES.sheet);
const FollowPage = lazy(PAGES.follow);
const CookPage = lazy(PAGES.cook);
const IssuedPage = lazy(PAGES.issued);
const InvoicesPage = lazy(PAGES.invoices);
const OutboxPage = lazy(PAGES.outbox);
const StandardsPage = lazy(PAGES.standards);
const EvidencePage = lazy(PAGES.evidence);
const TargetsPage = lazy(PAGES.targets);
const LibraryPage = lazy(PAGES.library);
const ImportPage = lazy(PAGES.import);
const ShelfPage = lazy(PAGES.shelf);
const HistoryPage = lazy(PAGES.history);
const GlossaryPage = lazy(PAGES.glossary);
const PracticePage = lazy(PAGES.practice);
const PeoplePage = lazy(PAGES.people);
const AuditPage = lazy(PAGES.audit);
const InstallationPage = lazy(PAGES.installation);
const AccountPage = lazy(PAGES.account);
const ClientPage = lazy(PAGES.client);

/** By then the first page is drawn. */
const QUIET_MS = 2000;

/** Fetch the other pages while nothing else is done, so that they are there when the network is not. */
function useAllPages(): void {
  useEffect(() => {
    const timer = setTimeout(() => {
      for (const load of [...Object.values(PAGES), ...PARTS]) load().catch(() => undefined);
    }, QUIET_MS);
    return () => clearTimeout(timer);
  }, []);
}

export function App() {
  // The owner cooks, writes a diary and fills her sheet in without an account, and sees nothing else.
  return /^\/(cook|diary|sheet)\//.test(useLocation().pathname) ? (
    <PageErrors>
      <Suspense fallback={<Loading what="the page" />}>
        <Routes>
          <Route path="cook/batch/:batchId" element={<CookPage />} />
          <Route path="cook/:token" element={<CookPage />} />
          <Route path="diary/:token" element={<DiaryPage />} />
          <Route path="sheet/:token" element={<SheetPage />} />
        </Routes>
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
        {session.data.needs_setup ? <FirstStart /> : <SignIn demo={session.data.demo} />}
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
              <Route index element={<DeskPage />} />
              <Route path="cases" element={<CaseList />} />
              <Route path="library" element={<LibraryPage />} />
              <Route path="library/import" element={<ImportPage />} />
              <Route path="shelf" element={<ShelfPage />} />
              <Route path="standards" element={<StandardsPage />} />
              <Route path="evidence" element={<EvidencePage />} />
              <Route path="words" element={<GlossaryPage />} />
              <Route path="practice" element={<PracticePage />} />
              <Route path="people" element={<PeoplePage />} />
              <Route path="audit" element={<AuditPage />} />
              <Route path="installation" element={<InstallationPage />} />
              <Route path="account" element={<AccountPage />} />
              <Route path="issued" element={<IssuedPage />} />
              <Route path="invoices" element={<InvoicesPage />} />
              <Route path="outbox" element={<OutboxPage />} />
            </Route>
            <Route path="clients/:clientId" element={<ClientPage />} />
            <Route path="cases/:caseId" element={<CaseFrame />}>
              <Route index element={<CaseStart />} />
              <Route path="intake" element={<IntakePage />} />
              <Route path="energy" element={<EnergyPage />} />
              <Route path="targets" element={<TargetsPage />} />
              <Route path="plan" element={<PlanPage />} />
              <Route path="checks" element={<ChecksPage />} />
              <Route path="checks/:recipeId" element={<ChecksPage />} />
              <Route path="follow" element={<FollowPage />} />
              <Route path="kitchen" element={<KitchenPage />} />
              <Route path="history" element={<HistoryPage />} />
              <Route path="recipes/:recipeId" element={<Bench />} />
              <Route path="recipes/:recipeId/bring" element={<BringPage />} />
            </Route>
            <Route path="*" element={<Navigate to="/" replace />} />
          </Route>
        </Routes>
      </Suspense>
    </PageErrors>
  );
}
