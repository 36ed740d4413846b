/** The one saving mechanism: changes to a record, field by field, on their way to the server.
 *
 * A change is kept from the moment it is made until the server has it: queued, sent one batch after
 * another, tried again when the server cannot be reached, held back when it is refused or collides, and
 * written to `keep` all the while, so that a page that goes away loses nothing. Undo and redo belong to
 * the record, not to the page. It knows nothing of React, of storage and of the network. */

import {
  type Collision,
  type FieldChange,
  joined,
  type Kept,
  type Move,
  type Outcome,
  type Pending,
  type Row,
  rebased,
  type Step,
} from "./changes";
import {
  differences,
  type Fields,
  inside,
  isAbout,
  isFields,
  same,
  valueAt,
  withValue,
} from "./fields";

export interface DraftState extends Kept {
  sending: boolean;
  /** Why a pending change cannot be stored, by its path. */
  errors: Readonly<Record<string, string>>;
  collisions: readonly Collision[];
  /** Why the server could not be reached, "" when it could. */
  unreachable: string;
  /** What undo or redo could not do, "" when it could. */
  note: string;
}

export interface Edit {
  path: string;
  value: unknown;
}

export interface EditOptions {
  /** Edits with the same name, one after another, are one step of undo. */
  merge?: string;
  /** Milliseconds to wait for more before it is sent. */
  wait?: number;
  keepAs?: string;
}

export interface Door<R> {
  /** The record's fields as the server is known to hold them; undefined while it was not asked yet. */
  stored: () => Fields | undefined;
  fieldsOf: (record: R) => Fields;
  /** Fields that hold rows by key, which come and go. */
  tables: readonly string[];
  send: (changes: FieldChange[], keepAs: string) => Promise<Outcome<R>>;
  onSaved: (record: R) => void;
  /** Somebody else changed the record: ask what it is now. */
  onElsewhere: () => void;
  /** The record is no longer there: say so. */
  onGone: (message: string) => void;
  keep: (kept: Kept) => void;
}

export const NOTHING_KEPT: Kept = { pending: [], past: [], future: [], beside: {} };
const NOTHING: DraftState = {
  ...NOTHING_KEPT,
  sending: false,
  errors: {},
  collisions: [],
  unreachable: "",
  note: "",
};
/** The field that lists the keys of rows. Rows that come and go change it too, so it is never "changed
 * elsewhere": the server moves the rows that both know. */
const ORDER = "order";
const RETRY_MS = [1000, 2000, 4000, 8000, 15000];
const DEPTH = 60;

export class Draft<R> {
  private state: DraftState;
  private readonly listeners = new Set<() => void>();
  private tries = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private lastStep: number;
  /** After a refusal that names no field that was sent: steps go alone, to find the one it is about. */
  private alone = false;
  /** Refused for the sake of another field: tried again once something else is stored. */
  private readonly forOthers = new Set<string>();

  constructor(
    private readonly door: Door<R>,
    kept: Kept = NOTHING_KEPT,
  ) {
    this.state = { ...NOTHING, ...kept };
    this.lastStep = Math.max(0, ...kept.pending.map((c) => c.step));
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): DraftState => this.state;

  /** The record with what is not stored yet. */
  view(
    stored: Fields = this.door.stored() ?? {},
    pending: readonly Pending[] = this.state.pending,
  ): Fields {
    return pending.reduce<Fields>((fields, { path, value, row }) => {
      const gone = row !== undefined && !isFields(valueAt(fields, row.at));
      return withValue(gone ? withValue(fields, row.at, row.fields) : fields, path, value);
    }, stored);
  }

  value(path: string): unknown {
    return valueAt(this.view(), path);
  }

  set(path: string, value: unknown, options: EditOptions = {}): void {
    this.change([{ path, value }], options);
  }

