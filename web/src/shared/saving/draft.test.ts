import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Collision, FieldChange, Kept, Outcome } from "./changes";
import { Draft } from "./draft";
import { type Fields, isFields, same, valueAt, withValue } from "./fields";
import { Keeping, type Shelf } from "./kept";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const START: Fields = { a: "1", b: "2", lines: { x: { q: "3", n: "" } }, order: ["x"] };

/** What the server does with a request: it is answered, lost on the way there, or on the way back. */
type Fate = "answered" | "lost" | "unanswered";

/** A server that keeps one record: fields are set if they stand where the change began. */
class Server {
  record = START;
  /** Every value that was ever stored at a path. */
  readonly accepted = new Map<string, unknown[]>();
  readonly requests: { changes: FieldChange[]; keepAs: string }[] = [];

  apply(changes: FieldChange[], keepAs = ""): Outcome<Fields> {
    this.requests.push({ changes, keepAs });
    const outcome = this.answer(changes);
    if (outcome.kind !== "saved") return outcome;
    this.record = outcome.record;
    for (const { path, value } of changes) {
      this.accepted.set(path, [...(this.accepted.get(path) ?? []), value]);
    }
    return outcome;
  }

  /** What it would answer. */
  answer(changes: FieldChange[]): Outcome<Fields> {
    const collisions: Collision[] = [];
    let next = this.record;
    for (const { path, value, was } of changes) {
      const stored = valueAt(next, path) ?? null;
      if (path !== "order" && !same(stored, was) && !same(stored, value)) {
        collisions.push({ path, stored, yours: value });
      } else next = withValue(next, path, value);
    }
    if (collisions.length > 0) return { kind: "collided", collisions };
    const bad = changes.find(({ value }) => JSON.stringify(value)?.includes("bad"));
    if (bad) return { kind: "refused", path: bad.path, message: "cannot be read" };
    return { kind: "saved", record: next };
  }
}

/** A page of the application: a draft, what it knows of the record, and its requests on their way. */
class Page {
  known: Fields;
  kept: Kept = { pending: [], past: [], future: [], beside: {} };
  draft: Draft<Fields>;
  gone = "";
  readonly onTheWay: ((fate: Fate) => void)[] = [];

  constructor(
    private readonly server: Server,
    left?: Kept,
  ) {
    this.known = server.record;
    this.draft = new Draft<Fields>({
      stored: () => this.known,
      fieldsOf: (record) => record,
      tables: ["lines"],
      send: (changes, keepAs) =>
        new Promise((resolve) => {
          this.onTheWay.push((fate) => {
            const outcome = fate === "lost" ? null : this.server.apply(changes, keepAs);
            resolve(
              fate === "answered" && outcome
                ? outcome
                : { kind: "unreachable", message: "cannot be reached" },
            );
          });
        }),
      onSaved: (record) => {
        this.known = record;
      },
      onGone: (message) => {
        this.gone = message;
      },
      onElsewhere: () => {
        this.known = this.server.record;
      },
      keep: (kept) => {
        this.kept = kept;
      },
    });
    if (left) this.draft.adopt(left);
  }

  async deliver(fate: Fate): Promise<void> {
    this.onTheWay.shift()?.(fate);
    await vi.advanceTimersByTimeAsync(0);
  }

  /** Everything that can arrive arrives. */
  async calm(): Promise<void> {
    for (let i = 0; i < 80; i += 1) {
      await vi.advanceTimersByTimeAsync(20_000);
      if (this.onTheWay.length === 0) return;
      await this.deliver("answered");
    }
    throw new Error("it never comes to rest");
  }
}

const pending = (page: Page, path: string) =>
  page.draft.snapshot().pending.find((c) => c.path === path);

