"""What is asked of a formulation: candidates, limits, goals, settings."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from ..facts.foods import FloatArray, Food
from ..facts.formulation_rules import DEFAULT_SHAPE, CapOf, ShapeRules
from ..facts.nutrients import Catalogue, EnergyFactors
from ..targets.standards import RequirementSet


@dataclass(frozen=True)
class Increment:
    """The amounts a person can give: whole multiples of `grams`, written as `count` of `unit`.

    `count` is how many of the unit one increment is (0.125 for an eighth of a teaspoon).
    """

    grams: float
    unit: str
    count: float


class ItemKind(StrEnum):
    """What an item is, as the schools tell apart: a food, a single supplement, a premix."""

    FOOD = "food"
    SINGLE = "single"
    PREMIX = "premix"


class Bar(StrEnum):
    """Why something that is no line cannot be added: it is ruled out for this dog, nobody allowed it, or
    its strength has to be read from the pack first."""

    RULED = "ruled"
    OFFER = "offer"
    STRENGTH = "strength"


@dataclass(frozen=True)
class Tie:
    """A line that follows another one: its grams are `ratio` x those of candidate `to`."""

    to: int
    ratio: float


@dataclass(frozen=True)
class Candidate:
    """A food or supplement that may be in the adjusted recipe. Grams are as weighed, per batch.

    line: position in the recipe, None for an item that would be added.
    excluded: why it must not be in the recipe; "" when it may.
    fixed: the amount is a choice of the consultant's and stays. least_grams: what is added is at least so
    much, or nothing.
    price_per_kg: None when it is not known.
    """

    food: Food
    line: int | None
    kind: ItemKind
    current_grams: float
    low_grams: float
    high_grams: float
    increment: Increment
    fixed: bool = False
    excluded: str = ""
    tie: Tie | None = None
    price_per_kg: float | None = None
    least_grams: float = 0.0
    # Position of the line whose place an added food can take, None for one that takes nobody's.
    instead_of: int | None = None
    # A food that is given by dose (fish oil).
    dose_food: bool = False
    # Why a condition would not have a line that stays all the same; "" when none speaks against it.
    against: str = ""
    # Only in a problem that looks for what is left out (see partners).
    bar: Bar | None = None

    @property
    def is_supplement(self) -> bool:
        """True for a single supplement or a premix."""
        return self.kind is not ItemKind.FOOD

    @property
    def dosed(self) -> bool:
        """True for what is given by dose, not eaten as food."""
        return self.dose_food or self.is_supplement


@dataclass(frozen=True)
class Contents:
    """What a gram of every candidate brings, as fed after its preparation.

    low: (C, N) amounts that count towards a minimum under the data policy.
    high: (C, N) amounts that count towards a maximum.
    What is not known is 0 in low and the most its class holds in high: a minimum is met by what is
    known, and a maximum is kept by the most there can be. Where nothing bounds it, it is 0 in both and
    the analysis calls the maximum unproven.
    kcal: (C,) energy per gram. fed: (C,) grams as fed per gram as weighed.
    """

    low: FloatArray
    high: FloatArray
    kcal: FloatArray
    fed: FloatArray


@dataclass(frozen=True)
class MacroTarget:
    """Wanted shares of energy (protein, fat, carbohydrate), together 1."""

    protein: float
    fat: float
    carbohydrate: float


@dataclass(frozen=True)
class Guide:
    """A soft guide of proportions by fed weight: part of each candidate, wanted share by part."""

    parts: tuple[str | None, ...]
    shares: Mapping[str, float]


@dataclass(frozen=True)
class Aim:
    """Contents with a part of their variation taken off what counts towards a minimum and added to what
    counts towards a maximum (reference/variation.yaml), and what a limit missed by them costs."""

    contents: Contents
    cost: float


@dataclass(frozen=True)
class Cap:
    """The most that some candidates may be of the batch together, as a share of its energy or weight.

    members: (C,) who counts. gives: it is only kept as far as minimums leave room; the others are held.
    """

    id: str
    words: str
    source: str
    of: CapOf
    most: float
    members: tuple[bool, ...]
    gives: bool


@dataclass(frozen=True)
class Problem:
    """A formulation. `kcal` is the energy target of the batch.

    factors: kcal per g that energy is split by. energy_free: foods may move, so the frame around the energy target holds.
    margin: minimums are held at 1 + margin times. aim: what limits are held with as far as it costs
    little, None for nothing.
    batch_grams: what the batch weighs about, as fed. shape: what staying near the recipe counts.
    most_items: of items added beside a premix. apart: keys of limits whose minimum and ceiling leave nothing
    between them; of these only the ceiling is held, see apart. keeps: the main lines keep their share whatever it costs.
    eased: by key of a minimum that cannot be met, by how large a share of it the recipe may be short.
    """

    catalogue: Catalogue
    factors: EnergyFactors
    candidates: tuple[Candidate, ...]
    contents: Contents
    requirements: RequirementSet
    kcal: float
    goals: tuple[str, ...]
    mode: str
    max_supplements: int
    energy_free: bool
    energy_frame: float
    energy_band: float
    margin: float
    batch_grams: float
    time_limit_s: float
    avoid: Mapping[str, float] = field(default_factory=dict)
    macros: MacroTarget | None = None
    guide: Guide | None = None
    # Share of a goal's value that later goals may give up.
    give: Mapping[str, float] = field(default_factory=dict)
    # How much of it they may give up whatever its value.
    room: Mapping[str, float] = field(default_factory=dict)
    # Relative gap at which a pass counts as proved.
    gap: float = 0.05
    # Days the batch feeds, for doses that are so many pieces a day.
    days: float = 1.0
    # What supplements may add at most, by tag, in catalogue units per 1000 kcal.
    added_most: Mapping[str, float] = field(default_factory=dict)
    shape: ShapeRules = DEFAULT_SHAPE
    caps: tuple[Cap, ...] = ()
    most_items: int = 6
    # Nodes of the search that one pass may take.
    nodes: int = 500
    aim: Aim | None = None
    # What the recipe would cost as it is at the energy asked; 0 where no price is known.
    cost_now: float = 0.0
    # A change of a line under this share of it is no change.
    noise: float = 0.0
    apart: tuple[str, ...] = ()
    keeps: bool = False
    eased: Mapping[str, float] = field(default_factory=dict)

    @property
    def prices_per_kg(self) -> FloatArray:
        """(C,) price per kg. What has no price counts as the dearest food, or supplement, that has one: unknown
        is not free."""
        known = [c for c in self.candidates if c.price_per_kg is not None]
        every = max((c.price_per_kg or 0.0 for c in known), default=0.0)
        dearest = {
            kind: max(
                (c.price_per_kg or 0.0 for c in known if c.is_supplement is kind), default=every
            )
            for kind in (False, True)
        }
        return np.array(
            [
                dearest[c.is_supplement] if c.price_per_kg is None else c.price_per_kg
                for c in self.candidates
            ]
        )

    @property
    def current(self) -> FloatArray:
        """(C,) grams of the recipe as it stands."""
        return np.array([c.current_grams for c in self.candidates])
