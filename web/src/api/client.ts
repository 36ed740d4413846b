import createClient from "openapi-fetch";
import { door } from "./door";
import { reach } from "./reach";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type TypedAnalysis = Schemas["TypedAnalysis"];
/** An analysis; while lines are still being typed it says which lines it is of. */
export type Analysis = Schemas["Analysis"] &
  Partial<Pick<TypedAnalysis, "positions" | "line_errors">>;
/** How a recipe is looked at, beside its lines. */
export type Look = Omit<Schemas["LinesAskRequest"], "lines" | "covers_days">;
export type Nutrient = Schemas["NutrientResult"];
export type Ratio = Schemas["RatioResult"];
export type Finding = Schemas["Finding"];
export type Case = Schemas["CaseView"];
export type ClientPage = Schemas["ClientPage"];
export type Practice = Schemas["PracticeView"];
export type CaseStep = Schemas["CaseStep"];
export type FirstLine = Schemas["FirstLine"];
export type Chip = Schemas["Chip"];
export type Replacements = Schemas["Replacements"];
export type Boards = Schemas["Boards"];
export type CaseRow = Schemas["CaseRow"];
export type Recipe = Schemas["RecipeView"];
export type Food = Schemas["FoundFood"];
export type Yard = Schemas["Yard"];
export type GapTable = Schemas["GapTable"];
export type Densities = Schemas["Densities"];
export type ListedFood = Schemas["ListedFood"];
export type ShelfEntry = Schemas["ShelfEntryView"];
export type ShelfPage = Schemas["ShelfPage"];
export type ReadLine = Schemas["ReadLine"];
export type TermRead = Schemas["TermRead"];
export type LabelMeaning = Schemas["LabelResult"];
export type ImportResult = Schemas["ImportResult"];
export type FoundColumn = Schemas["FoundColumn"];
export type ColumnUse = Schemas["ColumnUseRequest"];
export type TableBasis = NonNullable<ColumnUse["per"]>;
export type BagLabel = Schemas["BagLabel"];
export type Review = Schemas["Review"];
export type ReviewLine = Schemas["ReviewLine"];
export type Doubts = Schemas["Doubts"];
export type Brought = Schemas["BroughtView"];
export type Profile = Schemas["Profile"];
export type OwnFood = Schemas["OwnFoodView"];
export type StandardRowIn = Schemas["StandardRowInRequest"];
export type StandardFull = Schemas["StandardFull"];
export type StepsOfCase = Schemas["StepsOfCase"];
export type SwapClass = Schemas["SwapClass"];
export type Robustness = Schemas["Robustness"];
export type StandardsBeside = Schemas["StandardsBeside"];
export type WeightPlan = Schemas["WeightPlan"];
export type MergedLimit = Schemas["MergedLimit"];
export type Conflict = Schemas["LimitConflict"];
export type Session = Schemas["Session"];
export type Job = Schemas["FormulationJob"];
export type ShareLink = Schemas["LinkView"];
export type PortionResult = Schemas["PortionResult"];
export type SpoiltRow = Schemas["Spoilt"];
export type HistoryEvent = Schemas["EventView"];
export type LiveAnswer = Schemas["LiveAnswer"];
export type Proposal = Schemas["ProposalResult"];
export type Answer = Schemas["AlternativeResult"];
export type Change = Schemas["Change"];
export type FormulationChoices = Schemas["FormulationChoices"];
export type FormulateSettings = Schemas["FormulateSettingsRequest"];
export type Help = Schemas["Help"];
export type Version = Schemas["VersionView"];
export type TimelineStep = Schemas["TimelineStep"];
export type RoundJob = Schemas["RotationJob"];
export type PlanAnalysis = Schemas["PlanView"];
export type Targets = Schemas["Targets"];
export type Intake = Schemas["IntakeView"];
export type Glossary = Schemas["Glossary"];
export type Evidence = Schemas["Evidence"];
export type FoodEnergyChoices = Schemas["FoodEnergyChoices"];
export type Multiplier = Schemas["Multiplier"];
export type ClientFoodMark = Schemas["ClientFoodMark"];
export type ClientFoodsSaid = Schemas["ClientFoodsSaidRequest"];
export type Shopping = Schemas["Shopping"];
export type ShopItem = Schemas["ShopItem"];
export type Checks = Schemas["ChecksView"];
export type CheckIn = Schemas["CheckInRequest"];
export type IssueIn = Schemas["IssueInRequest"];
export type Weighed = Schemas["Weighed"];
export type Release = Schemas["ReleaseView"];
export type Differences = Schemas["Differences"];
export type VetWord = Schemas["VetWordRequest"];
export type AskVet = Schemas["AskVetRequest"];
export type Issued = Schemas["IssuedView"];
export type Mail = Schemas["MailView"];
export type Step = Schemas["Step"];
export type Kitchen = Schemas["KitchenView"];
export type CookSource = Schemas["CookSource"];
export type Mate = Schemas["Mate"];
export type Batch = Schemas["BatchView"];
export type BatchPlan = Schemas["BatchPlan"];
export type BatchLine = Schemas["BatchLine"];
export type Cook = Schemas["CookView"];
export type CookStep = Schemas["CookStep"];
export type CookedBatch = Schemas["CookedBatch"];
export type Corrections = Schemas["Corrections"];
export type CookEntry = Schemas["EntryRequest"];
export type BoxList = Schemas["BoxesView"];
export type Trend = Schemas["Trend"];
export type Estimate = Schemas["Estimate"];
export type Diary = Schemas["DiaryView"];
export type LabReport = Schemas["LabReport"];
export type OwnersSheet = Schemas["OwnersSheetView"];
export type SentSheet = Schemas["SentSheetView"];
export type FollowEntry = Schemas["FollowEntryView"];
export type Follow = Schemas["FollowView"];
export type Reformulate = Schemas["ReformulateView"];
export type Learned = Schemas["Learned"];
export type Drift = Schemas["Drift"];
export type DriftPlan = Schemas["DriftPlan"];
export type LabSeries = Schemas["LabSeries"];
export type Desk = Schemas["DeskView"];
export type DeskRow = Schemas["DeskRow"];
export type DeskThing = Schemas["DeskThing"];
export type Trial = Schemas["TrialView"];
export type TrialMoveKind = Schemas["MoveKindRequest"];
export type TrialMove = Schemas["TrialMoveRequest"];
export type FollowEntryIn = Schemas["DayEntryRequest"];
export type FreezerStock = Schemas["FreezerView"];
export type BatchAsk = Schemas["BatchAskRequest"];
export type People = Schemas["PeopleView"];
export type Person = Schemas["PersonView"];
export type Account = Schemas["AccountView"];
export type Erasure = Schemas["ErasureView"];
export type Installation = Schemas["InstallationView"];
export type WorkRole = Schemas["WorkRole"];
export type Appointment = Schemas["AppointmentView"];
export type Appointments = Schemas["Appointments"];
export type Meeting = Schemas["Meeting"];
export type Invoice = Schemas["InvoiceView"];
export type InvoiceAsk = Schemas["InvoiceAskRequest"];
export type InvoicesOfClient = Schemas["InvoicesOfClient"];
export type PracticeText = Schemas["TextView"];
export type KeptRecipe = Schemas["KeptView"];
export type Origin = Schemas["Origin"];

