"""What 1000 kcal of a food bring, beside what is asked of 1000 kcal of the whole: which gaps of a recipe it would close.

A food that is denser in a nutrient than the minimum asks raises the recipe's amount wherever it takes the place of
energy that brings less; one that is thinner than a ceiling lowers it. That is all a density says: how much of the food
fits, and what else it moves, is tried by `helpful`.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ..analysis.adequacy import TOO_MUCH, Status, Verdict, above, below, urgency
from ..bowl.exclusions import rather_not, why_unfit
from ..dossier.dossier import Dossier
from ..facts.foods import LEAST_KCAL, FloatArray, FoodLibrary
from ..figures import figure, rounded
from ..recipe.line import sum_lines
from ..targets.standards import Limit
from .helpful import stand_of

# So many gaps are held against every food of the library, the most urgent first.
MOST_GAPS = 8
# Density counts up to so many doublings above what is asked: what lies over that closes a gap no faster in practice.
MOST_DOUBLINGS = 3.0
# What being over a ceiling by itself takes off, each, and for how many at most. Working figures of ours.
OVER_COSTS, MOST_OVER = 0.25, 3
# Of what has less energy than this in 100 g the bowl is full before it has helped: it counts for so much less.
THIN_KCAL = 60.0
# No food is shown as bringing more than so many times what is asked.
MOST_TIMES = 99.0


class Side(StrEnum):
    """The end of a window that a gap is at."""

    FLOOR = "floor"
    CEILING = "ceiling"


@dataclass(frozen=True, kw_only=True)
class Yard:
    """A nutrient that foods are measured by, per 1000 kcal. value, status: of the recipe as it is; gap: the end of the
    window it misses, None where it misses none."""

    key: str
    name: str
    short: str
    unit: str
    decimals: int
    minimum: float | None
    ceiling: float | None
    value: float | None
    status: Status
    gap: Side | None


@dataclass(frozen=True, kw_only=True)
class Closes:
    """A food beside the gaps of a recipe. times: of each gap's bound, what 1000 kcal bring, None where that is not known;
    over: short names of what is too much of it by itself, of what is eaten as food; why_not: why the dog must not have it, caution: why a
    condition would rather not, "" where nothing is."""

    food: str
    times: tuple[float | None, ...]
    over: tuple[str, ...]
    why_not: str
    caution: str


@dataclass(frozen=True, kw_only=True)
class GapTable:
    """The gaps of a recipe, and every food beside them: what closes most comes first, what the dog must not have last.
    fed: the recipe holds something; without it nothing is missing yet."""

    dog: str
    gaps: tuple[Yard, ...]
    foods: tuple[Closes, ...]
    fed: bool


@dataclass(frozen=True, kw_only=True)
class Amount1000:
    """What 1000 kcal of a food hold of a nutrient, None where that is not known; times: of its minimum, or of its ceiling
    where it has no minimum; over: more than the ceiling, of what is eaten as food."""

    key: str
    value: float | None
    times: float | None
    over: bool


@dataclass(frozen=True, kw_only=True)
class Density:
    """A food by every nutrient that has a limit. dosed: it is given in doses, so that amounts per 1000 kcal say what it
    is and not how much of it there will be."""

    food: str
    name: str
    amounts: tuple[Amount1000, ...]
    dosed: bool
    why_not: str
    caution: str


@dataclass(frozen=True, kw_only=True)
class Densities:
    """Foods beside what is asked of a dog: its gaps first, then in the order of the catalogue."""

    dog: str
    yards: tuple[Yard, ...]
    foods: tuple[Density, ...]


def yards_of(dossier: Dossier) -> tuple[Yard, ...]:
    """What foods are measured by: every nutrient with a limit, the gaps of the recipe first, the most urgent before."""
    stand = stand_of(dossier, sum_lines(dossier.library, dossier.lines, dossier.days))
    catalogue = dossier.library.catalogue
    found = []
    for nutrient in catalogue.nutrients:
        verdict = stand.verdicts[nutrient.key]
        limit = verdict.limit
        if limit is None or (limit.minimum is None and limit.ceiling is None):
            continue
        yard = Yard(
            key=nutrient.key, name=nutrient.name, short=nutrient.short, unit=nutrient.unit,
            decimals=nutrient.decimals, minimum=limit.minimum, ceiling=limit.ceiling,
            value=figure(verdict.value), status=verdict.status, gap=gap_of(verdict, limit),
        )  # fmt: skip
        found.append((urgency(verdict.value, verdict.status, limit), yard))
    gaps = sorted((x for x in found if x[1].gap), key=lambda x: -x[0])
    return (*(y for _, y in gaps), *(y for _, y in found if not y.gap))


def gap_of(verdict: Verdict, limit: Limit) -> Side | None:
    """The end of the window that a recipe misses, or is not sure to keep; None where it keeps both or holds nothing."""
    if verdict.value is None:
        return None
    if verdict.status in TOO_MUCH:
        return Side.CEILING
    if verdict.status is Status.SHORT:
        return Side.FLOOR
    if verdict.status is Status.UNPROVEN:
        return Side.FLOOR if below(verdict.value, limit.minimum) else Side.CEILING
    return None


def gap_table(dossier: Dossier, whole: bool) -> GapTable:
    """Every food of the library beside the gaps of a recipe. whole: only plain foods and supplements."""
    library = dossier.library
    yards = yards_of(dossier)
    gaps = tuple(y for y in yards if y.gap)[:MOST_GAPS]
    rows = [row for row, food in enumerate(library.foods) if food.plain or not whole]
    amounts = _per_1000_kcal(library, rows, yards)
    times = _times(amounts[:, : len(gaps)], gaps)
    ceilings = np.array([np.inf if y.ceiling is None else y.ceiling for y in yards])
    # What is given in doses has no share of the energy to be too much of.
    eaten = np.array([not library.foods[row].is_supplement for row in rows])
    most = amounts + _exceeding(library, rows, yards)
    too_much = (most > ceilings * (1 + 1e-9)) & eaten[:, None]
    energy = np.nan_to_num(library.values[rows, library.catalogue.index("ENERC")])
    thin = np.where(eaten, np.clip(energy / THIN_KCAL, 0.0, 1.0), 1.0)
    scores = thin * _scores(times, gaps)
    scores -= OVER_COSTS * np.minimum(too_much.sum(axis=1), MOST_OVER)
    found = []
    for i, row in enumerate(rows):
        food = library.foods[row]
        why = why_unfit(food, dossier.avoid)
        closes = Closes(
            food=food.id,
            times=tuple(None if np.isnan(t) else float(f"{t:.3g}") for t in times[i]),
            over=tuple(yards[j].short for j in np.flatnonzero(too_much[i])),
            why_not=why, caution="" if why else rather_not(food, dossier.avoid),
        )  # fmt: skip
        found.append(((bool(why), -float(scores[i]), food.name), closes))
    found.sort(key=lambda x: x[0])
    fed = sum_lines(library, dossier.lines, dossier.days).kcal > 0
    return GapTable(
        dog=dossier.dog_name, gaps=gaps, foods=tuple(c for _, c in found), fed=bool(fed)
    )


def densities(dossier: Dossier, foods: Sequence[str]) -> Densities:
    """Some foods by every nutrient that has a limit for this dog. Raises KeyError for one the library does not hold."""
    library = dossier.library
    yards = yards_of(dossier)
    rows = [library.row(food) for food in foods]
    amounts = _per_1000_kcal(library, rows, yards)
    times = _times(amounts, yards)
    most = amounts + _exceeding(library, rows, yards)
    found = []
    for i, row in enumerate(rows):
        food = library.foods[row]
        why = why_unfit(food, dossier.avoid)
        each = tuple(
            Amount1000(
                key=y.key, value=figure(float(amounts[i, j])), times=figure(float(times[i, j])),
                over=not food.is_supplement and above(float(most[i, j]), y.ceiling),
            )
            for j, y in enumerate(yards)
        )  # fmt: skip
        found.append(
            Density(
                food=food.id, name=food.name, amounts=each, dosed=food.is_supplement,
                why_not=why, caution="" if why else rather_not(food, dossier.avoid),
            )
        )  # fmt: skip
    return Densities(dog=dossier.dog_name, yards=yards, foods=tuple(found))


def _per_1000_kcal(library: FoodLibrary, rows: Sequence[int], yards: Sequence[Yard]) -> FloatArray:
    """(rows, yards) amounts per 1000 kcal, NaN for unknown. What brings hardly any energy counts as if it brought the
    least that is compared: a salt is dense, not endlessly so."""
    columns = [library.catalogue.index(y.key) for y in yards]
    energy = library.values[rows, library.catalogue.index("ENERC")]
    # A bottle whose energy nobody gave is given in drops all the same.
    dosed = np.array([library.foods[row].is_supplement for row in rows], dtype=bool)
    energy = np.where(np.isnan(energy) & dosed, 0.0, energy)
    per = 1000 / np.maximum(energy, LEAST_KCAL)
    amounts: FloatArray = library.values[np.ix_(rows, columns)] * per[:, None]
    return amounts


def _exceeding(library: FoodLibrary, rows: Sequence[int], yards: Sequence[Yard]) -> FloatArray:
    """(rows, yards) how much more there may be per 1000 kcal than a label promises at least."""
    found = np.zeros((len(rows), len(yards)))
    energy = library.catalogue.index("ENERC")
    for i, row in enumerate(rows):
        exceed = library.foods[row].may_exceed
        if exceed:
            kcal = max(float(np.nan_to_num(library.values[row, energy])), LEAST_KCAL)
            found[i] = [exceed.get(y.key, 0.0) / kcal * 1000 for y in yards]
    return found


def _times(amounts: FloatArray, yards: Sequence[Yard]) -> FloatArray:
    """(rows, yards) amounts in shares of the bound that counts: what the gap is at, or the minimum, or the ceiling."""
    bounds = np.array([_bound(y) for y in yards], dtype=np.float64)
    with np.errstate(divide="ignore", invalid="ignore"):
        times: FloatArray = np.minimum(amounts / bounds, MOST_TIMES)
    return times


def _bound(yard: Yard) -> float:
    if yard.gap is Side.CEILING and yard.ceiling is not None:
        return yard.ceiling
    bound = yard.minimum if yard.minimum is not None else yard.ceiling
    return rounded(bound) if bound else float("nan")


def _scores(times: FloatArray, gaps: Sequence[Yard]) -> FloatArray:
    """(rows,) how much a food closes: for each floor its doublings above it, for each ceiling what it stays under it."""
    if not gaps:
        return np.zeros(len(times))
    floors = np.array([y.gap is Side.FLOOR for y in gaps])
    known = np.nan_to_num(times, nan=0.0)
    doubled = np.clip(np.log2(np.maximum(known, 1.0)) / MOST_DOUBLINGS, 0.0, 1.0)
    under = np.where(np.isnan(times), 0.0, np.clip(1 - known, 0.0, 1.0))
    scores: FloatArray = np.where(floors, doubled, under).sum(axis=1)
    return scores
