import { queryOptions } from "@tanstack/react-query";
import { ApiError, api, take } from "~/api/client";
import { Cache } from "~/shared/cache";
import { keyOf } from "~/shared/keys";

export const queryClient = new Cache({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      retry: (count, error) => error instanceof ApiError && error.status === 0 && count < 2,
      refetchOnWindowFocus: false,
    },
  },
});

/** Recipes that others are begun with. */
export const keptRecipesQuery = queryOptions({
  queryKey: keyOf("kept-recipes"),
  queryFn: () => take(api.GET("/api/kept-recipes")),
});

export const sessionQuery = queryOptions({
  queryKey: keyOf("session"),
  queryFn: () => take(api.GET("/api/session")),
  staleTime: Number.POSITIVE_INFINITY,
});

const DESK_AGAIN_MS = 1500;

/** What is due today; it follows from all that is written, so it is asked anew whenever it is shown. */
export const deskQuery = queryOptions({
  queryKey: keyOf("desk"),
  queryFn: () => take(api.GET("/api/desk")),
  staleTime: 0,
  // Each look works out some more of the cases that changed.
  refetchInterval: ({ state }) => (state.data?.behind ? DESK_AGAIN_MS : false),
});

/** Whom one meets today and in the two weeks after. */
export const appointmentsQuery = queryOptions({
  queryKey: keyOf("appointments"),
  queryFn: () => take(api.GET("/api/appointments")),
  staleTime: 0,
});

/** What cases are looked for; a field that is left out asks for any. */
export interface WantedCases {
  words?: string;
  condition?: string;
  archived?: boolean;
  order?: "changed" | "dog";
  page?: number;
}

/** Cases that are looked for. Those before stay in sight until others are there. */
export const casesQuery = (wanted: WantedCases = {}) =>
  queryOptions({
    queryKey: keyOf("cases", wanted),
    queryFn: () => take(api.GET("/api/cases", { params: { query: wanted } })),
    placeholderData: (old) => old,
  });

export const caseQuery = (id: number) =>
  queryOptions({
    queryKey: keyOf("case", id),
    queryFn: () => take(api.GET("/api/cases/{id}", { params: { path: { id } } })),
  });

/** How far a case is. */
export const stepsQuery = (id: number) =>
  queryOptions({
    queryKey: keyOf("steps", id),
    queryFn: () => take(api.GET("/api/cases/{id}/steps", { params: { path: { id } } })),
    placeholderData: (old) => old,
  });

/** What was put down of a dog after its plan was issued, and what it says. */
export const followQuery = (id: number) =>
  queryOptions({
    queryKey: keyOf("follow", id),
    queryFn: () => take(api.GET("/api/cases/{id}/follow", { params: { path: { id } } })),
  });

export const recipeQuery = (id: number) =>
  queryOptions({
    queryKey: keyOf("recipe", id),
    queryFn: () => take(api.GET("/api/recipes/{id}", { params: { path: { id } } })),
    staleTime: 0,
  });

export const practiceQuery = queryOptions({
  queryKey: keyOf("practice", "mine"),
  queryFn: () => take(api.GET("/api/practice")),
});

export const shelfQuery = queryOptions({
  queryKey: keyOf("shelf"),
  queryFn: () => take(api.GET("/api/shelf")),
});

/** Clients with these words in their names, the first of them. */
export const clientsQuery = (words: string) =>
  queryOptions({
    queryKey: keyOf("clients", words),
    queryFn: () => take(api.GET("/api/clients", { params: { query: { words } } })),
    placeholderData: (old) => old,
  });

export const conditionsQuery = queryOptions({
  queryKey: keyOf("conditions"),
  queryFn: () => take(api.GET("/api/conditions")),
  staleTime: Number.POSITIVE_INFINITY,
});

export const clientQuery = (id: number) =>
  queryOptions({
    queryKey: keyOf("client", id),
    queryFn: () => take(api.GET("/api/clients/{id}", { params: { path: { id } } })),
  });

