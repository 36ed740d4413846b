"""Marks of foods that matter for conditions: oxalate, purine, added sodium."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ..confidence import Confidence
from .foods import Food


@dataclass(frozen=True)
class Trait:
    """A mark with its levels by name pattern, first match wins."""

    id: str
    name: str
    source: str
    confidence: Confidence
    levels: tuple[tuple[str, re.Pattern[str]], ...]

    def level_of(self, food: Food) -> str | None:
        """The level of a food, or None when nothing is known."""
        text = f"{food.name} {food.form}"
        return next((level for level, pattern in self.levels if pattern.search(text)), None)


def read_traits(data: dict[str, Any]) -> tuple[Trait, ...]:
    """Build from the parsed reference/library/traits.yaml."""
    return tuple(
        Trait(
            key, entry["name"], entry["source"], Confidence(entry["confidence"]),
            tuple((level, re.compile(p, re.I)) for level, p in entry["levels"].items()),
        )
        for key, entry in data["traits"].items()
    )  # fmt: skip


def traits_of(traits: Sequence[Trait], food: Food) -> dict[str, str]:
    """Level by trait id, for the traits that are known of a food."""
    found = {trait.id: trait.level_of(food) for trait in traits}
    return {key: level for key, level in found.items() if level is not None}
