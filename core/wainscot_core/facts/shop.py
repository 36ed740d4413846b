"""From what a recipe weighs to what is bought: where it stands in a shop, what is trimmed off, what is bought raw."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from .attribute_rule import AttributeRule, read_rule
from .foods import Food, FoodLibrary


@dataclass(frozen=True)
class Aisle:
    """A part of a shop."""

    id: str
    name: str
    classes: frozenset[str]


@dataclass(frozen=True)
class Trim:
    """Share of what is bought that is trimmed off: usual, and as much as it may be."""

    when: AttributeRule
    usual: float
    much: float


@dataclass(frozen=True)
class ShopRules:
    """The conventions of shopping.yaml; the last aisle holds what stands in no other. stays: by class, the nutrient (DM:
    dry matter) that cooking leaves in a food, by which its raw weight is found."""

    aisles: tuple[Aisle, ...]
    tap: AttributeRule
    pieces: AttributeRule
    trim: tuple[Trim, ...]
    trim_source: str
    stays: Mapping[str, str]
    stays_source: str

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "ShopRules":
        """Build from the parsed file."""
        return cls(
            tuple(
                Aisle(a["id"], a["name"], frozenset(a["classes"].split())) for a in data["aisles"]
            ),
            read_rule(data["tap"]),
            read_rule(data["pieces"]),
            tuple(
                Trim(read_rule(t["when"]), t["usual"] / 100, t["much"] / 100) for t in data["trim"]
            ),
            data["trim_source"],
            {k: tag for tag, classes in data["bought_raw"].items() for k in classes.split()},
            data["bought_raw_source"],
        )

    def aisle_of(self, food: Food) -> Aisle:
        """Where a food stands."""
        return next((a for a in self.aisles if food.klass in a.classes), self.aisles[-1])

    def trim_of(self, food: Food) -> Trim | None:
        """What is trimmed off a food that is bought as it is; None where nothing is, or is known to be."""
        if food.form != "raw":
            return None
        return next((t for t in self.trim if t.when.holds(food.attributes) is True), None)


def raw_share(rules: ShopRules, library: FoodLibrary, food: Food) -> tuple[Food, float] | None:
    """The raw or dry row of a food that stands in the table cooked, and its grams per gram of the cooked one; None for
    what is not cooked, what is bought cooked, and where the rows do not tell."""
    tag = rules.stays.get(food.klass)
    if tag is None or food.form != "cooked" or not food.family:
        return None
    for row, other in enumerate(library.foods):
        same = other.family == food.family and other.klass == food.klass
        if not same or other.attributes.state not in {"raw", "dry"} or other.form == "canned":
            continue
        mine, raw = (_stays(library, r, tag) for r in (library.row(food.id), row))
        if mine > 0 and raw > 0:
            return other, mine / raw
    return None


def _stays(library: FoodLibrary, row: int, tag: str) -> float:
    """g per 100 g; not above nothing (NaN compares so) where it is not known."""
    values = library.values[row]
    if tag == "DM":
        return 100.0 - float(values[library.catalogue.index("WATER")])
    return float(values[library.catalogue.index(tag)])
