"""What cannot hold together, and the least that would have to give way.

A conflict is a set of limits and choices that no amounts can satisfy and of which every member is
needed: without any one of them the rest can be met. It is found by leaving members out one after
another (deletion filter; Chinneck 2008, "Feasibility and Infeasibility in Optimization").
"""

from dataclasses import dataclass

import numpy as np

from ..foods import FloatArray
from .model import INFINITY, Group, Model
from .solver import Cancelled, Solver, clock

# Members are tried for leaving out in this order, so that what remains says most to a reader.
_ORDER = ("most", "least", "tie", "supplements", "min", "max", "excluded", "energy", "fixed")


@dataclass(frozen=True)
class Conflict:
    """Limits and choices that cannot hold together. `minimal` is False when time ran out."""

    members: tuple[Group, ...]
    minimal: bool


@dataclass(frozen=True)
class Loosening:
    """One way out: let `group` give way; grams of the solution that this makes possible."""

    group: Group
    grams: FloatArray


def _feasible(solver: Solver, seconds: float) -> bool | None:
    found = solver.minimise(np.zeros(solver.model.width), seconds)
    if found.state == "infeasible":
        return False
    return True if found.columns is not None else None


def is_feasible(
    model: Model, without: tuple[Group, ...] = (), seconds: float = 10.0
) -> bool | None:
    """Whether all limits and choices but `without` can hold together; None when time ran out."""
    solver = Solver(model, elastic=False)
    solver.release(without)
    return _feasible(solver, seconds)


def find_conflict(
    model: Model, seconds: float = 5.0, cancelled: Cancelled | None = None
) -> Conflict | None:
    """A minimal conflict, or None when everything can hold together."""
    ends = clock() + seconds
    loose = Solver(model, relaxed=True, elastic=False)
    members = sorted(model.groups(), key=lambda g: _ORDER.index(g.kind))
    if _feasible(loose, seconds) is False:
        members, _ = _filter(loose, members, ends, cancelled)
    whole = Solver(model, elastic=False, cancelled=cancelled)
    outside = [g for g in model.groups() if g not in set(members)]
    whole.release(outside)
    if _feasible(whole, ends - clock()) is not False:
        return None
    members, minimal = _filter(whole, members, ends, cancelled)
    return Conflict(tuple(reversed(members)), minimal)


def _filter(
    solver: Solver, members: list[Group], ends: float, cancelled: Cancelled | None
) -> tuple[list[Group], bool]:
    """Members that cannot be left out. Halves are tried whole first: most of them can go.

    A member is kept when the rest can be met without it; what is left out later only shrinks the
    rest, so every kept member stays necessary.
    """
    if not members:
        return [], True
    if clock() > ends or (cancelled is not None and cancelled()):
        return members, False
    solver.release(members)
    if _feasible(solver, ends - clock()) is False:
        return [], True
    solver.restore(members)
    if len(members) == 1:
        return members, True
    half = len(members) // 2
    first, first_sure = _filter(solver, members[:half], ends, cancelled)
    second, second_sure = _filter(solver, members[half:], ends, cancelled)
    return first + second, first_sure and second_sure


def loosenings(model: Model, conflict: Conflict, seconds: float = 3.0) -> list[Loosening]:
    """For each member that can give way alone, the least by which it must, most gentle first.

    Everything outside the member stays hard, so each is a whole way out, not only of this conflict.
    """
    found: list[tuple[float, Loosening]] = []
    ends = clock() + seconds
    for group in conflict.members:
        if clock() > ends:
            break
        for objective, solver in _attempts(model, group):
            outcome = solver.minimise(objective, ends - clock())
            if outcome.columns is not None:
                grams = model.amounts @ outcome.columns
                found.append((outcome.value, Loosening(group, grams)))
                break
    found.sort(key=lambda x: x[0])
    return [x for _, x in found]


def _attempts(model: Model, group: Group) -> list[tuple[FloatArray, Solver]]:
    objective = np.zeros(model.width)
    solver = Solver(model, elastic=False)
    if group.kind in {"min", "max"}:
        column = model.slack[group.key] if group.kind == "min" else model.give[group.key]
        solver.bound(column, 0.0, INFINITY)
        objective[column] = 1.0
        return [(objective, solver)]
    if group.kind in {"fixed", "excluded"}:
        ((column, low, high),) = model.choices[group]
        now = model.lower[column]
        if group.kind == "excluded":
            return []  # what must not be in the recipe does not give way
        less, more = Solver(model, elastic=False), Solver(model, elastic=False)
        less.bound(column, low, now)
        more.bound(column, now, high)
        objective[column] = 1.0 / max(now, 1.0)
        return [(-objective, less), (objective, more)]
    solver.release([group])
    weight = {"energy": "energy", "supplements": "fewest"}.get(group.kind, "near")
    return [(model.objectives[weight], solver)]


def together(model: Model, seconds: float = 3.0) -> FloatArray | None:
    """Grams of the recipe in which limits give way least, all counted as shares of their limits."""
    solver = Solver(model, elastic=False)
    objective = np.zeros(model.width)
    for column in (*model.slack.values(), *model.give.values()):
        solver.bound(column, 0.0, INFINITY)
        objective[column] = 1.0
    outcome = solver.minimise(objective, seconds)
    return None if outcome.columns is None else model.amounts @ outcome.columns
