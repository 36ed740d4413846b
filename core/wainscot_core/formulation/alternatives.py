"""Several answers beside each other: nearest, fewest supplements, whole foods, cheapest, surest.

Each asks the same limits of the same foods and counts something else in the shape of the recipe
(alternatives in reference/formulation.yaml). Shown is what differs: an answer that is not better than those before
it in what it is for is left out.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..facts.formulation_rules import AlternativeRule
from ..recipe.line import sum_lines
from ..robust.holding import Holding, holding
from .costs import limit_costs
from .model import build
from .nearest import nearby
from .problem import Aim, ItemKind, Problem
from .proposal import Proposal, State, proposal_at, reached
from .question import Settings, aim_of
from .rows import aimed_rows
from .solution import (
    MUST,
    SAME_G,
    Pass,
    Progress,
    Solution,
    changed,
    distance,
    goals_of,
    least_distance,
    rank,
    solution_at,
    usual,
    worth_changing,
)
from .solver import Cancelled

NEAREST, FEWEST, WHOLE, CHEAPEST, SUREST = "nearest", "fewest", "whole", "cheapest", "surest"
# As good in energy, minimums and advice as the nearest, to what can be told apart.
AS_GOOD = 2e-3
# From an answer no further from the recipe than so many times a first that is not proved, small moves may lead nearer.
PROMISING = 1.25


@dataclass(frozen=True, kw_only=True)
class SureAim:
    """What an answer aims at, and what that costs beside the first. target: of batches, in which each limit is to hold;
    missed: the limits that hold in fewer all the same, by name; grams, supplements and cost: of a day, so many more, cost
    None where not every price is known."""

    target: float
    missed: tuple[str, ...]
    grams: float
    supplements: int
    cost: float | None


@dataclass(frozen=True)
class Alternative:
    """An answer and what tells it from the others. distance: the share of the energy that comes from
    elsewhere than in the recipe. supplements: how many are in it. cost: of a day, None where no price is
    known; unpriced: how many of its lines have none. unbeaten: whether no other answer is nearer, with fewer supplements
    and cheaper at once; None where it was not asked."""

    rule: AlternativeRule
    name: str
    proposal: Proposal
    distance: float
    supplements: int
    cost: float | None
    unpriced: int
    holds: Holding | None
    # Of a day, with what has no price at the dearest that is known.
    cost_at_most: float
    aim: SureAim | None = None
    unbeaten: bool | None = None


def alternatives_of(
    dossier: Dossier,
    settings: Settings,
    first: Proposal,
    progress: Progress | None = None,
    cancelled: Cancelled | None = None,
) -> tuple[Alternative, ...]:
    """The first proposal, or what was found nearer beside it, and what differs from it. Where limits cannot all be held
    the recipe as it is, at its energy, stands beside it; () where there is nothing to show."""
    rules = dossier.reference.formulation
    as_it_is = _scaled(dossier, rules.scaled, first)
    if not first.lines:
        return as_it_is
    nearest, *others = rules.alternatives
    for rule, other in ((rules.least, first.least_short), (rules.kept, first.kept)):
        if other is not None:
            as_it_is = (estimated(dossier, told(dossier, rule, other)), *as_it_is)
    if not usual(first.model):
        # What is asked for first is not to stay near the recipe: there is one answer, named by its mode.
        mode = rules.modes[settings.mode]
        rule = replace(nearest, id=mode.id, name=mode.name, words=mode.words)
        return (estimated(dossier, told(dossier, rule, first)), *as_it_is)
    if first.state not in {State.MET, State.UNPROVEN, State.SHORT, State.UNDECIDED}:
        return (estimated(dossier, told(dossier, nearest, first)),)
    found: list[tuple[AlternativeRule, Proposal]] = []
    for i, rule in enumerate(others):
        if cancelled is not None and cancelled():
            break
        if progress is not None:
            progress(i, len(others), rule.name)
        proposal = proposed(dossier, settings, rule, first)
        if proposal is not None:
            found.append((rule, proposal))
    found.insert(0, (nearest, nearest_of(dossier, first, [proposal for _, proposal in found])))
    beside = (told(dossier, rule, proposal) for rule, proposal in found)
    shown = worth_showing(beside, rules.alternatives_worth, lambda one: estimated(dossier, one))
    return (*shown, *as_it_is)


def nearest_of(dossier: Dossier, first: Proposal, others: Sequence[Proposal]) -> Proposal:
    """The first, or what small moves find nearer to the recipe from the amounts of others and as good in what comes before
    that: the search for the first ends after so much effort, and another question may have led past where it stopped."""
    model, best = first.model, first.solution
    goals = goals_of(model)
    # Whichever answer it is said beside.
    worth = least_distance(best)
    if best.columns is None and best.grams is not None:
        best = solution_at(model, goals, best.grams, worth)
    own, proved = best, all(p.proved for p in best.passes)
    for other in others:
        grams = other.solution.grams
        if grams is None:
            continue
        tried = [solution_at(model, goals, grams, worth)]
        if distance(tried[0]) < distance(best) * (1 if proved else PROMISING):
            moved = nearby(model, tried[0])
            if moved is not None and moved.grams is not None:
                tried.append(solution_at(model, goals, moved.grams, worth))
        for one in tried:
            if as_good(one.passes, best.passes, {}) and rank(model, one) < rank(model, best):
                best = one
    stays = own.grams is not None and not changed(model, own)
    if best.grams is None or best is own or (stays and not worth_changing(model, own, best)):
        return first
    found = proposal_at(dossier, model, best, reached(model.problem, best))
    costs = limit_costs(model, best.grams) if first.costs else ()
    return replace(
        found, costs=costs, impasses=first.impasses, least_short=first.least_short, kept=first.kept
    )


def _scaled(dossier: Dossier, rule: AlternativeRule, first: Proposal) -> tuple[Alternative, ...]:
    """The recipe as it is, at the energy asked for and without what must not be in it."""
    if first.state not in {State.SHORT, State.IMPOSSIBLE, State.UNDECIDED} or not dossier.lines:
        return ()
    problem = first.model.problem
    food = np.array([not c.is_supplement and not c.fixed for c in problem.candidates])
    kept = np.array([0.0 if c.excluded else c.current_grams for c in problem.candidates])
    if not (kept * food).any():
        # All of it is fixed: as it is it is another portion.
        food = np.array([not c.is_supplement for c in problem.candidates])
    moves = float(problem.contents.kcal @ (kept * food))
    target = dossier.energy.target_kcal * dossier.days
    if moves <= 0:
        return ()
    factor = (target - float(problem.contents.kcal @ (kept * ~food))) / moves
    if factor <= 0:
        return ()
    steps = np.array([c.increment.grams for c in problem.candidates])
    scaled = np.maximum(np.round(kept * factor / steps), 1.0) * steps
    near = np.abs(scaled - kept) < problem.noise * kept
    grams = np.where((kept > 0) & food & ~near, scaled, kept)
    solution = Solution("solved", grams, None, (), np.nan)
    proposal = proposal_at(dossier, first.model, solution, State.SHORT)
    stands = proposal.stands
    if stands is None:
        return ()
    counts = (
        f"{len(stands.short)} short" if stands.short else "",
        f"{len(stands.over)} over" if stands.over else "",
    )
    name = ", ".join(x for x in (rule.name, *counts) if x)
    return (estimated(dossier, replace(told(dossier, rule, proposal), name=name)),)


def proposed(
    dossier: Dossier,
    settings: Settings,
    rule: AlternativeRule,
    first: Proposal,
    most_supplements: int | None = None,
) -> Proposal | None:
    """The answer that counts by a rule, looked for beside the first; None where there is none that is as good.
    most_supplements: fewer than were asked for."""
    asked = first.model.problem
    if most_supplements is not None:
        asked = replace(asked, max_supplements=min(asked.max_supplements, most_supplements))
    problem = _counted_otherwise(dossier, settings, rule, asked)
    if problem is None:
        return None
    limits = first.model.limits
    if rule.surest:
        limits = replace(limits, aimed=tuple(aimed_rows(problem)))
    model = build(problem, limits)
    solution = nearby(model, first.solution)
    if solution is None or solution.grams is None:
        return None
    if not as_good(solution.passes, first.passes, problem.room):
        return None
    return proposal_at(dossier, model, solution, reached(problem, solution))


def as_good(passes: Sequence[Pass], nearest: Sequence[Pass], room: Mapping[str, float]) -> bool:
    """Whether the energy, the minimums and the advice are where the nearest answer has them, or within what may
    be given up of them anyhow."""
    limit = {p.goal: p.value for p in nearest if p.goal in MUST}
    return all(
        p.value <= max(limit[p.goal] + AS_GOOD, room.get(p.goal, 0.0))
        for p in passes
        if p.goal in limit
    )


def _counted_otherwise(
    dossier: Dossier, settings: Settings, rule: AlternativeRule, problem: Problem
) -> Problem | None:
    """The problem with what this answer counts otherwise; None where it cannot be asked."""
    if rule.priced and problem.cost_now <= 0:
        return None
    aim: Aim | None = problem.aim
    if rule.surest:
        if settings.surest:
            return None
        aim = aim_of(dossier, problem.candidates, problem.contents, surest=True)
    candidates = problem.candidates
    if not rule.premix:
        candidates = tuple(
            replace(c, high_grams=0.0) if c.kind is ItemKind.PREMIX and c.line is None else c
            for c in candidates
        )
    return replace(
        problem, shape=replace(problem.shape, **rule.shape), aim=aim, candidates=candidates
    )


def told(dossier: Dossier, rule: AlternativeRule, proposal: Proposal) -> Alternative:
    """A proposal as an answer, without how surely it holds."""
    after = dossier.with_lines(proposal.lines)
    priced = [x for x in after.lines if x.food.id in dossier.prices]
    paid = sum(dossier.prices[x.food.id] * x.amount.grams / 1000 for x in priced)
    return Alternative(
        rule, rule.name, proposal, distance_between(dossier, after),
        sum(x.food.is_supplement for x in after.lines),
        paid / dossier.days if priced else None, len(after.lines) - len(priced), None,
        _at_most(dossier, proposal),
    )  # fmt: skip


def estimated(dossier: Dossier, one: Alternative) -> Alternative:
    """With how surely it holds."""
    if one.holds is not None:
        return one
    return replace(one, holds=holding(dossier.with_lines(one.proposal.lines)))


def _at_most(dossier: Dossier, proposal: Proposal) -> float:
    grams = proposal.solution.grams
    if grams is None:
        return 0.0
    return float(proposal.model.problem.prices_per_kg @ grams) / 1000 / dossier.days


def distance_between(before: Dossier, after: Dossier) -> float:
    """The share of the energy that comes from other foods than before, 0 to 1."""

    def shares(of: Dossier) -> dict[str, float]:
        sums = sum_lines(of.library, of.lines, of.days)
        if not sums.kcal > 0:
            return {}
        column = of.library.catalogue.index("ENERC")
        brought: FloatArray = np.nan_to_num(sums.contributions[:, column]) / sums.kcal
        found: dict[str, float] = {}
        for line, share in zip(of.lines, brought.tolist(), strict=True):
            found[line.food.id] = found.get(line.food.id, 0.0) + share
        return found

    was, now = shares(before), shares(after)
    return sum(max(0.0, share - was.get(food, 0.0)) for food, share in now.items())


def worth_showing(
    found: Iterable[Alternative],
    worth: Mapping[str, float],
    estimated: Callable[[Alternative], Alternative] = lambda one: one,
) -> Iterator[Alternative]:
    """Those that differ, each under a name that is true of it. estimated: says how surely one holds, which takes
    a while and is asked only of those that are shown, or are to be the surest."""
    shown: list[Alternative] = []
    for one in found:
        if one.rule.id == SUREST:
            one = estimated(one)
        if not shown or _differs(one, shown, worth):
            shown.append(estimated(one))
    fewest = min(a.supplements for a in shown)
    for one in shown:
        if one.rule.id == WHOLE and one.supplements == 0:
            one = replace(one, name="Whole foods only")
        elif one.rule.id == WHOLE and one.supplements >= shown[0].supplements:
            one = replace(one, name="Without a premix")
        if one.rule.id == FEWEST and one.supplements > fewest:
            one = replace(one, name="Fewer supplements")
        yield one


def _differs(one: Alternative, shown: Sequence[Alternative], worth: Mapping[str, float]) -> bool:
    """Whether an answer is other amounts, and better than all before it in what it is for."""
    nearest = shown[0]
    if any(_same(one.proposal, other.proposal) for other in shown):
        return False
    if one.rule.id == FEWEST:
        return one.supplements <= nearest.supplements - worth["supplements"]
    if one.rule.id == WHOLE:
        premixed = [a for a in shown if _has_premix(a.proposal)]
        if nearest in premixed and not _has_premix(one.proposal):
            return True
        return all(
            one.supplements <= a.supplements - worth["supplements"]
            for a in shown
            if a not in premixed or a is nearest
        )
    if one.rule.id == CHEAPEST:
        return one.cost_at_most <= min(a.cost_at_most for a in shown) * (1 - worth["cost"])
    if one.rule.id == SUREST and one.holds is not None:
        held = [a.holds.share for a in shown if a.holds is not None]
        return one.holds.share >= max(held, default=0.0) + worth["holds"]
    return False


def _same(one: Proposal, other: Proposal) -> bool:
    """Whether two proposals come to the same amounts."""
    mine = {(c.line, c.food): c.after_grams for c in one.changes}
    theirs = {(c.line, c.food): c.after_grams for c in other.changes}
    keys = {*mine, *theirs}
    return all(abs(mine.get(k, 0.0) - theirs.get(k, 0.0)) < SAME_G for k in keys)


def _has_premix(proposal: Proposal) -> bool:
    return any(
        x.food.handling is not None and x.food.handling.kind == "premix" for x in proposal.lines
    )
