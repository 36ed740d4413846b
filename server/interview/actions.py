"""Writes to the owner's sheet: its address, what is sent by it, what came of each answer."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from accounts.scoping import Actor, find_own
from cases.models import Case
from django.db import transaction
from events.log import log
from events.models import EventKind
from library.facts import reference
from outbox.actions import Message, send_mail
from pydantic import Field
from records.links import give, take_back
from wainscot_core.batch.record import EntryKey
from wainscot_core.boundary import Name40, Whole, YesNo, dump
from wainscot_core.dog.told import Answers, check_answers
from wainscot_core.errors import InputError

from .models import SentSheet, SheetLink

MOST_LINK_DAYS = 60
MOST_SHEETS = 50
WITH_CASE = ("dog__client__practice", "practice")


@dataclass(frozen=True, kw_only=True)
class SheetLinkIn:
    """For how many days the owner can fill the sheet in; send: the address is written to her."""

    days: Whole = 21
    send: YesNo = False


@transaction.atomic
def give_sheet(who: Actor, pk: int, asked: SheetLinkIn) -> SheetLink:
    """An address by which the owner fills her sheet in. Raises InputError for days that cannot be, and where it is to be
    sent and there is no address of the owner's."""
    case = find_own(Case, who.practice, *WITH_CASE, lock=True, pk=pk)
    link = give(SheetLink, who, asked.days, MOST_LINK_DAYS, case=case)
    until = link.expires.date().isoformat()
    log(who, EventKind.SHEET_GIVEN, case.pk, link.pk, until=until)
    if asked.send:
        client, dog = case.dog.client, case.dog.name
        text = (
            f"Hello {client.name},\n\nplease tell us about {dog}: what it eats, how it is, and what you can cook. Leave out what "
            f"you do not know. {who.practice} looks through it before anything is worked out. The page opens until {until}."
        )
        message = Message(client.name, client.email, f"About {dog}", text, link.path)
        send_mail(who.practice, case.pk, message)
    return link


@transaction.atomic
def close_sheet(who: Actor, pk: int) -> SheetLink:
    """Take an address back."""
    link = find_own(SheetLink, who.practice, "case", lock=True, pk=pk)
    if take_back(link):
        log(who, EventKind.SHEET_CLOSED, link.case_id, link.pk)
    return link


@dataclass(frozen=True, kw_only=True)
class SheetIn:
    """A sheet that is sent. key: made where it was typed."""

    key: EntryKey
    answers: Answers


@transaction.atomic
def send_sheet(who: Actor, pk: int, asked: SheetIn) -> Case:
    """Keep a sheet of a case; what was kept already, by its key, is passed over. Raises InputError naming the answer."""
    case = find_own(Case, who.practice, *WITH_CASE, lock=True, pk=pk)
    if case.sheets.filter(key=asked.key).exists():
        return case
    answers = check_answers(reference().owners_sheet, asked.answers)
    if case.sheets.count() >= MOST_SHEETS:
        raise InputError("", f"a case holds at most {MOST_SHEETS} sheets")
    kept = SentSheet.objects.create(
        practice=who.practice, case=case, key=asked.key, answers=[dump(x) for x in answers]
    )
    said = "1 answer" if len(answers) == 1 else f"{len(answers)} answers"
    log(who, EventKind.SHEET_SENT, case.pk, kept.pk, answers=said)
    return case


class Settled(StrEnum):
    """What came of an answer: it stands in the record now, it was looked at and left, it waits again."""

    TAKEN = "taken"
    LEFT = "left"
    WAITS = ""


@dataclass(frozen=True, kw_only=True)
class SettleIn:
    """What came of answers, by their ids."""

    settled: Annotated[dict[Name40, Settled], Field(min_length=1, max_length=80)]


@transaction.atomic
def settle(who: Actor, pk: int, asked: SettleIn) -> Case:
    """Say what came of answers of a sheet. Raises InputError for an answer that it does not have."""
    sheet = find_own(SentSheet, who.practice, "case", lock=True, pk=pk)
    there = {x["id"] for x in sheet.answers}
    for name in asked.settled:
        if name not in there:
            raise InputError(f"settled.{name}", "is no answer of this sheet")
    now = {**sheet.settled, **{name: made.value for name, made in asked.settled.items()}}
    settled = {name: made for name, made in now.items() if made}
    if settled != sheet.settled:
        sheet.settled = settled
        sheet.version += 1
        sheet.save()
        names = {x.id: x.what for x in reference().owners_sheet}
        log(
            who, EventKind.SHEET_SETTLED, sheet.case_id, sheet.pk,
            what=", ".join(names.get(x, x) for x in asked.settled), made=_made(asked),
        )  # fmt: skip
    return find_own(Case, who.practice, *WITH_CASE, pk=sheet.case_id)


def _made(asked: SettleIn) -> str:
    made = set(asked.settled.values())
    words = {Settled.TAKEN: "taken over", Settled.LEFT: "left", Settled.WAITS: "waits again"}
    return ", ".join(words[x] for x in Settled if x in made)
