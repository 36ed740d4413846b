"""Limits whose minimum and ceiling leave nothing between them: decided in the targets, not here.

Until somebody has decided, the ceiling is kept and nothing is done for the minimum: copper is no thing to add for a
dog whose liver stores it, whatever a standard asks. A recipe can be seen all the same; it is short, and says so.
"""

from ..targets.basis import BasisRules
from ..targets.requirements import is_shut
from ..targets.standards import RequirementSet
from .impasse import Impasse, Loosening, harm_of
from .problem import Problem
from .rows import Group, GroupKind


def apart(requirements: RequirementSet, rules: BasisRules) -> tuple[str, ...]:
    """Nutrients and ratios with a shut window."""
    limits = requirements.limits.items()
    return tuple(key for key, limit in limits if is_shut(limit.minimum, limit.ceiling, rules))


def shut(problem: Problem, rules: BasisRules) -> tuple[Impasse, ...]:
    """The shut windows of a problem, each as what cannot hold together, with what would open it."""
    return tuple(_shut(problem, key, rules) for key in problem.apart)


def _shut(problem: Problem, key: str, rules: BasisRules) -> Impasse:
    limit = problem.requirements.limits[key]
    least, most = Group(GroupKind.MIN, key), Group(GroupKind.MAX, key)
    under = (limit.ceiling or 0.0) * (1 - rules.room)
    over = (limit.minimum or 0.0) * (1 + rules.room)
    if limit.safe is not None:
        over = min(over, limit.safe)
    ways = []
    for group, value in ((least, under), (most, over)):
        harm = harm_of(problem, group)
        if harm is None or (group is most and is_shut(limit.minimum, over, rules)):
            continue  # a safe limit never gives way
        ways.append(Loosening(group, problem.current, harm, value))
    ways.sort(key=lambda way: way.harm)
    return Impasse(problem, (least, most), True, ways=tuple(ways), shut=True)
