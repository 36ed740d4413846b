"""Days as people write them: "2026-12-03", "3 Dec 2026", "December 3rd, 2026", "26/11/2026"."""

import re
from datetime import date

from .errors import InputError

_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_FULL = ("january", "february", "march", "april", "may", "june", "july", "august", "september",
         "october", "november", "december")  # fmt: skip
_YEAR_FIRST = re.compile(r"(\d{4})[-./](\d{1,2})[-./](\d{1,2})")
_DAY_FIRST = re.compile(r"(\d{1,2})(?:st|nd|rd|th)?[\s.,-]+(?:of\s+)?([a-z]+)[\s.,-]+(\d{4})", re.I)
_MONTH_FIRST = re.compile(r"([a-z]+)[\s.,-]+(\d{1,2})(?:st|nd|rd|th)?[\s.,-]+(\d{4})", re.I)
_FIGURES = re.compile(r"(\d{1,2})[-./ ](\d{1,2})[-./ ](\d{4})")


def read_day(words: str) -> date:
    """A day. Raises InputError for what is none, and for figures that can be two days."""
    text = words.strip()
    if found := _YEAR_FIRST.fullmatch(text):
        return _day(words, int(found[1]), int(found[2]), int(found[3]))
    if found := _DAY_FIRST.fullmatch(text):
        return _day(words, int(found[3]), _month(words, found[2]), int(found[1]))
    if found := _MONTH_FIRST.fullmatch(text):
        return _day(words, int(found[3]), _month(words, found[1]), int(found[2]))
    if found := _FIGURES.fullmatch(text):
        first, second, year = int(found[1]), int(found[2]), int(found[3])
        if first <= 12 and second <= 12 and first != second:
            one, other = date(year, second, first), date(year, first, second)
            raise InputError(
                "",
                f"{text} can be {_said(one)} or {_said(other)}: write the month as a word",
            )
        if second > 12:
            first, second = second, first
        return _day(words, year, second, first)
    raise _unread(words)


def day_or_words(words: str) -> str:
    """A day as 2026-12-03; words that tell none ("last spring") as they are. Raises InputError for
    figures that can be two days, or are no day."""
    text = words.strip()
    figures = _FIGURES.fullmatch(text) or _YEAR_FIRST.fullmatch(text)
    try:
        return read_day(text).isoformat()
    except InputError:
        if figures:
            raise
        return text


def _said(day: date) -> str:
    return f"{day.day} {_FULL[day.month - 1].capitalize()} {day.year}"


def _month(words: str, name: str) -> int:
    plain = name.lower().removesuffix(".")
    if plain in _FULL:
        return _FULL.index(plain) + 1
    if plain in _MONTHS or plain == "sept":
        return _MONTHS.index(plain[:3]) + 1
    raise _unread(words)


def _day(words: str, year: int, month: int, day: int) -> date:
    try:
        return date(year, month, day)
    except ValueError:
        raise _unread(words) from None


def _unread(words: str) -> InputError:
    return InputError("", f"cannot read {words!r} as a day; write for example 3 Dec 2026")
