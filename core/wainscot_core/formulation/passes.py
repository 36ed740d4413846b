"""Goal after goal: each pass keeps what the passes before it reached."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ..facts.foods import FloatArray
from .goals import goal_value
from .model import Model
from .solver import Cancelled, Outcome, Solver, clock

# What a later goal may always give up of an earlier one: rounding.
HELD = 1e-7

# A solver's value and the value of its amounts are the same within this.
SAME = 1e-5

# Share of the time left that one pass may take when others follow.
PASS_SHARE = 0.6

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


def solve(
    model: Model, progress: Progress | None = None, cancelled: Cancelled | None = None
) -> Solution:
    """Solve the goals in order. What was found when the time ends is kept and said."""
    problem = model.problem
    solver = Solver(model, cancelled=cancelled)
    ends = clock() + problem.time_limit_s
    goals = [g for g in problem.goals if np.any(model.objectives[g])]
    if "near" in goals and goals[-1] != "near" and problem.give.get("near"):
        # What later goals took of the leave they had is given back where they do not need it.
        goals.append("near")
    best: Outcome | None = None
    passes: list[Pass] = []
    state = "solved"
    for i, goal in enumerate(goals):
        if progress is not None:
            progress(i, len(goals), goal)
        if cancelled is not None and cancelled():
            state = "cancelled"
            break
        objective = model.objectives[goal]
        reached = next((p.value for p in passes if p.goal == goal), None)
        if reached is not None and _still(model, goal, best, reached):
            continue  # nothing was taken that could be given back
        began = clock()
        left = ends - began
        if left <= 0 and best is not None and best.columns is not None:
            passes.append(Pass(goal, _worth(model, goal, best.columns), False, np.inf, 0.0))
            continue
        # Later goals get their share of the time too.
        left *= 1.0 if i == len(goals) - 1 else PASS_SHARE
        start = best.columns if best is not None else None
        found = solver.minimise(objective, max(left, 0.05), start)
        again = _wrong(model, goal, found, start)
        if again:
            # Presolve was seen to call an answer best that was not (HiGHS 1.14).
            found = solver.minimise(
                objective, max(began + left - clock(), 0.05), start, presolve=False
            )
        if found.state == "infeasible" and best is None:
            return Solution("impossible", None, None, (), np.nan)
        if found.columns is None:
            # Nothing better than what the passes before gave.
            state = "cancelled" if found.state == "cancelled" else state
            if best is None:
                return Solution(
                    found.state if found.state == "cancelled" else "time-limit",
                    None, None, tuple(passes), np.nan,
                )  # fmt: skip
            value = np.nan if best.columns is None else _worth(model, goal, best.columns)
            passes.append(Pass(goal, value, False, np.inf, clock() - began, again))
            continue
        proved = found.state == "optimal" and not _wrong(model, goal, found, start)
        value = _worth(model, goal, found.columns)
        if start is not None and _worth(model, goal, start) < value:
            found, value = replace(found, columns=start), _worth(model, goal, start)
        best = found
        passes.append(Pass(goal, value, proved, found.gap, clock() - began, again))
        if found.state == "cancelled":
            state = "cancelled"
            break
        allowed = max(HELD, problem.give.get(goal, 0.0) * abs(value))
        solver.hold(objective, value + allowed)
    if progress is not None:
        progress(len(goals), len(goals), "")
    if best is None or best.columns is None:
        return Solution(
            state if state != "solved" else "impossible", None, None, tuple(passes), np.nan
        )
    grams = _grams(model, best.columns)
    return Solution(state, grams, best.columns, tuple(passes), goal_value(model, "minimums", grams))


def _grams(model: Model, columns: FloatArray) -> FloatArray:
    """(C,) grams of a solution, without the solver's dust."""
    grams: FloatArray = model.amounts @ columns
    grams[np.abs(grams) < 1e-9] = 0.0
    return grams


def _worth(model: Model, goal: str, columns: FloatArray) -> float:
    return goal_value(model, goal, _grams(model, columns))


def _wrong(model: Model, goal: str, found: Outcome, start: FloatArray | None) -> bool:
    """True when an answer cannot be trusted: nothing is called possible although it began from
    amounts that are, or the best has another value than its amounts, or a worse one than it began
    from. That nothing is possible at all is looked at twice."""
    if found.state == "infeasible":
        return True
    if found.state != "optimal" or found.columns is None:
        return False
    value = _worth(model, goal, found.columns)
    slack = SAME + model.problem.gap * abs(value)
    if abs(found.value - value) > slack:
        return True
    return start is not None and _worth(model, goal, start) < value - slack


def _still(model: Model, goal: str, best: Outcome | None, reached: float) -> bool:
    """True while a goal is where its own pass left it."""
    if best is None or best.columns is None:
        return False
    return _worth(model, goal, best.columns) <= reached * (1 + model.problem.gap) + HELD
