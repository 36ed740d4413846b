"""A laboratory report as it is pasted: the lines that say one value plainly, and every other line with what is wrong with it.

A value is never guessed: a line with two figures, without its unit, or marked otherwise than it stands is not read.
"""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from ..errors import InputError
from ..facts.laboratory import LaboratoryRules, LabTest
from .laboratory import LabValue, check_value

MOST_LETTERS = 20_000
# How far off the usual a value may be before its unit, or its decimal point, is looked at by eye.
MOST_TIMES = 100.0
LEAST_TIMES = 20.0


@dataclass(frozen=True, kw_only=True)
class ReportLine:
    """A line that was read: the words it was read from, the test by name, and its value as the report prints it."""

    text: str
    name: str
    value: LabValue


@dataclass(frozen=True, kw_only=True)
class UnreadLine:
    """A line that was not read, and why."""

    text: str
    why: str


@dataclass(frozen=True, kw_only=True)
class LabReport:
    """A report as it was read; no line of it is in neither."""

    read: tuple[ReportLine, ...]
    unread: tuple[UnreadLine, ...]


_NUMBER = r"\d+(?:[.,]\d+)?"
_VALUE = re.compile(rf"(?P<less>[<>≤≥]=?)?\s*(?P<value>{_NUMBER})(?![\w.,/^])")
_RANGE = re.compile(
    rf"[\[(]?\s*(?:(?P<low>{_NUMBER})\s*(?:-|–|—|to)\s*(?P<high>{_NUMBER})"
    rf"|(?P<under>[<≤])=?\s*(?P<most>{_NUMBER})|(?P<over>[>≥])=?\s*(?P<least>{_NUMBER}))"
    r"\s*[\])]?(?![\w.,/^])"
)
# Marks of a report beside a value: high, low, none.
_MARKS = {"h": "over", "high": "over", "↑": "over", "l": "under", "low": "under", "↓": "under",
          "*": "", "n": "within", "normal": "within"}  # fmt: skip
_UNITLESS = {"ratio", "pH"}
_SPACE = " \t:=|;."


def read_report(rules: LaboratoryRules, text: str, day: date, today: date) -> LabReport:
    """The values of a report of a day. Raises InputError (field text) for one that is too long, (field date) for a day to
    come."""
    if len(text) > MOST_LETTERS:
        raise InputError("text", f"is longer than {MOST_LETTERS} letters: paste it in parts")
    if day > today:
        raise InputError("date", f"{day.isoformat()} is still to come")
    names = sorted(_names(rules), key=lambda x: -len(x[0]))
    found: list[ReportLine | UnreadLine] = []
    for line in text.splitlines():
        words = " ".join(line.split())
        if words:
            try:
                found.append(_line(rules, names, words, day, today))
            except InputError as error:
                found.append(UnreadLine(text=words, why=error.message))
    tests = [x.value.test for x in found if isinstance(x, ReportLine)]
    twice = {t for t in tests if tests.count(t) > 1}
    once = [
        UnreadLine(text=x.text, why="it is there twice: which one counts?")
        if isinstance(x, ReportLine) and x.value.test in twice
        else x
        for x in found
    ]
    return LabReport(
        read=tuple(x for x in once if isinstance(x, ReportLine)),
        unread=tuple(x for x in once if isinstance(x, UnreadLine)),
    )


def _names(rules: LaboratoryRules) -> Iterator[tuple[str, LabTest]]:
    for test in rules.tests.values():
        for name in {*test.called, test.name.lower()}:
            yield name, test


def _line(
    rules: LaboratoryRules, names: Sequence[tuple[str, LabTest]], words: str, day: date, today: date
) -> ReportLine:
    lower = words.lower()
    # The whole of a name: what goes on behind it ("/creatinine", ", urine") makes it another test.
    called = next(
        (x for x in names if lower.startswith(x[0]) and lower[len(x[0]) :][:1] in ("", *_SPACE)),
        None,
    )
    if called is None:
        raise InputError("", "no test is called that here")
    name, test = called
    rest = words[len(name) :].strip(_SPACE)
    value, rest = _value(rest)
    low, high, rest = _range(rest)
    unit, marks = _rest(test, name, rest)
    found = check_value(
        rules, LabValue(date=day, test=test.id, value=value, unit=unit, low=low, high=high), today
    )
    for mark in marks:
        _agrees(mark, found)
    _plausible(test, found)
    return ReportLine(text=words, name=test.name, value=found)


