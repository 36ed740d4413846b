"""What cannot hold together, and the least that would have to give way.

An impasse is a set of limits and choices that no amounts can satisfy and of which every member is
needed: without any one of them the rest can be met. It is found by leaving members out one after
another (deletion filter; Chinneck 2008, "Feasibility and Infeasibility in Optimization").
"""

from dataclasses import dataclass, field

import numpy as np

from ..facts.foods import FloatArray
from .model import INFINITY, Model
from .rows import Group, GroupKind
from .solver import Cancelled, Solver, bounds_of, clock

# Members are tried for leaving out in this order, so that what remains says most to a reader.
_ORDER = ("most", "least", "tie", "supplements", "cap", "min", "max", "excluded", "energy", "fixed")


@dataclass(frozen=True)
class Impasse:
    """Limits and choices that cannot hold together. `minimal` is False when time ran out."""

    members: tuple[Group, ...]
    minimal: bool


@dataclass(frozen=True)
class Loosening:
    """One way out: let `group` give way; grams of the solution that this makes possible."""

    group: Group
    grams: FloatArray


def _feasible(solver: Solver, seconds: float, presolve: bool = True) -> bool | None:
    found = solver.minimise(np.zeros(solver.model.width), seconds, presolve=presolve)
    if found.state == "infeasible":
        return False
    return True if found.columns is not None else None


def find_impasse(
    model: Model,
    seconds: float = 5.0,
    cancelled: Cancelled | None = None,
    elastic: bool = False,
) -> Impasse | None:
    """A minimal impasse, or None when everything can hold together.

    With `elastic`, minimums may fall short and are no members: why nothing at all can be proposed.
    """
    ends = clock() + seconds
    found = _find(model, ends, cancelled, elastic, presolve=True)
    if found is None:
        return None
    outside = frozenset(model.groups()) - frozenset(found.members)
    check = Solver(model, elastic=elastic, released=outside, cancelled=cancelled)
    if _feasible(check, ends - clock(), presolve=False) is not True:
        return found
    # Presolve called something impossible that is not: once more without it.
    return _find(model, ends, cancelled, elastic, presolve=False)


def _find(
    model: Model, ends: float, cancelled: Cancelled | None, elastic: bool, presolve: bool
) -> Impasse | None:
    groups = [g for g in model.groups() if not (elastic and g.kind is GroupKind.MIN)]
    members = sorted(groups, key=lambda g: _ORDER.index(g.kind))
    loose = _Filter(Solver(model, relaxed=True, elastic=elastic), ends, cancelled, presolve)
    if loose.feasible(frozenset()) is False:
        members = loose.needed(members)
    outside = frozenset(groups) - frozenset(members)
    whole = _Filter(
        Solver(model, elastic=elastic, cancelled=cancelled), ends, cancelled, presolve, set(outside)
    )
    if whole.feasible(outside) is not False:
        return None
    members = whole.needed(members)
    return Impasse(tuple(reversed(members)), not whole.ran_out)


@dataclass
class _Filter:
    """Finds the members that cannot be left out. `gone` are those left out for good."""

    solver: Solver
    ends: float
    cancelled: Cancelled | None
    presolve: bool
    gone: set[Group] = field(default_factory=set)
    ran_out: bool = False

    def feasible(self, released: frozenset[Group]) -> bool | None:
        """Whether the rest can hold together; None when time ran out."""
        self.solver.apply(released)
        return _feasible(self.solver, self.ends - clock(), self.presolve)

    def needed(self, members: list[Group]) -> list[Group]:
        """Members that cannot be left out. Halves are tried whole first: most of them can go.

        A member is kept when the rest can be met without it; what is left out later only shrinks
        the rest, so every kept member stays necessary.
        """
        if not members:
            return []
        if clock() > self.ends or (self.cancelled is not None and self.cancelled()):
            self.ran_out = True
            return members
        if self.feasible(frozenset(self.gone.union(members))) is False:
            self.gone.update(members)
            return []
        if len(members) == 1:
            return members
        half = len(members) // 2
        return self.needed(members[:half]) + self.needed(members[half:])


def loosenings(
    model: Model, impasse: Impasse, seconds: float = 3.0, elastic: bool = False
) -> list[Loosening]:
    """For each member that can give way alone, the least by which it must, most gentle first.

    Everything outside the member stays hard, so each is a whole way out, not only of this impasse.
    """
    found: list[tuple[float, Loosening]] = []
    ends = clock() + seconds
    for group in impasse.members:
        if clock() > ends:
            break
        for objective, solver in _attempts(model, group, elastic):
            outcome = solver.minimise(objective, ends - clock())
            if outcome.columns is not None:
                grams = model.amounts @ outcome.columns
                found.append((outcome.value, Loosening(group, grams)))
                break
    found.sort(key=lambda x: x[0])
    return [x for _, x in found]


def _attempts(model: Model, group: Group, elastic: bool) -> list[tuple[FloatArray, Solver]]:
    objective = np.zeros(model.width)
    if group.kind in {"min", "max"}:
        column = model.slack[group] if group.kind is GroupKind.MIN else model.give[group]
        objective[column] = 1.0
        return [(objective, Solver(model, elastic=elastic, opened={column: (0.0, INFINITY)}))]
    if group.kind is GroupKind.EXCLUDED:
        return []  # what must not be in the recipe does not give way
    if group.kind is GroupKind.FIXED:
        column = model.choices[group][0].column
        now = float(model.lower[column])
        free = bounds_of(model, frozenset({group}))
        less = Solver(model, elastic=elastic, opened={column: (float(free.lower[column]), now)})
        more = Solver(model, elastic=elastic, opened={column: (now, float(free.upper[column]))})
        objective[column] = 1.0 / max(now, 1.0)
        return [(-objective, less), (objective, more)]
    weight = {"energy": "energy", "supplements": "fewest"}.get(group.kind, "near")
    solver = Solver(model, elastic=elastic, released=frozenset({group}))
    return [(model.objectives[weight], solver)]


def together(model: Model, seconds: float = 3.0) -> FloatArray | None:
    """Grams of the recipe in which limits give way least, all counted as shares of their limits."""
    open_columns = [*model.slack.values(), *model.give.values()]
    solver = Solver(model, elastic=False, opened=dict.fromkeys(open_columns, (0.0, INFINITY)))
    objective = np.zeros(model.width)
    objective[open_columns] = 1.0
    outcome = solver.minimise(objective, seconds)
    return None if outcome.columns is None else model.amounts @ outcome.columns
