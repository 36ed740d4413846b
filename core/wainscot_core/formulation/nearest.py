"""The usual question: near the recipe, in amounts that can be measured.

Small moves lead from the continuous problem's amounts to measurable ones. Where they come out too far from it the solver
looks for better ones, all goals in one: what comes first weighs so much that nothing after it is worth it.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..facts.foods import FloatArray
from .goals import goal_value
from .ground import HARD, ground_of
from .model import Model
from .rows import SHORT
from .selection import Selector, merged, miss_advice, stepped
from .settle import Settler
from .shape import NOTHING_G
from .shortlist import Round, closed, few, supports
from .solution import (
    GOOD_SHAPE,
    HELD,
    NOTHING,
    SECONDS,
    Solution,
    as_good,
    distance,
    goals_of,
    good_shape,
    grams_at,
    least_distance,
    passes_at,
    rank,
    solution_at,
    usual,
)
from .solver import Cancelled, Outcome, Solver

# From so many of the continuous problem's choices of items small moves begin.
STARTS = 3
# Beside another solution a few of the choices say enough.
LOOKED_ROUND = 3
# From so many items on the solver is let to look at fewer places.
MANY = 40
# Parts of the effort for what was found, for what the continuous problem uses too, and for everything: where a limit is
# short, and for the shape alone.
FOR_LIMITS = (0.0, 0.6, 1.0)
FOR_SHAPE = (0.0, 0.3, 0.3)
# Beside an answer that gives main foods up, for one that keeps them: what is found at all is found soon, by looking
# between known amounts and the continuous ones.
FOR_KEPT = (0.3, 0.3, 0.0)
# Where few supplements may come and all are there, small moves are soon stuck: what is given up for one stands in several
# amounts at once. The search is then over everything, and worth more effort.
FOR_COUNT = (0.0, 0.0, 4.0)
# From so many times the continuous problem's shape on, and for so few supplements: more are seldom what holds it back.
FAR = 1.5
FEW_SUPPLEMENTS = 8
# From so many times what can be expected on, other items are needed, not one less.
LOST = 3
# Small moves from another recipe that end within so many times its distance are as good as what a search finds.
MENDED = 1.15
# It looks at no more items than this at once.
WIDE = 80


@dataclass(frozen=True)
class Settled:
    """What small moves found from the rounds of the continuous problem. worth: what the shape comes to there; missed: what
    of the advice no amounts can follow."""

    solution: Solution
    settler: Settler
    rounds: Sequence[Round]
    worth: float
    missed: float
    # What can be expected: what the shape comes to in the continuous problem with no more items than there may be.
    hoped: float


def settled(
    model: Model, goals: Sequence[str], cancelled: Cancelled | None = None
) -> Settled | None:
    """Measurable amounts near the continuous problem's, where the goals are the usual ones and there is
    much to choose from; None otherwise."""
    begun = None if few(model) else _begun(model, goals)
    if begun is None:
        return None
    rounds, missed, settler = begun
    starts: dict[frozenset[int], Round] = {}
    for one in sorted(rounds, key=lambda r: r.worth):
        starts.setdefault(one.items, one)
    ends = [settler.settle(one.grams) for one in list(starts.values())[:STARTS]]
    swaps = frozenset(j for j, c in enumerate(model.problem.candidates) if c.instead_of is not None)
    own: Sequence[Round] = ()
    if any(swaps & r.items for r in starts.values()):
        # Her own foods first: how far one comes without putting others in their place.
        own = supports(model, goals, swaps)
        if own:
            ends.append(settler.settle(min(own, key=lambda r: r.worth).grams))
    worth = min(r.worth for r in rounds)
    grams, cost = min(ends, key=lambda end: end[1])
    if cost <= LOST * _enough(worth):
        grams, cost = settler.without_each(grams, cost, _enough(worth), least_without(model))
    best = _solution(model, goals, grams, cost, worth)
    found = Settled(best, settler, rounds, worth, missed, worth)
    places = [one.grams for one in (*starts.values(), *own)]
    return _followed(model, goals, _chosen(model, goals, found, places, cancelled))


def _begun(model: Model, goals: Sequence[str]) -> tuple[Sequence[Round], float, Settler] | None:
    """The rounds of the continuous problem, what of the advice no amounts can follow, and small moves over its ground; None
    where the goals are not the usual ones or no amounts hold what must be held."""
    if not usual(model) or model.problem.gap == 0:
        return None
    rounds = supports(model, goals)
    if not rounds:
        return None
    missed = _least_missed(model, goals)
    return rounds, missed, Settler(ground_of(model, missed))


def _chosen(
    model: Model,
    goals: Sequence[str],
    found: Settled,
    places: Sequence[FloatArray],
    cancelled: Cancelled | None,
) -> Settled:
    """Where small moves end far from what the continuous problem promises, the items that no exchange makes better: begun
    from the first of these (C,) grams, and from the last where that was not enough."""
    ground = found.settler.ground
    selector: Selector | None = None
    for place in dict.fromkeys((0, len(places) - 1)):
        best = found.solution
        if good_shape(best, found.hoped) and as_good(model, goals, best, model.problem.room):
            break
        selector = selector or Selector(model, ground.leave, cancelled)
        chosen = selector.select(places[place])
        if chosen is None:
            continue
        grams, cost = found.settler.settle(stepped(model, ground, chosen, ground.leave))
        hoped = max(found.worth, goal_value(model, "near", chosen.grams))
        other = _solution(model, goals, grams, cost, found.worth)
        if rank(model, other) < rank(model, best):
            found = replace(found, solution=other, hoped=hoped)
    return found


def exchanged(model: Model, other: Solution, cancelled: Cancelled | None = None) -> Solution | None:
    """A solution found from another one of the same candidates by small moves and by exchanging items, and by the solver
    over the items that are left; None where the goals are not the usual ones or no amounts are found."""
    goals = goals_of(model)
    begun = None if other.grams is None else _begun(model, goals)
    if begun is None or other.grams is None:
        return None
    rounds, missed, settler = begun
    worth = least_distance(other)
    # What small moves mend as good as that has but little to gain; where minimums may be short there is more.
    first = NOTHING
    if not model.problem.eased:
        first = _solution(model, goals, *settler.settle(other.grams), worth)
    near = distance(first) <= MENDED * distance(other)
    mended = near and as_good(model, goals, first, model.problem.room)
    found = Settled(first if mended else NOTHING, settler, rounds, worth, missed, worth)
    last = max(rounds, key=lambda r: r.worth)
    places = [other.grams] if mended else [other.grams, last.grams]
    found = _chosen(model, goals, found, places, cancelled)
    if rank(model, first) < rank(model, found.solution):
        found = replace(found, solution=first)
    if not as_good(model, goals, found.solution, model.problem.room):
        return searched(model, goals, found, cancelled)
    return _followed(model, goals, found).solution


def _solution(
    model: Model, goals: Sequence[str], grams: FloatArray, cost: float, worth: float
) -> Solution:
    """Settled grams as a solution, NOTHING where they break what may not be broken."""
    return solution_at(model, goals, grams, worth) if cost < HARD else NOTHING


def least_without(model: Model) -> Callable[[int], float]:
    """What amounts without steps cost at least where an item is kept out."""
    solver, cost = Solver(model, relaxed=True), merged(model)

    def least(j: int) -> float:
        columns = np.flatnonzero(model.amounts[j]).tolist()
        for column in columns:
            solver.bound(column, 0.0)
        found = solver.minimise(cost, SECONDS)
        for column in columns:
            solver.bound(column, float(model.upper[column]))
        return np.inf if found.state == "infeasible" else found.value

    return least


def _followed(model: Model, goals: Sequence[str], found: Settled) -> Settled:
    """Advice that costs little of the shape is followed, not left within what may be given up of it."""
    best = found.solution
    if best.grams is None or goal_value(model, "advice", best.grams) <= found.missed + SHORT:
        return found
    grams, cost = found.settler.settle(best.grams, leave=found.missed)
    if cost >= HARD:
        return found
    strict = solution_at(model, goals, grams, found.worth)
    near = good_shape(strict, found.worth) or distance(strict) <= distance(best) + GOOD_SHAPE
    if near and as_good(model, goals, strict, {}):
        return replace(found, solution=strict)
    return found


def searched(
    model: Model, goals: Sequence[str], found: Settled, cancelled: Cancelled | None = None
) -> Solution:
    """What the solver finds beside what small moves did, if it is better: of what they used and the continuous problem
    did, and of everything where that leaves the energy, a minimum or an advice short of what can be had."""
    best = found.solution
    # Where only the shape could be better that is told apart soon or not at all.
    only_shape = as_good(model, goals, best, model.problem.room)
    stuck = _is_full(model, best) and distance(best) > FAR * found.worth
    limits = FOR_KEPT if model.problem.keeps and not model.problem.eased else FOR_LIMITS
    parts = limits if not only_shape else FOR_COUNT if stuck else FOR_SHAPE
    for items, part in zip(_around(model, found), parts, strict=True):
        nodes = int(model.problem.nodes * part)
        if not nodes:
            continue
        tried = _tried(model, goals, replace(found, solution=best), items, nodes, cancelled)
        if rank(model, tried) < rank(model, best):
            best = tried
        if tried.state == "cancelled":
            return replace(best, state="cancelled")
        if as_good(model, goals, best, model.problem.room):
            break
    return _followed(model, goals, replace(found, solution=best)).solution


def _is_full(model: Model, found: Solution) -> bool:
    """Whether few supplements may be in a recipe, and as many are."""
    most = model.problem.max_supplements
    if found.grams is None or most > FEW_SUPPLEMENTS:
        return False
    there = sum(
        c.is_supplement
        for c, g in zip(model.problem.candidates, found.grams, strict=True)
        if g > NOTHING_G
    )
    return there >= most


def _around(model: Model, found: Settled) -> Iterator[frozenset[int]]:
    added = [j for j, c in enumerate(model.problem.candidates) if c.line is None]
    grams = found.solution.grams
    used = frozenset(j for j in added if grams is not None and grams[j] > 0)
    yield used
    narrow = used.union(*(r.items for r in found.rounds))
    yield narrow
    yield frozenset(added) if len(added) <= WIDE else narrow | _promising(model, added)


def _promising(model: Model, added: Sequence[int]) -> frozenset[int]:
    """The added items that would cost least beside the continuous problem's, as much as there may be of them."""
    outcome = Solver(model, relaxed=True).minimise(merged(model), SECONDS)
    if outcome.column_dual is None:
        return frozenset(added)
    most = np.array([model.rooms.get(j, 0.0) for j in added])
    columns = [int(np.flatnonzero(model.amounts[j])[0]) for j in added]
    per_gram = outcome.column_dual[columns] / model.amounts[added, columns]
    order = np.argsort(per_gram * most, kind="stable")[:WIDE]
    return frozenset(added[int(i)] for i in order)


