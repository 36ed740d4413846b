"""The boxes of a batch: for whom, how much, where each is kept, by when it is eaten, and when it is taken out."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise

from ..errors import InputError
from ..facts.batches import BatchRules
from ..facts.boxes import BoxRules, ThawRule
from ..figures import rounded
from .portions import Portions
from .results import BatchPlan
from .weighed_batch import WeighedBatch

# Nobody waits longer than this before the first box is fed.
MOST_WAIT_DAYS = 28


@dataclass(frozen=True, kw_only=True)
class Box:
    """A box. number: within the batch, as on its label; eat_on, meal: when it is due, the meals of a day from 1; frozen:
    where it is kept; use_by: last day that it may be fed or, frozen, must be thrown away; take_out: the evening on which
    it goes into the fridge, None for one that is there; part: only a part of a meal."""

    number: int
    case: int
    dog: str
    grams: float
    kcal: float
    eat_on: date
    meal: int
    frozen: bool
    use_by: date
    take_out: date | None
    part: bool


def thaw_hours(rule: ThawRule, grams: float) -> float:
    """Hours in the fridge until a box of a weight is thawed. Source: convention."""
    thick = _between(rule.thick, grams)
    return rule.linear * thick + rule.square * thick * thick


def evenings_before(rules: BoxRules, shape: str, grams: float) -> int:
    """How many evenings before its day a box is taken out, at least 1: so that it is thawed at the first meal even when it
    takes a quarter longer."""
    hours = thaw_hours(rules.thaw[shape], grams) * (1 + rules.off)
    return 1 + max(0, math.ceil((hours - rules.night_hours) / 24 - 1e-9))


def _between(points: Sequence[tuple[float, float]], x: float) -> float:
    """A line through points; beyond the last one it goes on."""
    if x <= points[0][0]:
        return points[0][1] * x / points[0][0]
    for (x0, y0), (x1, y1) in pairwise(points):
        if x <= x1:
            return y0 + (y1 - y0) * (x - x0) / (x1 - x0)
    (x0, y0), (x1, y1) = points[-2], points[-1]
    return y1 + (y1 - y0) / (x1 - x0) * (x - x1)


def boxes_of(
    batch: BatchRules,
    rules: BoxRules,
    plan: BatchPlan,
    weighed: WeighedBatch | None,
    shape: str,
    cook_on: date,
    feed_from: date,
    oily: bool,
) -> tuple[Box, ...]:
    """Every box, the first to be eaten first; as the weighed batch says, or as planned. Raises InputError for a first day
    before it is cooked, and where a box would be fed after it must be thrown away."""
    wait = (feed_from - cook_on).days
    if not 0 <= wait <= MOST_WAIT_DAYS:
        raise InputError(
            "feed_from", f"must be the day it is cooked or within {MOST_WAIT_DAYS} days after"
        )
    per_gram = weighed.kcal_per_gram if weighed else (plan.finished.kcal_per_gram or 0.0)
    longest = batch.keep.longest_oily_days if oily else batch.keep.longest_days
    last_fresh, last_frozen = (
        cook_on + timedelta(days=d) for d in (batch.keep.fridge_days, longest)
    )
    found = []
    for i, eater in enumerate(plan.eaters):
        parts = weighed.meals[i].portions if weighed else plan.portions[i]
        for n, (grams, part) in enumerate(_weights(parts)):
            day, meal = divmod(n, eater.meals_per_day)
            eat_on = feed_from + timedelta(days=day)
            frozen = day >= batch.keep.fridge_days or eat_on > last_fresh
            out = eat_on - timedelta(days=evenings_before(rules, shape, grams))
            if out <= cook_on:
                # It would be taken out before it is frozen through: it stays fresh where it may, else it thaws as long as can be.
                frozen = frozen and eat_on > last_fresh
                out = cook_on + timedelta(days=1)
            if eat_on > (last_frozen if frozen else last_fresh):
                raise InputError(
                    "feed_from",
                    f"a box would be fed on {eat_on.isoformat()}, after it must be thrown away",
                )
            found.append(
                Box(
                    number=0, case=eater.case, dog=eater.name, grams=rounded(grams),
                    kcal=rounded(grams * per_gram), eat_on=eat_on, meal=meal + 1, frozen=frozen,
                    use_by=last_frozen if frozen else last_fresh, take_out=out if frozen else None, part=part,
                )
            )  # fmt: skip
    found.sort(key=lambda b: (b.eat_on, b.meal, b.case))
    return tuple(_numbered(found))


def _numbered(boxes: Sequence[Box]) -> list[Box]:
    return [Box(**{**vars(box), "number": n}) for n, box in enumerate(boxes, 1)]


def _weights(parts: Portions) -> list[tuple[float, bool]]:
    return [(parts.each_g, False)] * (parts.boxes - 1) + [(parts.last_g, parts.part)]


@dataclass(frozen=True, kw_only=True)
class TakeOut:
    """An evening on which boxes go from the freezer into the fridge: their numbers."""

    on: date
    boxes: tuple[int, ...]


def thaw_plan(boxes: Sequence[Box]) -> tuple[TakeOut, ...]:
    """What is taken out on which evening."""
    days: dict[date, list[int]] = {}
    for box in boxes:
        if box.take_out is not None:
            days.setdefault(box.take_out, []).append(box.number)
    return tuple(TakeOut(on=on, boxes=tuple(n)) for on, n in sorted(days.items()))
