import { expect, it } from "vitest";
import { type FieldChange, FieldQueue, type Outcome, valueAt } from "./fieldQueue";

type Stored = { weight: number };

/** A queue whose server answers what it is told to, with the batches it was sent. */
function queueOf(...answers: Outcome<Stored>[]) {
  const sent: (readonly FieldChange[])[] = [];
  const records: Stored[] = [];
  const queue = new FieldQueue<Stored>(
    async (changes) => {
      sent.push(changes);
      return answers.shift() ?? { kind: "saved", record: { weight: 0 } };
    },
    (record) => records.push(record),
  );
  return { queue, sent, records };
}

const settle = () => new Promise((resolve) => setTimeout(resolve, 0));

it("sends a field with what it stood at, and forgets it once it is stored", async () => {
  const { queue, sent, records } = queueOf({ kind: "saved", record: { weight: 9 } });
  queue.set("dog.weight_kg", "9", 8.2);
  await queue.flush();
  await settle();
  expect(sent[0]).toEqual([{ path: "dog.weight_kg", value: "9", was: 8.2 }]);
  expect(records).toEqual([{ weight: 9 }]);
  expect(queue.snapshot().pending).toEqual([]);
});

it("shows a change at every moment: on its way until it is stored, and no moment without it", async () => {
  const { queue, records } = queueOf({ kind: "saved", record: { weight: 9 } });
  const lost: string[] = [];
  queue.subscribe(() => {
    const onItsWay = queue.pendingAt("dog.weight_kg") !== undefined;
    if (!onItsWay && records.length === 0) lost.push("neither pending nor stored");
  });
  queue.set("dog.weight_kg", "9", 8.2);
  await queue.flush();
  await settle();
  expect(queue.snapshot().pending).toEqual([]);
  expect(lost).toEqual([]);
});

it("keeps what was refused, with the reason at its field", async () => {
  const { queue } = queueOf({ kind: "refused", path: "dog.weight_kg", message: "above 0" });
  queue.set("dog.weight_kg", "0", 8.2);
  await queue.flush();
  await settle();
  expect(queue.snapshot().pending).toHaveLength(1);
  expect(queue.snapshot().errors).toEqual({ "dog.weight_kg": "above 0" });
});

it("keeps what collided, beside what is stored", async () => {
  const collisions = [{ path: "notes", stored: "theirs", yours: "mine" }];
  const { queue } = queueOf({ kind: "collided", collisions });
  queue.set("notes", "mine", "old");
  await queue.flush();
  await settle();
  expect(queue.snapshot().collisions).toEqual(collisions);
  expect(queue.pendingAt("notes")?.value).toBe("mine");
});

it("finds a value at a path", () => {
  expect(valueAt({ dog: { weight_kg: 8 } }, "dog.weight_kg")).toBe(8);
  expect(valueAt({ dog: null }, "dog.weight_kg")).toBeUndefined();
});
