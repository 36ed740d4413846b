"""How near a recipe stays to what it was: its proportions, whatever the portion.

A recipe that feeds another dog is the same recipe at another size, so one factor is free and only what
departs from it counts, by each line's share of the recipe. Several small changes are better than one huge
one. What is added counts as an item, by its place in the bowl, and a supplement by its dose; energy that a
supplement brings is never food. `shape_value` says it in plain arithmetic, `shape_terms` as linear rows.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ..facts.foods import FloatArray
from ..facts.formulation_rules import CapOf
from .problem import Candidate, Cap, ItemKind, Problem

NOTHING_G = 1e-9
INFINITY = float("inf")


class Part(StrEnum):
    """How a candidate counts."""

    LINE = "line"
    SUPPLEMENT_LINE = "supplement line"
    ADDED_FOOD = "added food"
    ADDED_SUPPLEMENT = "added supplement"
    STILL = "still"


def part_of(c: Candidate) -> Part:
    """How a candidate counts; what is fixed or left out does not."""
    if c.fixed or c.excluded:
        return Part.STILL
    if c.line is None:
        return Part.ADDED_SUPPLEMENT if c.is_supplement else Part.ADDED_FOOD
    return Part.SUPPLEMENT_LINE if c.is_supplement else Part.LINE


@dataclass(frozen=True)
class Weights:
    """What counts of each candidate, (C,) each.

    part: how it counts. share: a line's share of the recipe, half by energy, half by weight. energy_share: a
    line's share of the energy of the lines that may move.
    """

    part: tuple[Part, ...]
    share: FloatArray
    energy_share: FloatArray


def weights_of(problem: Problem) -> Weights:
    """The weights of a problem's candidates."""
    part = tuple(part_of(c) for c in problem.candidates)
    line = np.array([p is Part.LINE for p in part])
    grams = np.where(line, problem.current, 0.0)
    energy = grams * problem.contents.kcal
    by_weight = grams / grams.sum() if grams.sum() > 0 else grams
    by_energy = energy / energy.sum() if energy.sum() > 0 else energy
    return Weights(part, (by_weight + by_energy) / 2, by_energy)


def count_cost(problem: Problem, c: Candidate) -> float:
    """What it costs that an item is added at all; what the chosen way of feeding would rather not see
    costs more."""
    rules = problem.shape
    plain = rules.supplement if c.is_supplement else rules.added_food
    return plain + rules.against_school * problem.avoid.get(c.kind, 0.0)


def gram_cost(problem: Problem, part: Part, j: int) -> float:
    """What each gram of an added item costs."""
    rules, c = problem.shape, problem.candidates[j]
    energy = float(problem.contents.kcal[j]) / problem.kcal
    if part is Part.ADDED_FOOD:
        weight = float(problem.contents.fed[j]) / problem.batch_grams
        return rules.added_energy * energy + rules.added_weight * weight
    dose = 1.0 / c.high_grams if c.high_grams > 0 else 0.0
    return rules.dose * dose + rules.supplement_energy * energy


def cap_coefficients(problem: Problem, cap: Cap) -> FloatArray:
    """(C,) what a gram adds to a cap's excess: at most 0 in all while it is kept, in shares of the batch."""
    inside = np.array(cap.members)
    if cap.of is CapOf.ENERGY:
        per_gram, whole = problem.contents.kcal, problem.kcal
    else:
        food = np.array([not c.is_supplement for c in problem.candidates])
        per_gram, whole = problem.contents.fed * food, problem.batch_grams
    excess: FloatArray = per_gram * (inside - cap.most) / whole
    return excess


def shape_value(problem: Problem, grams: FloatArray) -> float:
    """How far (C,) grams are from the recipe's shape, at the factor that suits them best."""
    rules, weights = problem.shape, weights_of(problem)
    off = abs(float(problem.contents.kcal @ grams) / problem.kcal - 1)
    worth = rules.energy * max(0.0, off - energy_now(problem))
    ratios, shares = [], []
    for j, (c, part) in enumerate(zip(problem.candidates, weights.part, strict=True)):
        x = float(grams[j])
        if part is Part.LINE and c.current_grams > 0:
            ratios.append(x / c.current_grams)
            shares.append(float(weights.share[j]))
            worth += rules.kept_cost * _beyond(problem, weights, j, x)
        elif part is Part.SUPPLEMENT_LINE:
            size = max(c.current_grams, c.increment.grams)
            worth += rules.supplement_line * abs(x - c.current_grams) / size
        elif part in {Part.ADDED_FOOD, Part.ADDED_SUPPLEMENT} and x > NOTHING_G:
            worth += count_cost(problem, c) + gram_cost(problem, part, j) * x
    for cap in problem.caps:
        if cap.gives:
            excess = float(cap_coefficients(problem, cap) @ grams)
            worth += rules.cap_cost * max(0.0, excess)
    return float(worth + _departure(problem, np.array(ratios), np.array(shares)))


def energy_now(problem: Problem) -> float:
    """By which share the recipe misses its energy already, where that is within the tolerance: what needs
    no change is not changed for it."""
    kept = np.array([0.0 if c.excluded else c.current_grams for c in problem.candidates])
    off = abs(float(problem.contents.kcal @ kept) / problem.kcal - 1)
    return off if off <= problem.energy_band else 0.0


