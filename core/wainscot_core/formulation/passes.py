"""Goal after goal: each pass keeps what the passes before it reached."""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..facts.foods import FloatArray
from .goals import goal_value
from .model import Model
from .settle import HARD, Ground, ground_of, settle, without_each
from .shortlist import Round, Shortlist, closed, few, shortlists, supports
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
WIDE = 10
# So much of the advice may be missed after a search that a wider one is not begun for it.
UNSEARCHED = {"advice": 0.01}
# How much further from the recipe than the continuous problem is not worth more search.
GOOD_SHAPE = 0.25
SEARCHED = 1.6

# From so many of the continuous problem's choices of items small moves begin.
STARTS = 3
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
    if cancelled is not None and cancelled():
        return Solution("cancelled", None, None, (), np.nan)
    if progress is not None:
        progress(0, len(goals), goals[0] if goals else "")
    found = _settled(model, goals)
    tries: Iterable[Shortlist] = shortlists(model, goals)
    if found is not None:
        best = found.solution
        if _good_shape(best, found.worth) and _as_good(model, goals, best, {}):
            if progress is not None:
                progress(len(goals), len(goals), "")
            return best
        tries = _around(model, found)
    told = 0

    def tell(done: int, of: int, label: str) -> None:
        if progress is not None:
            progress(told + done, told + of, label)

    for choice in tries:
        start = None if best is None else best.columns
        reached = best is not None and start is not None and _as_good(model, goals, best, {})
        tried = _solve(model, goals, choice, start, reached, tell, cancelled)
        told += len(goals)
        if found is not None and tried.grams is not None:
            tried = _polished(model, goals, found.ground, tried)
        if best is None or _rank(model, tried) < _rank(model, best):
            best = tried
        if tried.state in {"cancelled", "time-limit"}:
            break
        near = found is not None or _good_shape(best, choice.worth)
        if near and _as_good(model, goals, best, UNSEARCHED):
            break
    if progress is not None:
        progress(told, told, "")
    return best or Solution("impossible", None, None, (), np.nan)


@dataclass(frozen=True)
class _Settled:
    """What small moves found from the rounds of the continuous problem."""

    solution: Solution
    ground: Ground
    rounds: Sequence[Round]
    worth: float


def _settled(model: Model, goals: Sequence[str]) -> _Settled | None:
    """Measurable amounts near the continuous problem's, where the goals are the usual ones and there is
    much to choose from; None otherwise."""
    if not usual(model) or few(model) or model.problem.gap == 0:
        return None
    rounds = supports(model, goals)
    if not rounds:
        return None
    missed = _least_missed(model, goals)
    ground = ground_of(model, missed)
    starts: dict[frozenset[int], Round] = {}
    for one in sorted(rounds, key=lambda r: r.worth):
        starts.setdefault(one.items, one)
    ends = [settle(ground, one.grams) for one in list(starts.values())[:STARTS]]
    swaps = frozenset(j for j, c in enumerate(model.problem.candidates) if c.instead_of is not None)
    if any(swaps & r.items for r in starts.values()):
        # Her own foods first: how far one comes without putting others in their place.
        own = supports(model, goals, swaps)
        if own:
            ends.append(settle(ground, min(own, key=lambda r: r.worth).grams))
    worth = min(r.worth for r in rounds)
    grams, cost = min(ends, key=lambda end: end[1])
    grams, cost = without_each(ground, grams, cost, _enough(worth))
    solution = _solution_at(model, goals, grams, worth) if cost < HARD else NOTHING
    if cost < HARD and goal_value(model, "advice", grams) > missed + AS_GOOD:
        # Advice that costs little of the shape is followed, not left within what may be given up of it.
        strict, there = settle(replace(ground, leave=missed), grams)
        followed = _solution_at(model, goals, strict, worth)
        if there < HARD and _good_shape(followed, worth) and _as_good(model, goals, followed, {}):
            solution = followed
    return _Settled(solution, ground, rounds, worth)


def nearby(model: Model, other: Solution) -> Solution | None:
    """A solution by small moves alone, from the continuous problem's amounts and from those of another
    solution of the same candidates; None where the goals are not the usual ones."""
    goals = [g for g in model.problem.goals if np.any(model.objectives[g])]
    if not usual(model) or other.grams is None:
        return None
    rounds = supports(model, goals)
    ground = ground_of(model, next((p.value for p in other.passes if p.goal == "advice"), 0.0))
    starts = [other.grams]
    if rounds:
        best = min(rounds, key=lambda r: r.worth)
        starts.append(best.grams)
    grams, cost = min((settle(ground, start) for start in starts), key=lambda end: end[1])
    worth = min((r.worth for r in rounds), default=0.0)
    return _solution_at(model, goals, grams, worth) if cost < HARD else None