def _tried(
    model: Model,
    goals: Sequence[str],
    found: Settled,
    items: frozenset[int],
    nodes: int,
    cancelled: Cancelled | None,
) -> Solution:
    """The solver's answer of these items, settled."""
    # A node over more items takes longer.
    nodes = int(nodes * min(1.0, MANY / max(len(items), 1)))
    solver = Solver(
        model, opened=closed(model, items), cancelled=cancelled, nodes=nodes,
        local=model.problem.keeps,
    )  # fmt: skip
    advice, leave = model.objectives["advice"], found.settler.ground.leave
    start = found.solution.columns
    miss_advice(solver, model, leave)
    if advice.any() and start is not None:
        start = np.append(start, max(0.0, float(advice @ start) - leave))
    outcome = solver.minimise(merged(model), model.problem.time_limit_s, start)
    if outcome.columns is None:
        return Solution(_state(outcome), None, None, (), np.nan)
    # To amounts that are no noise: the programme has no rule for that.
    own = found.settler.at_levels(grams_at(model, outcome.columns))
    ends = [own, found.settler.settle(own)[0]]
    tried = min(
        (solution_at(model, goals, end, found.worth) for end in ends),
        key=lambda one: rank(model, one),
    )
    return replace(tried, state=_state(outcome))


def _state(outcome: Outcome) -> str:
    if outcome.state == "cancelled":
        return "cancelled"
    if outcome.columns is not None:
        return "solved"
    return "impossible" if outcome.state == "infeasible" else "time-limit"


