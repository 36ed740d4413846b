import { placeOf, unitOf } from "~/shared/rails/scale";
import { type Conflict, type Draft, type Limit, topOf } from "./limits";
import { Bracket, isFloor, layerOf } from "./marks";

const at = (share: number) => `${share * 100}%`;

/** One window on the rail: where it is open, the brackets of every layer, and two that cross. */
export function Rail({
  limit,
  conflict,
  draft,
}: {
  limit: Limit;
  conflict: Conflict | undefined;
  draft: Draft | null;
}) {
  const unit = unitOf(limit);
  if (unit === null) return <svg className="h-6 w-full" aria-hidden="true" />;
  const place = (value: number) => placeOf(value / unit);
  const top = topOf(limit);
  const crossed = conflict && !conflict.decided ? conflict : null;
  const from = limit.min === null ? 0 : place(limit.min);
  const to = top === null ? 1 : place(top);
  // What gives way is drawn first, so that what binds lies over it.
  const told = limit.origin
    .filter((o) => o.value != null)
    .toSorted((a, b) => Number(b.overridden_by !== "") - Number(a.overridden_by !== ""));
  return (
    <svg className="h-6 w-full overflow-visible" aria-hidden="true">
      <line x1="0" x2="100%" y1="18" y2="18" className="stroke-line" />
      {crossed ? (
        <rect
          x={at(place(crossed.ceiling.value ?? 0))}
          width={at(place(crossed.floor.value ?? 0) - place(crossed.ceiling.value ?? 0))}
          y="5"
          height="13"
          fill="url(#crossed)"
        />
      ) : (
        <rect
          x={at(from)}
          width={at(Math.max(0, to - from))}
          y="5"
          height="13"
          className="fill-oak-pale"
        />
      )}
      {told.map((o) => (
        <svg
          key={`${o.which} ${o.source} ${o.printed}`}
          x={at(place(o.value ?? 0))}
          y="12"
          overflow="visible"
          aria-hidden="true"
        >
          <Bracket layer={layerOf(o)} floor={isFloor(o)} pale={o.overridden_by !== ""} />
        </svg>
      ))}
      {draft?.value != null && draft.value > 0 && (
        <svg x={at(place(draft.value))} y="12" overflow="visible" aria-hidden="true">
          <g
            fill="none"
            transform={draft.bound === "min" ? undefined : "scale(-1, 1)"}
            className="stroke-2 stroke-verdigris"
          >
            <path d="M 5 -11 H 0 V 11 H 5" strokeDasharray="3 2" />
          </g>
        </svg>
      )}
    </svg>
  );
}

/** What two limits that cross are filled with; once on a page. */
export function CrossHatch() {
  return (
    <svg className="absolute size-0" aria-hidden="true">
      <defs>
        <pattern id="crossed" width="6" height="6" patternUnits="userSpaceOnUse">
          <rect width="6" height="6" className="fill-madder-pale" />
          <path d="M 0 6 L 6 0 M 0 0 L 6 6" className="stroke-madder" strokeWidth="1" />
        </pattern>
      </defs>
    </svg>
  );
}
