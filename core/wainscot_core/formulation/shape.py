"""How near a recipe stays to what it was: its proportions, whatever the portion.

A recipe that feeds another dog is the same recipe at another size, so one factor is free and only what
departs from it counts, by each line's share of the recipe. Several small changes are better than one huge
one. What is added counts as an item, by its place in the bowl, and a supplement by its dose; energy that a
supplement brings is never food. `shape_value` says it in plain arithmetic, `shape_terms` as linear rows.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from ..facts.foods import FloatArray
from ..facts.formulation_rules import CapOf
from .problem import Candidate, Cap, ItemKind, Problem

NOTHING_G = 1e-9
# Shares of the energy that are the same.
SAME_SHARE = 1e-6
# Greens take each other's place by weight.
LEAN_KCAL_PER_G = 0.6
INFINITY = float("inf")


class Part(StrEnum):
    """How a candidate counts."""

    LINE = "line"
    SUPPLEMENT_LINE = "supplement line"
    REPLACED = "replaced line"
    SUBSTITUTE = "substitute"
    ADDED_FOOD = "added food"
    ADDED_SUPPLEMENT = "added supplement"
    STILL = "still"


ADDED = frozenset({Part.ADDED_FOOD, Part.ADDED_SUPPLEMENT, Part.SUBSTITUTE})


def part_of(c: Candidate, replaced: bool) -> Part:
    """How a candidate counts; what is fixed does not, and what is left out only where something can take
    its place."""
    if c.fixed:
        return Part.STILL
    if c.excluded:
        return Part.REPLACED if replaced and not c.is_supplement else Part.STILL
    if c.line is None:
        if c.is_supplement:
            return Part.ADDED_SUPPLEMENT
        return Part.ADDED_FOOD if c.instead_of is None else Part.SUBSTITUTE
    return Part.SUPPLEMENT_LINE if c.is_supplement else Part.LINE


@dataclass(frozen=True)
class Weights:
    """What counts of each candidate, (C,) each.

    part: how it counts. share: a line's share of the recipe, half by energy, half by weight. energy_share: a
    line's share of the energy of the lines that may move. stands_for: by line, how much of its grams a gram
    of each food that can take its place stands for.
    """

    part: tuple[Part, ...]
    share: FloatArray
    energy_share: FloatArray
    stands_for: Mapping[int, Mapping[int, float]]


def weights_of(problem: Problem) -> Weights:
    """The weights of a problem's candidates."""
    stands: dict[int, dict[int, float]] = {}
    for j, c in enumerate(problem.candidates):
        if c.instead_of is not None:
            stands.setdefault(c.instead_of, {})[j] = in_place(problem, j, c.instead_of)
    part = tuple(part_of(c, j in stands) for j, c in enumerate(problem.candidates))
    line = np.array([p in {Part.LINE, Part.REPLACED} for p in part])
    grams = np.where(line, problem.current, 0.0)
    energy = grams * problem.contents.kcal
    by_weight = grams / grams.sum() if grams.sum() > 0 else grams
    by_energy = energy / energy.sum() if energy.sum() > 0 else energy
    return Weights(part, (by_weight + by_energy) / 2, by_energy, stands)


def in_place(problem: Problem, j: int, line: int) -> float:
    """Grams of a line that a gram of another food stands for: by energy, or by weight for what has next to
    none."""
    contents = problem.contents
    if contents.kcal[line] < LEAN_KCAL_PER_G or contents.kcal[j] <= 0:
        return float(contents.fed[j] / contents.fed[line])
    return float(contents.kcal[j] / contents.kcal[line])


def count_cost(problem: Problem, c: Candidate) -> float:
    """What it costs that an item is added at all; what the chosen way of feeding would rather not see
    costs more."""
    rules = problem.shape
    plain = rules.added_food if c.instead_of is None else rules.substitute
    if c.is_supplement:
        plain = rules.supplement
    return plain + rules.against_school * problem.avoid.get(c.kind, 0.0)