def nearby(model: Model, other: Solution) -> Solution | None:
    """A solution by small moves alone, from amounts of the continuous problem and from those of another solution of the
    same candidates, in what comes before the shape of a recipe no worse; None where the goals are not the usual ones.
    It has no columns: nothing is begun from it."""
    goals = goals_of(model)
    if not usual(model) or other.grams is None:
        return None
    reached = {p.goal: p.value for p in other.passes}
    settler = Settler(ground_of(model, reached.get("advice", 0.0)))
    rounds = supports(model, goals, reached=reached, most=LOOKED_ROUND)
    starts = [other.grams, *(r.grams for r in sorted(rounds, key=lambda r: r.worth)[:1])]
    grams, cost = min((settler.settle(start) for start in starts), key=lambda end: end[1])
    worth = min((r.worth for r in rounds), default=0.0)
    if cost >= HARD:
        return None
    passes = passes_at(model, goals, grams, worth)
    return Solution("solved", grams, None, passes, goal_value(model, "minimums", grams))


def _least_missed(model: Model, goals: Sequence[str]) -> float:
    """What of the advice no amounts can follow, the goals before it held."""
    if "advice" not in goals:
        return 0.0
    solver = Solver(model, relaxed=True)
    for goal in goals[: goals.index("advice")]:
        found = solver.minimise(model.objectives[goal], SECONDS)
        if found.columns is None:
            return 0.0
        solver.hold(model.objectives[goal], found.value + HELD)
    return max(0.0, solver.minimise(model.objectives["advice"], SECONDS).value)


def _enough(worth: float) -> float:
    """What measurable amounts can be expected to come to where amounts without steps come to `worth`."""
    return worth + max(GOOD_SHAPE, worth / 4)
