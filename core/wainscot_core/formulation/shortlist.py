"""Which of what may be added is worth trying together, found in the continuous problem.

That an item is added at all costs something, however little of it: a fixed charge. Dynamic slope scaling
(Kim & Pardalos 1999, "A solution approach to the fixed charge network flow problem using a dynamic slope
scaling procedure") solves the continuous problem again and again, each time with every charge spread over
the amount that was used last, until the same few items stay. The integer problem over those is small.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import islice

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
# Amounts that differ by no more than this share are the same.
STAYS = 1e-3
# What a supplement beyond the number that may come costs while items are looked for.
TOO_MANY = 2.0
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


@dataclass(frozen=True)
class Round:
    """One solution of the continuous problem: what it is worth, the items in it, (C,) grams."""

    worth: float
    items: frozenset[int]
    grams: FloatArray


def few(model: Model) -> bool:
    """Whether everything that may be added can be tried at once."""
    return sum(c.line is None for c in model.problem.candidates) <= FEW


def shortlists(model: Model, goals: Sequence[str]) -> Iterator[Shortlist]:
    """Items to try, a wider choice each time; everything at last."""
    candidates = model.problem.candidates
    every = frozenset(j for j, c in enumerate(candidates) if c.line is None)
    found = [] if few(model) or model.problem.gap == 0 else supports(model, goals)
    worth = INFINITY
    if found:
        best = min(found, key=lambda r: r.worth)
        worth, narrow = best.worth, best.items
        supplements = frozenset(j for j in every if candidates[j].is_supplement)
        # Each holds the one before it, so that what was found can be begun from.
        more = narrow | found[-1].items
        wide = more.union(supplements, *(r.items for r in found))
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


def supports(
    model: Model,
    goals: Sequence[str],
    out: frozenset[int] = frozenset(),
    reached: Mapping[str, float] | None = None,
    most: int = ROUNDS,
) -> list[Round]:
    """Every round for the first goal that charges items, the goals before it held: at `reached` where that is known.
    out: added items that are not tried. most: how many rounds."""
    every = frozenset(j for j, c in enumerate(model.problem.candidates) if c.line is None)
    solver = Solver(model, relaxed=True, opened=closed(model, every - out) if out else None)
    for goal in goals:
        objective = model.objectives[goal]
        charged = [j for j, y in model.present.items() if objective[y] > 0]
        if charged:
            return list(islice(_rounds(model, solver, goal), most))
        value = (reached or {}).get(goal)
        if value is None:
            found = solver.minimise(objective, SECONDS)
            if found.columns is None:
                return []
            value = found.value
        solver.hold(objective, value + HELD * max(1.0, abs(value)))
    return []


def _may_come(model: Model) -> int:
    """How many supplements may be in the recipe beside those that stay whatever happens."""
    stay = (c for c in model.problem.candidates if c.is_supplement and c.fixed)
    return model.problem.max_supplements - sum(c.current_grams > 0 for c in stay)


def _rounds(model: Model, solver: Solver, goal: str) -> Iterator[Round]:
    objective = model.objectives[goal]
    used: dict[int, float] = {}
    cost: FloatArray = objective
    count = solver.soft_row(float(_may_come(model)), TOO_MANY)
    before: FloatArray | None = None
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
        yield Round(goal_value(model, goal, grams), items, grams)
        if before is not None and np.allclose(grams, before, rtol=STAYS, atol=USED_G):
            return  # so it stays
        before = grams
        cost = objective.copy()
        for j, y in model.present.items():
            room = model.rooms[j]
            if grams[j] > USED_G:
                used[j] = max(float(grams[j]) / room, LEAST_SHARE)
            if j in used:
                cost[y] = objective[y] / used[j]
                if model.problem.candidates[j].is_supplement:
                    # Not more of them than may come, each counted by what was used of it.
                    solver.coefficient(count, y, 1 / used[j])