  /** Make edits, as one step. */
  change(edits: readonly Edit[], { merge, wait, keepAs }: EditOptions = {}): void {
    const before = this.view();
    const moves = edits
      .map(({ path, value }) => ({ path, from: valueAt(before, path) ?? null, to: value }))
      .filter((move) => !same(move.from, move.to));
    if (moves.length === 0) return;
    const last = this.state.past.at(-1);
    const joins = merge !== undefined && last?.merge === merge;
    const steps = joins ? this.state.past.slice(0, -1) : this.state.past;
    const step = { moves: joins ? moves.reduce(joined, last.moves) : moves, merge: merge ?? null };
    this.queue(moves, keepAs);
    this.put({ past: [...steps, step].slice(-DEPTH), future: [], note: "" });
    this.flushIn(wait ?? 0);
  }

  /** What follows is another step of undo, even in the same box. */
  leave(): void {
    const last = this.state.past.at(-1);
    if (last?.merge != null) {
      this.put({ past: [...this.state.past.slice(0, -1), { ...last, merge: null }] });
    }
  }

  undo(): void {
    const last = this.state.past.at(-1);
    if (!last) return;
    const back = last.moves.map(({ path, from, to }) => ({ path, from: to, to: from })).reverse();
    const note = this.retrace(back);
    this.put({
      past: this.state.past.slice(0, -1),
      future: [{ ...last, merge: null }, ...this.state.future],
      note,
    });
    void this.flush();
  }

  redo(): void {
    const next = this.state.future[0];
    if (!next) return;
    const note = this.retrace(next.moves);
    this.put({ past: [...this.state.past, next], future: this.state.future.slice(1), note });
    void this.flush();
  }

  /** The server replaced the record on request: a step that undo takes back like any other. */
  took(record: R): void {
    const moves = differences(this.view(), this.door.fieldsOf(record));
    this.door.onSaved(record);
    if (moves.length === 0) return;
    this.put({ past: [...this.state.past, { moves, merge: null }].slice(-DEPTH), future: [] });
  }

  /** Keep something beside the fields. */
  remember(name: string, value: unknown): void {
    if (!same(this.state.beside[name], value)) {
      this.put({ beside: { ...this.state.beside, [name]: value } });
    }
  }

  /** Drop a change that was refused or collided: the field goes back to what is stored. */
  drop(path: string): void {
    this.put({
      pending: this.state.pending.filter((c) => c.path !== path),
      ...this.settled((about) => about === path),
    });
    void this.flush();
  }

  /** After a collision: write mine over what is stored now. */
  keepMine(path: string): void {
    const met = this.state.collisions.find((c) => c.path === path);
    if (!met) return;
    this.put({
      pending: this.state.pending.map((c) =>
        c.path === path ? { ...c, was: met.stored ?? null } : c,
      ),
      ...this.settled((about) => about === path),
    });
    void this.flush();
  }

  /** Take in what another page of this record left behind. */
  adopt(left: Kept): void {
    const mine = new Set(this.state.pending.map((c) => c.path));
    const taken = left.pending
      .filter((c) => !mine.has(c.path))
      .map((c) => ({ ...c, step: c.step + this.lastStep }));
    this.lastStep = Math.max(this.lastStep, ...taken.map((c) => c.step));
    const none = this.state.past.length === 0 && this.state.future.length === 0;
    this.put({
      pending: [...taken, ...this.state.pending],
      beside: { ...left.beside, ...this.state.beside },
      ...(none ? { past: left.past, future: left.future } : {}),
    });
    void this.flush();
  }

