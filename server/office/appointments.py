"""Appointments: made, moved, called off; and as calendar entries."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Annotated

from accounts.conventions import conventions_of
from accounts.models import Practice
from accounts.scoping import Actor, find_own, looked_at
from cases.models import Case
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from pydantic import Field
from records.calendars import CalendarHour
from wainscot_core.boundary import Text40, Text300, Whole, YesNo
from wainscot_core.conventions import clock, day
from wainscot_core.days import read_day
from wainscot_core.errors import InputError
from wainscot_core.office.appointment import (
    MEETINGS,
    Meeting,
    Slot,
    check_meeting,
    overlapping,
    read_clock,
)

from .models import Appointment

MOST_APPOINTMENTS = 500
LONG_DAYS = 14
# Looked back for one that may not be over yet: none is longer than a day.
_RUNNING = timedelta(days=1)


@dataclass(frozen=True, kw_only=True)
class AppointmentIn:
    """An appointment as people write it. on, at: "3 Dec 2026", "2:30 pm"; version: as it was looked at, None for a new one."""

    kind: Meeting
    on: Text40
    at: Text40
    minutes: Annotated[Whole, Field(ge=0, le=10_000)] = 45
    note: Text300 = ""
    version: Whole | None = None


@dataclass(frozen=True, kw_only=True)
class OffIn:
    """Whether it is called off. version: as it was looked at."""

    off: YesNo
    version: Whole


@dataclass(frozen=True, kw_only=True)
class AppointmentView:
    """An appointment. on, at, until: by the clock of the practice; clashes: what is at the same time; over: it was."""

    id: int
    version: int
    case: int
    dog: str
    client: str
    kind: Meeting
    what: str
    on: date
    at: str
    until: str
    minutes: int
    note: str
    off: bool
    over: bool
    clashes: tuple[str, ...]


@transaction.atomic
def keep_appointment(who: Actor, case: Case, pk: int | None, asked: AppointmentIn) -> Appointment:
    """Make one, or move it. Raises InputError naming the field, StaleWriteError."""
    begins = _moment(asked)
    check_meeting(begins, asked.minutes, timezone.now())
    if pk is None:
        ahead = Appointment.objects.for_practice(who.practice).filter(begins__gte=timezone.now())
        if ahead.count() >= MOST_APPOINTMENTS:
            raise InputError("", f"{MOST_APPOINTMENTS} appointments are ahead: call one off first")
        row = Appointment(practice=who.practice, case=case)
    else:
        row = find_own(Appointment, who.practice, lock=True, pk=pk)
        looked_at(row, asked.version, lambda: views(who.practice, [row])[0])
        row.version += 1
    row.kind, row.begins, row.minutes, row.note = (
        asked.kind.value,
        begins,
        asked.minutes,
        asked.note,
    )
    row.by, row.off = who.name, False
    row.save()
    kind = EventKind.MEETING_MADE if pk is None else EventKind.MEETING_MOVED
    log(who, kind, row.case_id, row.pk, what=MEETINGS[asked.kind], at=_said(who.practice, row))
    return row


@transaction.atomic
def call_off(who: Actor, pk: int, asked: OffIn) -> Appointment:
    """It is called off, or holds again; it stays on record."""
    row = find_own(Appointment, who.practice, lock=True, pk=pk)
    looked_at(row, asked.version, lambda: views(who.practice, [row])[0])
    row.off, row.by = asked.off, who.name
    row.version += 1
    row.save()
    kind = EventKind.MEETING_OFF if asked.off else EventKind.MEETING_ON
    log(
        who, kind, row.case_id, row.pk, what=MEETINGS[Meeting(row.kind)],
        at=_said(who.practice, row),
    )  # fmt: skip
    return row


def _moment(asked: AppointmentIn) -> datetime:
    """When it begins, by the clock of the practice. Raises InputError where the clock goes over that time."""
    try:
        on = read_day(asked.on)
    except InputError as error:
        raise error.under("on") from None
    try:
        at = read_clock(asked.at)
    except InputError as error:
        raise error.under("at") from None
    local = datetime.combine(on, at)
    begins = timezone.make_aware(local)
    # In the night the clocks go forward there is an hour that never is.
    if timezone.make_naive(begins.astimezone(UTC)) != local:
        raise InputError("at", f"the clocks go over {at:%H:%M} on this day: choose another time")
    return begins


def _said(practice: Practice, row: Appointment) -> str:
    c, at = conventions_of(practice), timezone.localtime(row.begins)
    return f"{day(c, at.date())}, {clock(c, at.time())}"


def around(practice: Practice, now: datetime, days: int = LONG_DAYS) -> list[Appointment]:
    """What is today and in the days after, by time; what is called off too, until its day is over."""
    today = timezone.localdate(now)
    first = timezone.make_aware(datetime.combine(today, time()))
    return list(
        Appointment.objects.for_practice(practice)
        .filter(begins__gte=first, begins__lt=first + timedelta(days=days + 1))
        .select_related("case__dog__client")[:MOST_APPOINTMENTS]
    )


def of_client(practice: Practice, client: int) -> list[Appointment]:
    """All of a client's, the latest first."""
    return list(
        Appointment.objects.for_practice(practice)
        .filter(case__dog__client=client)
        .select_related("case__dog__client")
        .order_by("-begins", "-pk")[:MOST_APPOINTMENTS]
    )


def views(practice: Practice, rows: Iterable[Appointment]) -> tuple[AppointmentView, ...]:
    """Appointments as they are shown, in their order."""
    rows = list(rows)
    if not rows:
        return ()
    c, now = conventions_of(practice), timezone.now()
    least, most = min(r.begins for r in rows), max(r.begins for r in rows)
    held = (
        Appointment.objects.for_practice(practice)
        .filter(off=False, begins__gt=least - _RUNNING, begins__lt=most + _RUNNING)
        .select_related("case__dog")
    )
    slots = {r.pk: Slot(f"{_what(r)} of {r.case.dog.name}", r.begins, r.minutes) for r in held}
    found = []
    for row in rows:
        at = timezone.localtime(row.begins)
        mine = Slot("", row.begins, row.minutes)
        others = () if row.off else overlapping(mine, (s for k, s in slots.items() if k != row.pk))
        found.append(
            AppointmentView(
                id=row.pk, version=row.version, case=row.case_id, dog=row.case.dog.name,
                client=row.case.dog.client.name, kind=Meeting(row.kind), what=_what(row), on=at.date(),
                at=clock(c, at.time()), until=clock(c, timezone.localtime(mine.ends).time()),
                minutes=row.minutes, note=row.note, off=row.off, over=mine.ends <= now, clashes=others,
            )
        )  # fmt: skip
    return tuple(found)


def _what(row: Appointment) -> str:
    return MEETINGS[Meeting(row.kind)]


def calendar_hours(rows: Iterable[Appointment]) -> list[CalendarHour]:
    """Appointments for a calendar, called off ones as such."""
    return [
        CalendarHour(
            f"appointment-{row.pk}@wainscot", row.begins, row.minutes,
            f"{row.case.dog.name}: {_what(row)}",
            ". ".join(x for x in (f"With {row.case.dog.client.name}", row.note) if x), row.version,
            row.off,
        )
        for row in rows
    ]  # fmt: skip