def _figure(text: str) -> float:
    whole, comma, decimals = text.partition(",")
    if comma and len(decimals) == 3:
        raise InputError("", f"{text} can be thousands or decimals: put it down by hand")
    return float(f"{whole}.{decimals}" if comma else text)


def _value(rest: str) -> tuple[float, str]:
    # A mark may stand before the figure.
    first, _, after = rest.partition(" ")
    mark = ""
    if first.lower() in _MARKS:
        mark, rest = first, after.strip(_SPACE)
    found = _VALUE.match(rest)
    if found is None:
        raise InputError("", "no figure stands behind the name")
    if found["less"]:
        raise InputError("", "it is only known to be more or less than that: put it down by hand")
    return _figure(found["value"]), f"{mark} {rest[found.end() :]}".strip()


def _range(rest: str) -> tuple[float | None, float | None, str]:
    ranges = list(_RANGE.finditer(rest))
    if len(ranges) > 1:
        raise InputError("", "two ranges stand beside it")
    if not ranges:
        return None, None, rest
    at = ranges[0]
    left = f"{rest[: at.start()]} {rest[at.end() :]}"
    if at["low"]:
        return _figure(at["low"]), _figure(at["high"]), left
    if at["under"]:
        return None, _figure(at["most"]), left
    return _figure(at["least"]), None, left


def _rest(test: LabTest, name: str, rest: str) -> tuple[str, list[str]]:
    """The unit and the marks; nothing else may stand there."""
    units = _units(test, name)
    unit, marks = "", []
    for word in _words(rest, units):
        known = units.get(_plain(word))
        if known is not None:
            if unit and unit != known:
                raise InputError("", "two units stand beside it")
            unit = known
        elif word.lower() in _MARKS:
            marks.append(_MARKS[word.lower()])
        elif re.search(r"\d", word) and not re.search(r"[a-zµμ%]", word, re.I):
            raise InputError("", f"another figure stands beside it ({word}): which one counts?")
        else:
            told = " or ".join(u for u in test.units if u not in _UNITLESS)
            more = f": {test.name} is told in {told}" if told else ""
            raise InputError("", f"{word!r} is not understood{more}")
    if not unit:
        if test.unit not in _UNITLESS:
            raise InputError("", f"its unit is not said: {' or '.join(test.units)}")
        unit = test.unit
    return unit, marks


def _words(rest: str, units: Mapping[str, str]) -> Iterator[str]:
    """The words of a rest, a unit of two words as one."""
    words = [w.strip("|;()[]") for w in rest.split()]
    words = [w for w in words if w]
    at = 0
    while at < len(words):
        pair = " ".join(words[at : at + 2])
        if at + 1 < len(words) and _plain(pair) in units:
            yield pair
            at += 2
        else:
            yield words[at]
            at += 1


def _plain(unit: str) -> str:
    return (
        unit.lower().replace("µ", "u").replace("μ", "u").replace("mcg", "ug").replace("iu/l", "u/l")
    )


def _units(test: LabTest, name: str) -> dict[str, str]:
    """How each unit may be written, by its plain form; a name that is always told in one unit has only that."""
    of_name = test.named_unit.get(name)
    if of_name is not None:
        return {_plain(of_name): of_name, _plain(of_name.split()[0]): of_name}
    units = {_plain(u): u for u in test.units}
    if test.unit == "10^9/L":
        units |= {"x10^9/l": test.unit, "10e9/l": test.unit, "x10e9/l": test.unit, "g/l": test.unit}
    return units


def _agrees(mark: str, v: LabValue) -> None:
    """A value marked high that stands in its range was not read as it was meant."""
    stands = (
        "over" if v.high is not None and v.value > v.high
        else "under" if v.low is not None and v.value < v.low
        else "within"
    )  # fmt: skip
    if mark and (v.low is not None or v.high is not None) and mark != stands:
        raise InputError("", "it is marked otherwise than it stands in its range")


def _plausible(test: LabTest, v: LabValue) -> None:
    value = test.compared(v.value, v.unit)
    most, least = test.high or test.low, test.low or test.high
    if (most is not None and value > most * MOST_TIMES) or (
        least is not None and value < least / LEAST_TIMES and test.low is not None
    ):
        raise InputError(
            "", "it is far from anything usual: is the unit right? Put it down by hand"
        )
