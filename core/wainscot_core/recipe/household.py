"""A weight as a kitchen measure, and how far off it is."""

import math
from dataclasses import dataclass

from ..facts.foods import Food
from ..units import Measures
from .amount import FRACTION_TEXT
from .amounts import counted, weight_of

_FRACTIONS = (0.0, 1 / 8, 1 / 4, 1 / 3, 1 / 2, 2 / 3, 3 / 4, 1.0)


@dataclass(frozen=True)
class Household:
    """A kitchen amount near a weight: its text, its own grams, the rounding error as a share."""

    text: str
    grams: float
    error: float


def _to_fraction(count: float, allowed: tuple[float, ...]) -> tuple[float, str]:
    whole = math.floor(count)
    part = min(allowed, key=lambda f: abs(count - whole - f))
    value = whole + part
    if part == 1.0 or part == 0.0:
        return float(round(value)), f"{round(value)}"
    return value, (f"{whole} " if whole else "") + FRACTION_TEXT[part]


def household(food: Food, grams: float, measures: Measures = Measures.US) -> Household | None:
    """The kitchen measure, one of `measures`, nearest to a weight, or None when the food has no usable measure.

    Prefers the largest measure of which at least a quarter (cup), a half (tablespoon) or
    an eighth (teaspoon) is needed; pieces are counted in halves.
    """
    if grams <= 0:
        return None
    best: Household | None = None
    for measure in food.measures:
        first = counted(measure.name)
        piece = first not in {"cup", "tbsp", "tsp"}
        if piece and not measure.name.startswith(("each", "can")):
            continue
        each = weight_of(measure, measures)
        count = grams / each
        least = {"cup": 0.24, "tbsp": 0.9, "tsp": 0.1}.get(first, 0.45)
        most = {"tbsp": 4.1, "tsp": 3.1}.get(first, 24.0)
        if not least <= count <= most:
            continue
        allowed = (0.0, 0.5, 1.0) if piece else _FRACTIONS
        value, text = _to_fraction(count, allowed)
        if value == 0:
            continue
        exact = value * each
        label = measure.name.replace("each ", "")
        if label == "cup" and value > 1:
            label = "cups"
        candidate = Household(f"{text} {label}".strip(), exact, exact / grams - 1)
        if best is None or abs(candidate.error) < abs(best.error) - 0.005:
            best = candidate
    return best
