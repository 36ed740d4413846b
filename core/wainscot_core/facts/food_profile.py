"""All that is known of one food: values on three bases with where each came from."""

import math
from dataclasses import dataclass

from ..confidence import Confidence
from ..figures import figure
from .foods import FoodLibrary, Grade


@dataclass(frozen=True, kw_only=True)
class ProfileValue:
    """One nutrient of a food, None where it has no value, and where the value came from. at_least: a label promises it
    as a least amount, and there may be more."""

    key: str
    name: str
    unit: str
    group: str
    decimals: int
    per_100g: float | None
    per_1000_kcal: float | None
    per_100g_dry_matter: float | None
    grade: Grade
    provenance: str
    citation: str
    confidence: Confidence
    at_least: bool = False


def profile_values(library: FoodLibrary, row: int) -> tuple[ProfileValue, ...]:
    """Every nutrient of a food, in the catalogue's order."""
    catalogue = library.catalogue
    energy = float(library.values[row, catalogue.index("ENERC")])
    dry = 100 - float(library.values[row, catalogue.index("WATER")])
    found = []
    for i, nutrient in enumerate(catalogue.nutrients):
        value = float(library.values[row, i])
        known = not math.isnan(value)
        origin = library.provenance[int(library.codes[row, i])]
        found.append(
            ProfileValue(
                key=nutrient.key,
                name=nutrient.name,
                unit=nutrient.unit,
                group=nutrient.group,
                decimals=nutrient.decimals,
                per_100g=figure(value),
                per_1000_kcal=figure(value / energy * 1000) if known and energy > 0 else None,
                per_100g_dry_matter=figure(value / dry * 100) if known and dry > 0 else None,
                grade=origin.grade,
                provenance=origin.text,
                citation=origin.citation,
                confidence=origin.confidence,
                at_least=known and nutrient.key in library.foods[row].may_exceed,
            )
        )
    return tuple(found)
