"""What the limits leave to a main food that keeps less than half, or takes more than double, of its share.

The most (or the least) of it is asked of the continuous problem, every limit as well held as in the proposal. Where that
is not enough to keep it, the limits in its way are its reason.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..facts.foods import FloatArray
from .goals import goal_value
from .model import Model, build
from .rows import Group, GroupKind
from .shape import SAME_SHARE, Part, kept_between, over_caps, with_caps_held
from .solution import HELD, SECONDS
from .solver import Outcome, Solver

# Limits that a reason names, and what counts as being in the way.
NAMED = 2
IN_THE_WAY = 1e-6
FIRST = ("energy", "minimums")


@dataclass(frozen=True)
class Leaves:
    """share: of the energy, the most that is left to a line, or the least that is asked of it; most: which of both.
    bound: of the energy, where it should stop. beside: whether only while the other main foods keep theirs. groups: the
    limits in the way, the hardest first."""

    share: float
    bound: float
    most: bool
    beside: bool
    groups: tuple[Group, ...]


def leaves(model: Model, grams: FloatArray) -> dict[int, Leaves]:
    """By position, what the limits leave to each main line that these (C,) grams tear; nothing where it could keep its
    share and something else took it."""
    problem = model.problem
    lines = _main_lines(model)
    fed = float(problem.contents.kcal @ grams) / problem.kcal
    found: dict[int, Leaves] = {}
    held: Model | None = None
    for j, line in lines.items():
        there = float(line.share @ grams)
        few = line.least * fed - there > SAME_SHARE
        if not few and there - line.most * fed <= SAME_SHARE:
            continue
        if held is None:
            # What keeps to the caps is asked to.
            held = model if over_caps(problem, grams) else build(with_caps_held(problem))
        others = [other for k, other in lines.items() if k != j]
        left = _left(held, grams, line, few, ()) or _left(held, grams, line, few, others)
        if left is not None:
            found[j] = left
    return found


def leaves_words(of: Leaves, names: Sequence[str]) -> str:
    """What is left to a line, in words. names: of the limits in the way."""
    if of.most:
        share = f"the limits leave it at most {math.ceil(of.share * 1000) / 10:g}% of the energy"
    else:
        share = f"the limits ask for at least {math.floor(of.share * 1000) / 10:g}% of the energy from it"
    beside = " while the other main foods keep theirs" if of.beside else ""
    return f"{share}{beside}" + (f": {'; '.join(names)}" if names else "")


@dataclass(frozen=True)
class _Line:
    """A main line with what stands in its place: (C,) share of the energy per gram, and between which shares it stays."""

    share: FloatArray
    least: float
    most: float


def _main_lines(model: Model) -> dict[int, _Line]:
    problem, weights = model.problem, model.weights
    found = {}
    for j, part in enumerate(weights.part):
        c = problem.candidates[j]
        if part not in {Part.LINE, Part.REPLACED} or c.excluded:
            continue
        least, most = kept_between(problem, weights, j)
        if not math.isfinite(most):
            continue
        share = np.zeros(len(problem.candidates))
        share[j] = 1.0
        for i, per_gram in weights.stands_for.get(j, {}).items():
            share[i] = per_gram
        found[j] = _Line(share * float(problem.contents.kcal[j]) / problem.kcal, least, most)
    return found


def _left(
    model: Model, grams: FloatArray, line: _Line, few: bool, others: Sequence[_Line]
) -> Leaves | None:
    """The most, or the least, of a line beside the others; None where that is enough for it to keep its share."""
    problem = model.problem
    solver = Solver(model, relaxed=True)
    for goal in FIRST:
        if model.objectives[goal].any():
            solver.hold(model.objectives[goal], goal_value(model, goal, grams) + HELD)
    energy = problem.contents.kcal / problem.kcal
    for other in others:
        solver.hold((other.least * energy - other.share) @ model.amounts, 0.0)
        solver.hold((other.share - other.most * energy) @ model.amounts, 0.0)
    # By how much of the energy it is less than it should be, or more.
    away = line.least * energy - line.share if few else line.share - line.most * energy
    outcome = solver.minimise(away @ model.amounts, SECONDS)
    if outcome.columns is None or outcome.value <= SAME_SHARE:
        return None
    there = model.amounts @ outcome.columns
    share = float(line.share @ there) / float(energy @ there)
    return Leaves(
        share, line.least if few else line.most, few, bool(others), _in_the_way(model, outcome)
    )


def _in_the_way(model: Model, outcome: Outcome) -> tuple[Group, ...]:
    """Limits that hold the line back, maximums and caps before the minimums that other foods must then meet."""
    if outcome.row_dual is None:
        return ()
    weight: dict[Group, float] = {}
    for row, dual in zip(model.rows, outcome.row_dual.tolist(), strict=False):
        if row.group is not None and abs(dual) > IN_THE_WAY:
            weight[row.group] = max(abs(dual), weight.get(row.group, 0.0))
    told = [g for g in weight if g.kind in {GroupKind.MIN, GroupKind.MAX, GroupKind.CAP}]
    told.sort(key=lambda g: (g.kind is GroupKind.MIN, -weight[g]))
    return tuple(told[:NAMED])
