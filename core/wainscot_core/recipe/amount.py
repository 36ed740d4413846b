"""An amount of a food, and how it is written."""

import math
from dataclasses import dataclass

from ..units import Measures

CALLED = {Measures.US: "US", Measures.METRIC: "metric", Measures.AUSTRALIAN: "Australian"}
FRACTION_TEXT = {
    1 / 8: "1/8",
    1 / 4: "1/4",
    1 / 3: "1/3",
    1 / 2: "1/2",
    2 / 3: "2/3",
    3 / 4: "3/4",
}


@dataclass(frozen=True)
class Amount:
    """A parsed amount: `count` of `unit`, which is `grams` of the food. `basis` says how; sure:
    False where the weight of one is only a typical one; whose: the cup or spoon it was read as, None
    for anything else."""

    count: float
    unit: str
    grams: float
    basis: str
    sure: bool = True
    whose: Measures | None = None


def written(amount: Amount, measures: Measures = Measures.US) -> str:
    """An amount as it can be typed again where cups are those `measures`: "3 large", "1 1/2 cup",
    "1 US cup"."""
    unit = amount.unit.removeprefix("each ") if amount.unit != "each" else amount.unit
    return f"{number_text(amount.count)} {whose(amount, measures)}{unit}"


def whose(amount: Amount, measures: Measures) -> str:
    """The word before a cup or a spoon that is none of `measures`: "US ", "metric "; "" otherwise."""
    return called(amount.whose, measures)


def called(whose: Measures | None, measures: Measures = Measures.US) -> str:
    """The word before a cup or a spoon of `whose`, as `whose` has it for an amount."""
    return "" if whose in (None, measures) else f"{CALLED[whose]} "


def number_text(count: float) -> str:
    """A count as a person writes it: "1 1/2"."""
    whole = math.floor(count)
    for fraction, text in FRACTION_TEXT.items():
        if abs(count - whole - fraction) < 1e-9:
            return f"{whole} {text}" if whole else text
    return f"{count:.12g}"
