"""From amounts without steps to amounts a person can measure, by small moves.

What the solver's rows ask is written once more over grams alone: every term is a weight times what a linear
form of the grams is below nothing, beside what it costs that an item is there at all. A move (another amount
of one item, or of two at once) is then a column of a matrix, and hundreds are weighed in one product.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..facts.foods import FloatArray
from .model import LEAST_FED, Model, tightest
from .problem import Candidate, Problem
from .rows import RESERVE, GroupKind
from .shape import (
    ADDED,
    NOTHING_G,
    Part,
    Weights,
    best_factor,
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
STRIDES = np.array([1, 2, 4, 8, 16])
# Of the moves of one item, how many are tried two at a time.
PAIRED = 48
MOST_MOVES = 400
# Limits are soft at first, so that a way leads past them.
STIFFNESS = (0.01, 0.1)
BETTER = 1e-9


@dataclass(frozen=True)
class Ground:
    """The terms over (C,) grams. columns (C, R), offset (R,), weight (R,): a row counts its weight times what
    grams @ columns + offset is below 0. advised: (R,) 1 for rows that may together be missed by `leave`. stands: (C, L)
    how many times a line a gram stands for; shares: (L,) of the lines. linear: (C,) cost per gram. charge:
    (C,) cost of an item. supplements, added, premix: (C,) 1 for who counts. table: (C, most levels) the
    amounts each candidate may have, ascending, of which it has `most_level`.
    """

    problem: Problem
    columns: FloatArray
    offset: FloatArray
    weight: FloatArray
    advised: FloatArray
    leave: float
    stands: FloatArray
    shares: FloatArray
    linear: FloatArray
    charge: FloatArray
    supplements: FloatArray
    added: FloatArray
    premix: FloatArray
    most_supplements: int
    most_premixes: int
    table: FloatArray
    most_level: NDArray[np.intp]


def ground_of(model: Model, advice_missed: float) -> Ground:
    """The terms of a model. advice_missed: what of the advice cannot be followed by any amounts."""
    problem = model.problem
    weights = model.weights
    rows, offset, weight, advised = _terms(model, weights)
    parts = weights.part
    charge = np.array([count_cost(problem, c) for c in problem.candidates])
    linear = price_cost(problem) + np.array(
        [gram_cost(problem, p, j) if p in ADDED else 0.0 for j, p in enumerate(parts)]
    )
    counted = np.array([p in ADDED for p in parts])
    free = np.array([not c.fixed and not c.excluded for c in problem.candidates])
    mine = [
        j
        for j, p in enumerate(parts)
        if p in {Part.LINE, Part.REPLACED} and problem.candidates[j].current_grams > 0
    ]
    stands = np.zeros((len(parts), len(mine)))
    for i, j in enumerate(mine):
        current = problem.candidates[j].current_grams
        stands[j, i] = 1 / current
        for k, per_gram in weights.stands_for.get(j, {}).items():
            stands[k, i] = per_gram / current
    may_go, kept = premixes(problem)
    premix = np.zeros(len(parts))
    premix[may_go] = 1.0
    caps = tightest(problem)
    taken = sum(
        1 for c in problem.candidates if c.is_supplement and c.fixed and c.current_grams > 0
    )
    levels = [
        levels_of(c, float(cap), problem.noise)
        for c, cap in zip(problem.candidates, caps, strict=True)
    ]
    most_level = np.array([len(x) for x in levels])
    table = np.full((len(levels), int(most_level.max())), np.inf)
    for j, amounts in enumerate(levels):
        table[j, : len(amounts)] = amounts
    return Ground(
        problem, np.ascontiguousarray(rows.T), offset, weight, advised.astype(np.float64),
        advice_missed + problem.room.get("advice", 0.0), stands, weights.share[mine], linear,
        np.where(counted, charge, 0.0),
        (free & np.array([c.is_supplement for c in problem.candidates])).astype(np.float64),
        np.array([float(c.line is None) for c in problem.candidates]), premix,
        problem.max_supplements - taken, max(0, 1 - kept), table, most_level,
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


def _terms(
    model: Model, weights: Weights
) -> tuple[FloatArray, FloatArray, FloatArray, NDArray[np.bool_]]:
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
                for k, per_gram in weights.stands_for.get(j, {}).items():
                    alone[k] = per_gram
                share = alone * float(contents.kcal[j]) / problem.kcal
                term(share, -least, rules.kept_cost)
                term(-share, most, rules.kept_cost)
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
    return np.array(rows), np.array(offset), np.array(weight), np.array(advised)


@dataclass(frozen=True)
class _Counts:
    """What items count for by themselves, at one place (scalars) or of many moves from it (M,): the cost of
    their grams and of their being there; how many supplements, added items and premixes there are."""

    cost: FloatArray
    supplements: FloatArray
    added: FloatArray
    premix: FloatArray

    def plus(self, other: "_Counts") -> "_Counts":
        """Both together."""
        return _Counts(
            self.cost + other.cost, self.supplements + other.supplements, self.added + other.added,
            self.premix + other.premix,
        )  # fmt: skip

    def at(self, which: NDArray[np.intp]) -> "_Counts":
        """Those of some moves."""
        return _Counts(
            self.cost[which], self.supplements[which], self.added[which], self.premix[which]
        )


@dataclass(frozen=True)
class _Place:
    """Where the search is: which level each item is at, grams, the rows' values there, the lines' own
    factors, the factor of the portion, what the items count for, the cost."""

    level: NDArray[np.intp]
    grams: FloatArray
    values: FloatArray
    ratios: FloatArray
    factor: float
    counts: _Counts
    cost: float


@dataclass(frozen=True)
class _Moves:
    """Moves of one item each: (M,) which item, to which level, by how many grams, what changes of what items count
    for, the cost there."""

    items: NDArray[np.intp]
    level: NDArray[np.intp]
    change: FloatArray
    counts: _Counts
    cost: FloatArray


def settle(ground: Ground, start: FloatArray) -> tuple[FloatArray, float]:
    """The measurable grams near `start` that no small move makes better, and their cost."""
    level = np.argmin(np.abs(ground.table - start[:, None]), axis=1)
    for stiffness in STIFFNESS:
        level = _descend(replace(ground, weight=_softer(ground.weight, stiffness)), level).level
    found = _descend(ground, level)
    return found.grams, found.cost


def without_each(
    ground: Ground, grams: FloatArray, cost: float, enough: float
) -> tuple[FloatArray, float]:
    """From settled grams, each added item taken out and kept out in turn, the rest settled anew, until that
    helps no more or the cost is low enough."""
    level = np.argmin(np.abs(ground.table - grams[:, None]), axis=1)
    tried: set[int] = set()
    while cost > enough:
        items = np.flatnonzero((ground.added > 0) & (level > 0)).tolist()
        left = [j for j in items if j not in tried]
        if not left:
            break
        # The dearest item first.
        j = max(left, key=lambda k: (ground.charge[k] + ground.linear[k] * grams[k], -k))
        tried.add(j)
        most = ground.most_level.copy()
        most[j] = 1
        start = level.copy()
        start[j] = 0
        soft = replace(ground, most_level=most, weight=_softer(ground.weight, STIFFNESS[-1]))
        found = _descend(replace(ground, most_level=most), _descend(soft, start).level)
        if found.cost < cost - BETTER:
            cost, level = found.cost, found.level
            grams = found.grams
    return ground.table[np.arange(len(level)), level], cost


def _softer(weight: FloatArray, stiffness: float) -> FloatArray:
    """Limits that may be passed for a while on the way to better amounts."""
    return np.where(weight >= MINIMUM, weight * stiffness, weight)


def _descend(ground: Ground, level: NDArray[np.intp]) -> _Place:
    at = _at(ground, level)
    for _ in range(MOST_MOVES):
        moves = _moves(ground, at, *_spots(ground, at))
        if not len(moves.items):
            break
        best = int(np.argmin(moves.cost))
        if moves.cost[best] < at.cost - BETTER:
            chosen: tuple[int, ...] = (best,)
        else:
            pair = _pair_of(ground, at, moves)
            if pair is None:
                break
            chosen = pair
        level = at.level.copy()
        level[moves.items[list(chosen)]] = moves.level[list(chosen)]
        at = _at(ground, level)
    return at


def _at(ground: Ground, level: NDArray[np.intp]) -> _Place:
    grams = ground.table[np.arange(len(level)), level]
    values = grams @ ground.columns + ground.offset
    ratios = grams @ ground.stands
    factor = best_factor(ground.problem, ratios, ground.shares)
    there = (grams > NOTHING_G).astype(np.float64)
    counts = _Counts(
        grams @ ground.linear + there @ ground.charge, there @ ground.supplements,
        there @ ground.added, there @ ground.premix,
    )  # fmt: skip
    cost = _costs(ground, values[None].copy(), slice(None), ratios[None], factor, counts)
    return _Place(level, grams, values, ratios, factor, counts, float(cost[0]))


def _spots(ground: Ground, at: _Place) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Every move of one item, (M,) items and levels: some levels up or down, to nothing, to the least."""
    here = at.level[:, None]
    spots = np.hstack([here + STRIDES, here - STRIDES, np.zeros_like(here), np.ones_like(here)])
    fits = (spots >= 0) & (spots < ground.most_level[:, None]) & (spots != here)
    items, place = np.nonzero(fits)
    return items, spots[items, place]


