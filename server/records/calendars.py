"""Calendars to take along (RFC 5545)."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from icalendar import Calendar, Event


@dataclass(frozen=True)
class CalendarDay:
    """Something on a day, the whole of it. uid: what it is known by when the calendar is read again."""

    uid: str
    on: date
    title: str
    words: str


def as_ics(name: str, made: datetime, days: Iterable[CalendarDay]) -> bytes:
    """A calendar file. made: when what it tells was decided, so that the same is the same file."""
    calendar = Calendar()
    calendar.add("prodid", "-//Wainscot//change-over//EN")
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
    found: bytes = calendar.to_ical()
    return found
