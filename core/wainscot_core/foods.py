"""The food library: a foods x nutrients matrix with NaN for unknown, and its provenance."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from .nutrients import Catalogue

GRADES = ("unknown", "analysed", "borrowed", "pattern", "stoichiometric", "label")
# Values that were measured or follow from a formula or a pack, not filled in from elsewhere.
FIRM_GRADES = frozenset({"analysed", "stoichiometric", "label"})

FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class Provenance:
    """Where a value came from."""

    code: str
    grade: str
    text: str
    citation: str
    confidence: str


UNKNOWN = Provenance("", "unknown", "No value in any source", "", "")


@dataclass(frozen=True)
class Measure:
    """A household measure of a food: `name` (cup, each large, ...) weighs `grams`."""

    name: str
    grams: float
    source: str
    confidence: str


@dataclass(frozen=True)
class Food:
    """Identity of a food; its values are a row of the library's matrix."""

    id: str
    name: str
    klass: str
    form: str
    plain: bool = True
    allergens: tuple[str, ...] = ()
    source_name: str = ""
    measures: tuple[Measure, ...] = field(default=(), repr=False)


@dataclass(frozen=True)
class FoodLibrary:
    """Foods in row order and their values.

    `values` is float64, shape (foods, nutrients), per 100 g as fed in catalogue units,
    NaN for unknown. `codes` has the same shape and holds rows of `provenance`
    (0 = unknown).
    """

    catalogue: Catalogue
    foods: tuple[Food, ...]
    values: FloatArray
    codes: NDArray[np.int32]
    provenance: tuple[Provenance, ...]

    def __post_init__(self) -> None:
        shape = (len(self.foods), len(self.catalogue.nutrients))
        if self.values.shape != shape or self.codes.shape != shape:
            raise ValueError(f"matrix must have shape {shape}")
        object.__setattr__(self, "_row", {f.id: i for i, f in enumerate(self.foods)})
        firm = np.array([p.grade in FIRM_GRADES for p in self.provenance], dtype=bool)
        known_firm = firm[self.codes]
        object.__setattr__(self, "_firm", known_firm)
        missing = np.isnan(self.values)
        filled = np.where(missing, 0.0, self.values) / 100.0
        soft = ~known_firm & ~missing
        object.__setattr__(self, "_stacked", np.hstack([filled, filled * soft, missing, soft]))

    def __contains__(self, food_id: str) -> bool:
        return food_id in self._row  # type: ignore[attr-defined]

    def row(self, food_id: str) -> int:
        """Row of a food; KeyError when the library does not hold it."""
        position: int = self._row[food_id]  # type: ignore[attr-defined]
        return position

    def food(self, food_id: str) -> Food:
        """The food of an id; KeyError when the library does not hold it."""
        return self.foods[self.row(food_id)]

    @property
    def firm(self) -> NDArray[np.bool_]:
        """(foods, nutrients) True where a value is analysed, stoichiometric or from a label."""
        mask: NDArray[np.bool_] = self._firm  # type: ignore[attr-defined]
        return mask

    def stacked(self) -> FloatArray:
        """(foods, 4 x nutrients): value per g with 0 for unknown, the part of it that is
        borrowed or pattern, 1 where the value is unknown, 1 where it is borrowed or pattern.
        One product totals all of them.
        """
        matrix: FloatArray = self._stacked  # type: ignore[attr-defined]
        return matrix

    def provenance_of(self, food_id: str, key: str) -> Provenance:
        """Where one value came from."""
        return self.provenance[int(self.codes[self.row(food_id), self.catalogue.index(key)])]

    def extended(
        self,
        foods: Sequence[Food],
        values: Sequence[Mapping[str, float]],
        provenance: Sequence[Provenance],
    ) -> "FoodLibrary":
        """A library with further foods (supplements, own foods), one provenance for each food.

        `values` are per 100 g as fed in catalogue units; a nutrient left out is unknown.
        """
        keys = self.catalogue.keys
        extra = np.full((len(foods), len(keys)), np.nan)
        codes = np.zeros((len(foods), len(keys)), dtype=np.int32)
        for i, row in enumerate(values):
            for key, value in row.items():
                extra[i, self.catalogue.index(key)] = value
                codes[i, self.catalogue.index(key)] = len(self.provenance) + i
        fill_derived(self.catalogue, extra, codes)
        return FoodLibrary(
            self.catalogue,
            (*self.foods, *foods),
            np.vstack([self.values, extra]),
            np.vstack([self.codes, codes]),
            (*self.provenance, *provenance),
        )


def fill_derived(catalogue: Catalogue, values: FloatArray, codes: NDArray[np.int32]) -> None:
    """Compute the derived columns in place: unknown as soon as one part is unknown.

    The provenance of a derived value is that of its part with a known value in the
    row that contributes least certainty: the last part, which is the rarer one.
    """
    for column, nutrient in enumerate(catalogue.nutrients):
        if not nutrient.parts:
            continue
        parts = [catalogue.index(p) for p in nutrient.parts]
        total = np.zeros(values.shape[0])
        for part, weight in zip(parts, nutrient.weights, strict=True):
            total += values[:, part] * weight
        known = ~np.isnan(total)
        missing = np.isnan(values[:, column])
        take = known & missing
        values[take, column] = total[take]
        codes[take, column] = codes[take, parts[-1]]
