"""What amounts in steps cost: the solver's rows once more, over grams alone.

Every term is a weight times what a linear form of the grams is below nothing, beside what it costs that an item
is there at all, so that many amounts can be weighed in one product.
"""

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from ..facts.foods import FloatArray
from .model import LEAST_FED, Model, tightest
from .problem import Candidate, Problem
from .rows import RESERVE, GroupKind
from .shape import (
    ADDED,
    Part,
    Weights,
    cap_coefficients,
    count_cost,
    energy_now,
    gram_cost,
    kept_between,
    premixes,
    price_cost,
)

# What may not be broken, what comes before the shape of a recipe, and the shape.
HARD, ENERGY, MINIMUM, ADVICE = 1e5, 1e4, 1e3, 1e2


@dataclass(frozen=True)
class Ground:
    """The terms over (C,) grams.

    columns (C, R), there (C, R), offset (R,), turn (R,), weight (R,): a row counts its weight times what grams @
    columns + (grams > 0) @ there + offset + turn * factor is below 0, where the factor is that of the whole recipe.
    advised: (R,) 1 for rows that may together be missed by `leave`. stands: (C, L) how many times a line a gram
    stands for; shares: (L,) of the lines. linear: (C,) cost per gram; charge: (C,) cost of an item. added: (C,) what
    is no line. table: (C, most levels) the amounts each candidate may have, ascending, of which it has `most_level`.
    """

    problem: Problem
    columns: FloatArray
    there: FloatArray
    offset: FloatArray
    turn: FloatArray
    weight: FloatArray
    advised: FloatArray
    leave: float
    stands: FloatArray
    shares: FloatArray
    linear: FloatArray
    charge: FloatArray
    added: NDArray[np.bool_]
    table: FloatArray
    most_level: NDArray[np.intp]


def ground_of(model: Model, advice_missed: float) -> Ground:
    """The terms of a model. advice_missed: what of the advice cannot be followed by any amounts."""
    problem = model.problem
    weights = model.weights
    parts = weights.part
    charge = np.array([count_cost(problem, c) for c in problem.candidates])
    linear = price_cost(problem) + np.array(
        [gram_cost(problem, p, j) if p in ADDED else 0.0 for j, p in enumerate(parts)]
    )
    counted = np.array([p in ADDED for p in parts])
    caps = tightest(problem)
    levels = [
        levels_of(c, float(cap), problem.noise)
        for c, cap in zip(problem.candidates, caps, strict=True)
    ]
    most_level = np.array([len(x) for x in levels])
    table = np.full((len(levels), int(most_level.max())), np.inf)
    for j, amounts in enumerate(levels):
        table[j, : len(amounts)] = amounts
    stands, shares = _lines(problem, weights)
    terms = _terms(model, weights).then(_departures(problem, stands, shares)).then(_counts(problem))
    return Ground(
        problem, np.ascontiguousarray(terms.per_gram.T), np.ascontiguousarray(terms.there.T),
        terms.offset, terms.turn, terms.weight, terms.advised,
        advice_missed + problem.room.get("advice", 0.0), stands, shares, linear,
        np.where(counted, charge, 0.0), np.array([c.line is None for c in problem.candidates]),
        table, most_level,
    )  # fmt: skip


@dataclass(frozen=True)
class _Terms:
    """Rows of a ground: (R, C) per gram and for being there, the others (R,)."""

    per_gram: FloatArray
    there: FloatArray
    offset: FloatArray
    turn: FloatArray
    weight: FloatArray
    advised: FloatArray

    def then(self, other: "_Terms") -> "_Terms":
        """These and the others."""
        pairs = ((getattr(self, f.name), getattr(other, f.name)) for f in fields(self))
        return _Terms(*(np.concatenate(pair) for pair in pairs))


def _lines(problem: Problem, weights: Weights) -> tuple[FloatArray, FloatArray]:
    """(C, L) how many times a line a gram stands for, and (L,) the lines' shares of the recipe."""
    mine = [
        j
        for j, p in enumerate(weights.part)
        if p in {Part.LINE, Part.REPLACED} and problem.candidates[j].current_grams > 0
    ]
    stands = np.zeros((len(weights.part), len(mine)))
    for i, j in enumerate(mine):
        current = problem.candidates[j].current_grams
        stands[j, i] = 1 / current
        for k, per_gram in weights.stands_for.get(j, {}).items():
            stands[k, i] = per_gram / current
    return stands, weights.share[mine]


def _departures(problem: Problem, stands: FloatArray, shares: FloatArray) -> _Terms:
    """How far each line's own factor is above and below that of the recipe, and how much of it is far."""
    rules, count = problem.shape, len(shares)
    one = np.ones(count)
    rows = np.vstack([stands.T, -stands.T])
    return _Terms(
        np.vstack([rows, rows]), np.zeros((4 * count, len(problem.candidates))),
        np.repeat([0.0, rules.far], 2 * count), np.concatenate([-one, one, -one, one]),
        np.tile(shares, 4) * np.repeat([1.0, rules.far_cost], 2 * count), np.zeros(4 * count),
    )  # fmt: skip


