import type { QueryClient } from "@tanstack/react-query";

/** The kinds of things the browser keeps of the server; a key starts with its kind. */
const KINDS = [
  "session",
  "reach",
  "cases",
  "desk",
  "case",
  "intake",
  "energy",
  "targets",
  "conditions",
  "client-foods",
  "shopping",
  "eaten",
  "recipe",
  "brought",
  "doubts",
  "analysis",
  "explain",
  "versions",
  "links",
  "events",
  "formulation",
  "plan",
  "foods",
  "terms",
  "library",
  "profile",
  "own-food",
  "shelf",
  "label",
  "standards",
  "standard",
  "evidence",
  "glossary",
  "practice",
  "client",
  "clients",
  "steps",
  "checks",
  "issued",
  "outbox",
  "kitchen",
  "batch-plan",
  "cook",
  "corrections",
  "cook-links",
  "boxes",
  "freezer",
  "follow",
  "reformulate",
  "diary-links",
] as const;

export type Kind = (typeof KINDS)[number];

/** The key of one thing of a kind. What it depends on follows, from the widest to the narrowest. */
export function keyOf(kind: Kind, ...of: unknown[]) {
  return [kind, ...of] as const;
}

/** What is computed from what was changed. */
export const FOLLOWS = {
  case: [
    "follow",
    "reformulate",
    "cases",
    "steps",
    "checks",
    "issued",
    "eaten",
    "shopping",
    "intake",
    "energy",
    "targets",
    "analysis",
    "doubts",
    "explain",
    "formulation",
    "kitchen",
    "batch-plan",
  ],
  recipe: ["reformulate", "steps", "checks", "issued", "shopping", "kitchen", "batch-plan"],
  // Nothing of the recipe itself: only where it is on its way out.
  release: [
    "reformulate",
    "steps",
    "checks",
    "issued",
    "outbox",
    "versions",
    "events",
    "kitchen",
    "batch-plan",
  ],
  // A day that was put down.
  follow: ["follow", "events"],
  // A batch that was kept, weighed or thrown away.
  batch: ["kitchen", "events", "cook", "corrections", "boxes", "freezer"],
  clientFoods: ["shopping", "steps", "checks", "foods", "analysis", "doubts", "formulation"],
  foods: [
    "kitchen",
    "batch-plan",
    "checks",
    "issued",
    "shopping",
    "terms",
    "library",
    "profile",
    "own-food",
    "foods",
    "analysis",
    "doubts",
    "explain",
  ],
  shelf: [
    "kitchen",
    "batch-plan",
    "checks",
    "issued",
    "shelf",
    "session",
    "library",
    "profile",
    "foods",
    "formulation",
    "analysis",
    "doubts",
    "explain",
  ],
  standards: [
    "batch-plan",
    "checks",
    "issued",
    "standards",
    "evidence",
    "targets",
    "analysis",
    "doubts",
    "explain",
  ],
  cases: ["cases", "clients", "client"],
  // How things are written: cups and spoons change what is typed from then on.
  practice: ["session", "case", "cases", "client", "analysis", "doubts", "foods", "plan"],
  client: ["case", "cases", "clients", "analysis", "doubts", "foods", "plan"],
} as const satisfies Record<string, readonly Kind[]>;

/** Forget what follows from a change, so that it is asked anew. */
export function forget(client: QueryClient, changed: keyof typeof FOLLOWS): Promise<unknown> {
  return Promise.all(
    FOLLOWS[changed].map((kind) => client.invalidateQueries({ queryKey: keyOf(kind) })),
  );
}
