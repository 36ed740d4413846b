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

# Share of what cooking takes away by which the loss may be off.
COOKING_SPREAD = 0.5


@dataclass(frozen=True)
class Totals:
    """What a recipe holds.

    known: (N,) sum of the known contributions per batch.
    unknown_lines: (N,) number of lines without a value.
    known_share: (N,) share of the recipe's weight whose value is known, 0 to 1.
    estimated: (N,) the part of `known` that rests on borrowed or pattern values, or on a
        retention factor of cooking.
    estimated_lines: (N,) number of lines whose value is such.
    spread: (N,) by how much `estimated` may be off, either way.
    may_hold: (N,) how much more than `known` there may be: the most that the lines without a value
        may hold, infinite where nothing bounds it, and what a label's least amounts may be exceeded by;
        line_may_hold: (L, N) the same by line, 0 where a line has a value that is no least amount.
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
    spread: FloatArray
    may_hold: FloatArray
    line_may_hold: FloatArray
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

    def may_hold_of(self, key: str) -> float:
        """The most of a nutrient that the lines without a value may hold."""
        return float(self.may_hold[self.catalogue.index(key)])

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
    known, soft, missing, is_soft, spread, upper, open_ended = (
        picked[:, k * width : (k + 1) * width] for k in range(7)
    )
    if retention is not None:
        cooked = known * retention
        changed = (retention != 1.0) & (missing == 0)
        # What cooking leaves is an estimate too, beside what the value is already.
        spread[:] = spread * retention + np.where(
            changed, COOKING_SPREAD * np.abs(known - cooked), 0.0
        )
        soft[:] = np.where(changed, cooked, soft)
        is_soft[:] = np.maximum(is_soft, changed)
        known[:] = cooked
        upper[:] = upper * np.maximum(retention, 1.0)
    sums = weight @ picked
    counts = picked.sum(axis=0)
    total_weight = weight.sum()

    def part(of: FloatArray, k: int) -> FloatArray:
        return of[k * width : (k + 1) * width]

    line_may_hold = weight[:, None] * upper
    line_may_hold[(open_ended > 0) & (weight[:, None] > 0)] = np.inf
    return Totals(
        library,
        index,
        weight,
        weight if fed_grams is None else np.array(fed_grams, dtype=np.float64),
        retention,
        part(sums, 0),
        part(counts, 2),
        1.0 - part(sums, 2) / total_weight if total_weight > 0 else np.ones(width),
        part(sums, 1),
        part(counts, 3),
        part(sums, 4),
        line_may_hold.sum(axis=0),
        line_may_hold,
        days,
    )
