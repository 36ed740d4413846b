"""What an analysis answers: these dataclasses are the wire, the published schema and the types.

Every number is rounded to nine significant figures where it is put in; None is unknown or
undefined, never zero.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from ..bowl.marks import FoodMark
from ..confidence import Confidence
from ..dog.energy import Energy
from ..facts.foods import Grade
from ..facts.policy import Policy
from ..findings import Finding
from ..recipe.line import LineError
from ..recipe.proportions import Gauge
from ..targets.standards import Origin
from ..trace import Step
from .adequacy import Status
from .food_energy_view import FoodEnergy
from .insight import AminoShare, Macros, Without


@dataclass(frozen=True, kw_only=True)
class SetBy:
    """What set a bound, in short: the whole origin comes with the nutrient opened (Explanation)."""

    source: str
    citation: str


@dataclass(frozen=True, kw_only=True)
class Bounds:
    """A limit and the verdict on it. against: the bound the verdict speaks of, set_by: what set that
    bound, or the limit where no bound is spoken of; urgency: how much it wants looking at, from 0; breaks: a bound is passed. advised_min,
    advised_max: what is only advised."""

    min: float | None
    recommended: float | None
    max: float | None
    safe_limit: float | None
    advised_min: float | None = None
    advised_max: float | None = None
    status: Status
    breaks: bool
    against: float | None
    set_by: SetBy | None
    urgency: float

    @property
    def ceiling(self) -> float | None:
        """The lower of maximum and safe limit; None where there is neither."""
        tops = [x for x in (self.max, self.safe_limit) if x is not None]
        return min(tops) if tops else None


@dataclass(frozen=True, kw_only=True)
class OnEveryBasis:
    """One amount on every basis it can be looked at; None where that is undefined."""

    per_1000_kcal: float | None
    per_day: float | None
    per_100g_dry_matter: float | None
    per_100g_as_fed: float | None
    per_kg75: float | None


@dataclass(frozen=True, kw_only=True)
class NutrientResult(Bounds):
    """One nutrient of a recipe: amounts on every basis in `unit`, bounds per 1000 kcal, verdict.

    known_share: share of the lines' grams with a value; estimated_share: share of the amount that
    is borrowed or patterned; against_on: the bound the verdict speaks of on every basis. most: what
    there is at most with the lines that have no value, per 1000 kcal, None when nothing bounds it;
    least_likely, most_likely: the same with the ranges of estimates. rises: what its minimum rises with;
    near: it is near a bound, past it, or not known.
    """

    key: str
    name: str
    short: str
    unit: str
    group: str
    decimals: int
    board: bool
    total: float
    per_day: float
    per_1000_kcal: float | None
    per_100g_dry_matter: float | None
    per_100g_as_fed: float | None
    per_kg75: float | None
    against_on: OnEveryBasis
    why: str
    maximum_unproven: bool
    known_share: float
    estimated_share: float
    unknown_lines: int
    most: float | None = None
    least_likely: float | None = None
    most_likely: float | None = None
    rises: str = ""
    near: bool = False


@dataclass(frozen=True, kw_only=True)
class RatioResult(Bounds):
    """One ratio by mass: value, bounds, verdict. value is None while a part of it is not known: it lies
    between least and most then (None where nothing bounds it). low, high: its limits, on a side without one what is
    usual (bounds_source says which); share: it is told in percent; outside: it lies outside them, which is a verdict only where
    they are limits."""

    key: str
    name: str
    short: str
    value: float | None
    least: float | None = None
    most: float | None = None
    unknown_lines: int
    formula: str
    low: float | None
    high: float | None
    share: bool = False
    outside: bool
    bounds_source: str
    origin: tuple[Origin, ...]


@dataclass(frozen=True, kw_only=True)
class LineResult:
    """A line as computed: grams as weighed and as fed, kcal, and how it is given in a kitchen.

    basis: how the amount was read as grams; sure: False where that is a typical weight, not this
    food's own. other_cup: the amount with whose cup or spoon it is ("1 US cup"), where that is not the
    one of this house; "" otherwise. household_error: by how much the household amount misses the grams, as a share.
    """

    food: str
    name: str
    supplement: bool = False
    grams: float
    grams_per_day: float
    grams_per_meal: float
    kcal: float | None
    basis: str
    sure: bool = True
    other_cup: str = ""
    preparation: str | None
    preparation_label: str | None
    fed_grams: float
    household: str | None
    household_error: float | None


@dataclass(frozen=True, kw_only=True)
class RecipeResult:
    """The recipe as a whole, and its lines."""

    grams: float
    grams_per_day: float
    grams_per_meal: float
    dry_matter_grams: float
    kcal: float
    kcal_per_gram: float | None
    kcal_per_day: float
    covers_days: float
    meals_per_day: int
    lines: tuple[LineResult, ...]


@dataclass(frozen=True, kw_only=True)
class Cost:
    """Cost of a batch and of a day; a line without a price is counted as unpriced, not as free."""

    lines: tuple[float | None, ...]
    batch: float
    per_day: float
    unpriced: int


@dataclass(frozen=True, kw_only=True)
class SecondLimit:
    """The bounds of another standard and the verdict on them, per 1000 kcal."""

    min: float | None
    max: float | None
    status: Status


@dataclass(frozen=True, kw_only=True)
class LimitsChecked:
    """How many of the limits' published values were compared with their publication."""

    checked: int
    of: int


