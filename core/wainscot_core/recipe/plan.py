"""What the dog is fed altogether: a rotation of recipes, and what it gets every day beside them.

Adequacy is computed for each recipe with the daily items, and over the whole rotation.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

from ..errors import InputError
from .line import Line


@dataclass(frozen=True)
class ExtrasRule:
    """The most that treats, toppers and chews may bring together, as a share of the day's kcal."""

    most_share: float
    source: str

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "ExtrasRule":
        """Build from an entry of plan.yaml."""
        return cls(float(data["most_share"]), data["source"])


class DailyKind(StrEnum):
    """What is given beside the recipes."""

    BOUGHT = "bought"
    TOPPER = "topper"
    TREAT = "treat"
    SUPPLEMENT = "supplement"


# Kinds that count towards the share of treats.
EXTRAS = frozenset({DailyKind.TOPPER, DailyKind.TREAT})


@dataclass(frozen=True)
class Turn:
    """A recipe of the rotation: its lines for `covers_days`, fed on `days` days of each round."""

    name: str
    lines: tuple[Line, ...]
    covers_days: float
    days: float


@dataclass(frozen=True)
class Daily:
    """What is given every day beside the recipes."""

    kind: DailyKind
    line: Line


def scaled(line: Line, factor: float) -> Line:
    """The same line, so many times as much."""
    amount = line.amount
    more = replace(amount, count=amount.count * factor, grams=amount.grams * factor)
    return replace(line, amount=more)


def one_day(turn: Turn, daily: Sequence[Daily]) -> tuple[Line, ...]:
    """A day on which this recipe is fed, with the daily items."""
    return (
        *(scaled(line, 1 / turn.covers_days) for line in turn.lines),
        *(d.line for d in daily),
    )


def whole_round(turns: Sequence[Turn], daily: Sequence[Daily]) -> tuple[tuple[Line, ...], float]:
    """All lines of one round of the rotation and the days it takes.

    Raises InputError for a rotation of no days.
    """
    days = sum(t.days for t in turns)
    if days <= 0:
        if not daily:
            raise InputError("turns", "put a recipe or a bought food into the plan")
        days = 1.0
    lines = [
        scaled(line, turn.days / turn.covers_days)
        for turn in turns
        for line in turn.lines
        if turn.days
    ]
    return (*lines, *(scaled(d.line, days) for d in daily)), days


def extras_share(daily_kcal: Sequence[tuple[DailyKind, float]], kcal_per_day: float) -> float:
    """Share of a day's energy that treats and toppers bring. `daily_kcal`: kind and kcal of each."""
    extra = sum(kcal for kind, kcal in daily_kcal if kind in EXTRAS)
    return extra / kcal_per_day if kcal_per_day > 0 else 0.0
