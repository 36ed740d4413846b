"""Goal after goal: each pass keeps what the passes before it reached."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..foods import FloatArray
from .model import Model
from .solver import Cancelled, Outcome, Solver, clock

# What a later goal may always give up of an earlier one: rounding.
HELD = 1e-7

# Share of the time left that one pass may take when others follow.
PASS_SHARE = 0.6

Progress = Callable[[int, int, str], None]


@dataclass(frozen=True)
class Pass:
    """One goal's result: its value, whether it was proved best, the seconds it took."""

    goal: str
    value: float
    proved: bool
    gap: float
    seconds: float


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

    @property
    def all_proved(self) -> bool:
        """True when every pass was solved to its gap."""
        return all(p.proved for p in self.passes)


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
        if reached is not None and _still(objective, best, reached, problem.gap):
            continue  # nothing was taken that could be given back
        began = clock()
        left = ends - began
        if left <= 0 and best is not None and best.columns is not None:
            passes.append(Pass(goal, float(objective @ best.columns), False, np.inf, 0.0))
            continue
        # Later goals get their share of the time too.
        left *= 1.0 if i == len(goals) - 1 else PASS_SHARE
        found = solver.minimise(
            objective, max(left, 0.05), best.columns if best is not None else None
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
            value = float(objective @ best.columns) if best.columns is not None else np.nan
            passes.append(Pass(goal, value, False, np.inf, clock() - began))
            continue
        best = found
        passes.append(Pass(goal, found.value, found.state == "optimal", found.gap, clock() - began))
        if found.state == "cancelled":
            state = "cancelled"
            break
        allowed = max(HELD, problem.give.get(goal, 0.0) * abs(found.value))
        solver.hold(objective, found.value + allowed)
    if progress is not None:
        progress(len(goals), len(goals), "")
    if best is None or best.columns is None:
        return Solution(
            state if state != "solved" else "impossible", None, None, tuple(passes), np.nan
        )
    grams = model.amounts @ best.columns
    grams[np.abs(grams) < 1e-9] = 0.0
    shortfall = float(model.objectives["minimums"] @ best.columns)
    return Solution(state, grams, best.columns, tuple(passes), shortfall)


def _still(objective: FloatArray, best: Outcome | None, reached: float, gap: float) -> bool:
    """True while a goal is where its own pass left it."""
    if best is None or best.columns is None:
        return False
    return float(objective @ best.columns) <= reached * (1 + gap) + HELD