  /** Send what can be sent, until nothing is left that can. */
  async flush(): Promise<void> {
    if (this.state.sending) return;
    clearTimeout(this.timer);
    const batch = this.batch();
    if (batch.length === 0) return;
    this.put({ sending: true });
    const keepAs = batch.find((c) => c.keepAs)?.keepAs ?? "";
    const changes = batch.map(({ path, value, was }) => ({ path, value, was }));
    const outcome = await this.door.send(changes, keepAs);
    this.put({ sending: false });
    if (outcome.kind === "unreachable") {
      this.put({ unreachable: outcome.message });
      this.flushIn(RETRY_MS[Math.min(this.tries, RETRY_MS.length - 1)] ?? 0);
      this.tries += 1;
      return;
    }
    this.tries = 0;
    this.put({ unreachable: "" });
    // What was changed again meanwhile is judged by itself.
    const standing = batch.filter((sent) =>
      this.state.pending.some((c) => c.path === sent.path && same(c.value, sent.value)),
    );
    if (outcome.kind === "saved") {
      this.settle(batch, outcome.record);
      this.alone = false;
      const again = new Set(this.forOthers);
      this.forOthers.clear();
      this.put({ errors: this.settled((path) => again.has(path)).errors });
    } else if (outcome.kind === "collided") {
      const held = new Set(standing.map((c) => c.path));
      this.collide(outcome.collisions.filter((c) => held.has(c.path)));
      this.door.onElsewhere();
    } else if (outcome.kind === "refused") {
      this.refuse(batch, standing, outcome.path, outcome.message);
    } else {
      // There is nothing any more that the changes could be made to.
      this.put({ ...NOTHING, note: outcome.message });
      this.door.onGone(outcome.message);
    }
    await this.flush();
  }

  /** What can be sent now: whole steps, none of which is stuck; what is to be kept goes first. */
  private batch(): Pending[] {
    const stuck = new Set(
      this.state.pending
        .filter(
          (c) =>
            c.path in this.state.errors || this.state.collisions.some((m) => m.path === c.path),
        )
        .map((c) => c.step),
    );
    const free = this.state.pending.filter((c) => !stuck.has(c.step));
    const first = free[0]?.step;
    if (this.alone) return free.filter((c) => c.step === first);
    const replacing = free.find((c) => c.keepAs)?.step;
    const plain = free.filter((c) => c.step !== replacing);
    return plain.length > 0 && replacing !== undefined ? plain : free;
  }

  /** The row a path lies in, as it is stored, if it lies in one. */
  private rowOf(path: string): Row | undefined {
    const table = this.door.tables.find((name) => inside(path, name) !== null);
    if (table === undefined) return undefined;
    const [key = "", ...rest] = (inside(path, table) ?? "").split(".");
    const at = `${table}.${key}`;
    const fields = valueAt(this.door.stored(), at);
    return rest.length > 0 && isFields(fields) ? { at, fields } : undefined;
  }

  /** What someone else changed too. A row that they took away stands here whole, with what was changed in
   * it, so that it is seen and can be brought back. */
  private collide(met: readonly Collision[]): void {
    let { pending } = this.state;
    const told = met.map((c): Collision => {
      const gone = pending.find((p) => p.path === c.path)?.row;
      if (!gone || c.stored !== null) return c;
      const mine = pending.filter((p) => inside(p.path, gone.at) !== null);
      const whole = mine.reduce<Fields>(
        (row, p) => withValue(row, inside(p.path, gone.at) ?? "", p.value),
        gone.fields,
      );
      const step = mine[0]?.step ?? this.lastStep;
      pending = [
        ...pending.filter((p) => !mine.includes(p) && p.path !== gone.at),
        { path: gone.at, value: whole, was: gone.fields, step },
      ];
      return { path: gone.at, stored: null, yours: whole };
    });
    const paths = new Set(told.map((c) => c.path));
    this.put({
      pending,
      collisions: [
        ...this.state.collisions.filter((c) => !paths.has(c.path)),
        ...told.filter((c, i) => told.findIndex((other) => other.path === c.path) === i),
      ],
    });
  }

  private refuse(
    batch: readonly Pending[],
    standing: readonly Pending[],
    path: string,
    message: string,
  ): void {
    // Changed since: it is asked anew.
    if (batch.some((c) => isAbout(path, c.path) && !standing.includes(c))) return;
    const about = standing.filter((c) => isAbout(path, c.path));
    const single = new Set(batch.map((c) => c.step)).size === 1;
    if (about.length === 0 && !single) {
      this.alone = true;
      return;
    }
    const told = about.length > 0 ? about : standing.slice(0, 1);
    if (about.length === 0) for (const c of told) this.forOthers.add(c.path);
    this.put({
      errors: {
        ...this.state.errors,
        ...Object.fromEntries(told.map((c) => [c.path, message])),
      },
    });
  }