/** A request the server refused: `field` names the input, `status` the HTTP status. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly field: string,
    message: string,
    readonly body: unknown,
  ) {
    super(message);
  }
}

function cookie(name: string): string {
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

/** The token of this host; behind TLS its cookie has the name that only this host can set. */
function token(): string {
  return cookie("__Host-csrftoken") || cookie("csrftoken");
}

/** Not a middleware: the client waits for those, and a page that is being drawn would go first. */
function withToken(request: Request): Promise<Response> {
  if (request.method !== "GET") request.headers.set("X-CSRFToken", token());
  return untilFree(request);
}

const MOST_TRIES = 4;
const LONGEST_WAIT_S = 10;

/** A write that had to wait for another one was not made: it is sent again when the server says. */
async function untilFree(request: Request): Promise<Response> {
  for (let tries = 1; ; tries += 1) {
    const again = tries < MOST_TRIES ? request.clone() : null;
    const response = await fetch(request);
    const seconds = Number(response.headers.get("Retry-After"));
    if (response.status !== 503 || again === null || !(seconds > 0 && seconds <= LONGEST_WAIT_S))
      return response;
    await new Promise((go) => setTimeout(go, seconds * 1000));
    request = again;
  }
}

export const api = createClient<paths>({ baseUrl: "", fetch: withToken });

interface ErrorBody {
  error?: { field?: string; message?: string };
}

/** The field of the refusal of whoever is not signed in. */
const SIGNED_OUT = "session";

/** The data of a response, or an ApiError in words. */
export async function take<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result: { data?: T; error?: unknown; response: Response };
  try {
    result = await call;
  } catch (error) {
    // Nobody waits for this answer any more.
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    reach.lost();
    throw new ApiError(0, "", "No connection to the server. Your work stays here.", null);
  }
  reach.found();
  if (result.response.ok) return result.data as T;
  const body = (result.error ?? {}) as ErrorBody;
  if (result.response.status === 403 && body.error?.field === SIGNED_OUT) door.shut();
  throw new ApiError(
    result.response.status,
    body.error?.field ?? "",
    body.error?.message ?? `The server answered ${result.response.status}.`,
    result.error,
  );
}
