"""A dog's weights and what it was fed, day by day, as they were written down."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from enum import StrEnum
from typing import Annotated

import numpy as np
from pydantic import Field

from ..boundary import Day, Number, Text40, Text60, Whole, YesNo
from ..dog.record import Activity
from ..errors import InputError
from .learner import LogDay, Weighing

LEAST_KG, MOST_KG = 0.3, 120.0
MOST_KCAL = 15_000.0
MOST_DAYS = 5 * 366
# Steps that scales show, kg; the coarsest in which all weights fall is that of the scale.
_GRAINS = (0.5, 0.2, 0.1, 0.05, 0.02, 0.01)
# A day without kcal is taken as the logged ones around it, so many days far.
_NEAR_DAYS = 7


class Goal(StrEnum):
    """What the weight is to do."""

    HOLD = "hold"
    LOSE = "lose"
    GAIN = "gain"


@dataclass(frozen=True, kw_only=True)
class TrendDog:
    """A dog that is weighed. body_condition, activity: None is the middle; plan_kcal: that its plan gives a day; expected_kcal: need by the method of energy that was
    chosen, None for the usual one; goal: None for what its ideal weight says."""

    name: Text60 = ""
    age_months: Whole | None = None
    weight_kg: Number | None = None
    ideal_weight_kg: Number | None = None
    body_condition: Annotated[Number, Field(ge=1, le=9)] | None = None
    activity: Activity | None = None
    plan_kcal: Number | None = None
    expected_kcal: Number | None = None
    goal: Goal | None = None

    @property
    def condition(self) -> float:
        """Its body condition; the middle where nobody scored it."""
        return 5.0 if self.body_condition is None else self.body_condition


@dataclass(frozen=True, kw_only=True)
class LogEntry:
    """What was written down of a day. plan_kcal: that the plan gave then and since, None for as before; scale: which one, ""
    for the usual; fluid: the weight is not tissue (oedema, a diuretic that changed), as the vet says."""

    date: Day
    weight_kg: Number | None = None
    kcal_fed: Number | None = None
    plan_kcal: Number | None = None
    scale: Text40 = ""
    fluid: YesNo = False


@dataclass(frozen=True, kw_only=True)
class WeightLog:
    """A dog and its log."""

    dog: TrendDog
    log: Annotated[tuple[LogEntry, ...], Field(max_length=20_000)] = field(default=())


@dataclass(frozen=True)
class Diary:
    """A log day after day. first: the day of its first weight; days: from then on; by_day: of each weight, in the order in
    which it was weighed, its date; grain: the step of the scale, kg; plan_kcal: that the plan gives at its end, None where
    nothing says; plan_since: the day on which the plan came to give another amount last, None where it never did."""

    first: date
    days: tuple[LogDay, ...]
    by_day: tuple[date, ...]
    grain: float
    warnings: tuple[str, ...]
    plan_kcal: float | None = None
    plan_since: date | None = None

    def on(self, day: int) -> date:
        """The date of a day of it."""
        return self.first + timedelta(days=day)


def check_log(log: WeightLog, today: date) -> WeightLog:
    """A log that can be. Raises InputError naming the entry."""
    dog = log.dog
    for name in ("weight_kg", "ideal_weight_kg"):
        kg = getattr(dog, name)
        if kg is not None and not LEAST_KG <= kg <= MOST_KG:
            raise InputError(f"dog.{name}", f"must be from {LEAST_KG} to {MOST_KG:.0f} kg")
    for name in ("plan_kcal", "expected_kcal"):
        kcal = getattr(dog, name)
        if kcal is not None and not 0 < kcal <= MOST_KCAL:
            raise InputError(
                f"dog.{name}", f"must be above 0 and at most {MOST_KCAL:.0f} kcal a day"
            )
    if dog.age_months is not None and not 0 <= dog.age_months <= 400:
        raise InputError("dog.age_months", "must be from 0 to 400")
    for i, entry in enumerate(log.log):
        at = f"log[{i}]"
        if entry.date > today:
            raise InputError(f"{at}.date", f"{entry.date.isoformat()} is still to come")
        if entry.weight_kg is not None and not LEAST_KG <= entry.weight_kg <= MOST_KG:
            raise InputError(f"{at}.weight_kg", f"must be from {LEAST_KG} to {MOST_KG:.0f} kg")
        if entry.kcal_fed is not None and not 0 <= entry.kcal_fed <= MOST_KCAL:
            raise InputError(f"{at}.kcal_fed", f"must be from 0 to {MOST_KCAL:.0f} kcal")
        if entry.plan_kcal is not None and not 0 < entry.plan_kcal <= MOST_KCAL:
            raise InputError(f"{at}.plan_kcal", f"must be above 0 and at most {MOST_KCAL:.0f} kcal")
    if not any(e.weight_kg is not None for e in log.log):
        raise InputError("log", "has no weight: put one down, in kg")
    fed = any(e.kcal_fed is not None or e.plan_kcal is not None for e in log.log)
    if dog.plan_kcal is None and not fed:
        raise InputError("log", "does not say what was fed: give kcal_fed, or plan_kcal of the dog")
    days = [e.date for e in log.log]
    if (max(days) - min(days)).days > MOST_DAYS:
        raise InputError("log", "is longer than five years: give the last of them")
    return log


def diary_of(log: WeightLog, other_scale_off: float) -> Diary:
    """A checked log as days one after another, from its first weight on. other_scale_off: SD of what another scale than the
    usual may be off, a share. Weights that are not tissue are left out."""
    entries = sorted(log.log, key=lambda e: e.date)
    warnings = []
    weighed = [e for e in entries if e.weight_kg is not None and not e.fluid]
    if not weighed:
        raise InputError("log", "has no weight that is tissue: all of them are marked as fluid")
    left = sum(e.weight_kg is not None and e.fluid for e in entries)
    if left:
        warnings.append(f"{left} weights are marked as fluid and say nothing of energy")
    first, last = weighed[0].date, entries[-1].date
    scales = [e.scale for e in weighed]
    usual = max(dict.fromkeys(scales), key=scales.count)
    weighings: dict[date, list[Weighing]] = {}
    for e in weighed:
        off = 0.0 if e.scale == usual else other_scale_off
        weighings.setdefault(e.date, []).append(Weighing(float(e.weight_kg or 0.0), off))
    if any(len(found) > 1 for found in weighings.values()):
        warnings.append("a day has more than one weight: each counts")
    kcal, twice = _by_day(entries)
    if twice:
        warnings.append("a day has more than one kcal_fed: their mean is taken")
    before = sum(e.date < first for e in entries if (e.weight_kg, e.kcal_fed) != (None, None))
    if before:
        warnings.append(f"{before} entries before the first weight say nothing")
    plans = _plans(log)
    days = []
    for n in range((last - first).days + 1):
        day = first + timedelta(days=n)
        fed = kcal.get(day)
        days.append(
            LogDay(
                _around(kcal, day, _plan_on(plans, day)) if fed is None else fed, fed is not None,
                tuple(weighings.get(day, ())),
            )
        )  # fmt: skip
    dates = tuple(day for day, found in sorted(weighings.items()) for _ in found)
    grain = _grain([e.weight_kg or 0.0 for e in weighed])
    return Diary(
        first, tuple(days), dates, grain, tuple(warnings), _plan_on(plans, last),
        plans[-1][0] if len(plans) > 1 else None,
    )  # fmt: skip


# What a plan gives differs where it does by more than rounding, kcal a day.
_SAME_PLAN_KCAL = 0.5


def _plans(log: WeightLog) -> list[tuple[date, float]]:
    """What the plan gave, each from its day on; what it gave at first holds for the days before too."""
    found: list[tuple[date, float]] = []
    for entry in sorted(log.log, key=lambda e: e.date):
        kcal = entry.plan_kcal
        if kcal is not None and (not found or abs(kcal - found[-1][1]) > _SAME_PLAN_KCAL):
            found.append((entry.date, kcal))
    if not found and log.dog.plan_kcal is not None:
        found.append((date.min, log.dog.plan_kcal))
    return found


def _plan_on(plans: Sequence[tuple[date, float]], day: date) -> float | None:
    before = [kcal for since, kcal in plans if since <= day]
    return before[-1] if before else plans[0][1] if plans else None


def _by_day(entries: Sequence[LogEntry]) -> tuple[dict[date, float], bool]:
    found: dict[date, list[float]] = {}
    for e in entries:
        if e.kcal_fed is not None:
            found.setdefault(e.date, []).append(float(e.kcal_fed))
    return (
        {day: sum(x) / len(x) for day, x in found.items()}, any(len(x) > 1 for x in found.values())
    )  # fmt: skip


def _around(kcal: dict[date, float], day: date, plan: float | None) -> float:
    """What a day without kcal is taken as: the plan, else the logged days around it, else all of them."""
    if plan is not None:
        return plan
    near = [x for d, x in kcal.items() if abs((d - day).days) <= _NEAR_DAYS]
    return float(np.mean(near or list(kcal.values())))


def _grain(weights: Sequence[float]) -> float:
    """The step of the scale, kg; the finest where the weights do not tell."""
    if len(weights) < 3:
        return _GRAINS[-1]
    return next(
        (g for g in _GRAINS if all(math.isclose(w / g, round(w / g), abs_tol=1e-6) for w in weights)),
        _GRAINS[-1],
    )  # fmt: skip