describe("a change", () => {
  it("is sent with what the field stood at, and forgotten once it is stored", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("a", "5");
    expect(page.draft.value("a")).toBe("5");
    await page.deliver("answered");
    expect(server.requests[0]?.changes).toEqual([{ path: "a", value: "5", was: "1" }]);
    expect(page.draft.snapshot().pending).toEqual([]);
    expect(page.draft.value("a")).toBe("5");
  });

  it("that is refused stays, with the reason, and does not stop the others", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("lines.x.q", "bad", { wait: 10 });
    page.draft.set("b", "7", { wait: 10 });
    await page.calm();
    expect(server.record.b).toBe("7");
    expect(page.draft.value("lines.x.q")).toBe("bad");
    expect(page.draft.snapshot().errors).toEqual({ "lines.x.q": "cannot be read" });
    page.draft.set("lines.x.q", "9");
    await page.calm();
    expect(page.draft.snapshot().pending).toEqual([]);
    expect(valueAt(server.record, "lines.x.q")).toBe("9");
  });

  it("that someone else made too is shown beside theirs, until one is chosen", async () => {
    const server = new Server();
    const [mine, theirs] = [new Page(server), new Page(server)];
    theirs.draft.set("a", "8");
    await theirs.calm();
    mine.draft.set("a", "5");
    mine.draft.set("b", "6");
    await mine.calm();
    expect(mine.draft.snapshot().collisions).toEqual([{ path: "a", stored: "8", yours: "5" }]);
    expect(server.record.b).toBe("6");
    mine.draft.keepMine("a");
    await mine.calm();
    expect(server.record.a).toBe("5");
  });

  it("that waits for another field is sent again with it", async () => {
    const server = new Server();
    const page = new Page(server);
    const plain = server.answer.bind(server);
    server.answer = (changes) => {
      const now = changes.reduce((fields, c) => withValue(fields, c.path, c.value), server.record);
      return (now.a === "5") === (now.b === "5")
        ? plain(changes)
        : { kind: "refused", path: "b", message: "goes with a" };
    };
    page.draft.set("a", "5");
    await page.calm();
    expect(page.draft.snapshot().errors).toEqual({ a: "goes with a" });
    page.draft.set("b", "5");
    await page.calm();
    expect([server.record.a, server.record.b]).toEqual(["5", "5"]);
    expect(page.draft.snapshot().pending).toEqual([]);
  });

  it("of several fields goes as one or not at all", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.change([
      { path: "a", value: "5" },
      { path: "b", value: "bad" },
    ]);
    await page.calm();
    expect([server.record.a, server.record.b]).toEqual(["1", "2"]);
    expect(pending(page, "a")?.value).toBe("5");
  });

  it("that replaces much is sent after what went before, with the name to keep it under", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("a", "5", { wait: 50 });
    page.draft.change([{ path: "lines.x", value: null }], { keepAs: "before", wait: 50 });
    await page.calm();
    expect(server.requests.map((r) => r.keepAs)).toEqual(["", "before"]);
  });

  it("of a row that is new grows with what is typed in it", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("lines.y", { q: "", n: "" }, { wait: 50 });
    page.draft.set("lines.y.q", "4", { wait: 50 });
    await page.calm();
    expect(server.requests).toHaveLength(1);
    expect(valueAt(server.record, "lines.y")).toEqual({ q: "4", n: "" });
  });
});

describe("while a change is on its way", () => {
  it("its row can be taken away: that begins from what was stored", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("lines.x.q", "5");
    page.draft.set("lines.x", null);
    await page.calm();
    expect(page.draft.snapshot().collisions).toEqual([]);
    expect(server.record.lines).toEqual({});
  });

  it("it can be taken back: that is sent too", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("a", "5");
    page.draft.set("a", "1");
    await page.calm();
    expect(server.record.a).toBe("1");
    expect(server.requests).toHaveLength(2);
  });
});

describe("a row taken away elsewhere", () => {
  it("stands here with what was changed in it, and can be brought back whole", async () => {
    const server = new Server();
    const [mine, theirs] = [new Page(server), new Page(server)];
    theirs.draft.set("lines.x", null);
    await theirs.calm();
    mine.draft.set("lines.x.q", "5");
    const later = new Page(server, mine.kept);
    await later.calm();
    expect(later.draft.value("lines.x")).toEqual({ q: "5", n: "" });
    expect(later.draft.snapshot().collisions.map((c) => c.path)).toEqual(["lines.x"]);
    later.draft.keepMine("lines.x");
    await later.calm();
    expect(valueAt(server.record, "lines.x")).toEqual({ q: "5", n: "" });
  });
});

describe("a record that is no longer there", () => {
  it("is said once, and keeps nothing waiting", async () => {
    const server = new Server();
    const page = new Page(server);
    server.answer = () => ({ kind: "gone", message: "It is no longer there." });
    page.draft.set("a", "5");
    await page.calm();
    expect(page.gone).toBe("It is no longer there.");
    expect(page.draft.snapshot().pending).toEqual([]);
    expect(page.kept.pending).toEqual([]);
  });
});

