"""How much is made: from days, meals, what the vessels hold or what is on hand, to times the recipe."""

import math
from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ..dossier.dossier import MOST_DAYS, check_days
from ..errors import InputError
from ..facts.batches import BatchRules
from .ask import BatchAsk, PackIn, ScaleBy

_NOISE = 1e-9


@dataclass(frozen=True, kw_only=True)
class Rate:
    """How fast a batch is eaten. recipes_per_day: of the recipe as it is written; meals_per_day: of all dogs."""

    recipes_per_day: float
    meals_per_day: int


def days_for_amount(ask: BatchAsk, rate: Rate, line_grams: Sequence[float]) -> float:
    """Days that a batch feeds by what was asked of it, but for one that fills vessels. Raises InputError."""
    if not ask.amount > 0:
        raise InputError("amount", "must be above 0")
    if ask.by is ScaleBy.PORTIONS:
        if ask.amount % 1:
            raise InputError("amount", "must be whole meals")
        return check_days(ask.amount / rate.meals_per_day, "amount")
    if ask.by is ScaleBy.ON_HAND:
        if ask.line is None or not 0 <= ask.line < len(line_grams) or not line_grams[ask.line] > 0:
            raise InputError("line", "choose the line that is on hand")
        return check_days(ask.amount / line_grams[ask.line] / rate.recipes_per_day, "amount")
    return check_days(ask.amount, "amount")


def most_days(fits: Callable[[float], bool], meals: int) -> float:
    """The most whole days of which the finished food fits, whole meals of a day where not even one day does. fits: whether
    so many days do, which fewer then do too. Raises InputError where not even a meal does."""
    if not fits(1.0):
        part = bisect_left(range(1, meals), True, key=lambda n: not fits(n / meals))
        if part == 0:
            raise InputError(
                "vessels", "hold less than one meal with that much water: choose larger ones"
            )
        return part / meals
    return 1.0 + bisect_left(range(2, MOST_DAYS + 1), True, key=lambda n: not fits(float(n)))


@dataclass(frozen=True, kw_only=True)
class Packs:
    """Packs of a line: so many are opened, and so much of them is left over. exact: the batch was made to fit them."""

    line: int
    grams: float
    count: int
    left_g: float
    exact: bool


def to_whole_packs(
    rules: BatchRules,
    by: ScaleBy,
    times: float,
    packs: Sequence[PackIn],
    line_grams: Sequence[float],
) -> float:
    """Times the recipe, made so much larger or smaller that the largest line that comes in packs is whole ones of them; as
    it was where that is over rules.pack_within. What is on hand is all that there is, and full vessels take no more.
    Raises InputError for packs that cannot be."""
    check_packs(packs, line_grams)
    whole = [p for p in packs if not p.whole]
    if not whole or by is ScaleBy.ON_HAND:
        return times
    main = max(whole, key=lambda p: line_grams[p.line])
    wanted = line_grams[main.line] * times
    near = [n for n in (math.floor(wanted / main.grams), math.ceil(wanted / main.grams)) if n > 0]
    if not near:
        return times
    if by is ScaleBy.VESSELS:
        near = [n for n in near if n * main.grams <= wanted + _NOISE]
        if not near:
            return times
    count = min(near, key=lambda n: abs(n * main.grams - wanted))
    share = count * main.grams / wanted
    return times * share if abs(share - 1) <= rules.pack_within + _NOISE else times


def check_packs(packs: Sequence[PackIn], line_grams: Sequence[float]) -> None:
    """Raises InputError for a pack of no line, of no weight, or a second one of a line."""
    seen: set[int] = set()
    for i, pack in enumerate(packs):
        if not 0 <= pack.line < len(line_grams):
            raise InputError(f"packs[{i}].line", "is none of the recipe's lines")
        if not 0 < pack.grams <= 50_000:
            raise InputError(f"packs[{i}].grams", "must be above 0 and at most 50000 g")
        if pack.line in seen:
            raise InputError(f"packs[{i}].line", "has packs already")
        seen.add(pack.line)


def opened(pack: PackIn, grams: float) -> Packs:
    """What is opened for so many g of a line."""
    count = max(1, math.ceil(grams / pack.grams - 1e-6)) if grams > 0 else 0
    left = max(0.0, count * pack.grams - grams)
    return Packs(
        line=pack.line, grams=pack.grams, count=count, left_g=round(left, 3), exact=left < 0.5
    )
