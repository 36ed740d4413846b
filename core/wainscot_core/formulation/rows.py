"""The limits of a formulation as rows: which of them a gram of each candidate helps, and by how much.

Every row is scaled to shares of its limit for the batch, so that one number is one whole limit.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property

import numpy as np

from ..facts.foods import FloatArray
from ..targets.standards import Limit, Rise, Strength
from .problem import Problem

# Limits are held with this relative reserve, so that rounding in the solver cannot break them.
RESERVE = 1e-6
# A minimum missed by no more is not short.
SHORT = 1e-6


class GroupKind(StrEnum):
    """What can be let go: a limit's minimum or maximum, the energy frame, the number of
    supplements, a cap on a kind of food, a choice about one candidate, or what keeps out what is no line:
    that it is ruled out, not allowed, or of a strength nobody has entered."""

    MIN = "min"
    MAX = "max"
    ENERGY = "energy"
    SUPPLEMENTS = "supplements"
    CAP = "cap"
    FIXED = "fixed"
    EXCLUDED = "excluded"
    MOST = "most"
    LEAST = "least"
    TIE = "tie"
    RULED = "ruled"
    OFFER = "offer"
    STRENGTH = "strength"


@dataclass(frozen=True)
class Group:
    """A limit or a choice that can be let go: `key` a nutrient or ratio key or the id of a cap, `candidate` a position.
    `other`: the nutrient that a minimum rises with."""

    kind: GroupKind
    key: str = ""
    candidate: int = -1
    other: str = ""


@dataclass(frozen=True)
class LimitRow:
    """A limit as (C,) coefficients per gram with coefficients . x >= 0, in shares of the limit."""

    group: Group
    coefficients: FloatArray


@dataclass(frozen=True)
class Limits:
    """The limits of a problem as rows: held, advised, and aimed at (see aimed_rows)."""

    held: tuple[LimitRow, ...]
    advised: tuple[LimitRow, ...]
    aimed: tuple[LimitRow, ...]

    @cached_property
    def minimums(self) -> FloatArray:
        """(R, C) of the minimums that are held."""
        return _stacked(row for row in self.held if row.group.kind is GroupKind.MIN)

    @cached_property
    def advice(self) -> FloatArray:
        """(R, C) of what is advised."""
        return _stacked(self.advised)

    @cached_property
    def aims(self) -> FloatArray:
        """(R, C) of what is aimed at."""
        return _stacked(self.aimed)


def _stacked(rows: Iterable[LimitRow]) -> FloatArray:
    return np.array([row.coefficients for row in rows])


def limits_of(problem: Problem) -> Limits:
    """All rows of a problem."""
    return Limits(
        tuple(limit_rows(problem)), tuple(advised_rows(problem)), tuple(aimed_rows(problem))
    )


def limit_rows(problem: Problem) -> list[LimitRow]:
    """Every minimum and maximum of the requirement set that candidates can touch."""
    found = []
    for key, limit in problem.requirements.limits.items():
        if key in problem.catalogue:
            found += _nutrient_rows(problem, key, limit)
        else:
            found += _ratio_rows(problem, key, limit)
    return found


def aimed_rows(problem: Problem) -> list[LimitRow]:
    """The limits again, as they would be held for what varies against them; none without an aim. A minimum that may be
    short is aimed at whole: what is easily had of it is not left out."""
    if problem.aim is None:
        return []
    return limit_rows(replace(problem, contents=problem.aim.contents, margin=0.0, eased={}))


def missed(rows: Iterable[LimitRow], grams: FloatArray) -> dict[str, float]:
    """By what share of itself each minimum is short at (C,) grams, by key."""
    found: dict[str, float] = {}
    for row in rows:
        share = -float(row.coefficients @ grams)
        if row.group.kind is GroupKind.MIN and share > SHORT:
            found[row.group.key] = max(share, found.get(row.group.key, 0.0))
    return found


def _nutrient_rows(problem: Problem, key: str, limit: Limit) -> list[LimitRow]:
    column = problem.catalogue.index(key)
    low, high = problem.contents.low[:, column], problem.contents.high[:, column]
    energy = problem.contents.kcal / 1000.0
    scale = 1000.0 / problem.kcal
    rows = []
    if limit.minimum and key not in problem.apart:
        least = eased(problem, key, limit.minimum * (1 + problem.margin)) * (1 + RESERVE)
        if least > 0:
            rows.append(LimitRow(Group(GroupKind.MIN, key), (low / least - energy) * scale))
    if limit.ceiling is not None:
        most = limit.ceiling * (1 - RESERVE)
        unit = limit.ceiling or 1.0
        rows.append(
            LimitRow(Group(GroupKind.MAX, key), (most / unit * energy - high / unit) * scale)
        )
    for rise in limit.rises:
        if rise.strength is not Strength.ADVISED:
            rows.append(
                LimitRow(
                    Group(GroupKind.MIN, key, other=rise.other),
                    _rise_row(problem, key, limit, rise),
                )
            )
    return rows


def eased(problem: Problem, key: str, minimum: float) -> float:
    """What is asked of a minimum that cannot be met; 0 where next to nothing of it can be."""
    return minimum * max(0.0, 1 - problem.eased.get(key, 0.0))


def _rise_row(problem: Problem, key: str, limit: Limit, rise: Rise) -> FloatArray:
    """A minimum that rises with another nutrient, as shares of the minimum it stands beside."""
    catalogue, contents = problem.catalogue, problem.contents
    low = contents.low[:, catalogue.index(key)]
    other = contents.high[:, catalogue.index(rise.other)]
    return rise_coefficients(problem, limit, rise, low, other, contents.kcal)


def rise_coefficients(
    problem: Problem,
    limit: Limit,
    rise: Rise,
    amount: FloatArray,
    other: FloatArray,
    kcal: FloatArray,
) -> FloatArray:
    """What a gram adds to a minimum that rises: its amount, less what its other nutrient asks for."""
    fixed = rise.base - rise.per_unit * rise.above
    wanted = (rise.per_unit * other + fixed * kcal / 1000.0) * (1 + RESERVE)
    whole = (limit.minimum or limit.advised_min or rise.base or rise.per_unit) * problem.kcal / 1000
    row: FloatArray = (amount - wanted) / whole
    return row


def advised_rows(problem: Problem) -> list[LimitRow]:
    """What conditions and standards advise beside their limits, in shares of the advised value."""
    energy, scale = problem.contents.kcal / 1000.0, 1000.0 / problem.kcal
    rows = []
    for key, limit in problem.requirements.limits.items():
        if key not in problem.catalogue:
            continue
        column = problem.catalogue.index(key)
        low, high = problem.contents.low[:, column], problem.contents.high[:, column]
        if limit.advised_min:
            least = limit.advised_min * (1 + RESERVE)
            rows.append(LimitRow(Group(GroupKind.MIN, key), (low / least - energy) * scale))
        if limit.advised_max:
            most = limit.advised_max * (1 - RESERVE)
            rows.append(LimitRow(Group(GroupKind.MAX, key), (energy - high / most) * scale))
        for rise in limit.rises:
            if rise.strength is Strength.ADVISED:
                row = _rise_row(problem, key, limit, rise)
                rows.append(LimitRow(Group(GroupKind.MIN, key, other=rise.other), row))
    return rows


def _ratio_rows(problem: Problem, key: str, limit: Limit) -> list[LimitRow]:
    catalogue = problem.catalogue
    ratio = next(r for r in catalogue.ratios if r.key == key)

    def total(parts: tuple[str, ...], of: FloatArray) -> FloatArray:
        columns = [of[:, catalogue.index(k)] * catalogue.grams_per_unit(k) for k in parts]
        summed: FloatArray = np.sum(columns, axis=0)
        return summed

    contents = problem.contents
    # What is not known may lie anywhere up to its bound: each side takes what speaks against it.
    top, bottom = total(ratio.top, contents.low) * ratio.scale, total(ratio.bottom, contents.low)
    most_top = total(ratio.top, contents.high) * ratio.scale
    most_bottom = total(ratio.bottom, contents.high)
    # The scale is what the bottom would be at its own minimum, or as much as the recipe holds.
    own = sum(
        (problem.requirements.limits[k].minimum or 0.0) * catalogue.grams_per_unit(k)
        for k in ratio.bottom
        if k in problem.requirements.limits
    )
    reference = own * problem.kcal / 1000 or float(bottom @ problem.current) or 1.0
    rows = []
    if limit.minimum is not None and key not in problem.apart:
        least = eased(problem, key, limit.minimum) * (1 + RESERVE)
        rows.append(LimitRow(Group(GroupKind.MIN, key), (top - least * most_bottom) / reference))
    if limit.ceiling is not None:
        most = limit.ceiling * (1 - RESERVE)
        rows.append(LimitRow(Group(GroupKind.MAX, key), (most * bottom - most_top) / reference))
    return rows