describe("what was dropped", () => {
  it("does not come back with the page", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("a", "bad");
    await page.calm();
    page.draft.drop("a");
    expect(page.kept.pending).toEqual([]);
    expect(page.draft.value("a")).toBe("1");
  });
});

describe("undo", () => {
  it("survives the page", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("a", "5");
    await page.calm();
    const next = new Page(server, page.kept);
    next.draft.undo();
    await next.calm();
    expect(server.record.a).toBe("1");
    next.draft.redo();
    await next.calm();
    expect(server.record.a).toBe("5");
  });

  it("leaves alone what someone else changed since, and says so", async () => {
    const server = new Server();
    const page = new Page(server);
    page.draft.set("a", "5");
    await page.calm();
    server.record = { ...server.record, a: "8" };
    page.known = server.record;
    page.draft.undo();
    await page.calm();
    expect(server.record.a).toBe("8");
    expect(page.draft.snapshot().note).toContain("elsewhere");
  });

  it("takes back what the server replaced on request", async () => {
    const server = new Server();
    const page = new Page(server);
    server.record = { ...START, a: "9", lines: { y: { q: "1", n: "" } }, order: ["y"] };
    page.draft.took(server.record);
    page.draft.undo();
    await page.calm();
    expect(server.record).toEqual(START);
  });
});

type Command =
  | { kind: "edit"; page: number; path: string; value: unknown }
  | { kind: "row"; page: number; key: string; there: boolean }
  | { kind: "undo" | "redo" | "reload"; page: number }
  | { kind: "deliver"; page: number; fate: Fate }
  | { kind: "wait" };

const page = fc.nat(1);
const value = fc.constantFrom("1", "5", "6", "7", "bad");
const command: fc.Arbitrary<Command> = fc.oneof(
  fc.record({
    kind: fc.constant("edit" as const),
    page,
    path: fc.constantFrom("a", "b", "lines.x.q", "lines.x.n", "lines.y.q"),
    value,
  }),
  fc.record({
    kind: fc.constant("row" as const),
    page,
    key: fc.constantFrom("x", "y"),
    there: fc.boolean(),
  }),
  fc.record({ kind: fc.constantFrom("undo" as const, "redo" as const, "reload" as const), page }),
  fc.record({
    kind: fc.constant("deliver" as const),
    page,
    fate: fc.constantFrom<Fate>("answered", "answered", "lost", "unanswered"),
  }),
  fc.constant<Command>({ kind: "wait" }),
);

/** Every leaf of a value with its path. */
function leaves(at: string, of: unknown): { path: string; value: unknown }[] {
  if (!isFields(of)) return [{ path: at, value: of }];
  return Object.entries(of).flatMap(([name, inner]) => leaves(`${at}.${name}`, inner));
}

