"""Ask and answer: a case with settings in, a proposal in words out.

Nothing here writes: a proposal is a list of changes that someone accepts or leaves.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..facts.preparations import MethodChoice, method_choices
from ..figures import rounded
from ..recipe.amount import Amount, written
from ..recipe.line import Line
from .apart import shut
from .candidates import amount_text, plural
from .costs import LimitCost, limit_costs
from .goals import goal_value
from .impasse import Impasse, impasses
from .leaves import leaves
from .model import Model, build
from .nearest import nearby
from .partners import with_partners
from .passes import solve
from .problem import Candidate, Problem
from .question import Settings, check_settings, problem_of
from .reasons import reasons_of
from .rows import SHORT, missed
from .shape import over_caps, torn, with_caps_held
from .solution import (
    AS_GOOD,
    MUST,
    Pass,
    Progress,
    Solution,
    distance,
    goals_of,
    least_distance,
    solution_at,
    usual,
)
from .solver import Cancelled
from .standing import Standing, standing_of

# Of what the limits leave to a main food, so much is asked to stay where half of its share is more than that.
STAYS = 0.75


class State(StrEnum):
    """How a formulation ended.

    unproven: every limit is met as far as is known, and some are not proven. short: the best that can be had leaves
    minimums short. undecided: a floor and a ceiling in the targets leave nothing between them, and what is proposed keeps
    the ceiling. not-finished: every limit is met, and the search ended far from what could be proved nearest to the recipe.
    """

    MET = "met"
    UNFINISHED = "not-finished"
    UNPROVEN = "unproven"
    SHORT = "short"
    IMPOSSIBLE = "impossible"
    UNDECIDED = "undecided"
    TIME_LIMIT = "time-limit"
    CANCELLED = "cancelled"


class Happens(StrEnum):
    """What a proposal does with a food."""

    KEPT = "kept"
    CHANGED = "changed"
    REMOVED = "removed"
    ADDED = "added"


@dataclass(frozen=True, kw_only=True)
class Change:
    """What happens to one food. line: its position in the recipe, None for an added one; before and
    after: its amounts as they are written; why: what it is there or changed for; needs: the nutrients
    that would not hold without it; least: the least amount that holds them; without: how far off they
    would be; kcal: by how much its energy changes; methods: how an added food can be prepared."""

    line: int | None
    food: str
    name: str
    kind: Happens
    before_grams: float
    after_grams: float
    before: str
    after: str
    why: str
    needs: tuple[str, ...]
    least: str
    without: str
    kcal: float
    methods: tuple[MethodChoice, ...]


@dataclass(frozen=True)
class Proposal:
    """The answer. lines: the adjusted recipe, () when there is none."""

    state: State
    model: Model
    solution: Solution
    changes: tuple[Change, ...]
    lines: tuple[Line, ...]
    costs: tuple[LimitCost, ...]
    # What cannot hold together, each independent of the others.
    impasses: tuple[Impasse, ...] = ()
    # How the adjusted recipe stands, None without one.
    stands: Standing | None = None
    # Where minimums stay short and this one stays nearer to the recipe, the least that they can be short by; where this
    # one gives up main foods, the one that keeps them and is short of more.
    least_short: "Proposal | None" = None
    kept: "Proposal | None" = None

    @property
    def passes(self) -> tuple[Pass, ...]:
        """What each goal reached."""
        return self.solution.passes


def formulate(
    dossier: Dossier,
    settings: Settings,
    progress: Progress | None = None,
    cancelled: Cancelled | None = None,
) -> Proposal:
    """Adjust a recipe. Raises InputError for settings that make no sense."""
    problem = problem_of(dossier, check_settings(dossier.reference, settings))
    model = build(problem)
    apart = shut(problem, dossier.reference.basis)
    solution = solve(model, progress, cancelled)
    impossible = solution.state == "impossible"
    short = solution.grams is not None and solution.shortfall > SHORT
    together: tuple[Impasse, ...] = ()
    stopped = solution.state in {"cancelled", "time-limit"}
    if (impossible or short) and not stopped:
        if progress is not None:
            progress(0, 1, "what cannot hold together")
        found = tuple(impasses(model, cancelled, elastic=impossible))
        together = with_partners(dossier, model, found, impossible) if found else ()
    together = (*apart, *together)
    state = State(solution.state) if stopped or impossible else reached(problem, solution)
    if solution.grams is None:
        return Proposal(state, model, solution, (), (), (), together)
    free = _is_free(model) and not stopped
    if free:
        model, solution = _within_caps(model, solution, progress, cancelled)
    proposal = proposal_at(dossier, model, solution, state)
    if free:
        proposal = _nearer_to_hers(dossier, proposal, progress, cancelled)
    costs: tuple[LimitCost, ...] = ()
    if proposal.state in {State.MET, State.UNPROVEN} and proposal.solution.grams is not None:
        costs = limit_costs(proposal.model, proposal.solution.grams)
    return replace(proposal, costs=costs, impasses=together)


def _is_free(model: Model) -> bool:
    """Whether the recipe is to stay near what it was and may be another: where its foods stay as they are there is nothing
    to look for."""
    return usual(model) and model.problem.energy_free


def _within_caps(
    model: Model,
    solution: Solution,
    progress: Progress | None,
    cancelled: Cancelled | None,
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
        found = solve(held, progress, cancelled)
        if _is_as_good(problem, solution, found):
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


def _nearer_to_hers(
    dossier: Dossier,
    proposal: Proposal,
    progress: Progress | None,
    cancelled: Cancelled | None,
) -> Proposal:
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
        # Small moves from amounts that gave her foods up do not come back to them.
        model = build(asked)
        found = solve(model, progress, cancelled)
        if found.state == "solved" and asked.shape is not problem.shape:
            model, found = _told_by(
                replace(asked, keeps=False, shape=problem.shape), proposal, found
            )
        if found.grams is None or found.state != "solved":
            continue
        nearer = proposal_at(dossier, model, found, reached(asked, found))
        stays = not torn(problem, found.grams)
        if _is_better(proposal.model, proposal.solution, found, stays):
            return replace(nearer, least_short=proposal if eased else None, kept=kept)
        if stays and torn(problem, grams):
            kept = nearer
    return replace(proposal, kept=kept)


def _told_by(problem: Problem, first: Proposal, found: Solution) -> tuple[Model, Solution]:
    """A solution of another shape, told by how far it is from what should be kept."""
    model = build(problem)
    if found.grams is None:
        return model, found
    worth = least_distance(first.solution)
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


def proposal_at(dossier: Dossier, model: Model, solution: Solution, state: State) -> Proposal:
    """A solution as changes and lines; nothing is proposed without amounts."""
    if solution.grams is None:
        return Proposal(state, model, solution, (), (), ())
    changes = changes_of(dossier, model, solution.grams)
    lines = lines_of(dossier, model.problem, solution.grams)
    stands = standing_of(dossier.with_lines(lines))
    if state is State.MET and (stands.short or stands.over):
        state = State.SHORT  # the analysis has the last word
    if state is State.MET and stands.unproven:
        state = State.UNPROVEN
    return Proposal(state, model, solution, changes, lines, (), stands=stands)


def reached(problem: Problem, solution: Solution) -> State:
    """How amounts stand by what was asked of them; what is not proven is told by the analysis."""
    if problem.apart:
        return State.UNDECIDED
    return State.SHORT if problem.eased or solution.shortfall > SHORT else State.MET


def changes_of(dossier: Dossier, model: Model, grams: FloatArray) -> tuple[Change, ...]:
    """What happens to every line, and what is added."""
    problem = model.problem
    lines, methods = dossier.lines, dossier.reference.methods
    found = []
    energy = problem.contents.kcal
    reasons = reasons_of(model, grams)
    for c, after, kcal, reason in zip(problem.candidates, grams, energy, reasons, strict=True):
        before = c.current_grams
        if c.line is None and after == 0:
            continue
        same = abs(after - before) < 1e-6
        kind = (
            Happens.ADDED
            if c.line is None
            else Happens.REMOVED
            if after == 0
            else Happens.KEPT
            if same
            else Happens.CHANGED
        )
        original = ""
        if c.line is not None:
            amount = lines[c.line].amount
            original = written(amount, dossier.measures) + plural(amount.unit, amount.count)
        found.append(
            Change(
                line=c.line,
                food=c.food.id,
                name=c.food.name,
                kind=kind,
                before_grams=rounded(before),
                after_grams=rounded(float(after)),
                before=original,
                after=original
                if same
                else ""
                if after == 0
                else amount_text(c.increment, float(after)),
                why=reason.why,
                needs=reason.needs,
                least=""
                if reason.least_grams is None
                else amount_text(c.increment, reason.least_grams),
                without=reason.without,
                kcal=rounded(float(kcal) * (float(after) - before)),
                methods=method_choices(methods, c.food) if kind is Happens.ADDED else (),
            )
        )
    return tuple(found)


def lines_of(dossier: Dossier, problem: Problem, grams: FloatArray) -> tuple[Line, ...]:
    """The adjusted recipe: kept lines in their order, added ones after them."""
    found = []
    for c, after in zip(problem.candidates, grams, strict=True):
        if after == 0:
            continue
        if c.line is None:
            row = dossier.library.row(c.food.id)
            count = float(after) / c.increment.grams * c.increment.count
            found.append(
                Line(c.food, row, Amount(count, c.increment.unit, float(after), "adjusted"), None)
            )
            continue
        line = dossier.lines[c.line]
        if abs(after - c.current_grams) < 1e-6:
            found.append(line)
        else:
            count = float(after) / c.increment.grams * c.increment.count
            amount = Amount(count, c.increment.unit, float(after), "adjusted")
            found.append(replace(line, amount=amount))
    return tuple(found)


def candidate_name(problem: Problem, position: int) -> str:
    """The food's name of a candidate."""
    candidate: Candidate = problem.candidates[position]
    return candidate.food.name
