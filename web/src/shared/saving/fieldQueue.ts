/** Field-level changes on their way to the server: queued, sent one batch after another, retried. */

export interface FieldChange {
  path: string;
  value: unknown;
  /** What the field stood at when it was changed. */
  was: unknown;
}

export interface Collision {
  path: string;
  stored: unknown;
  yours: unknown;
}

export type Outcome<R> =
  | { kind: "saved"; record: R }
  | { kind: "refused"; path: string; message: string }
  | { kind: "collided"; collisions: Collision[] }
  | { kind: "unreachable"; message: string };

export interface QueueState {
  /** Changes that the server does not have yet, in the order they were made. */
  pending: readonly FieldChange[];
  sending: boolean;
  /** Why a pending change cannot be stored, by its path. */
  errors: Readonly<Record<string, string>>;
  collisions: readonly Collision[];
  /** Why the server could not be reached, "" when it could. */
  unreachable: string;
}

const NOTHING: QueueState = {
  pending: [],
  sending: false,
  errors: {},
  collisions: [],
  unreachable: "",
};
const RETRY_MS = [1000, 2000, 4000, 8000, 15000];

export function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a ?? null) === JSON.stringify(b ?? null);
}

/** The value at a dotted path of a record. */
export function valueAt(record: unknown, path: string): unknown {
  let at: unknown = record;
  for (const part of path.split(".")) {
    at = typeof at === "object" && at !== null ? (at as Record<string, unknown>)[part] : undefined;
  }
  return at;
}

/** "intake.weights[0].kg" is about the change of "intake.weights". */
function isAbout(field: string, path: string): boolean {
  return field === path || field.startsWith(`${path}.`) || field.startsWith(`${path}[`);
}

export class FieldQueue<R> {
  private state: QueueState = NOTHING;
  private readonly listeners = new Set<() => void>();
  private tries = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly send: (changes: readonly FieldChange[]) => Promise<Outcome<R>>,
    private readonly onSaved: (record: R) => void,
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): QueueState => this.state;

  /** What a field was set to and is not stored yet. */
  pendingAt(path: string): FieldChange | undefined {
    return this.state.pending.find((c) => c.path === path);
  }

  /** Set a field; `stored` is what the record holds. */
  set(path: string, value: unknown, stored: unknown): void {
    const before = this.pendingAt(path);
    const was = before ? before.was : (stored ?? null);
    const others = this.state.pending.filter((c) => c.path !== path);
    const unchanged = same(value, was) && !this.state.sending;
    this.put({
      pending: unchanged ? others : [...others, { path, value, was }],
      errors: without(this.state.errors, path),
      collisions: this.state.collisions.filter((c) => c.path !== path),
    });
    void this.flush();
  }

  /** Drop a change that was refused: the field goes back to what is stored. */
  drop(path: string): void {
    this.put({
      pending: this.state.pending.filter((c) => c.path !== path),
      errors: without(this.state.errors, path),
      collisions: this.state.collisions.filter((c) => c.path !== path),
    });
  }

  /** After a collision: write mine over what is stored now. */
  keepMine(path: string): void {
    const met = this.state.collisions.find((c) => c.path === path);
    if (!met) return;
    this.put({
      pending: this.state.pending.map((c) => (c.path === path ? { ...c, was: met.stored } : c)),
      collisions: this.state.collisions.filter((c) => c.path !== path),
    });
    void this.flush();
  }

  /** Send what can be sent, until nothing is left that can. */
  async flush(): Promise<void> {
    if (this.state.sending) return;
    clearTimeout(this.timer);
    const stuck = new Set([
      ...Object.keys(this.state.errors),
      ...this.state.collisions.map((c) => c.path),
    ]);
    const batch = this.state.pending.filter((c) => !stuck.has(c.path));
    if (batch.length === 0) return;
    this.put({ sending: true });
    const outcome = await this.send(batch);
    this.put({ sending: false });
    if (outcome.kind === "unreachable") {
      this.put({ unreachable: outcome.message });
      this.timer = setTimeout(
        () => void this.flush(),
        RETRY_MS[Math.min(this.tries, RETRY_MS.length - 1)],
      );
      this.tries += 1;
      return;
    }
    this.tries = 0;
    this.put({ unreachable: "" });
    if (outcome.kind === "saved") {
      this.settle(batch, outcome.record);
    } else if (outcome.kind === "collided") {
      this.put({ collisions: [...this.state.collisions, ...outcome.collisions] });
    } else {
      const about = batch.find((c) => isAbout(outcome.path, c.path)) ?? batch[0];
      if (about) {
        this.put({ errors: { ...this.state.errors, [about.path]: outcome.message } });
      }
    }
    await this.flush();
  }

  private settle(batch: readonly FieldChange[], record: R): void {
    const sent = new Map(batch.map((c) => [c.path, c.value]));
    const pending = this.state.pending.flatMap((c) => {
      if (!sent.has(c.path)) return [c];
      if (same(c.value, sent.get(c.path))) return [];
      // Changed again while the first change was on its way.
      return [{ ...c, was: valueAt(record, c.path) ?? null }];
    });
    // Stored first: at no moment is a change neither on its way nor there.
    this.onSaved(record);
    this.put({ pending });
  }

  private put(change: Partial<QueueState>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.listeners) listener();
  }
}

function without(errors: QueueState["errors"], path: string): Record<string, string> {
  return Object.fromEntries(Object.entries(errors).filter(([key]) => key !== path));
}
