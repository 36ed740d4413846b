"""What cannot hold together, and the least that would have to give way.

An impasse is a set of limits and choices that no amounts can satisfy and of which every member is
needed: without any one of them the rest can be met. It is found by leaving members out one after
another (deletion filter; Chinneck 2008, "Feasibility and Infeasibility in Optimization"), most of them
at once where the multipliers of the continuous problem say that they do not matter (Farkas).
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

import numpy as np

from ..facts.foods import FloatArray
from ..targets.standards import Limit, Origin, Sets, Strength
from .bounds import SOURCE
from .model import A_BOWL, INFINITY, Model, Side
from .problem import Problem
from .rows import Group, GroupKind
from .solver import Cancelled, Outcome, Solver, bounds_of

# Members are tried for leaving out in this order, so that what remains says most to a reader.
_ORDER = (
    "most", "least", "tie", "supplements", "cap", "offer", "strength", "ruled", "min", "max", "excluded",
    "energy", "fixed",
)  # fmt: skip

# In this order they are told: what is asked for, then what stands in its way.
_TOLD = (
    "min", "max", "energy", "fixed", "least", "most", "tie", "cap", "supplements", "offer", "strength",
    "excluded", "ruled",
)  # fmt: skip

# Nodes of the search behind one question whether amounts in whole steps exist; behind a way out.
PROBE_NODES = 40
WAY_NODES = 200
SECONDS = 30.0
# A multiplier under this is rounding.
NO_PRICE = 1e-9
# Impasses that are told: of minimums that cannot hold by themselves, and of several limits.
MOST, MOST_JOINT = 24, 4
# Where more minimums than this stand together, that one of them is lowered is no news.
MOST_LOWERED = 4
# What differs by less is the same.
PAST = 1e-4
# How much more or less energy than asked can be a way out.
FED = 0.25
# The most harmful way out; see harm_of.
WITH_VET = 5


@dataclass(frozen=True)
class Loosening:
    """One way out: let `group` give way; grams of the solution that this makes possible. harm: see harm_of. value: to
    where, None for as far as these grams go."""

    group: Group
    grams: FloatArray
    harm: int = 0
    value: float | None = None


@dataclass(frozen=True)
class Impasse:
    """Limits and choices of a problem that cannot hold together.

    minimal: False when the effort for one question was not enough. each: every minimum in it cannot hold with the
    other members, whatever the other minimums. ways: what could give way, the least harmful first. relief:
    grams with which limits give way least, where no single way out is enough. shut: a minimum and a ceiling of the
    same nutrient or ratio that leave nothing between them.
    """

    problem: Problem
    members: tuple[Group, ...]
    minimal: bool
    each: bool = False
    ways: tuple[Loosening, ...] = ()
    relief: FloatArray | None = None
    shut: bool = False

    def limits(self) -> frozenset[Group]:
        """What it is about: its minimums; where there is none its maximums, or else all of it but the energy."""
        for kind in (GroupKind.MIN, GroupKind.MAX):
            found = frozenset(g for g in self.members if g.kind is kind)
            if found:
                return found
        others = frozenset(g for g in self.members if g.kind is not GroupKind.ENERGY)
        return others or frozenset(self.members)


def origin_of(limit: Limit, kind: GroupKind) -> Origin | None:
    """What set a bound: for the upper side, the lower of maximum and safe limit."""
    which = Sets(kind)
    if which is Sets.MAX and limit.safe is not None and limit.ceiling == limit.safe:
        which = Sets.SAFE
    return next((o for o in limit.origins if o.which is which), None)


def impasses(
    model: Model, cancelled: Cancelled | None = None, elastic: bool = False
) -> Iterator[Impasse]:
    """Every independent impasse once: minimums that cannot hold whatever the others, then those that cannot hold
    together. What one was about is let go before the next is looked for."""
    minimums = frozenset(model.slack)
    gone: frozenset[Group] = frozenset()
    alone = [] if elastic else _alone(model, minimums)
    for group in alone[:MOST]:
        if cancelled and cancelled():
            return
        found = find_impasse(model, cancelled, gone=minimums - {group})
        if found is not None:
            yield found
    gone = frozenset(alone)
    for _ in range(MOST_JOINT):
        found = None if cancelled and cancelled() else find_impasse(model, cancelled, elastic, gone)
        if found is None:
            return
        yield found
        gone |= found.limits() | {g for g in found.members if g.kind is GroupKind.SUPPLEMENTS}


def _alone(model: Model, minimums: frozenset[Group]) -> list[Group]:
    """Minimums that amounts without steps cannot reach even with every other one let go."""
    search = Filter(Solver(model, relaxed=True, elastic=False), None, True)
    found = search.feasible(minimums)
    return [
        g for g in model.slack if found is not False and search.feasible(minimums - {g}) is False
    ]


def in_order(members: Iterable[Group]) -> tuple[Group, ...]:
    """Members as they are told."""
    return tuple(sorted(members, key=lambda g: (_TOLD.index(g.kind), g.candidate)))


def without_steps(model: Model, impasse: Impasse, elastic: bool) -> bool:
    """Whether not even amounts without steps can do it."""
    outside = outside_of(model, impasse.members, elastic)
    return _feasible(Solver(model, relaxed=True, elastic=elastic, released=outside)) is False


def outside_of(model: Model, members: Iterable[Group], elastic: bool) -> frozenset[Group]:
    """Everything but these members and what is taken for granted: that a bowl is fed, where minimums are asked for,
    and that what is ruled out stays out."""
    granted = {g for g in model.groups() if g.kind is GroupKind.RULED}
    return frozenset(model.groups()) - {*members, *granted, *([] if elastic else [A_BOWL])}


def _feasible(solver: Solver, presolve: bool = True) -> bool | None:
    found = solver.minimise(np.zeros(solver.model.width), SECONDS, presolve=presolve)
    if found.state == "infeasible":
        return False
    return True if found.columns is not None else None


def find_impasse(
    model: Model,
    cancelled: Cancelled | None = None,
    elastic: bool = False,
    gone: frozenset[Group] = frozenset(),
) -> Impasse | None:
    """A minimal impasse, or None when everything can hold together.

    With `elastic`, minimums may fall short and are no members: why nothing at all can be proposed. What is
    `gone` is no member either.
    """
    found = _find(model, cancelled, elastic, gone, presolve=True)
    if found is None:
        return None
    outside = outside_of(model, found.members, elastic)
    check = Solver(model, elastic=elastic, released=outside, nodes=PROBE_NODES)
    if _feasible(check, presolve=False) is not True:
        return found
    # Presolve called something impossible that is not: once more without it.
    return _find(model, cancelled, elastic, gone, presolve=False)


def _find(
    model: Model,
    cancelled: Cancelled | None,
    elastic: bool,
    gone: frozenset[Group],
    presolve: bool,
) -> Impasse | None:
    if elastic:
        gone = gone | {A_BOWL}
    groups = [
        g
        for g in model.groups()
        if g not in gone and g != A_BOWL and not (elastic and g.kind is GroupKind.MIN)
    ]
    members = sorted(groups, key=lambda g: _ORDER.index(g.kind))
    free = set(gone)
    loose = Filter(Solver(model, relaxed=True, elastic=elastic), cancelled, presolve, set(gone))
    if loose.feasible(frozenset(gone)) is False:
        members = loose.needed(loose.priced(members))
        free = set(gone) | (set(groups) - set(members))
        if loose.feasible(frozenset(free)) is False:
            # What amounts without steps cannot do no steps can.
            return Impasse(model.problem, in_order(members), not loose.ran_out)
    whole = Filter(
        Solver(model, elastic=elastic, cancelled=cancelled, nodes=PROBE_NODES),
        cancelled, presolve, free,
    )  # fmt: skip
    if whole.feasible(frozenset(free)) is not False:
        return None
    members = whole.needed(members)
    return Impasse(model.problem, in_order(members), not whole.ran_out)


@dataclass
class Filter:
    """Finds the members that cannot be left out. `gone` are those left out for good."""

    solver: Solver
    cancelled: Cancelled | None
    presolve: bool
    gone: set[Group] = field(default_factory=set)
    ran_out: bool = False

    def feasible(self, released: frozenset[Group]) -> bool | None:
        """Whether the rest can hold together; None when the effort was not enough to know."""
        self.solver.apply(released)
        return _feasible(self.solver, self.presolve)

    def needed(self, members: list[Group]) -> list[Group]:
        """Members that cannot be left out. Halves are tried whole first: most of them can go.

        A member is kept when the rest can be met without it; what is left out later only shrinks
        the rest, so every kept member stays necessary.
        """
        if not members:
            return []
        if self.cancelled is not None and self.cancelled():
            self.ran_out = True
            return members
        without = self.feasible(frozenset(self.gone.union(members)))
        if without is False:
            self.gone.update(members)
            return []
        if len(members) == 1:
            self.ran_out |= without is None
            return members
        half = len(members) // 2
        return self.needed(members[:half]) + self.needed(members[half:])

    def priced(self, members: list[Group]) -> list[Group]:
        """Those of the members that have a price where the minimums fall short least: with everything else
        left out the rest still cannot hold, or else all of them are given back."""
        some = frozenset(_priced(self.solver.model, self.gone))
        chosen = [g for g in members if g in some]
        rest = frozenset(self.gone.union(g for g in members if g not in some))
        if chosen and len(chosen) < len(members) and self.feasible(rest) is False:
            self.gone |= rest
            return chosen
        return members


def _priced(model: Model, gone: set[Group]) -> Iterator[Group]:
    """Groups with a multiplier in the continuous problem in which the minimums fall short least."""
    solver = Solver(model, relaxed=True, released=frozenset(gone))
    objective = np.zeros(model.width)
    objective[list(model.slack.values())] = 1.0
    found: Outcome = solver.minimise(objective, SECONDS)
    if found.row_dual is None or found.column_dual is None:
        return
    for row, dual in zip(model.rows, found.row_dual, strict=True):
        if row.group is not None and abs(dual) > NO_PRICE:
            yield row.group
    for group, choices in model.choices.items():
        if any(
            (found.column_dual[c.column] > NO_PRICE) == (c.side is Side.LOWER)
            and abs(found.column_dual[c.column]) > NO_PRICE
            for c in choices
        ):
            yield group


def harm_of(problem: Problem, group: Group) -> int | None:
    """How much harm it can do that something gives way: 0 for asking for more, 1 for a choice of the consultant's,
    2 for a kitchen's rule, 3 for what a standard asks, 4 for the energy, WITH_VET for what a condition or the
    vet team asks. None for what never gives way."""
    kind = group.kind
    if kind in {GroupKind.EXCLUDED, GroupKind.RULED} or group == A_BOWL:
        return None
    if kind in {GroupKind.OFFER, GroupKind.STRENGTH, GroupKind.SUPPLEMENTS}:
        return 0
    if kind is GroupKind.CAP:
        return 2
    if kind is GroupKind.ENERGY:
        return 4
    if kind not in {GroupKind.MIN, GroupKind.MAX}:
        return 1
    limit = problem.requirements.limits[group.key]
    if group.other:
        rise = next(r for r in limit.rises if r.other == group.other)
        return 3 if rise.strength is Strength.STANDARD else WITH_VET
    origin = origin_of(limit, kind)
    if kind is GroupKind.MAX and limit.safe is not None and limit.ceiling == limit.safe:
        return None
    if origin is not None and origin.strength is Strength.OWN:
        return 1
    return 3 if origin is None or origin.strength is Strength.STANDARD else WITH_VET


def loosenings(
    model: Model,
    impasse: Impasse,
    elastic: bool = False,
    gone: frozenset[Group] = frozenset(),
    whole: bool = True,
) -> tuple[Loosening, ...]:
    """For each member that can give way alone, the least by which it must, the least harmful first.

    Everything outside the member and what is `gone` stays hard. whole: in amounts that can be measured.
    """
    found: list[tuple[float, Loosening]] = []
    minimums = sum(g.kind is GroupKind.MIN for g in impasse.members)
    for group in impasse.members:
        harm = harm_of(model.problem, group)
        if harm is None:
            continue
        if group.kind is GroupKind.MIN and (impasse.each or minimums > MOST_LOWERED):
            continue
        for objective, solver in _attempts(model, group, elastic, gone - {group}, whole):
            outcome = solver.minimise(objective, SECONDS)
            if outcome.columns is not None:
                grams = model.amounts @ outcome.columns
                if group.kind is GroupKind.ENERGY and not _feeds(model, grams):
                    break
                does = harm_at(model.problem, group, harm, grams)
                if does is not None:
                    found.append((outcome.value, Loosening(group, grams, does)))
                break
    found.sort(key=lambda x: (x[1].harm, x[0]))
    return tuple(way for _, way in found)


def harm_at(problem: Problem, group: Group, harm: int, grams: FloatArray) -> int | None:
    """The harm of letting a limit go as far as these grams do: a bound of the consultant's own that goes past the target
    it stood before does as much as the target would. None for what never gives way."""
    if group.kind not in {GroupKind.MIN, GroupKind.MAX} or group.other:
        return harm
    limit, lower = problem.requirements.limits[group.key], group.kind is GroupKind.MIN
    now = level_of(problem, group.key, grams, lower)

    def past(value: float) -> bool:
        return now < value * (1 - PAST) if lower else now > value * (1 + PAST)

    if not lower and limit.safe is not None and past(limit.safe):
        return None
    for origin in limit.origins:
        mine = origin.which is Sets(group.kind) and origin.overridden_by == SOURCE
        if mine and origin.value is not None and past(origin.value):
            return max(harm, 3 if origin.strength is Strength.STANDARD else WITH_VET)
    return harm


def level_of(problem: Problem, key: str, grams: FloatArray, lower: bool) -> float:
    """Amount of a nutrient per 1000 kcal, or value of a ratio, at these grams: what is proven of it, or the most there
    may be."""
    contents = problem.contents.low if lower else problem.contents.high
    kcal = float(problem.contents.kcal @ grams)
    if key in problem.catalogue:
        brought = float(contents[:, problem.catalogue.index(key)] @ grams)
        return brought / kcal * 1000 if kcal > 0 else np.nan
    ratio = next(r for r in problem.catalogue.ratios if r.key == key)
    sums = contents.T @ grams
    top, bottom = problem.catalogue.parts_of(
        ratio, lambda k: float(sums[problem.catalogue.index(k)])
    )
    return top / bottom * ratio.scale if bottom else np.nan


def _feeds(model: Model, grams: FloatArray) -> bool:
    """Whether a recipe still is a ration: a quarter more or less can be talked about."""
    share = float(model.problem.contents.kcal @ grams) / model.problem.kcal
    return 1 - FED <= share <= 1 + FED


def _attempts(
    model: Model, group: Group, elastic: bool, gone: frozenset[Group], whole: bool
) -> list[tuple[FloatArray, Solver]]:
    objective = np.zeros(model.width)

    def solver(
        opened: dict[int, tuple[float, float]] | None = None, more: frozenset[Group] = frozenset()
    ) -> Solver:
        return Solver(
            model, relaxed=not whole, elastic=elastic, opened=opened, released=gone | more,
            nodes=WAY_NODES,
        )  # fmt: skip

    if group.kind in {GroupKind.MIN, GroupKind.MAX}:
        column = model.slack[group] if group.kind is GroupKind.MIN else model.give[group]
        objective[column] = 1.0
        return [(objective, solver({column: (0.0, INFINITY)}))]
    if group.kind is GroupKind.FIXED:
        column = model.choices[group][0].column
        now = float(model.lower[column])
        free = bounds_of(model, frozenset({group}))
        objective[column] = 1.0 / max(now, 1.0)
        return [
            (-objective, solver({column: (float(free.lower[column]), now)})),
            (objective, solver({column: (now, float(free.upper[column]))})),
        ]
    if group.kind in {GroupKind.OFFER, GroupKind.STRENGTH}:
        # As little as will do of what could come.
        for choice in model.choices[group]:
            objective[choice.column] = 1.0 / max(choice.relaxed, 1e-9)
    elif group.kind is GroupKind.ENERGY:
        objective = model.objectives["energy"]
    else:
        objective = model.objectives["fewest" if group.kind is GroupKind.SUPPLEMENTS else "near"]
    return [(objective, solver(more=frozenset({group})))]


def together(model: Model) -> FloatArray | None:
    """Grams of the recipe in which limits give way least, all counted as shares of their limits."""
    open_columns = [*model.slack.values(), *model.give.values()]
    solver = Solver(
        model, elastic=False, opened=dict.fromkeys(open_columns, (0.0, INFINITY)), nodes=WAY_NODES
    )
    objective = np.zeros(model.width)
    objective[open_columns] = 1.0
    outcome = solver.minimise(objective, SECONDS)
    return None if outcome.columns is None else model.amounts @ outcome.columns
