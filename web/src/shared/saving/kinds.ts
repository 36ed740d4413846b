/** The kinds of records that are changed field by field: what their fields are, and where they are sent. */

import {
  ApiError,
  api,
  type Case,
  type ClientPage,
  type PlanAnalysis,
  type Practice,
  type Profile,
  type Recipe,
  type StandardFull,
  take,
} from "~/api/client";
import { forget, keyOf } from "~/shared/keys";
import { queryClient } from "~/shared/queries";
import type { Collision, FieldChange, Outcome } from "./changes";
import type { Fields } from "./fields";

export interface RecordOf {
  case: Case;
  recipe: Recipe;
  /** By the number of its case. */
  plan: PlanAnalysis;
  /** A food with what the practice says of it. */
  profile: Profile;
  standard: StandardFull;
  /** There is one of the user's. */
  practice: Practice;
  client: ClientPage;
}

/** What a record is known by: its number, or its name where it has one. */
export type Id = number | string;

export type Kind = keyof RecordOf;

export interface KindOf<R> {
  fieldsOf: (record: R) => Fields;
  patch: (id: Id, changes: FieldChange[], keepAs: string) => Promise<R>;
  /** What follows from a change, and is asked anew. */
  after: (id: Id, record: R) => void;
  /** Fields that hold rows by key, which come and go. */
  tables: readonly string[];
  /** What is said when there is no such record any more. */
  gone: string;
}

function byKey<T extends { key: string }>(rows: readonly T[], of: (row: T) => Fields) {
  return {
    rows: Object.fromEntries(rows.map((row) => [row.key, of(row)])),
    order: rows.map((row) => row.key),
  };
}

export const KINDS: { [K in Kind]: KindOf<RecordOf[K]> } = {
  case: {
    fieldsOf: (record) => record as unknown as Fields,
    patch: (id, changes) =>
      take(
        api.PATCH("/api/cases/{id}", { params: { path: { id: Number(id) } }, body: { changes } }),
      ),
    after: () => void forget(queryClient, "case"),
    tables: [],
    gone: "This case is no longer there.",
  },
  recipe: {
    fieldsOf: ({ name, covers_days, lines }) => {
      const { rows, order } = byKey(lines, ({ food, quantity, note, preparation, override }) => ({
        food,
        quantity,
        note,
        preparation,
        override,
      }));
      return { name, covers_days, lines: rows, order };
    },
    patch: (id, changes, keepAs) =>
      take(
        api.PATCH("/api/recipes/{id}", {
          params: { path: { id: Number(id) } },
          body: { changes, keep_as: keepAs },
        }),
      ),
    after: (id, record) => {
      void forget(queryClient, "recipe");
      void queryClient.invalidateQueries({ queryKey: keyOf("versions", Number(id)) });
      void queryClient.invalidateQueries({ queryKey: keyOf("plan", record.case) });
      // The steps show its name.
      const whole = queryClient.getQueryData<Case>(keyOf("case", record.case));
      if (whole?.recipes.some((r) => r.id === record.id && r.name !== record.name)) {
        void queryClient.invalidateQueries({ queryKey: keyOf("case", record.case) });
      }
    },
    tables: ["lines"],
    gone: "This recipe is no longer there.",
  },
  plan: {
    fieldsOf: ({ turns, items, begins, change_days }) => {
      const { rows, order } = byKey(items, ({ kind, food, quantity }) => ({
        kind,
        food,
        quantity,
      }));
      const days = Object.fromEntries(turns.map((turn) => [String(turn.recipe), turn.days]));
      return { turns: days, items: rows, order, begins, change_days };
    },
    patch: (id, changes) =>
      take(
        api.PATCH("/api/cases/{id}/plan", {
          params: { path: { id: Number(id) } },
          body: { changes },
        }),
      ),
    after: () => void forget(queryClient, "recipe"),
    tables: ["turns", "items"],
    gone: "This plan is no longer there.",
  },
  profile: {
    fieldsOf: ({ practice }) => ({
      price: practice?.price ?? null,
      price_grams: practice?.price_grams ?? null,
      shop: practice?.shop ?? "",
      season: practice?.season ?? "",
      unavailable: practice?.unavailable ?? false,
      measures: practice?.measures ?? {},
      strengths: practice?.strengths ?? {},
    }),
    patch: (id, changes) =>
      take(
        api.PATCH("/api/foods/{food_id}", {
          params: { path: { food_id: String(id) } },
          body: { changes },
        }),
      ),
    after: () => void forget(queryClient, "foods"),
    tables: ["measures", "strengths"],
    gone: "This food is no longer there.",
  },
  standard: {
    fieldsOf: ({ name, rows }) => {
      const stages: Record<string, Record<string, Fields>> = {};
      for (const { stage, key, min, base, max } of rows) {
        stages[stage] = { ...stages[stage], [key]: { min, base, max } };
      }
      return { name, stages };
    },
    patch: (id, changes) =>
      take(
        api.PATCH("/api/standards/{standard_id}", {
          params: { path: { standard_id: String(id) } },
          body: { changes },
        }),
      ),
    after: () => void forget(queryClient, "standards"),
    tables: [],
    gone: "This standard is no longer there.",
  },
  practice: {
    fieldsOf: ({ name, conventions: { words: _, ...conventions }, letterhead, ...more }) => ({
      name,
      conventions,
      letterhead: { ...letterhead },
      invoicing: { ...more.invoicing },
      time_zone: more.time_zone,
    }),
    patch: (_id, changes) => take(api.PATCH("/api/practice", { body: { changes } })),
    after: () => void forget(queryClient, "practice"),
    tables: [],
    gone: "This practice is no longer there.",
  },
  client: {
    fieldsOf: ({ client: { name, email, phone, notes, conventions } }) => ({
      name,
      email,
      phone,
      notes,
      conventions: { ...conventions },
    }),
    patch: (id, changes) =>
      take(
        api.PATCH("/api/clients/{id}", { params: { path: { id: Number(id) } }, body: { changes } }),
      ),
    after: () => void forget(queryClient, "client"),
    tables: [],
    gone: "This client is no longer there.",
  },
};

/** Send changes, and say how it went: what can be tried again, and what somebody has to look at. */
export async function sendTo<K extends Kind>(
  kind: K,
  id: Id,
  changes: FieldChange[],
  keepAs: string,
): Promise<Outcome<RecordOf[K]>> {
  const { patch, gone } = KINDS[kind] as unknown as KindOf<RecordOf[K]>;
  try {
    return { kind: "saved", record: await patch(id, changes, keepAs) };
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    const { status, message, field } = error;
    if (status === 409) {
      const { collisions } = error.body as { collisions: Collision[] };
      return { kind: "collided", collisions };
    }
    if (status === 403 && field === "role") return { kind: "refused", path: "", message };
    if (status === 401 || status === 403) {
      return { kind: "unreachable", message: "You are signed out: sign in again, and it is sent." };
    }
    if (status === 0 || status === 429 || status >= 500) return { kind: "unreachable", message };
    if (status === 404) return { kind: "gone", message: gone };
    return { kind: "refused", path: field, message };
  }
}