  /** Queue moves as one step; what was queued at the same place is replaced or grows. */
  private queue(moves: readonly Move[], keepAs?: string): void {
    this.lastStep += 1;
    let step = this.lastStep;
    let pending: Pending[] = [...this.state.pending];
    // A step that changes what an earlier one did is sent with it.
    for (const old of pending) {
      if (moves.some(({ path }) => isAbout(old.path, path))) step = old.step;
    }
    for (const { path, to } of moves) {
      const outer = pending.find((c) => inside(path, c.path) !== null);
      if (outer) {
        const rest = inside(path, outer.path) ?? "";
        const grown = withValue((outer.value ?? {}) as Fields, rest, to);
        pending = pending.map((c) => (c === outer ? { ...c, value: grown } : c));
        continue;
      }
      const old = pending.find((c) => c.path === path);
      const was = old ? old.was : (valueAt(this.door.stored(), path) ?? null);
      const others = pending.filter((c) => c.path !== path && inside(c.path, path) === null);
      // Nothing is to be sent for what stands as it stood, unless something else is on its way there.
      if (same(to, was) && !this.state.sending) pending = others;
      else {
        const row = old ? old.row : this.rowOf(path);
        const more = { ...(keepAs ? { keepAs } : {}), ...(row ? { row } : {}) };
        pending = [...others, { path, value: to, was, step, ...more }];
      }
    }
    // What was refused for the sake of another field is tried again: it may be this one.
    const again = new Set(this.forOthers);
    this.forOthers.clear();
    const changed = (about: string) =>
      again.has(about) || moves.some(({ path }) => isAbout(about, path) || isAbout(path, about));
    this.put({ pending, ...this.settled(changed) });
  }

  /** Make moves of a step again, or back; where the field stands elsewhere by now it stays. */
  private retrace(moves: readonly Move[]): string {
    const now = this.view();
    const free = moves.filter(({ path, from }) => path === ORDER || same(valueAt(now, path), from));
    this.queue(free);
    return free.length < moves.length
      ? "Part of it was changed elsewhere since, and stays as it is."
      : "";
  }

  /** Errors and collisions without those about these paths. */
  private settled(about: (path: string) => boolean) {
    return {
      errors: Object.fromEntries(
        Object.entries(this.state.errors).filter(([path]) => !about(path)),
      ),
      collisions: this.state.collisions.filter((c) => !about(c.path)),
    };
  }

  private settle(batch: readonly Pending[], record: R): void {
    const now = this.door.fieldsOf(record);
    const sent = new Map(batch.map((c) => [c.path, c.value]));
    const pending = this.state.pending.flatMap((c) => {
      if (!sent.has(c.path)) return [rebased(c, batch, now)];
      if (same(c.value, sent.get(c.path))) return [];
      // Changed again while the first change was on its way.
      const { keepAs: _, ...again } = c;
      return [{ ...again, was: valueAt(now, c.path) ?? null }];
    });
    // What was written "9 lb" stands as it was read from now on.
    const read = (move: Move): Move => {
      if (!sent.has(move.path)) return move;
      const value = sent.get(move.path);
      const stored = valueAt(now, move.path) ?? null;
      return {
        path: move.path,
        from: same(move.from, value) ? stored : move.from,
        to: same(move.to, value) ? stored : move.to,
      };
    };
    const steps = (of: Step[]) => of.map((s) => ({ ...s, moves: s.moves.map(read) }));
    // Stored first: at no moment is a change neither on its way nor there.
    this.door.onSaved(record);
    this.put({ pending, past: steps(this.state.past), future: steps(this.state.future) });
  }

  private flushIn(ms: number): void {
    clearTimeout(this.timer);
    if (ms === 0) void this.flush();
    else this.timer = setTimeout(() => void this.flush(), ms);
  }

  private put(change: Partial<DraftState>): void {
    this.state = { ...this.state, ...change };
    const { pending, past, future, beside } = this.state;
    if ("pending" in change || "past" in change || "beside" in change) {
      this.door.keep({ pending, past, future, beside });
    }
    for (const listener of this.listeners) listener();
  }
}