describe("any sequence of edits, failures, reloads and two pages", () => {
  it("ends with every change stored, or shown as not stored", async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(command, { maxLength: 30 }), async (commands) => {
        const server = new Server();
        const pages = [new Page(server), new Page(server)];
        /** What was set last on each page, by leaf. */
        const last = [new Map<string, unknown>(), new Map<string, unknown>()];
        const note = (at: number, path: string, set: unknown) => {
          for (const leaf of leaves(path, set)) last[at]?.set(leaf.path, leaf.value);
        };
        for (const c of commands) {
          if (c.kind === "wait") {
            await vi.advanceTimersByTimeAsync(1000);
            continue;
          }
          const on = pages[c.page] as Page;
          if (c.kind === "edit") {
            const row = c.path.startsWith("lines.") ? c.path.slice(0, 7) : null;
            if (row && !isFields(on.draft.value(row))) continue;
            on.draft.set(c.path, c.value, { wait: 400 });
            note(c.page, c.path, c.value);
          } else if (c.kind === "row") {
            const path = `lines.${c.key}`;
            if (isFields(on.draft.value(path)) === c.there) continue;
            on.draft.set(path, c.there ? { q: "4", n: "" } : null);
            // What was set inside a row goes with it.
            for (const inner of [...(last[c.page]?.keys() ?? [])]) {
              if (inner.startsWith(`${path}.`)) last[c.page]?.delete(inner);
            }
            last[c.page]?.delete(path);
            note(c.page, path, c.there ? { q: "4", n: "" } : null);
          } else if (c.kind === "undo" || c.kind === "redo") {
            const before = on.draft.snapshot().pending;
            on.draft[c.kind]();
            // What it set and what it took back are read off the view below.
            if (on.draft.snapshot().pending !== before) last[c.page]?.clear();
          } else if (c.kind === "deliver") {
            await on.deliver(c.fate);
          } else {
            pages[c.page] = new Page(server, JSON.parse(JSON.stringify(on.kept)) as Kept);
          }
          await vi.advanceTimersByTimeAsync(0);
        }
        for (const on of pages) await on.calm();
        pages.forEach((on, at) => {
          const { pending: left, errors, collisions } = on.draft.snapshot();
          // What is not stored says why, at its field.
          for (const c of left) {
            const step = left.filter((other) => other.step === c.step).map((other) => other.path);
            const told = [...Object.keys(errors), ...collisions.map((m) => m.path)];
            expect(step.some((path) => told.includes(path))).toBe(true);
            // Nothing is held back as wrong that would be taken as it stands.
            const whole = left.filter((other) => other.step === c.step);
            const asked = collisions.some((m) => step.includes(m.path));
            if (!asked) expect(server.answer(whole).kind).not.toBe("saved");
          }
          // What was set is stored, was stored until someone changed it, or still stands here unsent.
          for (const [path, set] of last[at] ?? []) {
            const stored = same(valueAt(server.record, path), set);
            const outer = path.split(".").slice(0, 2).join(".");
            const once = [
              ...(server.accepted.get(path) ?? []),
              ...(server.accepted.get(outer) ?? []).map((row) =>
                isFields(row) ? row[path.split(".")[2] ?? ""] : row,
              ),
            ].some((stood) => same(stood, set));
            const waits = left.some((c) => c.path === path || path.startsWith(`${c.path}.`));
            expect(stored || once || waits || same(valueAt(START, path), set)).toBe(true);
            if (waits) expect(same(on.draft.value(path), set)).toBe(true);
          }
        });
      }),
      { seed: 20261126, numRuns: 600 },
    );
  });
});

describe("what is kept in the browser", () => {
  class Storage implements Shelf {
    private readonly rows = new Map<string, string>();
    getItem = (key: string) => this.rows.get(key) ?? null;
    setItem = (key: string, text: string) => void this.rows.set(key, text);
    removeItem = (key: string) => void this.rows.delete(key);
    key = (index: number) => [...this.rows.keys()][index] ?? null;
    get length() {
      return this.rows.size;
    }
  }
  const kept = (path: string): Kept => ({
    pending: [{ path, value: 1, was: 0, step: 1 }],
    past: [],
    future: [],
    beside: {},
  });

  it("is taken up by the next page of the same user, once, and not from a page that lives", () => {
    const shelf = new Storage();
    new Keeping(shelf, "gone").put("larch/ida", "recipe", "7", kept("a"));
    new Keeping(shelf, "alive").put("larch/ida", "recipe", "7", kept("b"));
    const page = new Keeping(shelf, "here");
    // As long as it is not known which pages live, none is taken for gone.
    expect(page.waiting("larch/ida")).toEqual([]);
    expect(page.take("larch/ida", "recipe", "7")).toEqual([]);
    page.know(new Set(["alive", "here"]));
    expect(page.waiting("alder/tom")).toEqual([]);
    expect(page.waiting("larch/ida")).toEqual([{ kind: "recipe", id: "7" }]);
    expect(page.take("larch/ida", "recipe", "7")).toEqual([kept("a")]);
    expect(page.take("larch/ida", "recipe", "7")).toEqual([]);
  });

  it("that cannot be read is passed over, and nothing is left of what is empty", () => {
    const shelf = new Storage();
    const page = new Keeping(shelf, "here");
    page.know(new Set());
    shelf.setItem("wainscot-kept/u/case/1/gone", "{");
    expect(page.take("u", "case", "1")).toEqual([]);
    page.put("u", "case", "2", kept("a"));
    page.put("u", "case", "2", { pending: [], past: [], future: [], beside: {} });
    expect(shelf.length).toBe(0);
  });

  it("says when the browser takes no more", () => {
    const shelf = new Storage();
    shelf.setItem = () => {
      throw new Error("quota");
    };
    expect(new Keeping(shelf, "here").put("u", "case", "1", kept("a"))).toBe(false);
  });
});
