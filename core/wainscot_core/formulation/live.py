"""What a bound comes to while it is still being moved: the nearest recipe without regard to what can be measured, and
the measurable one once it rests."""

from dataclasses import dataclass

import numpy as np

from ..analysis.analyse import analyse
from ..analysis.results import Analysis
from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..figures import rounded
from .bounds import bounded
from .candidates import amount_text
from .formulate import formulate
from .goals import goal_value
from .model import Model, build
from .problem import Problem
from .proposal import State, lines_of
from .question import Settings, check_settings, problem_of
from .rows import SHORT
from .shortlist import supports
from .solution import HELD, SECONDS, usual
from .solver import Solver
from .standing import standing_of

# Less of an item is no amount.
DUST_G = 0.005


@dataclass(frozen=True, kw_only=True)
class LiveAmount:
    """What becomes of one food. line: its position, None for an added one. after: as it is measured, "" while it is
    not yet; measured: whether it is."""

    line: int | None
    food: str
    name: str
    before_grams: float
    after_grams: float
    after: str


@dataclass(frozen=True, kw_only=True)
class LiveAnswer:
    """The nearest recipe within the bounds. settled: in amounts that can be measured. short, over: names of what does
    not hold, your own bounds included. kcal: of a day. analysis: against the targets of the case alone."""

    state: State
    settled: bool
    amounts: tuple[LiveAmount, ...]
    short: tuple[str, ...]
    over: tuple[str, ...]
    kcal: float
    analysis: Analysis | None


def live_answer(dossier: Dossier, settings: Settings, settle: bool) -> LiveAnswer:
    """The nearest recipe within the settings' bounds. settle: in amounts that can be measured, which takes longer.
    Raises InputError for settings that make no sense."""
    asked = bounded(dossier, settings.bounds)
    if settle:
        found = formulate(asked, settings)
        return _told(dossier, asked, found.model, found.solution.grams, found.state, True)
    problem = problem_of(asked, check_settings(asked.reference, settings))
    model = build(problem)
    grams = continuous(model)
    if grams is None:
        return _told(dossier, asked, model, None, State.IMPOSSIBLE, False)
    short = goal_value(model, "minimums", grams) > SHORT
    state = State.UNDECIDED if problem.apart else State.SHORT if short else State.MET
    return _told(dossier, asked, model, grams, state, False)


def continuous(model: Model) -> FloatArray | None:
    """(C,) grams that reach the goals in their order without regard to steps; None where nothing can."""
    goals = [g for g in model.problem.goals if np.any(model.objectives[g])]
    if usual(model):
        rounds = supports(model, goals)
        return min(rounds, key=lambda r: r.worth).grams if rounds else None
    solver, grams = Solver(model, relaxed=True), None
    for goal in goals:
        found = solver.minimise(model.objectives[goal], SECONDS)
        if found.columns is None:
            break
        grams = model.amounts @ found.columns
        solver.hold(model.objectives[goal], found.value + HELD * max(1.0, abs(found.value)))
    return grams


def _told(
    dossier: Dossier,
    asked: Dossier,
    model: Model,
    grams: FloatArray | None,
    state: State,
    settled: bool,
) -> LiveAnswer:
    if grams is None:
        return LiveAnswer(
            state=state, settled=settled, amounts=(), short=(), over=(), kcal=0.0, analysis=None
        )
    problem = model.problem
    grams = np.where(grams < DUST_G, 0.0, grams)
    lines = lines_of(dossier, problem, grams)
    stands = standing_of(asked.with_lines(lines))
    if state is State.MET and stands.unproven:
        state = State.UNPROVEN
    return LiveAnswer(
        state=state, settled=settled, amounts=tuple(_amounts(problem, grams, settled)),
        short=stands.short, over=stands.over,
        kcal=rounded(float(problem.contents.kcal @ grams) / dossier.days),
        analysis=analyse(dossier.with_lines(lines)),
    )  # fmt: skip


def _amounts(problem: Problem, grams: FloatArray, settled: bool) -> "list[LiveAmount]":
    return [
        LiveAmount(
            line=c.line, food=c.food.id, name=c.food.name, before_grams=rounded(c.current_grams),
            after_grams=rounded(after), after=amount_text(c.increment, after) if settled and after else "",
        )
        for c, after in zip(problem.candidates, grams.tolist(), strict=True)
        if after > 0 or c.current_grams > 0
    ]  # fmt: skip
