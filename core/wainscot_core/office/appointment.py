"""When a practice meets an owner."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from enum import StrEnum

from ..errors import InputError


class Meeting(StrEnum):
    """What one meets for."""

    FIRST = "first"
    REVIEW = "review"
    WEIGHING = "weighing"
    CALL = "call"
    VISIT = "visit"


MEETINGS = {
    Meeting.FIRST: "First consultation",
    Meeting.REVIEW: "Review",
    Meeting.WEIGHING: "Weighing",
    Meeting.CALL: "Call",
    Meeting.VISIT: "Home visit",
}
MOST_YEARS = 3
LEAST_MINUTES, MOST_MINUTES = 5, 24 * 60

_CLOCK = re.compile(
    r"(?P<hour>\d{1,2})(?:\s*[:.h]?\s*(?P<minute>\d{2}))?\s*(?P<half>[ap])?\.?\s*(?:m\.?)?", re.I
)


def read_clock(words: str) -> time:
    """A time of day as people write it: "14:30", "2.30 pm", "9", "0915". Raises InputError for what is none."""
    found = _CLOCK.fullmatch(words.strip())
    if found is None:
        raise InputError("", f"cannot read {words!r} as a time; write for example 14:30 or 2:30 pm")
    hour, minute, half = (
        int(found["hour"]),
        int(found["minute"] or 0),
        (found["half"] or "").lower(),
    )
    if half:
        if not 1 <= hour <= 12:
            raise InputError("", f"{words} is no time: with am or pm the hour is 1 to 12")
        hour = hour % 12 + (12 if half == "p" else 0)
    if hour > 23 or minute > 59:
        raise InputError("", f"{words} is no time of a day")
    return time(hour, minute)


def check_meeting(begins: datetime, minutes: int, now: datetime) -> None:
    """Raises InputError, naming the field, for a time that no appointment can have. begins, now: aware."""
    if not LEAST_MINUTES <= minutes <= MOST_MINUTES:
        raise InputError("minutes", f"must be {LEAST_MINUTES} to {MOST_MINUTES}")
    if abs(begins - now) > timedelta(days=366 * MOST_YEARS):
        raise InputError("on", f"must be within {MOST_YEARS} years")


@dataclass(frozen=True)
class Slot:
    """When something is. name: what it is called."""

    name: str
    begins: datetime
    minutes: int

    @property
    def ends(self) -> datetime:
        """When it is over."""
        return self.begins + timedelta(minutes=self.minutes)


def overlapping(slot: Slot, others: Iterable[Slot]) -> tuple[str, ...]:
    """The names of those that are at the same time, in their order. One that begins when another ends is not."""
    return tuple(o.name for o in others if o.begins < slot.ends and slot.begins < o.ends)
