"""Which of what may be added is in a recipe, and how much of it in amounts that can be measured.

Items are taken out, put in or exchanged one at a time, each choice weighed by the continuous problem, in which all
else finds its amounts anew. Then one amount after another is rounded, the coarsest first, the rest again finding theirs.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..facts.foods import FloatArray
from .ground import ADVICE, ENERGY, MINIMUM, Ground
from .model import Model
from .problem import ItemKind
from .shape import premixes
from .solution import SECONDS, columns_of
from .solver import Cancelled, Outcome, Solver

USED_G = 1e-6
BETTER = 1e-6
# For one that is taken out so many others are tried in its place, and so many are tried beside all.
IN_ITS_PLACE = 3
BESIDE = 8
# What the continuous problem promises of another is no more than hope: worth a look from this part of what it costs.
HOPE = 0.2
# So many times everything is gone through.
TURNS = 6
# An amount that is on a step needs no other.
ON_STEP_G = 1e-7


@dataclass(frozen=True)
class Selection:
    """Added items, the (C,) grams of the continuous problem with them, and what the goals come to there with what the items
    cost."""

    items: frozenset[int]
    grams: FloatArray
    worth: float


def merged(model: Model) -> FloatArray:
    """The goals in one, but for the advice, of which some may be missed."""
    goals = model.objectives
    found: FloatArray = goals["near"] + ENERGY * goals["energy"] + MINIMUM * goals["minimums"]
    return found


def miss_advice(solver: Solver, model: Model, leave: float) -> None:
    """Let as much of the advice be missed, and more where it is worth its price."""
    advice = model.objectives["advice"]
    if advice.any():
        over = solver.soft_row(leave, ADVICE)
        for column in np.flatnonzero(advice).tolist():
            solver.coefficient(over, column, float(advice[column]))


class Selector:
    """The continuous problem of a model with some of what may be added. leave: how much of the advice may be missed."""

    def __init__(self, model: Model, leave: float, cancelled: Cancelled | None = None) -> None:
        self._model, self._cancelled = model, cancelled
        candidates = model.problem.candidates
        self._added = [
            j
            for j, c in enumerate(candidates)
            if c.line is None and not c.fixed and not c.excluded and j in model.present
        ]
        self._solver = Solver(model, relaxed=True)
        self._cost = merged(model)
        # Items are charged here: the continuous problem would charge a part of one.
        self._charge = {j: float(self._cost[model.present[j]]) for j in self._added}
        self._cost[[model.present[j] for j in self._added]] = 0.0
        miss_advice(self._solver, model, leave)
        problem = model.problem
        supplement = [c.is_supplement for c in candidates]
        self._supplements = frozenset(j for j in self._added if supplement[j])
        self._mixes = frozenset(j for j in self._added if candidates[j].kind is ItemKind.PREMIX)
        stay = sum(
            c.current_grams > 0 and c.line is not None and not c.excluded
            for c, mine in zip(candidates, supplement, strict=True)
            if mine
        )
        self._most_supplements = problem.max_supplements - stay
        self._most_mixes = 1 - premixes(problem)[1]
        self._columns = {j: np.flatnonzero(model.amounts[j]).tolist() for j in self._added}
        self._items: set[int] = set(self._added)
        # Among which items one was taken out to no good.
        self._in_vain: dict[int, frozenset[int]] = {}

    def select(self, start: FloatArray) -> Selection | None:
        """The items that no exchange makes better, from those of these (C,) grams; None where no amounts hold what must be
        held."""
        for j in self._added:
            (self._put_in if start[j] > USED_G else self._take_out)(j)
        here = self._weigh()
        if here is None:
            return None
        here = self._fewer(here)
        for _ in range(TURNS):
            before = here
            here = self._without(self._beside(here))
            if here.worth >= before.worth - BETTER or self._is_cancelled():
                break
        return here

    def _is_cancelled(self) -> bool:
        return self._cancelled is not None and self._cancelled()

    def _put_in(self, j: int) -> None:
        self._items.add(j)
        for column in self._columns[j]:
            self._solver.bound(column, float(self._model.upper[column]))

    def _take_out(self, j: int) -> None:
        self._items.discard(j)
        for column in self._columns[j]:
            self._solver.bound(column, 0.0)

    def _weigh(self) -> "_Weighed | None":
        """What the items that are in come to; of those only what is used counts."""
        outcome = self._solver.minimise(self._cost, SECONDS)
        if outcome.columns is None:
            return None
        grams = self._model.amounts @ outcome.columns
        items = frozenset(j for j in self._items if grams[j] > USED_G)
        worth = outcome.value + sum(self._charge[j] for j in sorted(items))
        return _Weighed(items, grams, worth, outcome)

    def _go_on_from(self, here: "_Weighed") -> "_Weighed":
        for j in sorted(self._items - here.items):
            self._take_out(j)
        return here

    def _fewer(self, here: "_Weighed") -> "_Weighed":
        """As many as there may be, those gone without which the rest does best."""
        here = self._go_on_from(here)
        # The less there is, the more it takes to go on without one more: what that was at least needs no second look where
        # another comes to less.
        least: dict[int, float] = {}
        while self._too_many(here.items):
            fewest = self._too_many(here.items)
            there = sum(self._charge[k] for k in here.items)
            found: tuple[float, int, _Weighed] | None = None
            for j in sorted(here.items, key=lambda k: (least.get(k, 0.0) - self._charge[k], k)):
                if self._too_many(here.items - {j}) >= fewest:
                    continue
                if found is not None and least.get(j, 0.0) + there - self._charge[j] > found[0]:
                    break
                self._take_out(j)
                less = self._weigh()
                self._put_in(j)
                least[j] = np.inf if less is None else less.outcome.value
                if less is not None and (found is None or (less.worth, j) < found[:2]):
                    found = less.worth, j, less
            if found is None:
                break
            _, j, here = found
            self._take_out(j)
            here = self._go_on_from(here)
        return here

    def _too_many(self, items: frozenset[int]) -> int:
        """By how many these are more than there may be."""
        over = max(0, len(items & self._supplements) - self._most_supplements)
        if mixes := len(items & self._mixes):
            beside = len(items) - self._model.problem.most_items
            over += max(0, mixes - self._most_mixes) + max(0, beside)
        return over

    def _is_better(self, other: "_Weighed | None", here: "_Weighed") -> bool:
        return (
            other is not None
            and other.worth < here.worth - BETTER
            and self._too_many(other.items) <= self._too_many(here.items)
        )

    def _without(self, here: "_Weighed") -> "_Weighed":
        """Each taken out in turn, or another put in its place, the dearest first."""
        for j in sorted(here.items, key=lambda k: (-self._charge[k], k)):
            among = frozenset(self._items)
            if j not in here.items or self._in_vain.get(j) == among:
                continue
            self._take_out(j)
            less = self._weigh()
            other = less
            if less is not None and not self._is_better(less, here):
                other = next(self._instead(less, here), None)
            if other is None:
                self._put_in(j)
                self._in_vain[j] = among
            else:
                here = self._go_on_from(other)
        return here

    def _instead(self, less: "_Weighed", here: "_Weighed") -> Iterator["_Weighed"]:
        # No exchange gains more than the continuous problem's price of it, and one may make another one needless.
        needless = max((self._charge[k] for k in less.items), default=0.0)
        enough = less.worth - needless - here.worth
        for gain, k in self._hopes(less, HOPE)[:IN_ITS_PLACE]:
            if enough + gain + self._charge[k] >= 0:
                continue
            self._put_in(k)
            other = self._weigh()
            if other is not None and self._is_better(other, here):
                yield other
            self._take_out(k)

    def _beside(self, here: "_Weighed") -> "_Weighed":
        """Others put in, those first that promise most."""
        hopes = self._hopes(self._weigh() or here, 1.0)[:BESIDE]
        for _, k in hopes:
            self._put_in(k)
            more = self._weigh()
            if more is not None and self._is_better(more, here):
                here = self._go_on_from(more)
            else:
                self._take_out(k)
        return here

    def _hopes(self, here: "_Weighed", part: float) -> list[tuple[float, int]]:
        """What is not in and promises this part of what it costs, by the continuous problem's prices: what is gained with it
        at most, below 0, and which it is."""
        duals = here.outcome.column_dual
        found: list[tuple[float, int]] = []
        if duals is None:
            return []
        for k in self._added:
            if k in self._items:
                continue
            column = self._columns[k][0]
            per_gram = float(duals[column]) / float(self._model.amounts[k, column])
            gain = per_gram * self._model.rooms[k]
            if gain < -part * self._charge[k] and not self._too_many(here.items | {k}):
                found.append((gain, k))
        return sorted(found)


@dataclass(frozen=True)
class _Weighed(Selection):
    outcome: Outcome


def stepped(model: Model, ground: Ground, selection: Selection, leave: float) -> FloatArray:
    """Measurable (C,) grams of a selection; what cannot be rounded is left between its steps."""
    problem, cost = model.problem, merged(model)
    solver = Solver(model, relaxed=True)
    miss_advice(solver, model, leave)
    free: dict[int, float] = {}
    weight = np.minimum(ground.weight + ADVICE * ground.advised, MINIMUM)
    for j, c in enumerate(problem.candidates):
        if c.line is None and not c.fixed and j not in selection.items:
            _fix(solver, model, j, 0.0)
        elif not c.fixed and not c.excluded:
            # What one step of it does at most.
            free[j] = float(np.max(np.abs(ground.columns[j]) * weight)) * c.increment.grams
    there = [model.present[j] for j in sorted(selection.items)]
    for column in there:
        solver.bound(column, 1.0, 1.0)
    outcome = solver.minimise(cost, SECONDS)
    if outcome.columns is None:
        return selection.grams
    grams: FloatArray = model.amounts @ outcome.columns
    for j in sorted(free, key=lambda j: (-free[j], j)):
        ends: list[tuple[float, float, FloatArray]] = []
        for to in _around(ground, j, float(grams[j])):
            _fix(solver, model, j, to)
            end = solver.minimise(cost, SECONDS)
            if end.columns is not None:
                ends.append((end.value, to, model.amounts @ end.columns))
        if not ends:
            _unfix(solver, model, j)
            continue
        _, to, grams = min(ends, key=lambda end: end[:2])
        _fix(solver, model, j, to)
    return grams


def _around(ground: Ground, j: int, grams: float) -> list[float]:
    """The amounts beside one, or the one that it is."""
    levels = ground.table[j, : ground.most_level[j]]
    at = int(np.argmin(np.abs(levels - grams)))
    if abs(levels[at] - grams) <= ON_STEP_G:
        return [float(levels[at])]
    other = at + (1 if grams > levels[at] else -1)
    return [float(levels[k]) for k in (at, other) if 0 <= k < len(levels)]


def _fix(solver: Solver, model: Model, j: int, grams: float) -> None:
    for column, value in columns_of(model, j, grams).items():
        solver.bound(column, value, value)


def _unfix(solver: Solver, model: Model, j: int) -> None:
    for column in columns_of(model, j, 0.0):
        solver.bound(column, float(model.upper[column]))
