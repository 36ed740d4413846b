"""Writes to what is due: that it was done, is put off, or neither."""

from dataclasses import dataclass
from typing import Annotated

from accounts.scoping import Actor, find_own
from cases.models import Case
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from outbox.actions import Message, send_mail
from pydantic import StringConstraints
from wainscot_core.boundary import Day
from wainscot_core.desk.due import DueKind
from wainscot_core.desk.remind import reminder
from wainscot_core.errors import InputError

from .models import DeskItem, DeskNote
from .refresh import refresh

Reason = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=300)]


@dataclass(frozen=True, kw_only=True)
class DoneIn:
    """Something was done on a day; kind: of what."""

    kind: DueKind
    on: Day


@dataclass(frozen=True, kw_only=True)
class PutOffIn:
    """Something is put off to a day; kind: of what."""

    kind: DueKind
    until: Day
    reason: Reason


@dataclass(frozen=True, kw_only=True)
class RemindIn:
    """The owner is reminded of something; kind: of what."""

    kind: DueKind


@dataclass(frozen=True, kw_only=True)
class TakenBackIn:
    """What was said of something last is taken back; kind: of what."""

    kind: DueKind


# What is done where it is done: a weight is put down, a recipe issued.
DONE_BY_SAYING = frozenset({
    DueKind.SYMPTOM, DueKind.VET_VISIT, DueKind.LABORATORY, DueKind.AMOUNT, DueKind.PLAN_AGE, DueKind.SWAPPED,
    DueKind.REOPEN, DueKind.DATA,
})  # fmt: skip


@transaction.atomic
def say_done(who: Actor, pk: int, asked: DoneIn) -> Case:
    """Something that is due of a case was done. Raises InputError for a day to come, and for what is done elsewhere."""
    case = _locked(who, pk)
    if asked.on > timezone.localdate():
        raise InputError("on", f"{asked.on.isoformat()} is still to come")
    if asked.kind not in DONE_BY_SAYING:
        raise InputError("kind", "is done where it is done: open it")
    due = DeskItem.objects.for_practice(who.practice).filter(case=case, kind=asked.kind.value)
    DeskNote.objects.create(
        practice=who.practice, case=case, kind=asked.kind.value, done_on=asked.on, by=who.name,
        why="\n".join(due.values_list("why", flat=True)),
    )  # fmt: skip
    log(who, EventKind.DUE_DONE, case.pk, None, what=asked.kind.value, day=asked.on.isoformat())
    refresh(case)
    return case


@transaction.atomic
def put_off(who: Actor, pk: int, asked: PutOffIn) -> Case:
    """Something that is due of a case is shown again on a later day. Raises InputError for a day that is not to come, and
    for a symptom."""
    case = _locked(who, pk)
    if asked.until <= timezone.localdate():
        raise InputError("until", "must be a day to come")
    if (asked.until - timezone.localdate()).days > 366:
        raise InputError("until", "is more than a year ahead")
    if asked.kind is DueKind.SYMPTOM:
        raise InputError("kind", "a symptom is not put off: ask the vet")
    if (
        not DeskItem.objects.for_practice(who.practice)
        .filter(case=case, kind=asked.kind.value)
        .exists()
    ):
        raise InputError("kind", "is not due")
    DeskNote.objects.create(
        practice=who.practice, case=case, kind=asked.kind.value, off_until=asked.until,
        reason=asked.reason, by=who.name,
    )  # fmt: skip
    log(
        who, EventKind.DUE_PUT_OFF, case.pk, None, what=asked.kind.value,
        day=asked.until.isoformat(), reason=asked.reason,
    )  # fmt: skip
    refresh(case)
    return case


@transaction.atomic
def remind(who: Actor, pk: int, asked: RemindIn) -> Case:
    """Write to the owner of something that is due. Raises InputError for what is not due or not the owner's, and without an
    address of hers."""
    case = _locked(who, pk)
    client, dog = case.dog.client, case.dog.name
    if (
        not DeskItem.objects.for_practice(who.practice)
        .filter(case=case, kind=asked.kind.value)
        .exists()
    ):
        raise InputError("kind", "is not due")
    form = {DueKind.WEIGH: case.diary_links, DueKind.SHEET: case.sheet_links}.get(asked.kind)
    opens = next((x for x in form.all() if x.is_open), None) if form is not None else None
    words = reminder(asked.kind, dog, client.name, who.practice.name, opens is not None)
    path = opens.path if opens is not None else ""
    send_mail(
        who.practice, case.pk, Message(client.name, client.email, words.subject, words.text, path)
    )
    log(who, EventKind.DUE_REMINDED, case.pk, None, what=asked.kind.value)
    return case


@transaction.atomic
def take_back(who: Actor, pk: int, asked: TakenBackIn) -> Case:
    """What was said last of something that is due, done or put off, was not so. Raises InputError where nothing was said."""
    case = _locked(who, pk)
    said = (
        DeskNote.objects.for_practice(who.practice).filter(case=case, kind=asked.kind.value).last()
    )
    if said is None:
        raise InputError("kind", "was neither done nor put off")
    said.delete()
    log(who, EventKind.DUE_TAKEN_BACK, case.pk, None, what=asked.kind.value)
    refresh(case)
    return case


def _locked(who: Actor, pk: int) -> Case:
    return find_own(Case, who.practice, "dog__client__practice", "practice", lock=True, pk=pk)
