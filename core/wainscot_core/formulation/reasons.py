"""Why each line of a proposal is what it is: what would not hold without it, and the least that does.

One line is put back (an added one to nothing, a changed one to its share of the recipe) and every limit is
looked at again; the other amounts stay. For a main food that cannot keep its share whatever they are, see `leaves`.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor

import numpy as np

from ..facts.foods import FloatArray
from ..figures import listed
from .impasse_words import group_words
from .leaves import Leaves, leaves, leaves_words
from .model import Model
from .problem import Candidate, Problem
from .rows import Group, GroupKind, LimitRow, Limits
from .shape import NOTHING_G, Part, best_factor, in_place

BROKEN = -1e-3
# A line this near to its share of the recipe moved with the portion.
WITH_ALL = 0.06
# An item this much of the energy is there to be eaten too.
FEEDS = 0.02
NAMED = 3


@dataclass(frozen=True)
class Reason:
    """why: in words. needs: names of the nutrients that would not hold without it, the worst first.
    least_grams: the least that holds them, None where nothing asks for it. without: how far off they would
    be, in words."""

    why: str
    needs: tuple[str, ...] = ()
    least_grams: float | None = None
    without: str = ""


@dataclass(frozen=True)
class _Rows:
    """The limits of a problem and what they come to at the grams of a proposal."""

    problem: Problem
    grams: FloatArray
    limits: Limits

    def broken(
        self, rows: Sequence[LimitRow], grams: FloatArray, first: GroupKind = GroupKind.MIN
    ) -> list[tuple[float, LimitRow]]:
        """Rows that hold in the proposal and not at other grams, the worst first: of one kind, or else the others."""
        found = []
        for row in rows:
            value = float(row.coefficients @ grams)
            if value < BROKEN <= float(row.coefficients @ self.grams):
                found.append((value, row))
        asked = [x for x in found if x[1].group.kind is first]
        return sorted(asked or found, key=lambda x: x[0])

    def names(self, broken: Sequence[tuple[float, LimitRow]]) -> tuple[str, ...]:
        """Names of the nutrients of broken rows, each once."""
        keys = dict.fromkeys(row.group.key for _, row in broken)
        return tuple(self.problem.catalogue.name_of(k) for k in keys)


def reasons_of(model: Model, grams: FloatArray) -> tuple[Reason, ...]:
    """A reason for every candidate at these grams; an empty one for what is not there."""
    problem = model.problem
    rows = _Rows(problem, grams, model.limits)
    weights = model.weights
    lines = [j for j, p in enumerate(weights.part) if p in {Part.LINE, Part.REPLACED}]
    ratios = []
    for j in lines:
        there = float(grams[j]) + sum(
            k * float(grams[i]) for i, k in weights.stands_for.get(j, {}).items()
        )
        ratios.append(there / problem.candidates[j].current_grams)
    factor = best_factor(problem, np.array(ratios), weights.share[lines])
    left = leaves(model, grams)
    return tuple(
        _of_torn(rows, left[j]) if j in left else _reason(rows, j, c, factor)
        for j, c in enumerate(problem.candidates)
    )


def _of_torn(rows: _Rows, left: Leaves) -> Reason:
    """The reason of a main food that cannot keep its share, whatever the other amounts are."""
    problem = rows.problem
    why = leaves_words(left, tuple(group_words(problem, g) for g in left.groups))
    keys = dict.fromkeys(g.key for g in left.groups if g.kind is not GroupKind.CAP)
    return Reason(why, tuple(problem.catalogue.name_of(key) for key in keys))


def _reason(rows: _Rows, j: int, c: Candidate, factor: float) -> Reason:
    after = float(rows.grams[j])
    if c.excluded or c.fixed:
        return Reason(c.excluded or c.against)
    if c.line is None:
        return _of_added(rows, j, c) if after > NOTHING_G else Reason("")
    if abs(after - c.current_grams) < NOTHING_G:
        return Reason(c.against)
    share = c.current_grams if c.is_supplement else c.current_grams * factor
    if after > NOTHING_G and not c.is_supplement and abs(after / share - 1) <= WITH_ALL:
        return Reason(f"with the whole recipe, x {factor:.2f}")
    swapped = _of_swapped(rows, j)
    if swapped is not None:
        return swapped
    back = rows.grams.copy()
    back[j] = share
    # Of what is less than its share a maximum says why, where there is one.
    broken = rows.broken(rows.limits.held, back, GroupKind.MAX if after < share else GroupKind.MIN)
    what = "as it was" if c.is_supplement else "at its share of the recipe"
    if broken:
        return Reason(f"{what}: {_off(rows, broken, back)}", rows.names(broken))
    return _softly(rows, back, f"{what}: ") or Reason("makes room for the other amounts")


def _of_swapped(rows: _Rows, j: int) -> Reason | None:
    """The reason of a line of which others take the place: what would not hold with itself there. None where it has its
    place to itself, or no limit asks for the others."""
    candidates = rows.problem.candidates
    others = [
        i for i, o in enumerate(candidates) if o.instead_of == j and rows.grams[i] > NOTHING_G
    ]
    back = rows.grams.copy()
    for i in others:
        back[j] += in_place(rows.problem, i, j) * back[i]
        back[i] = 0.0
    broken = rows.broken(rows.limits.held, back, GroupKind.MAX) if others else []
    if not broken:
        return None
    names = listed([candidates[i].food.name for i in others])
    off = _off(rows, broken, back)
    return Reason(f"{names} in its place: with this one {off}", rows.names(broken))


def _of_added(rows: _Rows, j: int, c: Candidate) -> Reason:
    without = rows.grams.copy()
    without[j] = 0.0
    place = ""
    if c.instead_of is not None:
        other = rows.problem.candidates[c.instead_of]
        if rows.grams[c.instead_of] < other.current_grams:
            place = f"in the place of {other.food.name}"
    broken = rows.broken(rows.limits.held, without)
    if broken:
        names = rows.names(broken)
        why = "; ".join(x for x in (place, f"for {listed(names)}") if x)
        return Reason(why, names, _least(rows, j, broken), _off(rows, broken, without))
    soft = _softly(rows, without, "")
    kcal = float(rows.problem.contents.kcal[j] * rows.grams[j])
    if place or (soft is None and kcal >= FEEDS * rows.problem.kcal):
        why = place or f"brings {kcal:.0f} kcal in the place of other food"
        return Reason(why if soft is None else f"{why}; {soft.why}", soft.needs if soft else ())
    return soft or Reason("rounds the amounts off")


def _softly(rows: _Rows, grams: FloatArray, head: str) -> Reason | None:
    """The reason where no limit asks for a change, but an advice or room over a limit does."""
    kinds: tuple[tuple[str, tuple[LimitRow, ...]], ...] = (
        ("advised", rows.limits.advised),
        ("room for what varies", rows.limits.aimed),
    )
    for words, of in kinds:
        broken = rows.broken(of, grams)
        if broken:
            names = rows.names(broken)
            return Reason(f"{head}{words}: {listed(names)}", names)
    return None


def _least(rows: _Rows, j: int, broken: Sequence[tuple[float, LimitRow]]) -> float | None:
    """The least of an item with which the limits hold that break without it, in amounts it can have."""
    here = float(rows.grams[j])
    asked = 0.0
    for _, row in broken:
        per_gram = float(row.coefficients[j])
        if per_gram > 0:
            asked = max(asked, here - float(row.coefficients @ rows.grams) / per_gram)
    c = rows.problem.candidates[j]
    steps = np.ceil(max(asked, c.least_grams) / c.increment.grams - 1e-6)
    return min(float(steps * c.increment.grams), here)


def _off(rows: _Rows, broken: Sequence[tuple[float, LimitRow]], grams: FloatArray) -> str:
    """How far off the worst of the broken limits are, in words."""
    told = []
    seen: set[tuple[GroupKind, str]] = set()
    for value, row in broken:
        mark = (row.group.kind, row.group.key)
        if mark in seen:
            continue
        seen.add(mark)
        told.append(how_far(rows.problem, row.group, value, grams))
    more = len(told) - NAMED
    return ", ".join(told[:NAMED]) + (f" and {more} more" if more > 0 else "")


def how_far(problem: Problem, group: Group, value: float, grams: FloatArray) -> str:
    """How far (C,) grams are from a limit, in words. value: by what share of the limit for the whole batch, below 0 where it
    does not hold."""
    name = problem.catalogue.name_of(group.key)
    # A row is in shares of the limit for the whole batch; at these grams the batch may be smaller.
    part = float(problem.contents.kcal @ grams) / problem.kcal
    if group.key not in problem.catalogue or group.other or part <= 0:
        return f"{name} too {'low' if group.kind is GroupKind.MIN else 'high'}"
    # Rounded away from the bound: at 100 % of it would read as kept.
    if group.kind is GroupKind.MIN:
        return f"{name} at {max(floor(100 * (1 + value / part)), 0)}% of its minimum"
    return f"{name} at {ceil(100 * (1 - value / part))}% of its maximum"
