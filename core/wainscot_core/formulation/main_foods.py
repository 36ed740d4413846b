"""What keeps the caps and her main foods, looked for where the first answer gives them up.

The goals come one after the other, and the shape of the recipe last: an answer that is as good in what comes before it,
and keeps what she feeds, is the better one.
"""

from collections.abc import Iterator, Mapping
from dataclasses import replace

import numpy as np

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from .goals import goal_value
from .leaves import leaves
from .model import Model, build
from .nearest import exchanged, nearby
from .problem import Problem
from .proposal import Proposal, proposal_at, reached
from .rows import SHORT, missed
from .shape import over_caps, torn, with_caps_held
from .solution import (
    AS_GOOD,
    MUST,
    Solution,
    distance,
    goals_of,
    least_distance,
    solution_at,
    usual,
)
from .solver import Cancelled

# Of what the limits leave to a main food, so much is asked to stay where half of its share is more than that.
STAYS = 0.75


def is_free(model: Model) -> bool:
    """Whether the recipe is to stay near what it was and may be another: where its foods stay as they are there is nothing
    to look for."""
    return usual(model) and model.problem.energy_free


def within_caps(
    model: Model, solution: Solution, cancelled: Cancelled | None
) -> tuple[Model, Solution]:
    """What keeps to the caps, where what was found passes one that gives way and no minimum needs that."""
    problem = model.problem
    if solution.grams is None or not over_caps(problem, solution.grams):
        return model, solution
    held = build(with_caps_held(problem))
    found = nearby(held, solution)
    if found is not None and _is_as_good(problem, solution, found):
        return held, found
    # Where a minimum is short anyhow the cap is seldom what gives way for nothing.
    if solution.shortfall <= SHORT:
        found = exchanged(held, solution, cancelled)
        if found is not None and _is_as_good(problem, solution, found):
            return held, found
    return model, solution


def _is_as_good(problem: Problem, solution: Solution, other: Solution) -> bool:
    """Whether other amounts are as good in what comes before the shape, and give up no main food that is kept."""
    if other.grams is None or other.state != "solved":
        return False
    stays = not torn(problem, other.grams)
    if not stays and solution.grams is not None and not torn(problem, solution.grams):
        return False
    return _holds_as_much(problem, solution, other)


def nearer_to_hers(dossier: Dossier, proposal: Proposal, cancelled: Cancelled | None) -> Proposal:
    """What keeps the share of the main foods, where that is as good in what comes before the shape; where minimums are
    short anyhow, what is a little shorter of these and nearer: a recipe is not taken apart for a trace. Otherwise the
    proposal, with what keeps the main foods beside it."""
    problem, grams = proposal.model.problem, proposal.solution.grams
    if grams is None or not (proposal.solution.shortfall > SHORT or torn(problem, grams)):
        return proposal
    alone = [row for row in proposal.model.limits.held if not row.group.other]
    more = problem.shape.eased
    eased = {key: share + more for key, share in missed(alone, grams).items()}
    # What is short leaves the search little to find anyhow: its caps give way, and what passes one is not taken.
    within = problem if eased or over_caps(problem, grams) else with_caps_held(problem)
    kept = None
    for asked in _asks(proposal.model, grams, within, eased):
        # Small moves alone do not come back from amounts that gave her foods up.
        model = build(asked)
        found = exchanged(model, proposal.solution, cancelled)
        if found is None or found.grams is None or found.state != "solved":
            continue
        stays = not torn(problem, found.grams)
        if asked.shape is not problem.shape:
            as_asked = replace(asked, keeps=False, shape=problem.shape)
            model, found = _told_by(as_asked, proposal.solution, found)
        nearer = proposal_at(dossier, model, found, reached(asked, found))
        if _is_better(proposal.model, proposal.solution, found, stays):
            return replace(nearer, least_short=proposal if eased else None, kept=kept)
        least = np.inf if kept is None else kept.solution.shortfall
        if stays and torn(problem, grams) and found.shortfall < least:
            kept = nearer
    return replace(proposal, kept=kept)


def _told_by(problem: Problem, first: Solution, found: Solution) -> tuple[Model, Solution]:
    """A solution of another shape, told by how far it is from what should be kept."""
    model = build(problem)
    if found.grams is None:
        return model, found
    worth = least_distance(first)
    return model, solution_at(model, goals_of(model), found.grams, worth)


def _asks(
    model: Model, grams: FloatArray, within: Problem, eased: Mapping[str, float]
) -> Iterator[Problem]:
    """What is asked in turn: that the main foods keep between half and double of their share, as much of it as the limits
    leave them, and last that they need not."""
    rules = within.shape
    yield replace(within, keeps=True, eased=eased)
    left = [of for of in leaves(model, grams).values() if of.most]
    if left:
        least = rules.kept_least * STAYS * min(of.share / of.bound for of in left)
        yield replace(within, keeps=True, eased=eased, shape=replace(rules, kept_least=least))
    if eased:
        yield replace(within, eased=eased)


def _is_better(model: Model, solution: Solution, nearer: Solution, stays: bool) -> bool:
    """Whether a recipe is as good in what comes before its shape, and keeps its main foods or is nearer; where minimums are
    short, as good as it was allowed to be and much nearer."""
    problem = model.problem
    if nearer.grams is None or nearer.shortfall > SHORT or _passes_a_cap(problem, solution, nearer):
        return False
    won = distance(solution) - goal_value(model, "near", nearer.grams)
    if solution.shortfall > SHORT:
        return won >= problem.shape.eased_from
    return (stays or won >= 0) and _holds_as_much(problem, solution, nearer)


def _passes_a_cap(problem: Problem, solution: Solution, other: Solution) -> bool:
    """Whether another solution is over a cap and this one is not."""
    over = (s.grams is not None and over_caps(problem, s.grams) for s in (other, solution))
    return next(over) and not next(over)


def _holds_as_much(problem: Problem, solution: Solution, other: Solution) -> bool:
    """Whether the energy, the minimums and the advice are where a solution has them."""
    value = {p.goal: p.value for p in solution.passes}
    then = {p.goal: p.value for p in other.passes}
    return all(
        then[goal] <= max(value[goal] + AS_GOOD, problem.room.get(goal, 0.0))
        for goal in MUST
        if goal in then
    )
