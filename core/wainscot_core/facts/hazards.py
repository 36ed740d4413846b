"""Foods that can harm a dog: what, why, what to do."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from ..confidence import Confidence
from ..findings import Level
from .foods import Food


@dataclass(frozen=True)
class FoodHazard:
    """A published hazard and how to recognise a food it is about."""

    id: str
    name: str
    pattern: re.Pattern[str]
    form: str
    action: Level
    hazard: str
    do: str
    source: str
    confidence: Confidence


@dataclass(frozen=True)
class Caution:
    """A hazard met by a line of a recipe."""

    hazard: FoodHazard
    food_id: str
    food_name: str


def food_hazards(data: dict[str, Any]) -> tuple[FoodHazard, ...]:
    """Build from the parsed reference/hazards/foods.yaml."""
    return tuple(
        FoodHazard(
            h["id"], h["name"], re.compile(h["pattern"], re.I), h.get("form", ""), Level(h["action"]),
            h["hazard"], h["do"], h["source"], Confidence(h["confidence"]),
        )
        for h in data["foods"]
    )  # fmt: skip


def cautions(hazards: Iterable[FoodHazard], foods: Iterable[Food]) -> tuple[Caution, ...]:
    """Every hazard met by these foods, blocks first."""
    listed = list(hazards)
    found = [
        Caution(hazard, food.id, food.name)
        for food in foods
        for hazard in listed
        if (not hazard.form or hazard.form == food.form) and hazard.pattern.search(food.name)
    ]
    return tuple(sorted(found, key=lambda c: c.hazard.action is not Level.BLOCK))
