"""Writes to what is put down of a dog."""

from dataclasses import dataclass

from accounts.scoping import Actor, find_own, looked_at
from cases.models import Case
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from library.facts import reference
from outbox.actions import Message, send_mail
from records.links import give, take_back
from wainscot_core.batch.record import EntryKey
from wainscot_core.boundary import Whole, YesNo, dump, read
from wainscot_core.errors import InputError
from wainscot_core.followup.entry import DayEntry, check_day
from wainscot_core.followup.laboratory import LabValue, check_value

from .models import DiaryLink, FollowEntry, LabResult, PutDown
from .views import follow_view, plan_kcal_on

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
        practice=who.practice, case=case, key=asked.key, day=entry.date, data=dump(entry), by=who.name,
        plan_kcal=plan_kcal_on(case, entry.date),
    )  # fmt: skip
    log(who, EventKind.DAY_PUT_DOWN, case.pk, kept.pk, day=entry.date.isoformat())
    return case


@dataclass(frozen=True, kw_only=True)
class LabIn:
    """A laboratory value to put down. key: made where it was typed."""

    key: EntryKey
    value: LabValue


@transaction.atomic
def put_down_lab(who: Actor, pk: int, asked: LabIn) -> Case:
    """Keep a laboratory value of a case; what was kept already, by its key, is passed over. Raises InputError naming the
    field."""
    case = find_own(Case, who.practice, *WITH_CASE, lock=True, pk=pk)
    if case.lab_results.filter(key=asked.key).exists():
        return case
    laboratory = reference().laboratory
    value = check_value(laboratory, asked.value, timezone.localdate())
    if case.lab_results.count() >= MOST_ENTRIES:
        raise InputError("", f"a case holds at most {MOST_ENTRIES} laboratory values")
    kept = LabResult.objects.create(
        practice=who.practice, case=case, key=asked.key, day=value.date, data=dump(value), by=who.name
    )  # fmt: skip
    name = laboratory.tests[value.test].name
    log(who, EventKind.LAB_PUT_DOWN, case.pk, kept.pk, day=value.date.isoformat(), test=name)
    return case


@dataclass(frozen=True, kw_only=True)
class StrikeIn:
    """Whether an entry counts. version: of the entry as it was looked at."""

    struck: YesNo
    version: int


@transaction.atomic
def strike(who: Actor, pk: int, asked: StrikeIn) -> Case:
    """A day does not count, or counts again; it stays on record. Raises StaleWriteError."""
    entry = find_own(FollowEntry, who.practice, "case", lock=True, pk=pk)
    case = find_own(Case, who.practice, *WITH_CASE, pk=entry.case_id)
    _struck(entry, case, asked)
    kind = EventKind.DAY_STRUCK if asked.struck else EventKind.DAY_COUNTS
    log(who, kind, case.pk, entry.pk, day=entry.day.isoformat())
    return case


@transaction.atomic
def strike_lab(who: Actor, pk: int, asked: StrikeIn) -> Case:
    """A laboratory value does not count, or counts again; it stays on record. Raises StaleWriteError."""
    entry = find_own(LabResult, who.practice, "case", lock=True, pk=pk)
    case = find_own(Case, who.practice, *WITH_CASE, pk=entry.case_id)
    _struck(entry, case, asked)
    kind = EventKind.LAB_STRUCK if asked.struck else EventKind.LAB_COUNTS
    name = reference().laboratory.tests[read(LabValue, entry.data).test].name
    log(who, kind, case.pk, entry.pk, day=entry.day.isoformat(), test=name)
    return case


def _struck(entry: PutDown, case: Case, asked: StrikeIn) -> None:
    looked_at(entry, asked.version, lambda: follow_view(case))
    entry.struck = asked.struck
    entry.version += 1
    entry.save()


@dataclass(frozen=True, kw_only=True)
class DiaryLinkIn:
    """For how many days the owner can put days down by the address; send: it is written to the owner."""

    days: Whole = 90
    send: YesNo = False


MOST_LINK_DAYS = 400


@transaction.atomic
def give_diary(who: Actor, pk: int, asked: DiaryLinkIn) -> DiaryLink:
    """An address by which the owner puts days down. Raises InputError for days that cannot be, and where it is to be sent
    and there is no address of the owner's."""
    case = find_own(Case, who.practice, *WITH_CASE, lock=True, pk=pk)
    link = give(DiaryLink, who, asked.days, MOST_LINK_DAYS, case=case)
    until = link.expires.date().isoformat()
    log(who, EventKind.DIARY_GIVEN, case.pk, link.pk, until=until)
    if asked.send:
        client, dog = case.dog.client, case.dog.name
        text = (
            f"Hello {client.name},\n\nplease put down here how {dog} is: its weight once a week, and what changes. It takes a "
            f"minute. {who.practice} sees it. The page opens until {until}."
        )
        message = Message(client.name, client.email, f"How is {dog}?", text, link.path)
        send_mail(who.practice, case.pk, message)
    return link


@transaction.atomic
def close_diary(who: Actor, pk: int) -> DiaryLink:
    """Take an address back."""
    link = find_own(DiaryLink, who.practice, "case", lock=True, pk=pk)
    if take_back(link):
        log(who, EventKind.DIARY_CLOSED, link.case_id, link.pk)
    return link