@dataclass(frozen=True, kw_only=True)
class RecipeAnalysis:
    """What is computed of a recipe for one dog, whoever asks. food_energy: None only in what was kept
    before a case had an ME method."""

    energy: Energy
    requirements: str
    policy: Policy
    recipe: RecipeResult
    macros: Macros | None
    amino_pattern: tuple[AminoShare, ...]
    without: tuple[Without, ...]
    ratios: tuple[RatioResult, ...]
    flags: tuple[Finding, ...]
    limits_checked: LimitsChecked
    cost: Cost
    food_energy: FoodEnergy | None = None


@dataclass(frozen=True, kw_only=True)
class Analysis(RecipeAnalysis):
    """A recipe as the bench looks at it.

    contributions: (lines, nutrients) amounts to six significant figures, None where unknown.
    second: another standard beside it, by key. gauges: proportions of the way of feeding.
    """

    nutrients: tuple[NutrientResult, ...]
    contributions: tuple[tuple[float | None, ...], ...]
    second: Mapping[str, SecondLimit]
    second_name: str
    gauges: tuple[Gauge, ...]
    way_caution: str
    marks: tuple[FoodMark, ...]


@dataclass(frozen=True, kw_only=True)
class TypedAnalysis(Analysis):
    """An analysis while lines are still being typed: `positions[i]` is the line that
    `recipe.lines[i]` and `contributions[i]` stand for; the others are in line_errors. cautions: the flags
    as they are read, one a matter."""

    positions: tuple[int, ...]
    cautions: tuple[Finding, ...]
    line_errors: tuple[LineError, ...]


@dataclass(frozen=True, kw_only=True)
class LineShare:
    """What a line brings of one nutrient: amount in the nutrient's unit and share of what is known,
    None when it has no value."""

    line: int
    food: str
    name: str
    amount: float | None
    share: float | None
    grade: Grade


@dataclass(frozen=True, kw_only=True)
class NutrientWithSources(NutrientResult):
    """A nutrient with where its limits come from and what every line brings of it."""

    origin: tuple[Origin, ...]
    sources: tuple[LineShare, ...]


@dataclass(frozen=True, kw_only=True)
class LineSource(LineShare):
    """A line's share of a nutrient with where the value came from."""

    grams: float
    per_100_g: float | None
    provenance: str
    citation: str
    confidence: Confidence


@dataclass(frozen=True, kw_only=True)
class Explanation:
    """One nutrient opened up: where its limits come from, its lines, the largest first, and the
    computation step by step."""

    key: str
    origin: tuple[Origin, ...]
    lines: tuple[LineSource, ...]
    steps: tuple[Step, ...]