def gram_cost(problem: Problem, part: Part, j: int) -> float:
    """What each gram of an added item costs."""
    rules, c = problem.shape, problem.candidates[j]
    energy = float(problem.contents.kcal[j]) / problem.kcal
    if part is Part.SUBSTITUTE:
        return rules.swapped_energy * energy
    if part is Part.ADDED_FOOD:
        weight = float(problem.contents.fed[j]) / problem.batch_grams
        return rules.added_energy * energy + rules.added_weight * weight
    dose = 1.0 / c.high_grams if c.high_grams > 0 else 0.0
    return rules.dose * dose + rules.supplement_energy * energy


def price_cost(problem: Problem) -> FloatArray:
    """(C,) what a gram costs for its price; 0 where no price is known."""
    if problem.cost_now <= 0:
        return np.zeros(len(problem.candidates))
    cost: FloatArray = problem.shape.cost * problem.prices_per_kg / 1000 / problem.cost_now
    return cost


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


def over_caps(problem: Problem, grams: FloatArray) -> bool:
    """Whether these (C,) grams are over a cap that gives way to minimums."""
    return any(
        float(cap_coefficients(problem, cap) @ grams) > SAME_SHARE
        for cap in problem.caps
        if cap.gives
    )


def with_caps_held(problem: Problem) -> Problem:
    """The problem in which no cap gives way."""
    return replace(problem, caps=tuple(replace(cap, gives=False) for cap in problem.caps))


def shape_value(problem: Problem, grams: FloatArray, weights: Weights | None = None) -> float:
    """How far (C,) grams are from the recipe's shape, at the factor that suits them best."""
    rules, weights = problem.shape, weights or weights_of(problem)
    fed = float(problem.contents.kcal @ grams) / problem.kcal
    worth = rules.energy * max(0.0, abs(fed - 1) - energy_now(problem))
    worth += float(price_cost(problem) @ grams)
    ratios, shares = [], []
    for j, (c, part) in enumerate(zip(problem.candidates, weights.part, strict=True)):
        x = float(grams[j])
        if part in {Part.LINE, Part.REPLACED} and c.current_grams > 0:
            there = x + sum(k * float(grams[i]) for i, k in weights.stands_for.get(j, {}).items())
            ratios.append(there / c.current_grams)
            shares.append(float(weights.share[j]))
            worth += rules.kept_cost * _beyond(problem, weights, j, there, fed)
        elif part is Part.SUPPLEMENT_LINE:
            size = max(c.current_grams, c.increment.grams)
            worth += rules.supplement_line * abs(x - c.current_grams) / size
        elif part in ADDED and x > NOTHING_G:
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
    away = np.abs(ratios - best_factor(problem, ratios, shares))
    return float(shares @ (away + rules.far_cost * np.maximum(away - rules.far, 0.0)))


def best_factor(problem: Problem, ratios: FloatArray, shares: FloatArray) -> float:
    """The factor of the whole recipe that the lines' own factors are nearest to; 1 without lines."""
    if not len(ratios):
        return 1.0
    rules = problem.shape
    edges = np.concatenate([ratios, ratios - rules.far, ratios + rules.far])
    factors = np.sort(np.clip(edges, rules.scale_least, rules.scale_most))
    away = np.abs(ratios[:, None] - factors[None, :])
    cost = away + rules.far_cost * np.maximum(away - rules.far, 0.0)
    return float(factors[np.argmin(shares @ cost)])


def _beyond(problem: Problem, weights: Weights, j: int, grams: float, fed: float) -> float:
    """By how much of the energy a main line leaves half to double of its share. fed: the energy of all, of what is asked
    for."""
    least, most = kept_between(problem, weights, j)
    share = float(problem.contents.kcal[j]) * grams / problem.kcal
    return max(0.0, least * fed - share, share - most * fed)