def _moves(ground: Ground, at: _Place, items: NDArray[np.intp], level: NDArray[np.intp]) -> _Moves:
    """What it costs to take each item to its level."""
    change = ground.table[items, level] - at.grams[items]
    was, now = at.grams[items] > NOTHING_G, at.grams[items] + change > NOTHING_G
    comes = now.astype(np.float64) - was
    counts = _Counts(
        ground.linear[items] * change + ground.charge[items] * comes,
        ground.supplements[items] * comes, ground.added[items] * comes, ground.premix[items] * comes,
    )  # fmt: skip
    cost = np.empty(0)
    if len(items):
        shift = ground.columns[items] * change[:, None]
        rows = np.flatnonzero(at.values + shift.min(axis=0) < 0)
        values = at.values[rows] + shift[:, rows]
        ratios = at.ratios + ground.stands[items] * change[:, None]
        cost = _costs(ground, values, rows, ratios, at.factor, at.counts.plus(counts))
    return _Moves(items, level, change, counts, cost)


def _pair_of(ground: Ground, at: _Place, moves: _Moves) -> tuple[int, int] | None:
    """The best two moves at once; None when no two are better."""
    order = np.argsort(moves.cost, kind="stable")
    found = _best_pair(ground, at, moves, order[:PAIRED])
    if found is None:
        # Every item's best way up and down: what comes in may have to be paid for by what goes.
        ways: dict[tuple[int, bool], int] = {}
        for k in order.tolist():
            ways.setdefault((int(moves.items[k]), bool(moves.change[k] > 0)), k)
        found = _best_pair(ground, at, moves, np.array(sorted(ways.values())))
    return found


