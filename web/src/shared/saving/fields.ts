/** A record as a tree of fields, read and changed by dotted path. */

export type Fields = { readonly [name: string]: unknown };

export function isFields(value: unknown): value is Fields {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** Whether two values would be stored alike; the order in which fields are written says nothing. */
export function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(sorted(a ?? null)) === JSON.stringify(sorted(b ?? null));
}

function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (!isFields(value)) return value;
  return Object.fromEntries(
    Object.keys(value)
      .sort()
      .map((name) => [name, sorted(value[name])]),
  );
}

/** The value at a dotted path; undefined where there is none. */
export function valueAt(record: unknown, path: string): unknown {
  let at: unknown = record;
  for (const part of path.split(".")) at = isFields(at) ? at[part] : undefined;
  return at;
}

/** The fields with another value at a path; null takes a row away. */
export function withValue(fields: Fields, path: string, value: unknown): Fields {
  const [first = "", ...rest] = path.split(".");
  if (rest.length === 0) {
    if (value !== null || !isFields(fields[first])) return { ...fields, [first]: value };
    const { [first]: _, ...others } = fields;
    return others;
  }
  const inner = fields[first];
  // A field of a row that is gone is nowhere.
  if (!isFields(inner)) return fields;
  return { ...fields, [first]: withValue(inner, rest.join("."), value) };
}

/** Every place where two records differ, rows that came or went as a whole. */
export function differences(
  before: Fields,
  after: Fields,
  at = "",
): { path: string; from: unknown; to: unknown }[] {
  return [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((name) => {
    const path = at ? `${at}.${name}` : name;
    const [from, to] = [before[name] ?? null, after[name] ?? null];
    if (isFields(from) && isFields(to)) return differences(from, to, path);
    return same(from, to) ? [] : [{ path, from, to }];
  });
}

/** What lies of a path inside another one ("lines.a.quantity" in "lines.a": "quantity"), or null. */
export function inside(path: string, outer: string): string | null {
  return path.startsWith(`${outer}.`) ? path.slice(outer.length + 1) : null;
}

/** Whether a message about a field is about what stands at a path: "intake.weights[0].kg" is about
 * "intake.weights", "lines.a.food" is about "lines.a", and "lines.a" is about "lines.a.quantity". */
export function isAbout(field: string, path: string): boolean {
  return (
    field === path ||
    field.startsWith(`${path}.`) ||
    field.startsWith(`${path}[`) ||
    (field !== "" && path.startsWith(`${field}.`))
  );
}