export const glossaryQuery = queryOptions({
  queryKey: keyOf("glossary"),
  queryFn: () => take(api.GET("/api/glossary")),
  staleTime: Number.POSITIVE_INFINITY,
});

export const evidenceQuery = queryOptions({
  queryKey: keyOf("evidence"),
  queryFn: () => take(api.GET("/api/evidence")),
});

export const standardsQuery = queryOptions({
  queryKey: keyOf("standards"),
  queryFn: () => take(api.GET("/api/standards")),
});

export const formulationQuery = (caseId: number) =>
  queryOptions({
    queryKey: keyOf("formulation", caseId),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/formulation", { params: { path: { id: caseId } } })),
  });

export const versionsQuery = (recipeId: number) =>
  queryOptions({
    queryKey: keyOf("versions", recipeId),
    queryFn: () =>
      take(api.GET("/api/recipes/{id}/versions", { params: { path: { id: recipeId } } })),
  });

/** What stands against a recipe, and how far it is on its way out. */
export const checksQuery = (recipeId: number) =>
  queryOptions({
    queryKey: keyOf("checks", recipeId),
    queryFn: () =>
      take(api.GET("/api/recipes/{id}/checks", { params: { path: { id: recipeId } } })),
    staleTime: 0,
  });

export const planQuery = (caseId: number) =>
  queryOptions({
    queryKey: keyOf("plan", caseId),
    queryFn: () => take(api.GET("/api/cases/{id}/plan", { params: { path: { id: caseId } } })),
    staleTime: 0,
  });

/** Foods for a case by words, with or without an amount. */
export const foodsQuery = (caseId: number, words: string) =>
  queryOptions({
    queryKey: keyOf("foods", caseId, words),
    queryFn: () => take(api.GET("/api/foods", { params: { query: { q: words, case: caseId } } })),
  });

export const freezerQuery = (caseId: number) =>
  queryOptions({
    queryKey: keyOf("freezer", caseId),
    queryFn: () => take(api.GET("/api/cases/{id}/freezer", { params: { path: { id: caseId } } })),
  });

export const energyQuery = (current: { id: number; version: number }) =>
  queryOptions({
    queryKey: keyOf("energy", current.id, current.version),
    queryFn: () =>
      take(api.GET("/api/cases/{id}/energy", { params: { path: { id: current.id } } })),
    // What is asked beside it stays while the case changes; another dog's figures are never shown.
    placeholderData: (before, query) => (query?.queryKey[1] === current.id ? before : undefined),
  });

export const profileQuery = (id: string) => ({
  queryKey: keyOf("profile", id),
  queryFn: () => take(api.GET("/api/foods/{food_id}", { params: { path: { food_id: id } } })),
});

/** What the batches of a case are planned with, and those there are. */
export const kitchenQuery = (id: number) =>
  queryOptions({
    queryKey: keyOf("kitchen", id),
    queryFn: () => take(api.GET("/api/cases/{id}/kitchen", { params: { path: { id } } })),
  });

/** The gaps of a recipe, and the foods of the library beside them. */
export const gapsQuery = (recipe: number, all: boolean) =>
  queryOptions({
    queryKey: keyOf("density", recipe, "gaps", all),
    queryFn: () =>
      take(
        api.GET("/api/recipes/{id}/gaps", {
          params: { path: { id: recipe }, query: all ? { all } : {} },
        }),
      ),
    placeholderData: (old) => old,
  });

/** Some foods beside everything that has a limit for a dog. */
export const densityQuery = (recipe: number, food: string[]) =>
  queryOptions({
    queryKey: keyOf("density", recipe, food),
    queryFn: () =>
      take(
        api.GET("/api/recipes/{id}/density", {
          params: { path: { id: recipe }, query: { food } },
        }),
      ),
  });

/** The latest versions of a recipe in their order, with their walls in short. */
export const timelineQuery = (recipe: number) =>
  queryOptions({
    queryKey: keyOf("versions", recipe, "timeline"),
    queryFn: () =>
      take(api.GET("/api/recipes/{id}/timeline", { params: { path: { id: recipe } } })),
  });
