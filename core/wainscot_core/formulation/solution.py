"""A solution of the goals, and what makes one better than another."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..facts.foods import FloatArray
from .goals import goal_value
from .model import Model
from .rows import SHORT
from .solver import Solver

# What a later goal may always give up of an earlier one: rounding.
HELD = 1e-7
# Goals that no other shape of the recipe is worth, and how near the continuous problem they must come.
MUST = ("energy", "minimums", "advice")
AS_GOOD = 1e-3
# Decimals to which goals are told apart.
TOLD_APART = 3
HAIR = 10.0**-TOLD_APART
SECONDS = 30.0
# How much further from the recipe than the continuous problem is not worth more search: so many times, and so much.
SEARCHED = 1.35
SEARCHED_ROOM = 0.15
# What is as near as makes no difference to a kitchen.
GOOD_SHAPE = 0.25
# A shape this near to what it should be is no reason to change a recipe, and no more of it is one to change a line.
NO_NEWS = 0.03
# Amounts that differ by less are the same, g.
SAME_G = 1e-6
# A shape that lies within this of the continuous one counts as proved.
PROVED_GAP = 0.25

Progress = Callable[[int, int, str], None]


@dataclass(frozen=True)
class Pass:
    """One goal's result: its value by plain arithmetic, whether it was proved best, the seconds.

    solved_again: the solver's own value was not that of its amounts (or worse than what was known
    already), so the pass was solved once more without presolve.
    """

    goal: str
    value: float
    proved: bool
    gap: float
    seconds: float
    solved_again: bool = False


@dataclass(frozen=True)
class Solution:
    """The last solution of the passes.

    state: solved, impossible (an upper limit, a bound or the energy cannot be held), time-limit
    (nothing found in time) or cancelled. grams: (C,) as weighed; None when nothing was found.
    """

    state: str
    grams: FloatArray | None
    columns: FloatArray | None
    passes: tuple[Pass, ...]
    shortfall: float


NOTHING = Solution("impossible", None, None, (), float("nan"))


def goals_of(model: Model) -> list[str]:
    """The goals that anything can be done about."""
    return [g for g in model.problem.goals if np.any(model.objectives[g])]


def usual(model: Model) -> bool:
    """Whether the energy, the minimums and the advice come first, in this order, and staying near the recipe
    after them."""
    goals = goals_of(model)
    if "near" not in goals:
        return False
    at = goals.index("near")
    return goals[:at] == [g for g in MUST if g in goals[:at]] and not set(goals[at + 1 :]) - {
        "cost"
    }


def solution_at(model: Model, goals: Sequence[str], grams: FloatArray, worth: float) -> Solution:
    """Grams as a solution, with each goal's value and how far the shape is from the continuous one."""
    passes, columns = passes_at(model, goals, grams, worth), columns_at(model, grams)
    return Solution("solved", grams, columns, passes, goal_value(model, "minimums", grams))


def passes_at(
    model: Model, goals: Sequence[str], grams: FloatArray, worth: float
) -> tuple[Pass, ...]:
    """What the goals come to at (C,) grams."""
    passes = []
    for goal in goals:
        value = goal_value(model, goal, grams)
        gap = max(0.0, value - worth) / value if goal == "near" and value > 0 else 0.0
        passes.append(Pass(goal, value, gap <= PROVED_GAP, gap, 0.0))
    return tuple(passes)


def good_shape(found: Solution, worth: float) -> bool:
    """Whether a recipe is near enough to what amounts without steps reach that a search finds little."""
    return found.grams is not None and distance(found) <= SEARCHED * worth + SEARCHED_ROOM


def distance(found: Solution) -> float:
    """How far a solution is from the recipe; 0 where that was not asked."""
    return next((p.value for p in reversed(found.passes) if p.goal == "near"), 0.0)


def changed(model: Model, found: Solution) -> int:
    """How many amounts of a solution are others than in the recipe as it stands."""
    if found.grams is None:
        return 0
    return int(np.count_nonzero(np.abs(found.grams - model.problem.current) > SAME_G))


def worth_changing(model: Model, stands: Solution, found: Solution) -> bool:
    """Whether another solution's shape is worth the lines it changes, where the recipe as it stands meets all that comes
    before the shape: who asks again after taking an answer is not sent back to the scale for nothing."""
    return distance(stands) > distance(found) + NO_NEWS * changed(model, found)


def least_distance(found: Solution) -> float:
    """As near as amounts without steps come, by what its search proved; 0 where that was not asked."""
    return min((p.value * (1 - min(p.gap, 1)) for p in found.passes if p.goal == "near"), default=0)


def rank(model: Model, found: Solution) -> tuple[float, ...]:
    """What makes one solution better than another: its goals in order, each to what can be told apart.
    What may give way to later goals is told apart only beyond that; what is missed by a hair is missed."""
    if found.columns is None:
        return (np.inf,)
    room = model.problem.room
    return tuple(
        max(round(over, TOLD_APART), HAIR if p.goal in MUST and over > SHORT else 0.0)
        for p in found.passes
        for over in [max(0.0, p.value - room.get(p.goal, 0.0))]
    )


def as_good(model: Model, goals: Sequence[str], found: Solution, room: Mapping[str, float]) -> bool:
    """Whether the energy, the minimums and the advice are where the continuous problem has them, but for `room`, what
    may be given up of each."""
    if found.columns is None:
        return False
    solver = Solver(model, relaxed=True)
    for goal in goals:
        if goal not in MUST:
            continue
        objective = model.objectives[goal]
        bound = solver.minimise(objective, SECONDS)
        reached = next((p.value for p in found.passes if p.goal == goal), np.inf)
        away = SHORT if bound.value <= SHORT else AS_GOOD
        most = bound.value * (1 + AS_GOOD) + away + room.get(goal, 0.0)
        if bound.columns is None or reached > most:
            return False
        solver.hold(objective, reached + HELD)
    return True


def columns_at(model: Model, grams: FloatArray) -> FloatArray | None:
    """The columns of the programme at (C,) grams, None where a row or a bound does not allow them."""
    held = {
        column: (value, value)
        for j, there in enumerate(grams.tolist())
        for column, value in columns_of(model, j, there).items()
    }
    return (
        Solver(model, relaxed=True, opened=held).minimise(model.objectives["near"], SECONDS).columns
    )


def columns_of(model: Model, j: int, grams: float) -> dict[int, float]:
    """The columns of one candidate's amount, and of its being there, at so many grams."""
    steps, *kept = np.flatnonzero(model.amounts[j]).tolist()
    stays = bool(kept) and abs(grams - model.problem.candidates[j].current_grams) < 1e-6
    found = {steps: 0.0 if stays else grams / float(model.amounts[j, steps])}
    found.update(dict.fromkeys(kept, float(stays)))
    if j in model.present:
        found[model.present[j]] = float(grams > 0)
    return found


def grams_at(model: Model, columns: FloatArray) -> FloatArray:
    """(C,) grams of a solution, without the solver's dust."""
    grams: FloatArray = model.amounts @ columns
    grams[np.abs(grams) < 1e-9] = 0.0
    return grams
