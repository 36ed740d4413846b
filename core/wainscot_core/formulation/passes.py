"""Goal after goal: each pass keeps what the passes before it reached."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..facts.foods import FloatArray
from .goals import goal_value
from .model import Model
from .shortlist import Shortlist, closed, shortlists
from .solver import Cancelled, Outcome, Solver, clock

# What a later goal may always give up of an earlier one: rounding.
HELD = 1e-7

# A solver's value and the value of its amounts are the same within this.
SAME = 1e-5

# Share of the time left that one pass may take when others follow.
PASS_SHARE = 0.6

# Goals that no other shape of the recipe is worth, and how near the continuous problem they must come.
MUST = ("energy", "minimums", "advice")
AS_GOOD = 1e-3
# What is short is short by no more than it must be; the shape of a recipe is not told apart so finely.
MUST_GAP = 1e-3
SECONDS = 30.0
# Over everything that may be added a pass takes this part of the effort: it begins from what is known.
WIDE = 5
# How much further from the recipe than the continuous problem is not worth more search.
GOOD_SHAPE = 0.25

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
    """Solve the goals in order over the shortest list of items on which what comes before the shape of
    the recipe is as good as it can be. What was found when the time ends is kept and said."""
    goals = [g for g in model.problem.goals if np.any(model.objectives[g])]
    stands = _as_it_stands(model, goals)
    if stands is not None:
        return stands
    best: Solution | None = None
    told = 0

    def tell(done: int, of: int, label: str) -> None:
        if progress is not None:
            progress(told + done, told + of, label)

    for choice in shortlists(model, goals):
        start = None if best is None else best.columns
        found = _solve(model, goals, choice, start, tell, cancelled)
        told += len(goals)
        if best is None or _rank(model, found) < _rank(model, best):
            best = found
        if found.state in {"cancelled", "time-limit"}:
            break
        if _as_good(model, goals, best) and _near(best) <= choice.worth + GOOD_SHAPE:
            break
    if progress is not None:
        progress(told, told, "")
    return best or Solution("impossible", None, None, (), np.nan)


def _as_it_stands(model: Model, goals: Sequence[str]) -> Solution | None:
    """The recipe as it is, where nothing can be better: no limit is passed, and every goal up to the shape
    of the recipe is as good as it can be. None otherwise."""
    problem = model.problem
    if "near" not in goals:
        return None
    first = goals[: goals.index("near") + 1]
    if any(c.excluded and c.current_grams > 0 for c in problem.candidates) or any(
        goal_value(model, goal, problem.current) > HELD for goal in first
    ):
        return None
    held: dict[int, tuple[float, float]] = {}
    for j, c in enumerate(problem.candidates):
        columns = np.flatnonzero(model.amounts[j]).tolist()
        # The last column of a line off the steps is that it stays as it is.
        *steps, last = columns
        size = float(model.amounts[j, last])
        held |= dict.fromkeys(steps, (0.0, 0.0))
        held[last] = (c.current_grams / size, c.current_grams / size)
    found = Solver(model, opened=held).minimise(model.objectives["near"], SECONDS)
    if found.columns is None:
        return None
    grams = _grams(model, found.columns)
    passes = tuple(Pass(g, goal_value(model, g, grams), True, 0.0, 0.0) for g in goals)
    return Solution("solved", grams, found.columns, passes, goal_value(model, "minimums", grams))


def _near(found: Solution) -> float:
    """How far a solution is from the recipe; 0 where that was not asked."""
    return next((p.value for p in reversed(found.passes) if p.goal == "near"), 0.0)


def _rank(model: Model, found: Solution) -> tuple[float, ...]:
    """What makes one solution better than another: its goals in order, each to what can be told apart.
    What may give way to later goals is told apart only beyond that."""
    if found.columns is None:
        return (np.inf,)
    room = model.problem.room
    return tuple(round(max(0.0, p.value - room.get(p.goal, 0.0)), 3) for p in found.passes)


def _as_good(model: Model, goals: Sequence[str], found: Solution) -> bool:
    """Whether the energy, the minimums and the advice are where the continuous problem has them."""
    if found.columns is None:
        return False
    solver = Solver(model, relaxed=True)
    for goal in goals:
        if goal not in MUST:
            continue
        objective = model.objectives[goal]
        bound = solver.minimise(objective, SECONDS)
        reached = next((p.value for p in found.passes if p.goal == goal), np.inf)
        if bound.columns is None or reached > bound.value * (1 + AS_GOOD) + AS_GOOD:
            return False
        solver.hold(objective, reached + HELD)
    return True


def _solve(
    model: Model,
    goals: Sequence[str],
    choice: Shortlist,
    start: FloatArray | None,
    progress: Progress,
    cancelled: Cancelled | None,
) -> Solution:
    problem = model.problem
    nodes = problem.nodes if choice.narrow else problem.nodes // WIDE
    solver = Solver(model, opened=closed(model, choice.items), cancelled=cancelled, nodes=nodes)
    ends = clock() + problem.time_limit_s
    goals = list(goals)
    if "near" in goals and goals[-1] != "near" and problem.give.get("near"):
        # What later goals took of the leave they had is given back where they do not need it.
        goals.append("near")
    best: Outcome | None = None
    passes: list[Pass] = []
    state = "solved"
    for i, goal in enumerate(goals):
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
        if best is not None:
            start = best.columns
        solver.gap(min(problem.gap, MUST_GAP) if goal in MUST else problem.gap)
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
        given = problem.give.get(goal, 0.0) * abs(value)
        allowed = max(HELD, given, problem.room.get(goal, 0.0))
        solver.hold(objective, value + allowed)
        if goal == "minimums":
            # What can be met is met for good; what cannot is not traded for it.
            for column in model.slack.values():
                most = float(best.columns[column]) if best.columns is not None else 0.0
                solver.bound(column, most * (1 + problem.give.get(goal, 0.0)) + HELD)
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