def kept_between(problem: Problem, weights: Weights, j: int) -> tuple[float, float]:
    """Between which shares of the energy a main line should stay; no bounds for a small one. What should be no more than
    a part of the energy, as oil, counts as if it were no more."""
    rules, share = problem.shape, float(weights.energy_share[j])
    if share < rules.kept_from:
        return -INFINITY, INFINITY
    most = [cap.most for cap in problem.caps if cap.of is CapOf.ENERGY and cap.members[j]]
    return rules.kept_least * min([share, *most]), rules.kept_most * share


def torn(problem: Problem, grams: FloatArray) -> bool:
    """Whether a main line, with what stands in its place, has less than half or more than double of its share of the
    energy at these (C,) grams."""
    weights = weights_of(problem)
    fed = float(problem.contents.kcal @ grams) / problem.kcal
    for j, part in enumerate(weights.part):
        if part in {Part.LINE, Part.REPLACED}:
            stands = weights.stands_for.get(j, {}).items()
            there = float(grams[j]) + sum(k * float(grams[i]) for i, k in stands)
            if _beyond(problem, weights, j, there, fed) > SAME_SHARE:
                return True
    return False


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
    for j, price in enumerate(price_cost(problem).tolist()):
        add(expression[j], price)
    fed = column(0.0, INFINITY)
    energy = {fed: -1.0}
    for terms, kcal in zip(expression, problem.contents.kcal.tolist(), strict=True):
        for at, value in terms.items():
            energy[at] = energy.get(at, 0.0) + value * kcal / problem.kcal
    row(energy, 0.0, 0.0)
    for j, (c, part) in enumerate(zip(problem.candidates, weights.part, strict=True)):
        if part in {Part.LINE, Part.REPLACED} and c.current_grams > 0:
            there = dict(expression[j])
            for i, grams in weights.stands_for.get(j, {}).items():
                for at, value in expression[i].items():
                    there[at] = there.get(at, 0.0) + grams * value
            ratio = {at: value / c.current_grams for at, value in there.items()}
            near, far = column(0.0, rules.far), column(0.0, INFINITY)
            row({**ratio, factor: -1.0, near: -1.0, far: -1.0}, -INFINITY, 0.0)
            row({**ratio, factor: -1.0, near: 1.0, far: 1.0}, 0.0, INFINITY)
            share = float(weights.share[j])
            add({near: share, far: share * (1 + rules.far_cost)}, 1.0)
            least, most = kept_between(problem, weights, j)
            if most < INFINITY:
                beyond = column(0.0, 0.0 if problem.keeps else INFINITY)
                mine = {
                    at: value * float(problem.contents.kcal[j]) / problem.kcal
                    for at, value in there.items()
                }
                row({**mine, fed: -least, beyond: 1.0}, 0.0, INFINITY)
                row({**mine, fed: -most, beyond: -1.0}, -INFINITY, 0.0)
                add({beyond: rules.kept_cost}, 1.0)
        elif part is Part.SUPPLEMENT_LINE:
            away = column(0.0, INFINITY)
            row({**expression[j], away: 1.0}, c.current_grams, INFINITY)
            row({**expression[j], away: -1.0}, -INFINITY, c.current_grams)
            add({away: rules.supplement_line / max(c.current_grams, c.increment.grams)}, 1.0)
        elif part in ADDED:
            add(expression[j], gram_cost(problem, part, j))
            add({present[j]: count_cost(problem, c)}, 1.0)
    under, over = column(0.0, INFINITY), column(0.0, INFINITY)
    row({fed: 1.0, under: 1.0}, 1.0 - energy_now(problem), INFINITY)
    row({fed: 1.0, over: -1.0}, -INFINITY, 1.0 + energy_now(problem))
    add({under: rules.energy, over: rules.energy}, 1.0)
    for cap in problem.caps:
        if cap.gives:
            excess = column(0.0, INFINITY)
            passed: dict[int, float] = {excess: -1.0}
            coefficients = cap_coefficients(problem, cap)
            for member in np.flatnonzero(coefficients).tolist():
                for at, value in expression[member].items():
                    passed[at] = passed.get(at, 0.0) + float(coefficients[member]) * value
            row(passed, -INFINITY, 0.0)
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
