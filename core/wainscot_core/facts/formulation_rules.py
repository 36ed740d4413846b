"""The goals, modes, schools and measurable steps of formulation, as data."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any


class FoodsMay(StrEnum):
    """What a mode may do with the foods of a recipe."""

    FIXED = "fixed"
    FREE = "free"
    OPEN = "open"


@dataclass(frozen=True)
class Mode:
    """A way to adjust: what may happen to the foods, and the order of goals."""

    id: str
    name: str
    words: str
    foods: FoodsMay
    goals: tuple[str, ...]


@dataclass(frozen=True)
class School:
    """A way of feeding and the kinds of item it would rather not see, with their weight."""

    id: str
    name: str
    words: str
    avoid: Mapping[str, float]


@dataclass(frozen=True)
class FormulationRules:
    """Everything of reference/formulation.yaml."""

    goals: Mapping[str, tuple[str, str]]
    modes: Mapping[str, Mode]
    schools: Mapping[str, School]
    defaults: Mapping[str, float]
    steps: Mapping[str, float]
    by_piece: re.Pattern[str]
    pieces_per_day: Mapping[str, float]
    staples: tuple[str, ...]
    supplements: tuple[str, ...]
    give: Mapping[str, float]
    school_before: str

    def with_school(self, goals: Sequence[str]) -> tuple[str, ...]:
        """The order of goals when a school was chosen."""
        rest = [g for g in goals if g != "school"]
        at = rest.index(self.school_before) if self.school_before in rest else len(rest)
        return (*rest[:at], "school", *rest[at:])

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "FormulationRules":
        """Build from the parsed file. KeyError when a mode names a goal that does not exist."""
        goals = {k: (v["name"], v["words"]) for k, v in data["goals"].items()}
        modes = {
            k: Mode(k, v["name"], v["words"], FoodsMay(v["foods"]), tuple(v["goals"]))
            for k, v in data["modes"].items()
        }
        for mode in modes.values():
            for goal in mode.goals:
                goals[goal]
        return cls(
            goals,
            modes,
            {
                k: School(k, v["name"], v.get("words", ""), v.get("avoid", {}))
                for k, v in data["schools"].items()
            },
            {k: float(v) for k, v in data["defaults"].items()},
            {k: float(v) for k, v in data["steps"].items()},
            re.compile(data["by_piece"]),
            {k: float(v) for k, v in data["pieces_per_day"].items()},
            tuple(data["staples"]),
            tuple(data["supplements"]),
            {k: float(v) for k, v in data["give"].items()},
            data["school_before"],
        )
