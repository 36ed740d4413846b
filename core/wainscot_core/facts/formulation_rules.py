"""The goals, modes, schools and measurable steps of formulation, as data."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

from .attribute_rule import AttributeRule, read_rule


class FoodsMay(StrEnum):
    """What a mode may do with the foods of a recipe."""

    FIXED = "fixed"
    FREE = "free"
    OPEN = "open"


@dataclass(frozen=True)
class Mode:
    """A way to adjust: what may happen to the foods, and the order of goals. from_list: the recipe is only a list
    of foods, whatever their amounts."""

    id: str
    name: str
    words: str
    foods: FoodsMay
    goals: tuple[str, ...]
    from_list: bool = False


@dataclass(frozen=True)
class School:
    """A way of feeding and the kinds of item it would rather not see, with their weight."""

    id: str
    name: str
    words: str
    avoid: Mapping[str, float]


class CapOf(StrEnum):
    """What a cap is a share of."""

    ENERGY = "energy"
    WEIGHT = "weight"


@dataclass(frozen=True)
class CapRule:
    """The most that foods which a rule fits may be of a recipe. each: every food by itself. gives: kept
    only as far as the minimums leave room."""

    id: str
    words: str
    when: AttributeRule
    of: CapOf
    most: float
    each: bool
    gives: bool
    source: str


@dataclass(frozen=True)
class Swap:
    """Foods that can take each other's place."""

    id: str
    words: str
    when: AttributeRule


@dataclass(frozen=True)
class AlternativeRule:
    """Another answer beside the nearest: what it counts otherwise in the shape of a recipe. surest: it aims
    further over every limit. premix: whether an all-in-one premix may be in it. priced: only where prices
    are known."""

    id: str
    name: str
    words: str
    shape: Mapping[str, float]
    surest: bool
    premix: bool
    priced: bool


@dataclass(frozen=True)
class ShapeRules:
    """What staying near a recipe counts: see shape in reference/formulation.yaml."""

    scale_least: float = 0.2
    scale_most: float = 5.0
    far: float = 0.3
    far_cost: float = 2.0
    kept_from: float = 0.1
    kept_least: float = 0.5
    kept_most: float = 2.0
    kept_cost: float = 10.0
    eased: float = 0.1
    eased_from: float = 0.1
    cap_cost: float = 20.0
    energy: float = 1.0
    advice: float = 5.0
    added_food: float = 0.06
    added_energy: float = 1.0
    added_weight: float = 0.5
    substitute: float = 0.35
    swapped_energy: float = 0.8
    supplement: float = 0.04
    supplement_line: float = 0.02
    dose: float = 0.03
    supplement_energy: float = 2.0
    against_school: float = 0.2
    cost: float = 0.02


DEFAULT_SHAPE = ShapeRules()


@dataclass(frozen=True)
class FormulationRules:
    """Everything of reference/formulation.yaml."""

    goals: Mapping[str, tuple[str, str]]
    modes: Mapping[str, Mode]
    schools: Mapping[str, School]
    defaults: Mapping[str, float]
    steps: Mapping[str, float]
    by_piece: AttributeRule
    dosed: AttributeRule
    pieces_per_day: Mapping[str, float]
    staples: tuple[str, ...]
    supplements: tuple[str, ...]
    give: Mapping[str, float]
    room: Mapping[str, float]
    school_before: str
    shape: ShapeRules
    caps: tuple[CapRule, ...]
    useful: Mapping[str, float]
    longer_batches: tuple[float, ...]
    swaps: tuple[Swap, ...]
    alternatives: tuple[AlternativeRule, ...]
    alternatives_worth: Mapping[str, float]
    scaled: AlternativeRule
    least: AlternativeRule
    kept: AlternativeRule
    sure: AlternativeRule

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
            k: Mode(
                k,
                v["name"],
                v["words"],
                FoodsMay(v["foods"]),
                tuple(v["goals"]),
                v.get("from_list", False),
            )
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
            read_rule(data["by_piece"]),
            read_rule(data["dosed"]),
            {k: float(v) for k, v in data["pieces_per_day"].items()},
            tuple(data["staples"]),
            tuple(data["supplements"]),
            {k: float(v) for k, v in data["give"].items()},
            {k: float(v) for k, v in data["room"].items()},
            data["school_before"],
            ShapeRules(**{k: float(v) for k, v in data["shape"].items()}),
            tuple(_cap(k, v) for k, v in data["caps"].items()),
            {k: float(v) for k, v in data["useful"].items()},
            tuple(float(x) for x in data["longer_batches"]),
            tuple(Swap(k, v["words"], read_rule(v["when"])) for k, v in data["swaps"].items()),
            tuple(_alternative(k, v) for k, v in data["alternatives"].items()),
            {k: float(v) for k, v in data["alternatives_worth"].items()},
            _alternative("scaled", data["scaled"]),
            _alternative("least", data["least"]),
            _alternative("kept", data["kept"]),
            _alternative("sure", data["sure"]),
        )


def _alternative(key: str, v: Mapping[str, Any]) -> AlternativeRule:
    shape = {k: float(x) for k, x in v.get("shape", {}).items()}
    replace(DEFAULT_SHAPE, **shape)  # TypeError for a weight that is none
    return AlternativeRule(
        key, v["name"], v["words"], shape, v.get("surest", False), v.get("premix", True),
        v.get("priced", False),
    )  # fmt: skip


def _cap(key: str, v: Mapping[str, Any]) -> CapRule:
    return CapRule(
        key, v["words"], read_rule(v["when"]), CapOf(v["of"]), float(v["most"]), v.get("each", False),
        v.get("gives", False), v["source"],
    )  # fmt: skip
