"""The food library: a foods x nutrients matrix with NaN for unknown, and its provenance."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..confidence import Confidence
from ..units import convert
from .attributes import NOTHING_KNOWN, Attributes, with_figures
from .bounds import NO_BOUNDS, ClassBounds, groups_of
from .me_methods import FibreKind, MeFormula
from .nutrients import Catalogue, EnergyFactors

FloatArray = NDArray[np.float64]


class Grade(StrEnum):
    """How sure a value is by where it came from."""

    UNKNOWN = "unknown"
    ANALYSED = "analysed"
    BORROWED = "borrowed"
    PATTERN = "pattern"
    DERIVED = "derived"
    STOICHIOMETRIC = "stoichiometric"
    LABEL = "label"
    COMPUTED = "computed"


# Values that were measured or follow from a formula or a pack, not filled in from elsewhere.
FIRM_GRADES = frozenset({Grade.ANALYSED, Grade.STOICHIOMETRIC, Grade.LABEL, Grade.COMPUTED})


@dataclass(frozen=True)
class Provenance:
    """Where a value came from."""

    code: str
    grade: Grade
    text: str
    citation: str
    confidence: Confidence
    # Share of a value by which it may be off, either way; 0 for what was measured.
    spread: float = 0.0


UNKNOWN = Provenance("", Grade.UNKNOWN, "No value in any source", "", Confidence.UNSAID)


@dataclass(frozen=True)
class Measure:
    """A household measure of a food: `name` (cup, each large, ...) weighs `grams`. own: as the practice
    fills it; a cup of any other source is a US one."""

    name: str
    grams: float
    source: str
    confidence: Confidence
    own: bool = False


class SupplementKind(StrEnum):
    """What a supplement is: one thing, or everything at once."""

    SINGLE = "single"
    PREMIX = "premix"


@dataclass(frozen=True)
class LabelQuestion:
    """A strength that only the pack can tell: amount of `tag` in `unit` per `per`."""

    tag: str
    unit: str
    per: str


@dataclass(frozen=True)
class Handling:
    """How a supplement is given.

    form: powder, liquid, or the piece it comes in. unit_g: weight of a piece, None for what is
    weighed. step_g: the smallest amount a person can give. heat, add: what heat does to it and
    when it goes in. label: strengths to read from the pack. block: why it is not to be used, or
    "". most_g_per_mcal, most_g_per_kg_day: the most its label allows per 1000 kcal, or a day per kg of the dog.
    """

    kind: SupplementKind
    form: str
    unit_g: float | None
    step_g: float
    heat: str
    add: str
    label: tuple[LabelQuestion, ...] = ()
    block: str = ""
    most_g_per_mcal: float | None = None
    most_g_per_kg_day: float | None = None
    # Stocked by the practice, so the first choice of a formulation.
    on_shelf: bool = False
    # The part of a way of feeding that it stands for (bone); "" for none.
    part: str = ""
    # The groups of foods that bound what is not known of it (see bounds), the narrowest first.
    like: tuple[str, ...] = ()
    # Given at every meal, not stirred into the batch.
    at_serving: bool = False
    # Why its form is used less than others of the same, "" where it is not.
    poorly_used: str = ""
    # Its phosphorus is a calcium phosphate or bone, not a soluble phosphate.
    bound_phosphate: bool = False

    def most_by_label(self, kcal: float, kg_days: float) -> float:
        """The most its label allows, g, with so many kcal of food and for so many kg of dog and days; endless where it
        says nothing."""
        by_energy, by_weight = self.most_g_per_mcal, self.most_g_per_kg_day
        return min(
            np.inf if by_energy is None else by_energy * kcal / 1000,
            np.inf if by_weight is None else by_weight * kg_days,
        )


@dataclass(frozen=True)
class Food:
    """Identity of a food; its values are a row of the library's matrix.

    handling: how it is given, for a supplement; None for a food. fibre: what its fibre figure is.
    derived: made from other rows and published figures, not analysed. like: the groups that bound what
    is not known of it, where those of its class do not. family: rows of one class and family are one food
    in several forms, "" for what stands in no table. bone_share of its weight, bone_protein_g per
    100 g: of what is eaten with its bone.
    """

    id: str
    name: str
    klass: str
    form: str
    plain: bool = True
    allergens: tuple[str, ...] = ()
    source_name: str = ""
    measures: tuple[Measure, ...] = field(default=(), repr=False)
    handling: Handling | None = field(default=None, repr=False)
    attributes: Attributes = field(default=NOTHING_KNOWN, repr=False)
    fibre: FibreKind = FibreKind.DIETARY
    derived: bool = False
    family: str = ""
    like: tuple[str, ...] = ()
    bone_share: float = 0.0
    bone_protein_g: float = 0.0
    # What its label names as ingredients, for what a practice added; "" where nobody said.
    statement: str = field(default="", repr=False)
    # By how much more than its value there may be, per 100 g by tag in catalogue units: what a pack
    # promises as "at least" is a least amount, and counts as such against no ceiling.
    may_exceed: Mapping[str, float] = field(default_factory=dict, repr=False, hash=False)

    @property
    def proposable(self) -> bool:
        """Whether the program may bring it up by itself: a plain food whose values are its own."""
        return self.plain and not self.derived

    @property
    def with_bone(self) -> bool:
        """Eaten with its bone, which no cooking may touch: not the soft bones of canned fish."""
        return self.bone_share > 0

    def bound_groups(self, water: float) -> tuple[str, ...]:
        """The groups whose spread bounds what is not known of it, the narrowest first. `water` in g per
        100 g."""
        if self.handling is not None:
            return self.handling.like
        if self.like:
            return self.like
        return groups_of(self.klass, self.attributes, water)

    @property
    def is_supplement(self) -> bool:
        """True for what is given in doses, not eaten as food."""
        return self.handling is not None


def use_of(food: Food) -> tuple[str, str, str]:
    """What a food is cooked as: kind, state and bone; species and fat are what may change."""
    return food.attributes.kind, food.attributes.state, food.attributes.bone


@dataclass(frozen=True)
class FoodLibrary:
    """Foods in row order and their values.

    `values` is float64, shape (foods, nutrients), per 100 g as fed in catalogue units,
    NaN for unknown. `codes` has the same shape and holds rows of `provenance`
    (0 = unknown). `bounds` says what a food without a value may hold at most. `me` is the method
    that the energy of every food stands on, None while each has the energy its source gives;
    `given_kcal` and `given_codes` keep that beside it (see food_energy).
    """

    catalogue: Catalogue
    foods: tuple[Food, ...]
    values: FloatArray
    codes: NDArray[np.int32]
    provenance: tuple[Provenance, ...]
    bounds: ClassBounds = NO_BOUNDS
    me: MeFormula | None = None
    given_kcal: FloatArray | None = None
    given_codes: NDArray[np.int32] | None = None

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
        spread = filled * np.array([p.spread for p in self.provenance])[self.codes]
        upper = (
            np.where(missing, self.bounds.upper(self.catalogue, self.foods, self.values), 0.0) / 100
        )
        for row, food in enumerate(self.foods):
            for key, more in food.may_exceed.items():
                column = self.catalogue.index(key)
                if not missing[row, column]:
                    upper[row, column] += more / 100
        open_ended = np.isinf(upper)
        parts = (
            filled,
            filled * soft,
            missing,
            soft,
            spread,
            np.where(open_ended, 0.0, upper),
            open_ended,
        )
        object.__setattr__(self, "_stacked", np.hstack(parts))

    def __contains__(self, food_id: str) -> bool:
        return food_id in self._row  # type: ignore[attr-defined]

    @property
    def factors(self) -> EnergyFactors:
        """kcal per g of protein, fat and available carbohydrate that energy is split by."""
        return self.catalogue.atwater if self.me is None else self.me.factors

    @cached_property
    def kept_by_practice(self) -> tuple[tuple[int, str], ...]:
        """Rows of a practice's own foods, of its shelf and of supplements, with their names in small letters."""
        return tuple(
            (row, food.name.lower())
            for row, food in enumerate(self.foods)
            if food.id.startswith(("own:", "shelf:", "supp:"))
        )

    @cached_property
    def rows_by_use(self) -> Mapping[tuple[str, str, str], tuple[int, ...]]:
        """Rows of the plain foods that are no supplement, by what they are cooked as: kind, state and bone."""
        found: dict[tuple[str, str, str], list[int]] = {}
        for row, food in enumerate(self.foods):
            if food.plain and not food.is_supplement:
                found.setdefault(use_of(food), []).append(row)
        return {key: tuple(rows) for key, rows in found.items()}

    @cached_property
    def rows_by_form(self) -> Mapping[tuple[str, str], tuple[int, ...]]:
        """Rows of each class and form."""
        found: dict[tuple[str, str], list[int]] = {}
        for row, food in enumerate(self.foods):
            found.setdefault((food.klass, food.form), []).append(row)
        return {key: tuple(rows) for key, rows in found.items()}

    @cached_property
    def supplements(self) -> tuple[str, ...]:
        """Ids of what is given for a nutrient, not for energy."""
        return tuple(food.id for food in self.foods if food.is_supplement)

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
        """(foods, 7 x nutrients): value per g with 0 for unknown, the part of it that is
        borrowed or pattern, 1 where the value is unknown, 1 where it is borrowed or pattern, by how
        much it may be off, how much more there may be (the most an unknown value may be, or what a
        least one may be exceeded by), 1 where nothing bounds that.
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

        `values` are per 100 g as fed in catalogue units; a nutrient left out is unknown. Raises
        ValueError on a library whose energy is on one scale already.
        """
        self._before_scale()
        keys = self.catalogue.keys
        extra = np.full((len(foods), len(keys)), np.nan)
        codes = np.zeros((len(foods), len(keys)), dtype=np.int32)
        for i, row in enumerate(values):
            for key, value in row.items():
                extra[i, self.catalogue.index(key)] = value
                codes[i, self.catalogue.index(key)] = len(self.provenance) + i
        fill_derived(self.catalogue, extra, codes)
        described = [
            f
            if f.is_supplement
            else replace(f, attributes=with_figures(f.attributes, f.klass, most_values(f, row)))
            for f, row in zip(foods, values, strict=True)
        ]
        return FoodLibrary(
            self.catalogue,
            (*self.foods, *described),
            np.vstack([self.values, extra]),
            np.vstack([self.codes, codes]),
            (*self.provenance, *provenance),
            self.bounds,
        )

    def with_values(
        self, food_id: str, values: Mapping[str, float], provenance: Provenance
    ) -> "FoodLibrary":
        """A library in which a food has these values (catalogue units per 100 g) from this source;
        what is derived from them is computed anew. ValueError as `extended`."""
        self._before_scale()
        row = self.row(food_id)
        matrix, codes = self.values.copy(), self.codes.copy()
        for key, value in values.items():
            matrix[row, self.catalogue.index(key)] = value
            codes[row, self.catalogue.index(key)] = len(self.provenance)
        for i, nutrient in enumerate(self.catalogue.nutrients):
            if set(nutrient.parts) & set(values):
                matrix[row, i] = float("nan")
        fill_derived(self.catalogue, matrix, codes)
        return FoodLibrary(
            self.catalogue, self.foods, matrix, codes, (*self.provenance, provenance), self.bounds
        )

    def with_measures(self, food_id: str, measures: Sequence[Measure]) -> "FoodLibrary":
        """A library in which a food has these measures before those it has under other names."""
        named = {m.name for m in measures}
        food = self.food(food_id)
        kept = (m for m in food.measures if m.name not in named)
        return self.with_food(replace(food, measures=(*measures, *kept)))

    def with_food(self, food: Food) -> "FoodLibrary":
        """A library in which the food of this id is this one; its values stay."""
        return replace(self, foods=tuple(food if f.id == food.id else f for f in self.foods))

    def _before_scale(self) -> None:
        if self.me is not None:
            raise ValueError("foods come into a library before its energy is put on one scale")

    def per_1000_kcal(self, key: str) -> FloatArray:
        """(foods,) amounts of a nutrient per 1000 kcal; NaN where it or the energy is not known, and
        for what has so little energy that the figure says nothing (spices, pure salts)."""
        energy = self.values[:, self.catalogue.index("ENERC")]
        with np.errstate(divide="ignore", invalid="ignore"):
            amounts: FloatArray = self.values[:, self.catalogue.index(key)] / energy * 1000
        amounts[~(energy > LEAST_KCAL)] = np.nan
        return amounts


