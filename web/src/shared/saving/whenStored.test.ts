import { expect, test } from "vitest";
import type { Draft } from "./draft";
import { whenStored } from "./whenStored";

/** A draft that stands as it is told. */
function drafted(first: object) {
  const empty = { errors: {}, collisions: [], pending: [] };
  let state: object = { ...empty, ...first };
  const heard = new Set<() => void>();
  const draft = {
    snapshot: () => state,
    subscribe: (listener: () => void) => {
      heard.add(listener);
      return () => heard.delete(listener);
    },
  } as unknown as Draft<unknown>;
  const stands = (next: object) => {
    state = { ...empty, ...next };
    for (const listener of [...heard]) listener();
  };
  return { draft, stands, heard };
}

const WAITS = { pending: [{ path: "dog.weight_kg" }] };

test("what is stored already is stored", async () => {
  expect(await whenStored(drafted({}).draft, ["dog.weight_kg"])).toBe(true);
});

test("it waits until nothing is pending, and listens no longer", async () => {
  const { draft, stands, heard } = drafted(WAITS);
  const stored = whenStored(draft, ["dog.weight_kg"]);
  stands({ ...WAITS, unreachable: "no answer" });
  expect(heard.size).toBe(1);
  stands({ pending: [{ path: "notes" }] });
  expect(await stored).toBe(true);
  expect(heard.size).toBe(0);
});

test("what was refused, or collides, is not stored", async () => {
  const refused = drafted(WAITS);
  const one = whenStored(refused.draft, ["dog.weight_kg"]);
  refused.stands({ ...WAITS, errors: { "dog.weight_kg": "no dog weighs that" } });
  expect(await one).toBe(false);
  const collided = drafted(WAITS);
  const two = whenStored(collided.draft, ["dog.weight_kg"]);
  collided.stands({ ...WAITS, collisions: [{ path: "dog.weight_kg" }] });
  expect(await two).toBe(false);
  expect(collided.heard.size).toBe(0);
});