def _counts(problem: Problem) -> _Terms:
    """How many supplements and premixes there may be, and items beside a premix."""
    candidates = problem.candidates
    free = np.array([not c.fixed and not c.excluded for c in candidates])
    supplement = np.array([c.is_supplement for c in candidates])
    taken = sum(c.is_supplement and c.fixed and c.current_grams > 0 for c in candidates)
    may_go, kept = premixes(problem)
    premix = np.zeros(len(candidates))
    premix[may_go] = 1.0
    added = np.array([c.line is None for c in candidates])
    # Without a premix this asks nothing.
    many = max(int(added.sum()) - problem.most_items, 0)
    most = [problem.max_supplements - taken, max(0, 1 - kept), problem.most_items + many]
    there = -np.array([free & supplement, premix, added + many * premix], dtype=np.float64)
    return _Terms(
        np.zeros_like(there), there, np.array(most, dtype=np.float64), np.zeros(3),
        np.full(3, HARD), np.zeros(3),
    )  # fmt: skip


def levels_of(c: Candidate, cap: float, noise: float = 0.0) -> FloatArray:
    """The amounts a candidate may have, g, ascending. noise: the share of a line below which a change is
    none."""
    if c.excluded:
        return np.zeros(1)
    if c.fixed:
        return np.array([c.current_grams])
    step = c.increment.grams
    least = int(np.ceil(c.low_grams / step - 1e-9))
    most = int(max(np.floor(min(c.high_grams, cap) / step + 1e-9), least))
    found = np.arange(least, most + 1) * step
    counted = c.line is None or c.is_supplement
    if counted and c.least_grams > step:
        found = found[(found <= 0) | (found >= c.least_grams - 1e-9)]
    if noise and c.line is not None and c.increment.unit == "g":
        # A change that nobody would weigh anew is none.
        found = found[np.abs(found - c.current_grams) >= noise * c.current_grams]
    if c.low_grams <= c.current_grams <= min(c.high_grams, max(cap, c.current_grams)):
        found = np.append(found, c.current_grams)
    unique: FloatArray = np.unique(np.round(found, 9))
    return unique


def _terms(model: Model, weights: Weights) -> _Terms:
    problem = model.problem
    contents, rules = problem.contents, problem.shape
    rows: list[FloatArray] = []
    offset: list[float] = []
    weight: list[float] = []
    advised: list[bool] = []

    def term(row: FloatArray, off: float, cost: float, advice: bool = False) -> None:
        rows.append(row)
        offset.append(off)
        weight.append(cost)
        advised.append(advice)

    for limit in model.limits.held:
        term(limit.coefficients, 0.0, MINIMUM if limit.group.kind is GroupKind.MIN else HARD)
    given = np.array([c.dosed for c in problem.candidates])
    for key, most in problem.added_most.items():
        high = contents.high[:, problem.catalogue.index(key)]
        room = most * (1 - RESERVE) * contents.kcal / 1000.0
        term((room - np.where(given, high, 0.0)) / most, 0.0, HARD)
    for limit in model.limits.advised:
        term(limit.coefficients, 0.0, rules.advice, True)
    for limit in model.limits.aimed:
        term(limit.coefficients, 0.0, problem.aim.cost if problem.aim else 0.0)
    energy = contents.kcal / problem.kcal
    if problem.energy_free:
        frame = problem.energy_frame
        term(energy, -max(1 - frame, LEAST_FED), HARD)
        term(-energy, 1 + frame, HARD)
    term(energy, problem.energy_band - 1, ENERGY)
    term(-energy, 1 + problem.energy_band, ENERGY)
    now = energy_now(problem)
    term(energy, now - 1, rules.energy)
    term(-energy, 1 + now, rules.energy)
    for cap in problem.caps:
        term(-cap_coefficients(problem, cap), 0.0, rules.cap_cost if cap.gives else HARD)
    for j, (c, part) in enumerate(zip(problem.candidates, weights.part, strict=True)):
        alone = np.zeros(len(problem.candidates))
        alone[j] = 1.0
        if part in {Part.LINE, Part.REPLACED} and c.current_grams > 0:
            least, most = kept_between(problem, weights, j)
            if np.isfinite(most):
                together = alone.copy()
                for k, per_gram in weights.stands_for.get(j, {}).items():
                    together[k] = per_gram
                share = together * float(contents.kcal[j]) / problem.kcal
                stays = HARD if problem.keeps else rules.kept_cost
                term(share - least * energy, 0.0, stays)
                term(most * energy - share, 0.0, stays)
        elif part is Part.SUPPLEMENT_LINE:
            size = max(c.current_grams, c.increment.grams)
            term(alone / size, -c.current_grams / size, rules.supplement_line)
            term(-alone / size, c.current_grams / size, rules.supplement_line)
        if c.tie is not None:
            apart = alone.copy()
            apart[c.tie.to] -= c.tie.ratio
            half = c.increment.grams / 2
            term(apart / half, 1.0, HARD)
            term(-apart / half, 1.0, HARD)
    coefficients = np.array(rows)
    return _Terms(
        coefficients, np.zeros_like(coefficients), np.array(offset), np.zeros(len(offset)),
        np.array(weight), np.array(advised, dtype=np.float64),
    )  # fmt: skip
