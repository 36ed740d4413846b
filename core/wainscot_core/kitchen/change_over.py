"""From the old food to the new, day by day: by share, or one ingredient after the other for a delicate dog."""

from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from ..errors import InputError
from ..facts.change_over import ChangeRules


class ChangeBy(StrEnum):
    """How the old food gives way."""

    SHARE = "share"
    INGREDIENT = "ingredient"


@dataclass(frozen=True, kw_only=True)
class ChangePlan:
    """A change-over as it was chosen: from which day, by what, the share of each day, and what is done when it does not go
    well. All its words are kept with it."""

    start: date
    by: ChangeBy
    shares: tuple[float, ...]
    hold: str
    stop: str
    ill: str
    source: str


def change_plan(rules: ChangeRules, days: int, start: date, by: ChangeBy) -> ChangePlan:
    """A change-over of so many days. Raises InputError for a length there is none of."""
    schedule = rules.schedules.get(days)
    if schedule is None:
        known = ", ".join(str(d) for d in rules.schedules)
        raise InputError("change_days", f"choose one of {known} days")
    return ChangePlan(
        start=start, by=by, shares=schedule.shares, hold=rules.hold, stop=rules.stop, ill=rules.ill,
        source=schedule.source,
    )  # fmt: skip


def day_of(plan: ChangePlan, index: int) -> date:
    """The date of a day of a change-over, the first is 0."""
    return plan.start + timedelta(days=index)
