"""What is put down while a batch is cooked: entry by entry, none of them ever changed, and what they come to."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from pydantic import Field, StringConstraints

from ..boundary import Number, Text40, Text60, Text80, Text300, Whole, YesNo
from ..errors import InputError
from .results import BatchLine, BatchPlan

MOST_G = 50_000.0
# A batch that feeds so many times longer, or shorter, than planned is another batch.
MOST_OTHER_DAYS = 2.0
EntryKey = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{8,40}$")]


class EntryKind(StrEnum):
    """What an entry says. weighed: a line is so many g, in a vessel or for all of it; a later one takes its place. more:
    so many g were put in beside that. planned: the line went in as the list says, nobody wrote down a weight. left-out:
    it did not go in. swapped: something else did. extra: what the recipe does not have. water: so many g went in. step:
    a step was done, or is not done after all. core: a temperature. note: words. finished: all of the
    finished food weighs so many g. cup: one level cup of it, so many ml, weighs so many g. feeds: the batch feeds so many
    days, other than planned. undone: an entry does not count."""

    WEIGHED = "weighed"
    MORE = "more"
    PLANNED = "planned"
    LEFT_OUT = "left-out"
    SWAPPED = "swapped"
    EXTRA = "extra"
    WATER = "water"
    STEP = "step"
    CORE = "core"
    NOTE = "note"
    FINISHED = "finished"
    CUP = "cup"
    FEEDS = "feeds"
    UNDONE = "undone"


@dataclass(frozen=True, kw_only=True)
class ScaleReading:
    """A scale as it was when a weight was taken. gross, tare: g; manual: typed by hand, by no scale."""

    gross: Number | None = None
    tare: Number | None = None
    stable: YesNo = False
    device: Text60 = ""
    sequence: Whole | None = None
    manual: YesNo = True


@dataclass(frozen=True, kw_only=True)
class Entry:
    """One thing that was put down. key: made where it was, so that one that is sent twice counts once; line: position in
    the recipe; vessel: position among the vessels, None for all of it; of: the key of an entry that is undone."""

    key: EntryKey
    kind: EntryKind
    line: Annotated[Whole, Field(ge=0, le=400)] | None = None
    vessel: Annotated[Whole, Field(ge=0, le=40)] | None = None
    grams: Number | None = None
    food: Text80 = ""
    preparation: Text40 = ""
    ml: Number | None = None
    celsius: Number | None = None
    days: Number | None = None
    step: Text60 = ""
    done: YesNo = True
    text: Text300 = ""
    of: Text40 = ""
    reading: ScaleReading | None = None


@dataclass(frozen=True)
class Swap:
    """What went in for a line, or beside the recipe."""

    food: str
    grams: float
    preparation: str


@dataclass(frozen=True)
class Cooking:
    """What the entries come to. weighed: g by (line, vessel), vessel None for all of it; more: g by line, put in beside
    that; planned: lines that went in as the list says; swaps: by line; days: that it feeds, None for those planned."""

    weighed: Mapping[tuple[int, int | None], float]
    more: Mapping[int, float]
    planned: frozenset[int]
    left_out: frozenset[int]
    swaps: Mapping[int, Swap]
    extras: tuple[Swap, ...]
    water_g: float | None
    steps: frozenset[str]
    core: Mapping[int | None, float]
    notes: tuple[str, ...]
    days: float | None = None


def check_entry(plan: BatchPlan, entry: Entry) -> Entry:
    """An entry that says what its kind needs. Raises InputError naming the field."""
    kind = entry.kind
    about_line = {
        EntryKind.WEIGHED, EntryKind.MORE, EntryKind.PLANNED, EntryKind.LEFT_OUT, EntryKind.SWAPPED,
    }  # fmt: skip
    if kind in about_line and not any(x.position == entry.line for x in plan.lines):
        raise InputError("line", "is no line of this batch")
    if kind in _WITH_GRAMS:
        least = 0.0 if kind in {EntryKind.WEIGHED, EntryKind.WATER} else 1e-6
        if entry.grams is None or not least <= entry.grams <= MOST_G:
            raise InputError("grams", f"must be a weight up to {MOST_G:.0f} g")
    if kind is EntryKind.WEIGHED:
        line = next(x for x in plan.lines if x.position == entry.line)
        count = len(line.vessels)
        if (entry.vessel is None) is not line.once or (entry.vessel is not None and entry.vessel >= count):  # fmt: skip
            told = (
                "this line is weighed once for all vessels"
                if line.once
                else "say into which vessel"
            )
            raise InputError("vessel", told)
    if kind in {EntryKind.SWAPPED, EntryKind.EXTRA} and not entry.food:
        raise InputError("food", "say which food went in")
    if kind is EntryKind.CORE and (entry.celsius is None or not -30 <= entry.celsius <= 150):
        raise InputError("celsius", "must be between -30 and 150 °C")
    least, most = plan.days / MOST_OTHER_DAYS, plan.days * MOST_OTHER_DAYS
    if kind is EntryKind.FEEDS and (entry.days is None or not least <= entry.days <= most):
        raise InputError(
            "days", f"must be from {least:.1f} to {most:.1f}: it is another batch beyond"
        )
    if kind is EntryKind.STEP and not entry.step:
        raise InputError("step", "say which step")
    if kind is EntryKind.NOTE and not entry.text:
        raise InputError("text", "write something")
    if kind is EntryKind.UNDONE and not entry.of:
        raise InputError("of", "say which entry")
    return entry


def cooking_of(entries: Iterable[Entry]) -> Cooking:
    """What entries come to, in the order they were put down; of two of one key the first counts."""
    kept: dict[str, Entry] = {}
    for entry in entries:
        kept.setdefault(entry.key, entry)
    undone = {e.of for e in kept.values() if e.kind is EntryKind.UNDONE}
    weighed: dict[tuple[int, int | None], float] = {}
    more: dict[int, float] = {}
    state: dict[int, EntryKind] = {}
    swaps: dict[int, Swap] = {}
    extras: list[Swap] = []
    water: float | None = None
    steps: dict[str, bool] = {}
    core: dict[int | None, float] = {}
    notes: list[str] = []
    days: float | None = None
    for e in kept.values():
        if e.key in undone:
            continue
        line, grams = e.line, e.grams or 0.0
        if line is not None and e.kind in _OF_LINES:
            # What is said last of a line is what happened to it.
            state[line] = e.kind
            if e.kind is not EntryKind.WEIGHED:
                weighed = {k: v for k, v in weighed.items() if k[0] != line}
            if e.kind is EntryKind.WEIGHED:
                weighed[(line, e.vessel)] = grams
            elif e.kind is EntryKind.SWAPPED:
                swaps[line] = Swap(e.food, grams, e.preparation)
        elif line is not None and e.kind is EntryKind.MORE:
            more[line] = more.get(line, 0.0) + grams
        elif e.kind is EntryKind.EXTRA:
            extras.append(Swap(e.food, grams, e.preparation))
        elif e.kind is EntryKind.WATER:
            water = grams
        elif e.kind is EntryKind.STEP:
            steps[e.step] = e.done
        elif e.kind is EntryKind.CORE and e.celsius is not None:
            core[e.vessel] = e.celsius
        elif e.kind is EntryKind.FEEDS:
            days = e.days
        elif e.kind is EntryKind.NOTE:
            notes.append(e.text)
    of = {kind: frozenset(i for i, k in state.items() if k is kind) for kind in _OF_LINES}
    return Cooking(
        weighed, more, of[EntryKind.PLANNED], of[EntryKind.LEFT_OUT],
        {i: swap for i, swap in swaps.items() if state[i] is EntryKind.SWAPPED}, tuple(extras), water,
        frozenset(s for s, done in steps.items() if done), core, tuple(notes), days,
    )  # fmt: skip


_WITH_GRAMS = frozenset(
    {
        EntryKind.WEIGHED, EntryKind.MORE, EntryKind.SWAPPED, EntryKind.EXTRA, EntryKind.WATER,
        EntryKind.FINISHED, EntryKind.CUP,
    }
)  # fmt: skip
_OF_LINES = (EntryKind.WEIGHED, EntryKind.PLANNED, EntryKind.LEFT_OUT, EntryKind.SWAPPED)


class Went(StrEnum):
    """What became of a line. part: only some of its vessels were put down; unknown: nothing was."""

    WEIGHED = "weighed"
    AS_LISTED = "as listed"
    LEFT_OUT = "left out"
    SWAPPED = "swapped"
    EXTRA = "extra"
    PART = "part"
    UNKNOWN = "unknown"


@dataclass(frozen=True, kw_only=True)
class WentIn:
    """How much of a line went in, g: at least, and at most where something is not known of it."""

    went: Went
    least_g: float
    most_g: float


def went_in(line: BatchLine, cooking: Cooking) -> WentIn:
    """What became of a planned line. What nobody put down is not known: it may have gone in as planned, or not at
    all."""
    i, more = line.position, cooking.more.get(line.position, 0.0)
    if i in cooking.left_out:
        return _sure(Went.LEFT_OUT, more)
    if i in cooking.swaps:
        return _sure(Went.SWAPPED, more)
    if i in cooking.planned:
        return _sure(Went.AS_LISTED, line.grams + more)
    places: list[int | None] = [None] if line.once else list(range(len(line.vessels)))
    parts = [line.grams] if line.once else line.vessels
    wanted: dict[int | None, float] = dict(zip(places, parts, strict=True))
    found = {p: cooking.weighed[(i, p)] for p in places if (i, p) in cooking.weighed}
    known = sum(found.values()) + more
    missing = [p for p in places if p not in found]
    if not missing:
        return _sure(Went.WEIGHED, known)
    return WentIn(
        went=Went.PART if found or more else Went.UNKNOWN, least_g=known,
        most_g=known + sum(wanted[p] for p in missing),
    )  # fmt: skip


def _sure(went: Went, grams: float) -> WentIn:
    return WentIn(went=went, least_g=grams, most_g=grams)
