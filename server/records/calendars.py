"""Calendars to take along (RFC 5545)."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from icalendar import Calendar, Event


@dataclass(frozen=True)
class CalendarDay:
    """Something on a day, the whole of it. uid: what it is known by when the calendar is read again."""

    uid: str
    on: date
    title: str
    words: str


@dataclass(frozen=True)
class CalendarHour:
    """Something at an hour. begins: aware; revision: higher after each change, so that a calendar takes the newer; off: it is
    called off."""

    uid: str
    begins: datetime
    minutes: int
    title: str
    words: str
    revision: int
    off: bool


def as_ics(
    name: str,
    made: datetime,
    days: Iterable[CalendarDay],
    hours: Iterable[CalendarHour] = (),
) -> bytes:
    """A calendar file. made: when what it tells was decided, so that the same is the same file."""
    calendar = Calendar()
    calendar.add("prodid", "-//Wainscot//calendar//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", name)
    for day in days:
        event = Event()
        event.add("uid", day.uid)
        event.add("dtstamp", made)
        event.add("dtstart", day.on)
        event.add("dtend", day.on + timedelta(days=1))
        event.add("summary", day.title)
        event.add("description", day.words)
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    for hour in hours:
        event = Event()
        event.add("uid", hour.uid)
        event.add("dtstamp", made)
        # By the one clock of the world, which no calendar reads otherwise.
        event.add("dtstart", hour.begins.astimezone(UTC))
        event.add("dtend", (hour.begins + timedelta(minutes=hour.minutes)).astimezone(UTC))
        event.add("summary", hour.title)
        event.add("description", hour.words)
        event.add("sequence", hour.revision)
        event.add("status", "CANCELLED" if hour.off else "CONFIRMED")
        calendar.add_component(event)
    found: bytes = calendar.to_ical()
    return found
