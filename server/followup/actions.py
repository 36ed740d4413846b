"""Writes to what is put down of a dog."""

from dataclasses import dataclass

from accounts.scoping import Actor, find_own
from cases.models import Case
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from wainscot_core.batch.record import EntryKey
from wainscot_core.boundary import YesNo, dump
from wainscot_core.errors import InputError
from wainscot_core.followup.entry import DayEntry, check_day
from wire.errors import StaleWriteError

from .models import FollowEntry
from .views import follow_view

MOST_ENTRIES = 6000
WITH_CASE = ("dog__client__practice", "practice")


@dataclass(frozen=True, kw_only=True)
class FollowIn:
    """A day to put down. key: made where it was typed."""

    key: EntryKey
    entry: DayEntry


@transaction.atomic
def put_down_day(who: Actor, pk: int, asked: FollowIn) -> Case:
    """Keep a day of a case; what was kept already, by its key, is passed over. Raises InputError naming the field."""
    case = find_own(Case, who.practice, *WITH_CASE, lock=True, pk=pk)
    if case.follow_entries.filter(key=asked.key).exists():
        return case
    entry = check_day(asked.entry, timezone.localdate())
    if case.follow_entries.count() >= MOST_ENTRIES:
        raise InputError("", f"a case holds at most {MOST_ENTRIES} days")
    kept = FollowEntry.objects.create(
        practice=who.practice, case=case, key=asked.key, day=entry.date, data=dump(entry), by=who.name
    )  # fmt: skip
    log(who, EventKind.DAY_PUT_DOWN, case.pk, kept.pk, day=entry.date.isoformat())
    return case


@dataclass(frozen=True, kw_only=True)
class StrikeIn:
    """Whether an entry counts. version: of the entry as it was looked at."""

    struck: YesNo
    version: int


@transaction.atomic
def strike(who: Actor, pk: int, asked: StrikeIn) -> Case:
    """An entry does not count, or counts again; it stays on record. Raises StaleWriteError."""
    entry = find_own(FollowEntry, who.practice, "case", lock=True, pk=pk)
    case = find_own(Case, who.practice, *WITH_CASE, pk=entry.case_id)
    if entry.version != asked.version:
        raise StaleWriteError(follow_view(case))
    entry.struck = asked.struck
    entry.version += 1
    entry.save()
    kind = EventKind.DAY_STRUCK if asked.struck else EventKind.DAY_COUNTS
    log(who, kind, case.pk, entry.pk, day=entry.day.isoformat())
    return case
