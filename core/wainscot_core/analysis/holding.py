"""A quick estimate of how surely the limits that a recipe meets are met in the bowl.

A table gives a mean; the next chicken is another one. Every value is drawn log-normal round its mean
(reference/variation.yaml), each line and nutrient by itself, amino acids with their protein, and energy with
protein, fat and carbohydrate. What is left out, swapped or badly mixed is not in it, and what is not known
stays unproven, not drawn.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray, FoodLibrary
from ..facts.policy import Policy
from ..facts.variation import Variation
from ..recipe.line import sum_lines
from ..recipe.totals import Totals
from ..targets.standards import Limit, RequirementSet
from .adequacy import HELD, judge, judge_ratios

SEED = 20061
LINES_DRAWN = 16


@dataclass(frozen=True, kw_only=True)
class Weakest:
    """The limit that fails most often: its nutrient or ratio, and the share of batches in which it holds."""

    key: str
    name: str
    share: float


@dataclass(frozen=True, kw_only=True)
class Holding:
    """In which share of batches all limits hold that the recipe meets by its table. limits: how many those
    are; open_limits: how many are short, over or not proven by the table already, and not looked at."""

    share: float
    limits: int
    open_limits: int
    batches: int
    weakest: Weakest | None


def holding(dossier: Dossier) -> Holding | None:
    """The estimate for a dossier's recipe; None for one without energy."""
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    if not sums.kcal > 0:
        return None
    variation = dossier.reference.variation
    held, opened = met_limits(sums, dossier.requirements, dossier.policy)
    asked = columns_of(dossier.library, held)
    amounts, kcal = drawn(dossier.library, variation, sums, asked)
    shares: dict[str, float] = {}
    every = np.ones(len(kcal), dtype=bool)
    for key, limit in held.items():
        value = _values(dossier.library, key, amounts, kcal)
        fine = np.ones(len(kcal), dtype=bool)
        if limit.minimum is not None:
            fine &= value >= limit.minimum
        if limit.ceiling is not None:
            fine &= value <= limit.ceiling
        shares[key] = float(fine.mean())
        every &= fine
    worst = min(shares, key=lambda k: shares[k], default=None)
    weakest = None
    if worst is not None and shares[worst] < 1:
        name = dossier.library.catalogue.name_of(worst)
        weakest = Weakest(key=worst, name=name, share=shares[worst])
    return Holding(
        share=float(every.mean()), limits=len(held), open_limits=opened, batches=len(kcal),
        weakest=weakest,
    )  # fmt: skip


def met_limits(
    sums: Totals, requirements: RequirementSet, policy: Policy
) -> tuple[dict[str, Limit], int]:
    """The limits that a recipe meets by its table, and how many it does not."""
    held: dict[str, Limit] = {}
    opened = 0
    nutrients = ((v.key, v.limit, v.status) for v in judge(sums, requirements, policy))
    ratios = ((r.ratio.key, r.limit, r.status) for r in judge_ratios(sums, requirements))
    for key, limit, status in (*nutrients, *ratios):
        if limit is None or (limit.minimum is None and limit.ceiling is None):
            continue
        if status in HELD:
            held[key] = limit
        else:
            opened += 1
    return held, opened


def columns_of(library: FoodLibrary, keys: Iterable[str]) -> NDArray[np.intp]:
    """The columns that limits on nutrients and ratios are counted from, and those of what brings energy."""
    catalogue = library.catalogue
    tags = {*library.factors.kcal_per_g, "PROCNT"}
    for key in keys:
        if key in catalogue:
            tags.add(key)
            continue
        ratio = next(r for r in catalogue.ratios if r.key == key)
        tags |= {*ratio.top, *ratio.bottom}
    return np.array(sorted(catalogue.index(tag) for tag in tags))


def drawn(
    library: FoodLibrary,
    variation: Variation,
    sums: Totals,
    asked: NDArray[np.intp] | None = None,
) -> tuple[FloatArray, FloatArray]:
    """(draws, nutrients) amounts of the columns asked for (None: of all), others 0, and (draws,) kcal of the batch,
    energy by what brings it."""
    if asked is None:
        asked = np.arange(len(library.catalogue.nutrients))
    foods = [library.foods[int(row)] for row in sums.rows]
    brought = np.nan_to_num(sums.contributions)
    sigma = np.sqrt(np.log1p(np.square(variation.of(library, foods)[:, asked])))
    normal = _normal(variation.draws, _rounded_up(len(foods)), brought.shape[1])
    factors = sigma[:, None, :] * normal[: len(foods), :, asked]
    np.exp(factors - np.square(sigma[:, None, :]) / 2, out=factors)
    protein = int(np.flatnonzero(asked == library.catalogue.index("PROCNT"))[0])
    factors[:, :, variation.follows_protein(library)[asked]] *= factors[:, :, protein, None]
    amounts = np.zeros((variation.draws, brought.shape[1]))
    amounts[:, asked] = np.einsum("ldn,ln->dn", factors, brought[:, asked])
    kcal = np.full(variation.draws, sums.kcal)
    for tag, per_gram in library.factors.kcal_per_g.items():
        column = library.catalogue.index(tag)
        kcal += per_gram * (amounts[:, column] - brought[:, column].sum())
    return amounts, np.maximum(kcal, 1e-9)


@lru_cache(maxsize=4)
def _normal(draws: int, lines: int, nutrients: int) -> FloatArray:
    """(lines, draws, nutrients), the same draws for a line every time, however many come after it, so that two recipes
    are compared by what differs in them."""
    return np.random.default_rng(SEED).standard_normal((lines, draws, nutrients))


def _rounded_up(lines: int) -> int:
    """So many lines are drawn for at once."""
    return -(-max(lines, 1) // LINES_DRAWN) * LINES_DRAWN


def _values(library: FoodLibrary, key: str, amounts: FloatArray, kcal: FloatArray) -> FloatArray:
    catalogue = library.catalogue
    if key in catalogue:
        value: FloatArray = amounts[:, catalogue.index(key)] / kcal * 1000
        return value
    ratio = next(r for r in catalogue.ratios if r.key == key)

    def total(parts: tuple[str, ...]) -> FloatArray:
        summed: FloatArray = sum(
            (amounts[:, catalogue.index(k)] * catalogue.grams_per_unit(k) for k in parts),
            np.zeros(len(kcal)),
        )
        return summed

    with np.errstate(divide="ignore", invalid="ignore"):
        found: FloatArray = total(ratio.top) / total(ratio.bottom) * ratio.scale
    return found