# kcal per 100 g under which amounts per 1000 kcal are not compared.
LEAST_KCAL = 10.0
# kcal of 100 g of pure fat, the densest thing there is, with room for rounding.
MOST_KCAL = 910.0
# Solids and water of 100 g, with room for rounding.
MOST_PARTS_G = 105.0
_PARTS = ("PROCNT", "FAT", "CHOCDF", "ASH", "WATER")


def wrong_values(catalogue: Catalogue, values: Mapping[str, float]) -> list[tuple[str, str]]:
    """Tags of a food's values per 100 g that cannot be, each with what is wrong.

    The one check of a food, whichever door it comes in by.
    """
    wrong = []
    for tag, value in values.items():
        if not np.isfinite(value) or value < 0:
            wrong.append((tag, "must be 0 or more"))
        elif catalogue.get(tag).unit in {"g", "mg", "ug"}:
            grams = convert(tag, value, catalogue.get(tag).unit, "g")
            if grams > 100.0001:
                wrong.append((tag, f"{grams:.4g} g in 100 g of food cannot be; check the unit"))
    kcal = values.get("ENERC")
    if kcal is None:
        wrong.append(("ENERC", "is missing: give kcal per 100 g"))
    elif not kcal <= MOST_KCAL:
        wrong.append(("ENERC", f"{kcal:g} kcal in 100 g is more than pure fat has; check the unit"))
    parts = sum(values.get(t, 0.0) for t in _PARTS)
    if not wrong and parts > MOST_PARTS_G:
        wrong.append(("PROCNT", f"the parts of 100 g add up to {parts:.0f} g"))
    return wrong


def most_values(food: Food, values: Mapping[str, float]) -> dict[str, float]:
    """The most of each value there may be: what a label gives as "at least" may be exceeded."""
    return {tag: value + food.may_exceed.get(tag, 0.0) for tag, value in values.items()}


def known_values(catalogue: Catalogue, row: FloatArray) -> dict[str, float]:
    """The values of a row that are known, by tag."""
    return {t: float(v) for t, v in zip(catalogue.keys, row, strict=True) if not np.isnan(v)}


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
        total = np.maximum(total, 0.0)
        known = ~np.isnan(total)
        missing = np.isnan(values[:, column])
        take = known & missing
        values[take, column] = total[take]
        codes[take, column] = codes[take, parts[-1]]
