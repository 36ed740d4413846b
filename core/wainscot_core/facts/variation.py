"""How far what is bought differs from its table (reference/variation.yaml)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..confidence import Confidence
from .attribute_rule import AttributeRule, read_rule
from .foods import FloatArray, Food, FoodLibrary, Grade

AMINO = "AMINO"


@dataclass(frozen=True)
class Margin:
    """How much of the variation a minimum is aimed above, as multiples of it: usually, and where sureness
    is asked for. most: of a value that may be taken off. cost, surest_cost: what a shortfall of the
    aim counts in staying near the recipe."""

    usual: float
    surest: float
    most: float
    cost: float
    surest_cost: float


@dataclass(frozen=True)
class Variation:
    """Coefficients of variation (share of the mean) by group of foods and nutrient.

    groups: the first that a food fits; what fits none is like the last. shares: tag -> one share for each
    group. like: what varies as another tag. amino: what follows the protein too. grades: by how much more
    a value varies that was not analysed in the food itself. supplement: label and measuring together.
    """

    groups: tuple[tuple[str, AttributeRule], ...]
    shares: Mapping[str, tuple[float, ...]]
    like: Mapping[str, str]
    amino: frozenset[str]
    other: float
    grades: Mapping[Grade, float]
    supplement: float
    margin: Margin
    source: str
    confidence: Confidence

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "Variation":
        """Build from the parsed file. ValueError for a row that does not fit the groups."""
        groups = tuple((k, read_rule(v)) for k, v in data["groups"].items())
        shares = {k: tuple(float(x) / 100 for x in row) for k, row in data["percent"].items()}
        for key, row in shares.items():
            if len(row) != len(groups):
                raise ValueError(f"variation of {key}: {len(row)} figures for {len(groups)} groups")
        return cls(
            groups, shares, dict(data["like"]), frozenset(data["amino"]), data["other"] / 100,
            {Grade(k): float(v) for k, v in data["grades"].items()}, data["supplement"] / 100,
            Margin(**{k: float(v) for k, v in data["margin"].items()}),
            data["source"], Confidence(data["confidence"]),
        )  # fmt: skip

    def of(self, library: FoodLibrary, foods: Sequence[Food]) -> FloatArray:
        """(foods, nutrients) coefficient of variation of each value, of an amino acid per g of protein."""
        multipliers = np.array([self.grades[p.grade] for p in library.provenance])
        found = np.empty((len(foods), len(library.catalogue.nutrients)))
        rows: dict[int, FloatArray] = {}
        for i, food in enumerate(foods):
            if food.is_supplement:
                found[i] = self.supplement
                continue
            codes = library.codes[library.row(food.id)]
            group = self._group(food)
            if group not in rows:
                rows[group] = self._row(library, group)
            found[i] = rows[group] * multipliers[codes]
        return found

    def _group(self, food: Food) -> int:
        fits = (i for i, (_, rule) in enumerate(self.groups) if rule.holds(food.attributes))
        return next(fits, len(self.groups) - 1)

    def _row(self, library: FoodLibrary, group: int) -> FloatArray:
        row = []
        for n in library.catalogue.nutrients:
            key = AMINO if n.key in self.amino else self.like.get(n.key, n.key)
            part = n.parts[0] if n.parts else ""
            if part in self.amino:
                key = AMINO
            elif key not in self.shares and part:
                key = self.like.get(part, part)
            row.append(self.shares[key][group] if key in self.shares else self.other)
        return np.array(row)

    def follows_protein(self, library: FoodLibrary) -> np.ndarray:
        """(nutrients,) True for amino acids and sums of them."""
        nutrients = library.catalogue.nutrients
        return np.array([bool(self.amino & {n.key, *n.parts}) for n in nutrients])
