"""What follows a plan, from outside."""

from dataclasses import dataclass
from datetime import date, datetime

from accounts.conventions import ConventionsView, conventions_view
from cases.models import Case
from cases.queries import conventions_for, record_energy
from cases.records import record_of
from django.utils import timezone
from library.facts import reference
from wainscot_core.boundary import read
from wainscot_core.errors import InputError
from wainscot_core.followup.entry import DayEntry, log_of
from wainscot_core.followup.trend import Trend, trend

from .models import FollowEntry


@dataclass(frozen=True, kw_only=True)
class FollowEntryView:
    """A day as it was put down: when, by whom; struck: it does not count."""

    id: int
    version: int
    at: datetime
    by: str
    struck: bool
    entry: DayEntry


@dataclass(frozen=True, kw_only=True)
class FollowView:
    """A case after its plan was issued. entries: the newest first; plan_kcal: that its plan gives a day; trend: what they
    say, None where nothing can be said yet, and why."""

    entries: tuple[FollowEntryView, ...]
    plan_kcal: float | None
    trend: Trend | None
    why: str


def follow_view(case: Case) -> FollowView:
    """What is put down of a case, and what it says."""
    rows = list(FollowEntry.objects.for_practice(case.practice).filter(case=case))
    entries = tuple(_entry(row) for row in rows)
    record = record_of(case)
    try:
        plan_kcal = record_energy(record).target_kcal
    except InputError as error:
        why = f"its energy is not known: {error.message}"
        return FollowView(entries=entries, plan_kcal=None, trend=None, why=why)
    # In the order in which they were put down.
    counted = [e.entry for e in reversed(entries) if not e.struck]
    found, why = None, "no weight is put down yet"
    if any(e.weight_kg is not None for e in counted):
        try:
            log = log_of(record, counted, plan_kcal)
            found, why = trend(reference(), log, timezone.localdate()), ""
        except InputError as error:
            why = error.message
    return FollowView(entries=entries, plan_kcal=plan_kcal, trend=found, why=why)


def _entry(row: FollowEntry) -> FollowEntryView:
    return FollowEntryView(
        id=row.pk, version=row.version, at=row.created, by=row.by, struck=row.struck,
        entry=read(DayEntry, row.data),
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class DiaryDay:
    """A day that is in a diary already, and its weight, kg."""

    date: date
    weight_kg: float | None


@dataclass(frozen=True, kw_only=True)
class DiaryView:
    """A dog's diary as its owner sees it: nothing of the case but the dog's name, who is asked, and the last days that were
    put down."""

    dog: str
    practice: str
    days: tuple[DiaryDay, ...]
    conventions: ConventionsView


LAST_DAYS = 10


def diary_view(case: Case) -> DiaryView:
    """The diary of a case for its owner."""
    rows = FollowEntry.objects.for_practice(case.practice).filter(case=case, struck=False)
    return DiaryView(
        dog=case.dog.name, practice=case.practice.name,
        days=tuple(
            DiaryDay(date=row.day, weight_kg=row.data.get("weight_kg")) for row in rows[:LAST_DAYS]
        ),
        conventions=conventions_view(conventions_for(case.dog.client)),
    )  # fmt: skip
