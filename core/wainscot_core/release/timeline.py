"""Kept versions of a recipe in their order: each wall in short, and what was changed to come to it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..analysis.adequacy import HELD, Status
from ..analysis.short_wall import ShortWall, short_wall
from ..snapshot.snapshot import Snapshot
from .differences import JudgedDifference, LineDifference, differences


@dataclass(frozen=True, kw_only=True)
class TimelineStep:
    """A version as it was when it was kept. number: of the version; kcal a day; short, unproven, over: so many boards.
    since: the number of the version before it, None for the first; lines: what was changed since then, grams a day;
    mends: names of what is held since then, breaks: of what is not any more."""

    number: int
    wall: ShortWall
    kcal: float
    short: int
    unproven: int
    over: int
    since: int | None
    lines: tuple[LineDifference, ...]
    mends: tuple[str, ...]
    breaks: tuple[str, ...]


def timeline(kept: Sequence[tuple[int, Snapshot]]) -> tuple[TimelineStep, ...]:
    """Versions by their numbers with what was kept of each, the oldest first. Raises InputError for a snapshot without a
    recipe."""
    return tuple(_steps(kept))


def _steps(kept: Sequence[tuple[int, Snapshot]]) -> Iterator[TimelineStep]:
    before: tuple[int, Snapshot] | None = None
    for number, snapshot in kept:
        analysis = snapshot.of_recipe.as_fed
        wall = short_wall(analysis)
        statuses = wall.boards.statuses
        made = differences(before[1], snapshot) if before else None
        judged = made.nutrients if made else ()
        yield TimelineStep(
            number=number, wall=wall, kcal=analysis.recipe.kcal_per_day,
            short=statuses.count(Status.SHORT), unproven=statuses.count(Status.UNPROVEN),
            over=statuses.count(Status.OVER) + statuses.count(Status.ABOVE_SAFE),
            since=before[0] if before else None, lines=made.lines if made else (),
            mends=tuple(d.name for d in judged if not _held(d.status_before) and _held(d.status_after)),
            breaks=tuple(d.name for d in judged if _lost(d)),
        )  # fmt: skip
        before = number, snapshot


def _held(status: Status | None) -> bool:
    return status is None or status in HELD


def _lost(of: JudgedDifference) -> bool:
    return _held(of.status_before) and not _held(of.status_after)