def usual(model: Model) -> bool:
    """Whether the energy, the minimums and the advice come first, in this order, and staying near the recipe
    after them."""
    goals = [g for g in model.problem.goals if np.any(model.objectives[g])]
    if "near" not in goals:
        return False
    at = goals.index("near")
    return goals[:at] == [g for g in MUST if g in goals[:at]] and not set(goals[at + 1 :]) - {
        "cost"
    }


def _least_missed(model: Model, goals: Sequence[str]) -> float:
    """What of the advice no amounts can follow, the goals before it held."""
    if "advice" not in goals:
        return 0.0
    solver = Solver(model, relaxed=True)
    for goal in goals[: goals.index("advice")]:
        found = solver.minimise(model.objectives[goal], SECONDS)
        if found.columns is None:
            return 0.0
        solver.hold(model.objectives[goal], found.value + HELD)
    return max(0.0, solver.minimise(model.objectives["advice"], SECONDS).value)


def _solution_at(model: Model, goals: Sequence[str], grams: FloatArray, worth: float) -> Solution:
    """Grams as a solution, with each goal's value and how far the shape is from the continuous one."""
    passes = []
    for goal in goals:
        value = goal_value(model, goal, grams)
        gap = max(0.0, value - worth) / value if goal == "near" and value > 0 else 0.0
        passes.append(Pass(goal, value, gap <= PROVED_GAP, gap, 0.0))
    columns = columns_at(model, grams)
    return Solution("solved", grams, columns, tuple(passes), goal_value(model, "minimums", grams))


def _polished(model: Model, goals: Sequence[str], ground: Ground, tried: Solution) -> Solution:
    """A solution after small moves, if they made it better."""
    if tried.grams is None:
        return tried
    grams, _ = settle(ground, tried.grams)
    worth = next((p.value * (1 - p.gap) for p in tried.passes if p.goal == "near"), 0.0)
    better = _solution_at(model, goals, grams, worth)
    return better if _rank(model, better) < _rank(model, tried) else tried


def _around(model: Model, found: _Settled) -> Iterator[Shortlist]:
    """What the solver is let to search: the items of every round and of what small moves found, and
    everything where that leaves the energy, a minimum or an advice short."""
    every = frozenset(j for j, c in enumerate(model.problem.candidates) if c.line is None)
    items = frozenset(
        j
        for j, c in enumerate(model.problem.candidates)
        if c.line is None and found.solution.grams is not None and found.solution.grams[j] > 0
    )
    items = items.union(*(r.items for r in found.rounds))
    yield Shortlist(items, found.worth, False)
    yield Shortlist(every, found.worth, False)


def _good_shape(found: Solution, worth: float) -> bool:
    """Whether a recipe is near enough to what amounts without steps reach that a search finds little."""
    return found.grams is not None and _near(found) <= SEARCHED * worth + GOOD_SHAPE


def _enough(worth: float) -> float:
    """What measurable amounts can be expected to come to where amounts without steps come to `worth`."""
    return worth + max(GOOD_SHAPE, worth / 4)


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
    columns = columns_at(model, problem.current)
    if columns is None:
        return None
    grams = _grams(model, columns)
    passes = tuple(Pass(g, goal_value(model, g, grams), True, 0.0, 0.0) for g in goals)
    return Solution("solved", grams, columns, passes, goal_value(model, "minimums", grams))


def columns_at(model: Model, grams: FloatArray) -> FloatArray | None:
    """The columns of the programme at (C,) grams, None where a row or a bound does not allow them."""
    held: dict[int, tuple[float, float]] = {}
    for j, c in enumerate(model.problem.candidates):
        steps, *kept = np.flatnonzero(model.amounts[j]).tolist()
        count = float(grams[j]) / float(model.amounts[j, steps])
        stays = bool(kept) and abs(float(grams[j]) - c.current_grams) < 1e-6
        held[steps] = (0.0, 0.0) if stays else (count, count)
        for column in kept:
            held[column] = (1.0, 1.0) if stays else (0.0, 0.0)
        if j in model.present:
            there = float(grams[j] > 0)
            held[model.present[j]] = (there, there)
    return (
        Solver(model, relaxed=True, opened=held).minimise(model.objectives["near"], SECONDS).columns
    )


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


def _as_good(
    model: Model, goals: Sequence[str], found: Solution, room: Mapping[str, float]
) -> bool:
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
        most = bound.value * (1 + AS_GOOD) + AS_GOOD + room.get(goal, 0.0)
        if bound.columns is None or reached > most:
            return False
        solver.hold(objective, reached + HELD)
    return True


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
    grams = _grams(model, best.columns)
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
