"""What the limits that bind cost: the same problem once more without the limit.

A limit binds when the adjusted recipe lies at it. Its cost is read off the continuous problem:
how the amounts would be if only this limit were not there.
"""

from dataclasses import dataclass

import numpy as np

from ..facts.foods import FloatArray
from .model import Model
from .rows import Group, GroupKind
from .solver import Solver

# A limit binds when the recipe is within this share of it.
AT_LIMIT = 0.02
MOST_COSTS = 12


@dataclass(frozen=True)
class LimitCost:
    """A binding limit. candidate: whose amount it changes most, None when the limit costs nothing.

    with_grams, without_grams: that amount with and without the limit, in the continuous problem.
    saving: what the first movable goal (change of the recipe, or price) would gain.
    """

    group: Group
    candidate: int | None
    with_grams: float
    without_grams: float
    saving: float


def binding(model: Model, grams: FloatArray) -> list[Group]:
    """Limits that the recipe lies at, tightest first."""
    found = []
    for limit in model.limits.held:
        room = float(limit.coefficients @ grams)
        if room < AT_LIMIT:
            found.append((room, limit.group))
    return [group for _, group in sorted(found, key=lambda x: x[0])]


def limit_costs(model: Model, grams: FloatArray) -> tuple[LimitCost, ...]:
    """The binding limits and what each costs."""
    problem = model.problem
    goal = "cost" if problem.mode == "cheapest" and np.any(model.objectives["cost"]) else "near"
    objective = model.objectives[goal] + 0.001 * model.objectives["fewest"]
    # Only what the recipe holds may take part, so that the words speak of it.
    shut = {
        int(column): (0.0, 0.0)
        for j, c in enumerate(problem.candidates)
        if c.line is None and grams[j] == 0
        for column in np.flatnonzero(model.amounts[j])
    }
    solver = Solver(model, relaxed=True, elastic=False, opened=shut)
    base = solver.minimise(objective, 1.0)
    if base.columns is None:
        return ()
    with_limit = model.amounts @ base.columns
    scale = np.array([max(c.current_grams, problem.batch_grams / 16) for c in problem.candidates])
    found = []
    for group in binding(model, grams)[:MOST_COSTS]:
        solver.apply(frozenset({group}))
        loose = solver.minimise(objective, 1.0)
        if loose.columns is None:
            continue
        saving = base.value - loose.value
        without = model.amounts @ loose.columns
        # A maximum takes food away, a minimum asks for some.
        taken = (without - with_limit) / scale * (1 if group.kind is GroupKind.MAX else -1)
        position = int(np.argmax(taken)) if saving > 1e-4 and taken.max() > 0.01 else None
        found.append(
            LimitCost(
                group, position,
                float(with_limit[position]) if position is not None else 0.0,
                float(without[position]) if position is not None else 0.0,
                max(0.0, saving),
            )
        )  # fmt: skip
    return tuple(found)