def _best_pair(
    ground: Ground, at: _Place, moves: _Moves, order: NDArray[np.intp]
) -> tuple[int, int] | None:
    one, two = np.triu_indices(len(order), 1)
    items, change = moves.items[order], moves.change[order]
    apart = items[one] != items[two]
    one, two = one[apart], two[apart]
    if not len(one):
        return None
    shift = ground.columns[items] * change[:, None]
    # Rows that no two of these moves take below nothing count nothing.
    rows = np.flatnonzero(at.values + 2 * np.minimum(shift.min(axis=0), 0.0) < 0)
    shift = shift[:, rows]
    values = at.values[rows] + shift[one] + shift[two]
    turn = ground.stands[items] * change[:, None]
    counts = moves.counts.at(order)
    together = at.counts.plus(counts.at(one)).plus(counts.at(two))
    ratios = at.ratios + turn[one] + turn[two]
    found = _costs(ground, values, rows, ratios, at.factor, together)
    best = int(np.argmin(found))
    if found[best] >= at.cost - BETTER:
        return None
    return int(order[one[best]]), int(order[two[best]])


def _costs(
    ground: Ground,
    values: FloatArray,
    rows: NDArray[np.intp] | slice,
    ratios: FloatArray,
    factor: float,
    counts: _Counts,
) -> FloatArray:
    """(M,) cost of (M, R) values of those rows that may be below nothing, (M, L) ratios and what the items count for.
    The values are overwritten."""
    rules = ground.problem.shape
    below = np.minimum(values, 0.0, out=values)
    cost = counts.cost - below @ ground.weight[rows]
    missed = -(below @ ground.advised[rows])
    cost += ADVICE * np.maximum(missed - ground.leave, 0.0)
    away = np.abs(ratios - factor)
    cost += (away + rules.far_cost * np.maximum(away - rules.far, 0.0)) @ ground.shares
    cost += HARD * np.maximum(counts.supplements - ground.most_supplements, 0.0)
    cost += HARD * np.maximum(counts.premix - ground.most_premixes, 0.0)
    beside = np.maximum(counts.added - ground.problem.most_items, 0.0)
    cost += HARD * np.where(counts.premix > 0, beside, 0.0)
    total: FloatArray = cost
    return total
