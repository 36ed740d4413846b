import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Analysis = Schemas["Analysis"];
export type Nutrient = Schemas["Nutrient"];
export type Ratio = Schemas["Ratio"];
export type Flag = Schemas["Flag"];
export type Case = Schemas["CaseView"];
export type CaseRow = Schemas["CaseRow"];
export type Recipe = Schemas["Recipe"];
export type Food = Schemas["Food"];
export type ShelfFood = Schemas["ShelfFood"];
export type Profile = Schemas["Profile"];
export type OwnFood = Schemas["OwnFood"];
export type LabelOut = Schemas["LabelOut"];
export type StandardFull = Schemas["StandardFull"];
export type MergedLimit = Schemas["MergedLimit"];
export type Conflict = Schemas["Conflict"];
export type ImportOut = Schemas["ImportOut"];
export type Standard = Schemas["Standard"];
export type Session = Schemas["Session"];
export type Explain = Schemas["Explain"];
export type Job = Schemas["Job"];
export type Proposal = Schemas["Proposal"];
export type Change = Schemas["Change"];
export type FormulationChoices = Schemas["FormulationChoices"];
export type FormulateSettings = Schemas["FormulateSettingsRequest"];
export type LineRule = Schemas["LineRuleInRequest"];
export type Help = Schemas["Help"];
export type Version = Schemas["Version"];
export type PlanAnalysis = Schemas["PlanAnalysis"];
export type Targets = Schemas["Targets"];
export type Step = Schemas["Step"];
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

const csrf: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
};

export const api = createClient<paths>({ baseUrl: "" });
api.use(csrf);

interface ErrorBody {
  error?: { field?: string; message?: string };
}

/** The data of a response, or an ApiError in words. */
export async function take<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result: { data?: T; error?: unknown; response: Response };
  try {
    result = await call;
  } catch {
    throw new ApiError(0, "", "The server cannot be reached. Your work stays on this page.", null);
  }
  if (result.response.ok) return result.data as T;
  const body = (result.error ?? {}) as ErrorBody;
  throw new ApiError(
    result.response.status,
    body.error?.field ?? "",
    body.error?.message ?? `The server answered ${result.response.status}.`,
    result.error,
  );
}
