"""What is put down day by day and opens a plan again, by the conditions of the dog. Nothing here asks what day it is."""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from ..dog.record import Muscle
from ..facts.rechecks import SignRules, WeightRule
from ..followup.entry import DayEntry
from ..followup.signals import by_day

_GRADES = [Muscle.NORMAL, Muscle.MILD, Muscle.MODERATE, Muscle.SEVERE]
_WEEK = timedelta(days=6)


@dataclass(frozen=True, kw_only=True)
class Reopens:
    """Why a plan is looked at again, and since when."""

    date: date
    words: str


@dataclass(frozen=True, kw_only=True)
class OffPath:
    """How far a weight is off the path that the plan means, a share of it: over is positive."""

    date: date
    share: float


def reopens(
    rules: SignRules,
    conditions: Collection[str],
    entries: Sequence[DayEntry],
    before: Sequence[DayEntry] = (),
    off_path: OffPath | None = None,
) -> tuple[Reopens, ...]:
    """What of the days since a plan was issued, or was looked at last, opens it again; the first day of each.

    entries: of those days, in any order; before: older ones, for what a score is compared with; off_path: of the last
    weight, None where nothing is meant.
    """
    days, older = (sorted(x, key=lambda e: e.date) for x in (entries, before))
    found = (
        _appetite(rules, days), _vomiting(rules, days), _stool(rules, conditions, days),
        _muscle(rules, older, days), _condition(rules, older, days), _path(rules, off_path),
        *(_weight(rule, older, days) for rule in rules.weight if rule.condition in conditions),
    )  # fmt: skip
    firsts = [next(x, None) for x in found]
    return tuple(sorted((x for x in firsts if x is not None), key=lambda x: x.date))


def _appetite(rules: SignRules, days: Sequence[DayEntry]) -> Iterator[Reopens]:
    """So many logged days one after another on which it ate too little."""
    run = 0
    for day, share in by_day(days, "appetite_percent").items():
        run = run + 1 if share < rules.appetite_under else 0
        if run >= rules.appetite_days:
            yield Reopens(
                date=day, words=f"ate less than {rules.appetite_under:g} % on {run} days put down"
            )


def _vomiting(rules: SignRules, days: Sequence[DayEntry]) -> Iterator[Reopens]:
    times = by_day(days, "vomiting", worst=True)
    for day in times:
        within = sum(x for d, x in times.items() if day - _WEEK <= d <= day)
        if within >= rules.vomiting_in_week:
            yield Reopens(date=day, words=f"vomited {within:g} times in a week")


def _stool(
    rules: SignRules, conditions: Collection[str], days: Sequence[DayEntry]
) -> Iterator[Reopens]:
    if not rules.stool_conditions & set(conditions):
        return
    scores = by_day(days, "stool")
    for day in scores:
        week = [x for d, x in scores.items() if day - _WEEK <= d <= day]
        mean = sum(week) / len(week)
        if len(week) >= rules.stool_least and mean > rules.stool_over:
            yield Reopens(date=day, words=f"stool {mean:.1f} of 7 in the mean of a week")


def _muscle(
    rules: SignRules, older: Sequence[DayEntry], days: Sequence[DayEntry]
) -> Iterator[Reopens]:
    """Grades of muscle lost against the best of before."""
    best: int | None = None
    for entry in (*older, *days):
        if entry.muscle not in _GRADES:
            continue
        grade = _GRADES.index(entry.muscle)
        if best is not None and entry in days and grade - best >= rules.muscle_grades:
            yield Reopens(date=entry.date, words=f"muscle: {entry.muscle.value} loss")
        best = grade if best is None else min(best, grade)


def _condition(
    rules: SignRules, older: Sequence[DayEntry], days: Sequence[DayEntry]
) -> Iterator[Reopens]:
    """Points of body condition gained or lost since it was scored before the plan, or first."""
    scored = [e for e in (*older, *days) if e.body_condition is not None]
    known = [e for e in scored if e in older]
    first = known[-1] if known else scored[0] if scored else None
    for entry in scored:
        if first is None or entry in older:
            continue
        was, now = first.body_condition or 0, entry.body_condition or 0
        if abs(now - was) >= rules.condition_points:
            yield Reopens(date=entry.date, words=f"body condition {now} of 9, was {was}")


def _path(rules: SignRules, off: OffPath | None) -> Iterator[Reopens]:
    if off is not None and abs(off.share) > rules.weight_off:
        side = "over" if off.share > 0 else "under"
        yield Reopens(
            date=off.date, words=f"weight {abs(off.share):.0%} {side} what the plan means it to be"
        )


def _weight(
    rule: WeightRule, older: Sequence[DayEntry], days: Sequence[DayEntry]
) -> Iterator[Reopens]:
    """A weight that moved, by the condition, against the last one before, or the first."""
    known = [e for e in older if e.weight_kg is not None and not e.fluid]
    weighed = [e for e in days if e.weight_kg is not None and not e.fluid]
    first = known[-1] if known else weighed[0] if weighed else None
    for entry in weighed:
        if first is None:
            return
        share = (entry.weight_kg or 0.0) / (first.weight_kg or 1.0) - 1
        if share < -rule.loss or (rule.gain is not None and share > rule.gain):
            moved = "lost" if share < 0 else "gained"
            yield Reopens(
                date=entry.date, words=f"{moved} {abs(share):.1%} since {first.date.isoformat()}"
            )
