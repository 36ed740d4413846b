"""Laboratory values over time, each against the range that its own report prints. Nothing here diagnoses."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from ..boundary import Day, Name40, Number, Text20, Text80, Text300, YesNo
from ..errors import InputError
from ..facts.laboratory import LaboratoryRules, LabTest
from ..figures import rounded

MOST_VALUE = 1e6


@dataclass(frozen=True, kw_only=True)
class LabValue:
    """A value as a report prints it. unit: "" for the usual one; low, high: the report's own range, in that unit, None where
    it prints none; fasted: None where it is not said."""

    date: Day
    test: Name40
    value: Number
    unit: Text20 = ""
    low: Number | None = None
    high: Number | None = None
    fasted: YesNo | None = None
    laboratory: Text80 = ""
    note: Text300 = ""


class LabStand(StrEnum):
    """Where a value stands in the range of its own report."""

    WITHIN = "within"
    UNDER = "under"
    OVER = "over"
    UNKNOWN = "unknown"


@dataclass(frozen=True, kw_only=True)
class LabPoint:
    """A value as it is compared; low, high: its own range in the same unit. printed, range: as the report has them, in its own unit, "" for no range; moved: it is
    off the one before by more than the dog's own ups and downs."""

    date: date
    value: float
    low: float | None
    high: float | None
    stand: LabStand
    moved: bool
    printed: str
    range: str
    notes: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class LabSeries:
    """One test over time, the oldest first. outside: the last value is out of its own range; means: what a change of it
    means for the diet, for the veterinarian to judge; once: a plan waits for a second reading."""

    test: str
    name: str
    unit: str
    points: tuple[LabPoint, ...]
    outside: bool
    moved: bool
    once: bool
    means: str


def check_value(rules: LaboratoryRules, value: LabValue, today: date) -> LabValue:
    """A value that can be. Raises InputError naming the field."""
    test = rules.tests.get(value.test)
    if test is None:
        raise InputError("test", f"there is no test {value.test!r}")
    if value.unit and value.unit not in test.units:
        raise InputError("unit", f"{test.name} is told in {' or '.join(test.units)}")
    if value.date > today:
        raise InputError("date", f"{value.date.isoformat()} is still to come")
    for name in ("value", "low", "high"):
        number = getattr(value, name)
        if number is not None and not 0 <= number <= MOST_VALUE:
            raise InputError(name, f"must be from 0 to {MOST_VALUE:.0f}")
    if value.low is not None and value.high is not None and value.low >= value.high:
        raise InputError("low", "must be less than the upper end of the range")
    return value


def series_of(rules: LaboratoryRules, values: Sequence[LabValue]) -> tuple[LabSeries, ...]:
    """The tests of which there are values, those out of their own range first. values: checked; in the order of being
    put down."""
    found = []
    for test in rules.tests.values():
        own = sorted((v for v in values if v.test == test.id), key=lambda v: v.date)
        if own:
            found.append(_series(test, own))
    return tuple(sorted(found, key=lambda s: (not s.outside, not s.moved)))


def _series(test: LabTest, values: Sequence[LabValue]) -> LabSeries:
    points = tuple(_points(test, values))
    last = points[-1]
    outside = last.stand in (LabStand.UNDER, LabStand.OVER)
    before = points[-2].stand if len(points) > 1 else None
    return LabSeries(
        test=test.id, name=test.name, unit=test.unit, points=points, outside=outside,
        moved=last.moved, once=outside and test.two and before is not last.stand, means=test.means,
    )  # fmt: skip


def _points(test: LabTest, values: Sequence[LabValue]) -> Iterator[LabPoint]:
    before: float | None = None
    for v in values:
        unit = v.unit or test.unit
        value = test.compared(v.value, unit)
        moved = (
            test.change is not None
            and before is not None
            and before > 0
            and abs(value / before - 1) > test.change
        )
        yield LabPoint(
            date=v.date, value=rounded(value),
            low=None if v.low is None else rounded(test.compared(v.low, unit)),
            high=None if v.high is None else rounded(test.compared(v.high, unit)),
            stand=_stand(v), moved=moved, printed=_printed(v, unit),
            range=_range(v), notes=tuple(_notes(test, v)),
        )  # fmt: skip
        before = value


def _stand(v: LabValue) -> LabStand:
    """By what the report prints alone: a usual range of elsewhere says nothing of this laboratory."""
    if v.low is not None and v.value < v.low:
        return LabStand.UNDER
    if v.high is not None and v.value > v.high:
        return LabStand.OVER
    return LabStand.UNKNOWN if v.low is None and v.high is None else LabStand.WITHIN


def _printed(v: LabValue, unit: str) -> str:
    return f"{v.value:g} {unit}" + (f", {v.laboratory}" if v.laboratory else "")


def _range(v: LabValue) -> str:
    if v.low is None:
        return "" if v.high is None else f"up to {v.high:g}"
    return f"{v.low:g} and more" if v.high is None else f"{v.low:g} to {v.high:g}"


def _notes(test: LabTest, v: LabValue) -> Iterator[str]:
    if v.low is None and v.high is None:
        yield "the report's own range is not put down"
    if test.fasting and v.fasted is not True:
        yield "not fasted" if v.fasted is False else "whether it was fasted is not said"
    if v.note:
        yield v.note
