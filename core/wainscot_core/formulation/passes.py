"""Goal after goal: each pass keeps what the passes before it reached."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..facts.foods import FloatArray
from .goals import goal_value
from .model import Model
from .nearest import searched, settled
from .shape import over_caps
from .shortlist import Shortlist, closed, shortlists
from .solution import (
    HELD,
    MUST,
    NO_NEWS,
    Pass,
    Progress,
    Solution,
    as_good,
    columns_at,
    distance,
    goals_of,
    good_shape,
    grams_at,
    rank,
    worth_changing,
)
from .solver import Cancelled, Outcome, Solver, clock

# A solver's value and the value of its amounts are the same within this.
SAME = 1e-5

# Share of the time left that one pass may take when others follow.
PASS_SHARE = 0.6

# What is short is short by no more than it must be; the shape of a recipe is not told apart so finely.
MUST_GAP = 1e-3
# Over everything that may be added a pass takes this part of the effort: it begins from what is known.
WIDE = 10
# So much of the advice may be missed after a search that a wider one is not begun for it.
UNSEARCHED = {"advice": 0.01}


def solve(
    model: Model, progress: Progress | None = None, cancelled: Cancelled | None = None
) -> Solution:
    """Solve the goals: the usual ones together, others in order over the shortest list of items on which what comes
    before the shape of the recipe is as good as it can be. What was found when the time ends is kept and said."""
    goals = goals_of(model)
    stands = _as_it_stands(model, goals)
    if stands is not None and distance(stands) <= NO_NEWS:
        return stands
    if cancelled is not None and cancelled():
        return Solution("cancelled", None, None, (), np.nan)
    if progress is not None:
        progress(0, len(goals), goals[0] if goals else "")
    found = settled(model, goals, cancelled)
    if found is None:
        return _in_order(model, goals, progress, cancelled)
    best = found.solution
    if not good_shape(best, found.hoped) or not as_good(model, goals, best, {}):
        best = searched(model, goals, found, cancelled)
    if progress is not None:
        progress(len(goals), len(goals), "")
    if stands is None or best.grams is None or over_caps(model.problem, model.problem.current):
        return best
    return best if worth_changing(model, stands, best) else _left(stands, best)


def _left(stands: Solution, found: Solution) -> Solution:
    """The recipe as it stands: as surely the best as what was found would be."""
    told = {p.goal: p for p in found.passes}
    sure = ((p, told.get(p.goal, p)) for p in stands.passes)
    passes = (replace(p, proved=of.proved, gap=of.gap) for p, of in sure)
    return replace(stands, passes=tuple(passes))


def _in_order(
    model: Model, goals: Sequence[str], progress: Progress | None, cancelled: Cancelled | None
) -> Solution:
    best: Solution | None = None
    told = 0

    def tell(done: int, of: int, label: str) -> None:
        if progress is not None:
            progress(told + done, told + of, label)

    for choice in shortlists(model, goals):
        start = None if best is None else best.columns
        reached = best is not None and start is not None and as_good(model, goals, best, {})
        tried = _solve(model, goals, choice, start, reached, tell, cancelled)
        told += len(goals)
        if best is None or rank(model, tried) < rank(model, best):
            best = tried
        if tried.state in {"cancelled", "time-limit"}:
            break
        if good_shape(best, choice.worth) and as_good(model, goals, best, UNSEARCHED):
            break
    if progress is not None:
        progress(told, told, "")
    return best or Solution("impossible", None, None, (), np.nan)


def _as_it_stands(model: Model, goals: Sequence[str]) -> Solution | None:
    """The recipe as it is, where nothing that comes before its shape can be better: no limit is passed, and every goal up
    to the shape is as good as it can be. None otherwise."""
    problem = model.problem
    if "near" not in goals:
        return None
    # Whatever the order of the goals: what must be met is looked at before a recipe is left as it is.
    first = [*goals[: goals.index("near")], *(g for g in goals if g in MUST)]
    if any(c.excluded and c.current_grams > 0 for c in problem.candidates) or any(
        goal_value(model, goal, problem.current) > HELD for goal in first
    ):
        return None
    columns = columns_at(model, problem.current)
    if columns is None:
        return None
    grams = grams_at(model, columns)
    values = {g: goal_value(model, g, grams) for g in goals}
    # Nothing is less than nothing; of what else could be less nobody looked.
    least = {"near": NO_NEWS}
    passes = tuple(Pass(g, v, v <= least.get(g, HELD), 0.0, 0.0) for g, v in values.items())
    return Solution("solved", grams, columns, passes, goal_value(model, "minimums", grams))


def _solve(
    model: Model,
    goals: Sequence[str],
    choice: Shortlist,
    start: FloatArray | None,
    reached: bool,
    progress: Progress,
    cancelled: Cancelled | None,
) -> Solution:
    """Goal after goal over these items. reached: the energy, the minimums and the advice are as good as
    they can be at `start`, and are held there."""
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
        before = next((p.value for p in passes if p.goal == goal), None)
        if before is not None and _still(model, goal, best, before):
            continue  # nothing was taken that could be given back
        began = clock()
        if reached and goal in MUST and start is not None:
            value = _worth(model, goal, start)
            passes.append(Pass(goal, value, True, 0.0, 0.0))
            _hold(solver, model, goal, value, start)
            continue
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
        _hold(solver, model, goal, value, found.columns)
    if best is None or best.columns is None:
        return Solution(
            state if state != "solved" else "impossible", None, None, tuple(passes), np.nan
        )
    grams = grams_at(model, best.columns)
    return Solution(state, grams, best.columns, tuple(passes), goal_value(model, "minimums", grams))


def _hold(
    solver: Solver, model: Model, goal: str, value: float, columns: FloatArray | None
) -> None:
    """Let later goals give up no more of a goal than they may."""
    problem = model.problem
    given = problem.give.get(goal, 0.0) * abs(value)
    allowed = max(HELD, given, problem.room.get(goal, 0.0))
    solver.hold(model.objectives[goal], value + allowed)
    if goal == "minimums" and columns is not None:
        # What can be met is met for good; what cannot is not traded for it.
        for column in model.slack.values():
            most = float(columns[column]) * (1 + problem.give.get(goal, 0.0)) + HELD
            solver.bound(column, most)


def _worth(model: Model, goal: str, columns: FloatArray) -> float:
    return goal_value(model, goal, grams_at(model, columns))


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
