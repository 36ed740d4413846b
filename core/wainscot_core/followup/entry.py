"""What is put down of a day after a plan was issued, by the consultant or by the owner."""

from collections.abc import Sequence
from dataclasses import dataclass, fields
from datetime import date
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from ..boundary import Day, Number, Text40, Text300, Whole, YesNo
from ..dog.record import CaseRecord, Kg, Muscle
from ..errors import InputError
from .log import LEAST_KG, MOST_KCAL, MOST_KG, LogEntry, TrendDog, WeightLog

Share = Annotated[Number, Field(ge=0, le=100)]
Score = Annotated[Number, Field(ge=0, le=10)]
Times = Annotated[Whole, Field(ge=0, le=60)]


class Sign(StrEnum):
    """What is seen on a dog."""

    EAR = "ear"
    PAWS = "paws"
    FACE_RED = "face-red"
    HIVES = "hives"
    SWELLING = "swelling"
    BLOOD = "blood"
    BLACK = "black"


@dataclass(frozen=True, kw_only=True)
class DayEntry:
    """A day. kcal_fed: all of it, None where the plan was fed; left_percent: of a day's food left in the bowl; extra_kcal:
    treats and extras; body_condition: of 9; stool: of 7, stools, vomiting: how often; itch, energy: of 10;
    appetite_percent: eaten of what was offered; breaths: a minute, asleep; signs: what was seen; changed: what was left out or swapped; fluid: the
    weight is not tissue, as the vet says."""

    date: Day
    weight_kg: Kg | None = None
    scale: Text40 = ""
    fluid: YesNo = False
    kcal_fed: Number | None = None
    left_percent: Share | None = None
    extra_kcal: Number | None = None
    body_condition: Annotated[Whole, Field(ge=1, le=9)] | None = None
    muscle: Muscle = Muscle.UNSCORED
    stool: Annotated[Whole, Field(ge=1, le=7)] | None = None
    stools: Times | None = None
    itch: Score | None = None
    vomiting: Times | None = None
    appetite_percent: Share | None = None
    energy: Score | None = None
    breaths: Annotated[Whole, Field(ge=1, le=200)] | None = None
    signs: Annotated[tuple[Sign, ...], Field(max_length=len(Sign))] = ()
    changed: Text300 = ""
    note: Text300 = ""


_SAYS_NOTHING = {"date", "scale", "fluid"}


def check_day(entry: DayEntry, today: date) -> DayEntry:
    """A day that can be. Raises InputError naming the field."""
    if entry.date > today:
        raise InputError("date", f"{entry.date.isoformat()} is still to come")
    if (today - entry.date).days > 20 * 366:
        raise InputError("date", "is more than twenty years ago")
    if entry.weight_kg is not None and not LEAST_KG <= entry.weight_kg <= MOST_KG:
        raise InputError("weight_kg", f"must be from {LEAST_KG} to {MOST_KG:.0f} kg")
    for name in ("kcal_fed", "extra_kcal"):
        kcal = getattr(entry, name)
        if kcal is not None and not 0 <= kcal <= MOST_KCAL:
            raise InputError(name, f"must be from 0 to {MOST_KCAL:.0f} kcal")
    said = [
        f.name for f in fields(entry)
        if f.name not in _SAYS_NOTHING and getattr(entry, f.name) not in (None, "", ())
    ]  # fmt: skip
    if not said:
        raise InputError("", "says nothing yet: put down a weight, a score or a note")
    return entry


def kcal_of(entry: DayEntry, plan_kcal: float) -> float | None:
    """What was fed on a day, kcal; None where the entry does not say."""
    if entry.kcal_fed is not None:
        return entry.kcal_fed
    if entry.left_percent is None and entry.extra_kcal is None:
        return None
    return plan_kcal * (1 - (entry.left_percent or 0) / 100) + (entry.extra_kcal or 0)


@dataclass(frozen=True, kw_only=True)
class PlanSince:
    """What a plan gives a day, from the day on which it was issued."""

    since: date
    kcal: float


def log_of(
    record: CaseRecord,
    entries: Sequence[DayEntry],
    plans: Sequence[float | None],
    plan_kcal: float,
    issued: Sequence[PlanSince] = (),
) -> WeightLog:
    """The weights and kcal of a case. plans: what its plan gave on the day of each entry, None where nobody knows;
    plan_kcal: that it gives today; issued: the plans that were, the oldest first: each is fed from its day on, also where
    nothing was put down for weeks. What is planned anew changes nothing of what was fed before."""
    dog = record.dog
    return WeightLog(
        dog=TrendDog(
            name=dog.name, age_months=dog.age_months, weight_kg=dog.weight_kg,
            ideal_weight_kg=dog.ideal_weight_kg, activity=dog.activity, plan_kcal=plan_kcal,
            body_condition=float(_condition(record, entries)),
        ),
        log=tuple(
            LogEntry(
                date=e.date, weight_kg=e.weight_kg, kcal_fed=kcal_of(e, plan or plan_kcal),
                plan_kcal=plan or plan_kcal, scale=e.scale, fluid=e.fluid,
            )
            for e, plan in zip(entries, plans, strict=True)
        )
        + tuple(LogEntry(date=plan.since, plan_kcal=plan.kcal) for plan in issued),
    )  # fmt: skip


def _condition(record: CaseRecord, entries: Sequence[DayEntry]) -> int:
    """The last body condition that was scored; the middle where nobody did."""
    scored = [e for e in entries if e.body_condition is not None]
    last = max(scored, key=lambda e: e.date, default=None)
    return (last.body_condition if last else record.dog.body_condition) or 5
