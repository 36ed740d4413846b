"""Foods that can harm a dog: what, why, from how much, what to do. By what a food is, never its name."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Any

from ..confidence import Confidence
from ..findings import GRAVEST_FIRST, Level
from .attribute_rule import AttributeRule, read_rule
from .attributes import Attributes
from .foods import Food


@dataclass(frozen=True)
class FoodHazard:
    """A published hazard and what foods it is about: those a rule fits, and single ones by id; none for
    what stands outside the table. signs_from_g_per_kg: of the food per kg of dog, None where no dose is
    known."""

    id: str
    name: str
    when: AttributeRule | None
    foods: frozenset[str]
    level: Level
    hazard: str
    signs_from_g_per_kg: float | None
    do: str
    source: str
    confidence: Confidence

    def about(self, food_id: str, of: Attributes) -> bool:
        """Whether it is about a food. What is not known of a food is not told as a hazard."""
        return food_id in self.foods or (self.when is not None and self.when.holds(of) is True)

    def only_raw(self, food_id: str, of: Attributes) -> bool:
        """Whether it is about a food as it is, and no longer once that is cooked."""
        return self.about(food_id, of) and not self.about(food_id, replace(of, state="cooked"))


@dataclass(frozen=True)
class DoseHazard:
    """A food that harms by how much of it there is. from_g_per_kg: of the food per kg of dog in a day, from which it is
    of a gravity."""

    id: str
    name: str
    foods: frozenset[str]
    from_g_per_kg: Mapping[Level, float]
    hazard: str
    do: str
    source: str
    confidence: Confidence

    def level(self, g_per_kg: float) -> Level | None:
        """How grave an amount is; None for one that is none."""
        met = (x for x in GRAVEST_FIRST if g_per_kg >= self.from_g_per_kg.get(x, math.inf))
        return next(met, None)


@dataclass(frozen=True, eq=False)
class Hazards:
    """The hazards of the table's foods, and of what kitchens hold beside them. Each is its own, so that
    its answers can be kept."""

    foods: tuple[FoodHazard, ...]
    outside: tuple[FoodHazard, ...]
    doses: tuple[DoseHazard, ...] = ()

    def of(self, food: Food) -> tuple[FoodHazard, ...]:
        """Every hazard of a food as it is fed, the gravest first. A supplement has those that
        name it."""
        if food.is_supplement:
            return tuple(h for h in self.foods if food.id in h.foods)
        return _of(self, food.id, food.attributes)

    @cached_property
    def by_id(self) -> Mapping[str, FoodHazard]:
        """Every hazard by its id, those outside the table too."""
        return {h.id: h for h in (*self.foods, *self.outside)}

    def blocking(self, food: Food) -> FoodHazard | None:
        """What keeps a food out of any bowl; None when nothing does."""
        return next((h for h in self.of(food) if h.level is Level.BLOCK), None)


# Every line of every recipe is asked at each keystroke.
@lru_cache(maxsize=20_000)
def _of(hazards: Hazards, food_id: str, of: Attributes) -> tuple[FoodHazard, ...]:
    found = [h for h in hazards.foods if h.about(food_id, of)]
    return tuple(sorted(found, key=lambda h: GRAVEST_FIRST.index(h.level)))


def read_hazards(data: Mapping[str, Any]) -> Hazards:
    """Build from the parsed reference/hazards/foods.yaml. ValueError for a rule that cannot be read."""
    return Hazards(
        tuple(_hazard(h) for h in data["foods"]), tuple(_hazard(h) for h in data["outside"]),
        tuple(_dose_hazard(h) for h in data["doses"]),
    )  # fmt: skip


def _dose_hazard(h: Mapping[str, Any]) -> DoseHazard:
    levels = {Level(k): float(v) for k, v in h["from_g_per_kg"].items()}
    return DoseHazard(
        h["id"], h["name"], frozenset(h["foods"]), levels, h["hazard"], h["do"], h["source"],
        Confidence(h["confidence"]),
    )  # fmt: skip


def _hazard(h: Mapping[str, Any]) -> FoodHazard:
    dose = h.get("signs_from_g_per_kg")
    return FoodHazard(
        h["id"], h["name"], read_rule(h["when"]) if "when" in h else None, frozenset(h.get("foods", ())),
        Level(h["level"]), h["hazard"], None if dose is None else float(dose), h["do"], h["source"],
        Confidence(h["confidence"]),
    )  # fmt: skip
