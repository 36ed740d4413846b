"""Recipe totals: one product of line weights with the composition matrix.

Shapes: L lines, N nutrients. All amounts in catalogue units; `grams` as fed per batch.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..facts.foods import FloatArray, FoodLibrary
from ..facts.nutrients import Catalogue


@dataclass(frozen=True)
class Totals:
    """What a recipe holds.

    known: (N,) sum of the known contributions per batch.
    unknown_lines: (N,) number of lines without a value.
    known_share: (N,) share of the recipe's weight whose value is known, 0 to 1.
    estimated: (N,) the part of `known` that rests on borrowed or pattern values, or on a
        retention factor of cooking.
    estimated_lines: (N,) number of lines whose value is such.
    grams: (L,) as weighed; fed_grams: (L,) as fed, after cooking.
    retention: (L, N) share of each nutrient that cooking leaves, None when nothing is cooked.
    """

    library: FoodLibrary
    rows: NDArray[np.intp]
    grams: FloatArray
    fed_grams: FloatArray
    retention: FloatArray | None
    known: FloatArray
    unknown_lines: FloatArray
    known_share: FloatArray
    estimated: FloatArray
    estimated_lines: FloatArray
    days: float

    @property
    def catalogue(self) -> Catalogue:
        """The nutrient catalogue of the columns."""
        return self.library.catalogue

    @cached_property
    def contributions(self) -> FloatArray:
        """(L, N) amounts by line, NaN where a line has no value."""
        product: FloatArray = self.library.values[self.rows] * (self.grams[:, None] / 100.0)
        return product if self.retention is None else product * self.retention

    @cached_property
    def total_grams(self) -> float:
        """Weight of the batch as fed, g."""
        return float(self.fed_grams.sum())

    def amount(self, key: str) -> float:
        """Known amount of a nutrient in the batch."""
        return float(self.known[self.catalogue.index(key)])

    @property
    def kcal(self) -> float:
        """Metabolisable energy of the batch, kcal, as the food tables state it."""
        return self.amount("ENERC")

    @cached_property
    def dry_matter_grams(self) -> float:
        """Weight of the batch without water, g."""
        return self.total_grams - self.amount("WATER")


def totals(
    library: FoodLibrary,
    rows: Sequence[int],
    grams: Sequence[float],
    days: float = 1.0,
    fed_grams: Sequence[float] | None = None,
    retention: FloatArray | None = None,
) -> Totals:
    """Total a recipe: `rows` are library rows, `grams` their weights per batch of `days` days.

    `retention` (L, N) and `fed_grams` (L,) describe lines that are weighed raw and fed cooked.
    """
    weight = np.array(grams, dtype=np.float64)
    index = np.array(rows, dtype=np.intp)
    width = len(library.catalogue.nutrients)
    picked = library.stacked()[index]
    if retention is not None:
        cooked = picked[:, :width] * retention
        changed = (retention != 1.0) & (picked[:, 2 * width : 3 * width] == 0)
        picked[:, width : 2 * width] = np.where(changed, cooked, picked[:, width : 2 * width])
        picked[:, 3 * width :] = np.maximum(picked[:, 3 * width :], changed)
        picked[:, :width] = cooked
    sums = weight @ picked
    counts = picked[:, 2 * width :].sum(axis=0)
    total_weight = weight.sum()
    unknown_weight = sums[2 * width : 3 * width]
    return Totals(
        library,
        index,
        weight,
        weight if fed_grams is None else np.array(fed_grams, dtype=np.float64),
        retention,
        sums[:width],
        counts[:width],
        1.0 - unknown_weight / total_weight if total_weight > 0 else np.ones(width),
        sums[width : 2 * width],
        counts[width:],
        days,
    )
