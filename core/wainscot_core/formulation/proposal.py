"""A proposal: how a formulation ended, and a solution as a list of changes that someone accepts or leaves."""

from dataclasses import dataclass, replace
from enum import StrEnum

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..facts.preparations import MethodChoice, method_choices
from ..figures import rounded
from ..recipe.amount import Amount, written
from ..recipe.line import Line
from .candidates import amount_text, plural
from .costs import LimitCost
from .impasse import Impasse
from .model import Model
from .problem import Candidate, Problem
from .reasons import reasons_of
from .rows import SHORT
from .solution import (
    Pass,
    Solution,
)
from .standing import Standing, standing_of


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