def _departure(problem: Problem, ratios: FloatArray, shares: FloatArray) -> float:
    """The weighted distance of the lines' factors from the common one that makes it least."""
    if not len(ratios):
        return 0.0
    rules = problem.shape
    edges = np.concatenate([ratios, ratios - rules.far, ratios + rules.far])
    factors = np.unique(np.clip(edges, rules.scale_least, rules.scale_most))
    away = np.abs(ratios[:, None] - factors[None, :])
    cost = away + rules.far_cost * np.maximum(away - rules.far, 0.0)
    return float((shares @ cost).min())


def _beyond(problem: Problem, weights: Weights, j: int, grams: float) -> float:
    """By how much of the energy a main line leaves half to double of its share."""
    least, most = kept_between(problem, weights, j)
    share = float(problem.contents.kcal[j]) * grams / problem.kcal
    return max(0.0, least - share, share - most)


def kept_between(problem: Problem, weights: Weights, j: int) -> tuple[float, float]:
    """Between which shares of the energy a main line should stay; no bounds for a small one."""
    rules, share = problem.shape, float(weights.energy_share[j])
    if share < rules.kept_from:
        return -INFINITY, INFINITY
    return rules.kept_least * share, rules.kept_most * share


Column = Callable[[float, float], int]
AddRow = Callable[[dict[int, float], float, float], None]


def shape_terms(
    problem: Problem,
    expression: list[dict[int, float]],
    present: Mapping[int, int],
    column: Column,
    row: AddRow,
) -> dict[int, float]:
    """`shape_value` as coefficients of columns, with the rows that make it so."""
    rules, weights = problem.shape, weights_of(problem)
    cost: dict[int, float] = {}

    def add(terms: Mapping[int, float], factor: float) -> None:
        for at, value in terms.items():
            cost[at] = cost.get(at, 0.0) + factor * value

    factor = column(rules.scale_least, rules.scale_most)
    energy: dict[int, float] = {}
    for j, (c, part) in enumerate(zip(problem.candidates, weights.part, strict=True)):
        for at, value in expression[j].items():
            energy[at] = (
                energy.get(at, 0.0) + value * float(problem.contents.kcal[j]) / problem.kcal
            )
        if part is Part.LINE and c.current_grams > 0:
            ratio = {at: value / c.current_grams for at, value in expression[j].items()}
            near, far = column(0.0, rules.far), column(0.0, INFINITY)
            row({**ratio, factor: -1.0, near: -1.0, far: -1.0}, -INFINITY, 0.0)
            row({**ratio, factor: -1.0, near: 1.0, far: 1.0}, 0.0, INFINITY)
            share = float(weights.share[j])
            add({near: share, far: share * (1 + rules.far_cost)}, 1.0)
            least, most = kept_between(problem, weights, j)
            if most < INFINITY:
                beyond = column(0.0, INFINITY)
                mine = {
                    at: value * float(problem.contents.kcal[j]) / problem.kcal
                    for at, value in expression[j].items()
                }
                row({**mine, beyond: 1.0}, least, INFINITY)
                row({**mine, beyond: -1.0}, -INFINITY, most)
                add({beyond: rules.kept_cost}, 1.0)
        elif part is Part.SUPPLEMENT_LINE:
            away = column(0.0, INFINITY)
            row({**expression[j], away: 1.0}, c.current_grams, INFINITY)
            row({**expression[j], away: -1.0}, -INFINITY, c.current_grams)
            add({away: rules.supplement_line / max(c.current_grams, c.increment.grams)}, 1.0)
        elif part in {Part.ADDED_FOOD, Part.ADDED_SUPPLEMENT}:
            add(expression[j], gram_cost(problem, part, j))
            add({present[j]: count_cost(problem, c)}, 1.0)
    under, over = column(0.0, INFINITY), column(0.0, INFINITY)
    row({**energy, under: 1.0}, 1.0 - energy_now(problem), INFINITY)
    row({**energy, over: -1.0}, -INFINITY, 1.0 + energy_now(problem))
    add({under: rules.energy, over: rules.energy}, 1.0)
    for cap in problem.caps:
        if cap.gives:
            excess = column(0.0, INFINITY)
            terms: dict[int, float] = {excess: -1.0}
            coefficients = cap_coefficients(problem, cap)
            for member in np.flatnonzero(coefficients).tolist():
                for at, value in expression[member].items():
                    terms[at] = terms.get(at, 0.0) + float(coefficients[member]) * value
            row(terms, -INFINITY, 0.0)
            add({excess: rules.cap_cost}, 1.0)
    return cost


def premixes(problem: Problem) -> tuple[list[int], int]:
    """Positions of the premixes that may come or go, and how many stay whatever happens."""
    free, kept = [], 0
    for j, c in enumerate(problem.candidates):
        if c.kind is not ItemKind.PREMIX or c.excluded:
            continue
        if c.fixed:
            kept += c.current_grams > 0
        else:
            free.append(j)
    return free, kept
