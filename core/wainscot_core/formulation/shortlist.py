"""Which of what may be added is worth trying together, found in the continuous problem.

That an item is added at all costs something, however little of it: a fixed charge. Dynamic slope scaling
(Kim & Pardalos 1999, "A solution approach to the fixed charge network flow problem using a dynamic slope
scaling procedure") solves the continuous problem again and again, each time with every charge spread over
the amount that was used last, until the same few items stay. The integer problem over those is small.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from ..facts.foods import FloatArray
from .goals import goal_value
from .model import INFINITY, Model
from .solver import Solver

# The same items stay after a few rounds.
ROUNDS = 8
# So few can all be tried.
FEW = 12
# No charge is spread over less than this share of the most there may be.
LEAST_SHARE = 1e-3
USED_G = 1e-6
# What the continuous problem reached may be passed by this much: rounding.
HELD = 1e-6
SECONDS = 30.0


@dataclass(frozen=True)
class Shortlist:
    """Positions of added items to try, and what the continuous problem reached with them. narrow: few
    enough to be searched through."""

    items: frozenset[int]
    worth: float
    narrow: bool


def shortlists(model: Model, goals: Sequence[str]) -> Iterator[Shortlist]:
    """Items to try, a wider choice each time; everything at last."""
    candidates = model.problem.candidates
    every = frozenset(j for j, c in enumerate(candidates) if c.line is None)
    found = [] if len(every) <= FEW or model.problem.gap == 0 else _supports(model, goals)
    worth = INFINITY
    if found:
        worth, narrow = min(found, key=lambda s: s[0])
        supplements = frozenset(j for j in every if candidates[j].is_supplement)
        # Each holds the one before it, so that what was found can be begun from.
        more = narrow | found[-1][1]
        wide = more.union(supplements, *(items for _, items in found))
        tried: set[frozenset[int]] = set()
        for items in (narrow, more, more | supplements, wide):
            if items not in tried and items != every:
                tried.add(items)
                yield Shortlist(items, worth, True)
    yield Shortlist(every, worth, not found)


def closed(model: Model, items: frozenset[int]) -> dict[int, tuple[float, float]]:
    """Bounds that keep every other added item out."""
    return {
        int(column): (0.0, 0.0)
        for j, c in enumerate(model.problem.candidates)
        if c.line is None and j not in items
        for column in np.flatnonzero(model.amounts[j])
    }


def _supports(model: Model, goals: Sequence[str]) -> list[tuple[float, frozenset[int]]]:
    """(worth, items) of every round for the first goal that charges items, the goals before it held."""
    solver = Solver(model, relaxed=True)
    for goal in goals:
        objective = model.objectives[goal]
        charged = [j for j, y in model.present.items() if objective[y] > 0]
        if charged:
            return list(_rounds(model, solver, goal))
        found = solver.minimise(objective, SECONDS)
        if found.columns is None:
            return []
        solver.hold(objective, found.value + HELD * max(1.0, abs(found.value)))
    return []


def _rounds(model: Model, solver: Solver, goal: str) -> Iterator[tuple[float, frozenset[int]]]:
    objective = model.objectives[goal]
    used: dict[int, float] = {}
    cost: FloatArray = objective
    for _ in range(ROUNDS):
        found = solver.minimise(cost, SECONDS)
        if found.columns is None:
            return
        grams = model.amounts @ found.columns
        items = frozenset(
            j
            for j, c in enumerate(model.problem.candidates)
            if c.line is None and grams[j] > USED_G
        )
        yield goal_value(model, goal, grams), items
        cost = objective.copy()
        for j, y in model.present.items():
            room = model.rooms[j]
            if grams[j] > USED_G:
                used[j] = max(float(grams[j]) / room, LEAST_SHARE)
            if j in used:
                cost[y] = objective[y] / used[j]
