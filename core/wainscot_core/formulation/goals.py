"""What a recipe is worth by each goal, in plain arithmetic.

The solver proposes and this decides: a pass counts as proved only where its value is the value of
its amounts computed here. `model` writes the same goals as linear rows.
"""

from collections.abc import Callable

import numpy as np

from ..facts.foods import FloatArray
from .model import AMOUNT_WEIGHT, Model, macro_kcal
from .problem import Candidate
from .shape import NOTHING_G, shape_value


def goal_value(model: Model, goal: str, grams: FloatArray) -> float:
    """Value of a goal (to be minimised) at (C,) grams as weighed. KeyError for another goal."""
    return _GOALS[goal](model, grams)


def _minimums(model: Model, grams: FloatArray) -> float:
    return _missed(model.limits.minimums, grams)


def _advice(model: Model, grams: FloatArray) -> float:
    return _missed(model.limits.advice, grams)


def _missed(rows: FloatArray, grams: FloatArray) -> float:
    """What (R, C) rows are below nothing, in all."""
    return float(np.maximum(-(rows @ grams), 0.0).sum()) if len(rows) else 0.0


def _energy(model: Model, grams: FloatArray) -> float:
    problem = model.problem
    share = float(problem.contents.kcal @ grams) / problem.kcal
    band = problem.energy_band
    return max(0.0, 1 - band - share) + max(0.0, share - 1 - band)


def _moves(c: Candidate) -> bool:
    return not c.fixed and not c.excluded


def _near(model: Model, grams: FloatArray) -> float:
    problem = model.problem
    worth = shape_value(problem, grams, model.weights) + problem.shape.advice * _advice(
        model, grams
    )
    if problem.aim is not None:
        worth += problem.aim.cost * _missed(model.limits.aims, grams)
    return worth


def _fewest(model: Model, grams: FloatArray) -> float:
    worth = 0.0
    for c, g in zip(model.problem.candidates, grams, strict=True):
        if c.line is None and _moves(c) and g > NOTHING_G:
            worth += 1.0
            if c.is_supplement and c.high_grams > 0:
                worth += AMOUNT_WEIGHT * g / c.high_grams
    return float(worth)


def _school(model: Model, grams: FloatArray) -> float:
    problem = model.problem
    worth = sum(
        problem.avoid.get(c.kind, 0.0)
        for c, g in zip(problem.candidates, grams, strict=True)
        if (c.line is None or c.is_supplement) and _moves(c) and g > NOTHING_G
    )
    if problem.guide is None:
        return worth
    fed = problem.contents.fed
    shares = problem.guide.shares
    inside = np.array([p in shares for p in problem.guide.parts])
    scale = float((fed * inside) @ problem.current) or problem.kcal
    whole = float((fed * inside) @ grams)
    for name, share in shares.items():
        mine = np.array([p == name for p in problem.guide.parts])
        worth += abs(float((fed * mine) @ grams) - share * whole) / scale
    return worth


def _macros(model: Model, grams: FloatArray) -> float:
    problem = model.problem
    if problem.macros is None:
        return 0.0
    parts = macro_kcal(problem) @ grams
    wanted = (problem.macros.protein, problem.macros.fat, problem.macros.carbohydrate)
    away = (abs(p - share * parts.sum()) for p, share in zip(parts, wanted, strict=True))
    return float(sum(away) / problem.kcal)


def _cost(model: Model, grams: FloatArray) -> float:
    return float(model.problem.prices_per_kg @ grams) / 1000.0


def _recommended(model: Model, grams: FloatArray) -> float:
    problem = model.problem
    kcal = float(problem.contents.kcal @ grams)
    missing = 0.0
    for key, limit in problem.requirements.limits.items():
        wanted = limit.recommended
        if key in problem.catalogue and wanted and wanted > (limit.minimum or 0.0):
            amount = float(problem.contents.low[:, problem.catalogue.index(key)] @ grams)
            missing += max(0.0, kcal / 1000 - amount / wanted) * 1000 / problem.kcal
    return missing


_GOALS: dict[str, Callable[[Model, FloatArray], float]] = {
    "minimums": _minimums,
    "energy": _energy,
    "advice": _advice,
    "near": _near,
    "fewest": _fewest,
    "school": _school,
    "macros": _macros,
    "cost": _cost,
    "recommended": _recommended,
}
