import { matchPath } from "react-router";
import { type Coded, coded } from "./page";

type Places = readonly (readonly [string, Coded])[];

/** What is shown without an account: the owner cooks, writes a diary and fills her sheet in, and sees nothing else. */
const CookPage = coded(() => import("~/features/cook/CookPage"));
export const FOR_OWNERS: Places = [
  ["cook/batch/:batchId", CookPage],
  ["cook/:token", CookPage],
  ["diary/:token", coded(() => import("~/features/follow/DiaryPage"))],
  ["sheet/:token", coded(() => import("~/features/sheet/SheetPage"))],
];

export const isForOwner = (pathname: string): boolean => /^\/(cook|diary|sheet)\//.test(pathname);

/** The pages of a practice, "" where one begins. */
export const OF_PRACTICE: Places = [
  ["", coded(() => import("~/features/desk/DeskPage"))],
  ["cases", coded(() => import("~/features/cases/CaseList"))],
  ["library", coded(() => import("~/features/library/LibraryPage"))],
  ["library/import", coded(() => import("~/features/library/ImportPage"))],
  ["shelf", coded(() => import("~/features/shelf/ShelfPage"))],
  ["standards", coded(() => import("~/features/standards/StandardsPage"))],
  ["evidence", coded(() => import("~/features/evidence/EvidencePage"))],
  ["words", coded(() => import("~/features/glossary/GlossaryPage"))],
  ["practice", coded(() => import("~/features/practice/PracticePage"))],
  ["people", coded(() => import("~/features/people/PeoplePage"))],
  ["audit", coded(() => import("~/features/people/AuditPage"))],
  ["installation", coded(() => import("~/features/people/InstallationPage"))],
  ["account", coded(() => import("~/features/people/AccountPage"))],
  ["issued", coded(() => import("~/features/issued/IssuedPage"))],
  ["invoices", coded(() => import("~/features/office/InvoicesPage"))],
  ["outbox", coded(() => import("~/features/outbox/OutboxPage"))],
];

/** Those that write things as their client does. */
export const OF_CLIENT: Places = [
  ["clients/:clientId", coded(() => import("~/features/clients/ClientPage"))],
];

/** Within the frame of a case. */
const ChecksPage = coded(() => import("~/features/checks/ChecksPage"));
export const OF_CASE: Places = [
  ["intake", coded(() => import("~/features/intake/IntakePage"))],
  ["energy", coded(() => import("~/features/energy/EnergyPage"))],
  ["targets", coded(() => import("~/features/targets/TargetsPage"))],
  ["plan", coded(() => import("~/features/plan/PlanPage"))],
  ["checks", ChecksPage],
  ["checks/:recipeId", ChecksPage],
  ["follow", coded(() => import("~/features/follow/FollowPage"))],
  ["kitchen", coded(() => import("~/features/kitchen/KitchenPage"))],
  ["history", coded(() => import("~/features/history/HistoryPage"))],
  ["recipes/:recipeId", coded(() => import("~/features/bench/Bench"))],
  ["recipes/:recipeId/bring", coded(() => import("~/features/bench/bring/BringPage"))],
];

const EVERY: Places = [
  ...FOR_OWNERS,
  ...OF_PRACTICE,
  ...OF_CLIENT,
  ...OF_CASE.map(([path, page]) => [`cases/:caseId/${path}`, page] as const),
];

/** Fetch the code of the page that an address shows. */
export async function ahead(pathname: string): Promise<void> {
  await EVERY.find(([path]) => matchPath(`/${path}`, pathname))?.[1].ahead();
}

/** Fetch that of all others, so that they are there when the network is not. */
export function fetchAll(): void {
  for (const [, page] of EVERY) page.ahead().catch(() => undefined);
}
