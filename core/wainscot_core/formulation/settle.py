"""From amounts without steps to amounts a person can measure, by small moves.

A move (another amount of one item, or of two at once) is a row of a matrix, and hundreds are weighed in one product.
What the moves of an item do is worked out once for every amount it is seen at.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..facts.foods import FloatArray
from .ground import ADVICE, HARD, MINIMUM, Ground
from .rows import RESERVE
from .shape import NOTHING_G, best_factor

STRIDES = (1, 2, 4, 8, 16)
# Some levels up or down.
STEPS = (*STRIDES, *(-x for x in STRIDES))
# Of the moves of one item, how many are tried two at a time.
PAIRED = 48
MOST_MOVES = 400
# Limits are soft at first, so that a way leads past them.
STIFFNESS = (0.01, 0.1)
# And stiffer at the end, where a hair of one is still broken.
STIFF = 1000.0
BETTER = 1e-9
# Where single moves without an item end so many times dearer than with it, two at once do not mend it.
HOPELESS = 1.4

Indices = NDArray[np.intp]


@dataclass(frozen=True)
class Place:
    """Where the search is: which level each item is at, (C,) grams, the factor of the recipe, (R,) the rows' values
    there, what the items cost by themselves, the cost of it all."""

    level: Indices
    grams: FloatArray
    factor: float
    values: FloatArray
    alone: float
    cost: float


class Moves:
    """The moves of one item each, up to S of each item: whether there is one, to which level, by how many grams, what
    it does to the rows and what it costs by itself. An item is looked at again only when it is at another
    level, or has more or fewer."""

    def __init__(self, ground: Ground) -> None:
        count, rows = ground.columns.shape
        size = (count, len(STEPS) + 2)
        self.item = np.repeat(np.arange(count), size[1])
        self.fits = np.zeros(size, dtype=np.bool_)
        self.level = np.zeros(size, dtype=np.intp)
        self.change, self.alone = np.zeros(size), np.zeros(size)
        self.shift = np.empty((*size, rows))
        # Room for the rows' values, so that it need not be asked for a thousand times.
        self.values = np.empty((count * size[1], rows))
        self._here, self._most = np.full(count, -1), np.full(count, -1)

    def look(self, ground: Ground, level: Indices) -> Indices:
        """Which moves there are from these levels."""
        stale = np.flatnonzero((self._here != level) | (self._most != ground.most_level))
        for j in stale.tolist():
            self._look_at(ground, j, int(level[j]), int(ground.most_level[j]))
        return np.flatnonzero(self.fits)

    def _look_at(self, ground: Ground, j: int, here: int, most: int) -> None:
        """Some levels up or down, to nothing, to the least."""
        self._here[j], self._most[j] = here, most
        to = sorted({here + step for step in STEPS} | {0, 1})
        level = [k for k in to if 0 <= k < most and k != here]
        m = len(level)
        self.fits[j, :m], self.fits[j, m:] = True, False
        was, now = ground.table[j, here], ground.table[j, level]
        change = now - was
        comes = (now > NOTHING_G).astype(np.float64) - float(was > NOTHING_G)
        self.level[j, :m], self.change[j, :m] = level, change
        self.alone[j, :m] = ground.linear[j] * change + ground.charge[j] * comes
        shift = self.shift[j, :m]
        np.multiply(change[:, None], ground.columns[j], out=shift)
        if comes.any():
            shift += comes[:, None] * ground.there[j]


class Settler:
    """Small moves over one ground."""

    def __init__(self, ground: Ground) -> None:
        self.ground = ground
        self._moves = Moves(ground)

    def settle(self, start: FloatArray, leave: float | None = None) -> tuple[FloatArray, float]:
        """The measurable grams near `start` that no small move makes better, and their cost, HARD or more where they break
        what may not be broken. leave: how much of the advice may be missed, if not what the ground says."""
        ground = self.ground if leave is None else replace(self.ground, leave=leave)
        level = self._levels(start)
        begun = place_at(ground, level)
        for stiffness in STIFFNESS:
            level = self._descend(_softer(ground, stiffness), level).level
        found = self._descend(ground, level)
        if begun.cost < found.cost - BETTER:
            # The way past the limits led to a worse place than the one it began from.
            found = self._descend(ground, begun.level)
        if broken(ground, found):
            # By a hair, where the hair is worth it: nothing is.
            found = self._descend(_stiffer(ground), found.level)
            found = place_at(ground, found.level)
        return found.grams, found.cost + HARD * broken(ground, found)

    def at_levels(self, grams: FloatArray) -> FloatArray:
        """(C,) grams, each at the nearest amount that it may have."""
        found: FloatArray = self.ground.table[np.arange(len(grams)), self._levels(grams)]
        return found

    def _levels(self, grams: FloatArray) -> Indices:
        level: Indices = np.argmin(np.abs(self.ground.table - grams[:, None]), axis=1)
        return level

    def without_each(
        self, grams: FloatArray, cost: float, enough: float, least: Callable[[int], float]
    ) -> tuple[FloatArray, float]:
        """From settled grams, each added item taken out and kept out in turn, the rest settled anew, until that
        helps no more or the cost is low enough. least: what any amounts without an item cost at least."""
        ground, level = self.ground, self._levels(grams)
        tried: set[int] = set()
        while cost > enough:
            items = np.flatnonzero(ground.added & (level > 0)).tolist()
            left = [j for j in items if j not in tried]
            if not left:
                break
            # The dearest item first.
            j = max(left, key=lambda k: (ground.charge[k] + ground.linear[k] * grams[k], -k))
            tried.add(j)
            if least(j) >= cost - BETTER:
                continue  # nothing does what it does
            most, start = ground.most_level.copy(), level.copy()
            most[j], start[j] = 1, 0
            kept_out = replace(ground, most_level=most)
            soft = _softer(kept_out, STIFFNESS[-1])
            at = self._descend(soft, start, pairs=False)
            if at.cost > HOPELESS * cost:
                continue
            found = self._descend(kept_out, self._descend(soft, at.level).level)
            if found.cost < cost - BETTER and not broken(kept_out, found):
                cost, level, grams = found.cost, found.level, found.grams
        return ground.table[np.arange(len(level)), level], cost

    def _descend(self, ground: Ground, level: Indices, pairs: bool = True) -> Place:
        """Move after move while any is better; pairs: two at once where no single one is."""
        at, moves = place_at(ground, level), self._moves
        for _ in range(MOST_MOVES):
            there = moves.look(ground, at.level)
            if not len(there):
                break
            values = moves.values[: len(there)]
            np.take(moves.shift.reshape(-1, values.shape[1]), there, axis=0, out=values)
            values += at.values
            costs = _costs(ground, values, at.alone + moves.alone.ravel()[there])
            best = int(np.argmin(costs))
            chosen: tuple[int, ...] | None = (best,)
            if costs[best] >= at.cost - BETTER:
                chosen = _pair_of(ground, at, moves, there, costs) if pairs else None
            if chosen is None:
                break
            which = there[list(chosen)]
            moved = moves.item[which]
            level = at.level.copy()
            level[moved] = moves.level.ravel()[which]
            stays = not ground.stands[moved].any()
            at = _moved(ground, at, level, which, moves) if stays else place_at(ground, level)
        return at


def _moved(ground: Ground, at: Place, level: Indices, which: Indices, moves: Moves) -> Place:
    """The place after moves that leave the recipe's factor as it is."""
    shift = moves.shift.reshape(-1, len(at.values))[which].sum(axis=0)
    values = at.values + shift
    alone = at.alone + float(moves.alone.ravel()[which].sum())
    cost = _costs(ground, values[None].copy(), np.array([alone]))
    grams = ground.table[np.arange(len(level)), level]
    return Place(level, grams, at.factor, values, alone, float(cost[0]))


def _softer(ground: Ground, stiffness: float) -> Ground:
    """Limits that may be passed for a while on the way to better amounts."""
    weight = ground.weight
    return replace(ground, weight=np.where(weight >= MINIMUM, weight * stiffness, weight))


def _stiffer(ground: Ground) -> Ground:
    """What may not be broken weighs so much that no hair of it is worth anything."""
    weight = ground.weight
    return replace(ground, weight=np.where(weight >= HARD, weight * STIFF, weight))


def broken(ground: Ground, at: Place) -> bool:
    """Whether anything is broken that may not be."""
    return bool(np.any((ground.weight >= HARD) & (at.values < -RESERVE)))


def place_at(ground: Ground, level: Indices, factor: float | None = None) -> Place:
    """A place; the factor of the recipe where it is known."""
    grams = ground.table[np.arange(len(level)), level]
    if factor is None:
        factor = best_factor(ground.problem, grams @ ground.stands, ground.shares)
    there = (grams > NOTHING_G).astype(np.float64)
    values = grams @ ground.columns + there @ ground.there + ground.offset + ground.turn * factor
    alone = float(grams @ ground.linear + there @ ground.charge)
    cost = _costs(ground, values[None].copy(), np.array([alone]))
    return Place(level, grams, factor, values, alone, float(cost[0]))


def _pair_of(
    ground: Ground, at: Place, moves: Moves, there: Indices, costs: FloatArray
) -> tuple[int, int] | None:
    """The best two moves at once; None when no two are better."""
    order = np.argsort(costs, kind="stable")
    found = best_pair(ground, at, moves, there, costs, order[:PAIRED])
    if found is None:
        # Every item's best way up and down: what comes in may have to be paid for by what goes.
        which = there[order]
        way = 2 * moves.item[which] + (moves.change.ravel()[which] > 0)
        _, first = np.unique(way, return_index=True)
        found = best_pair(ground, at, moves, there, costs, order[np.sort(first)])
    return found


def best_pair(
    ground: Ground, at: Place, moves: Moves, there: Indices, costs: FloatArray, order: Indices
) -> tuple[int, int] | None:
    """The best two of these moves at once, None where none are better. Only those are weighed that can be: two moves
    together are better than one after the other by no more than what the one does worse in rows in which the
    other does more good than is counted."""
    which = there[order]
    shift, gain = moves.shift.reshape(-1, len(at.values))[which], costs[order] - at.cost
    items, alone = moves.item[which], moves.alone.ravel()[which]
    values, below = at.values + shift, np.minimum(at.values, 0.0)
    then = np.minimum(values, np.zeros(len(below)))
    worse = np.maximum(below - then, np.zeros(len(below))) * (
        ground.weight + ADVICE * ground.advised
    )
    spare = ((shift > 0) & (values > 0)).astype(np.float64)
    mended = worse @ spare.T
    if ground.advised.any():
        # The same of the advice as a whole, of which some may be missed.
        left = ground.leave + below @ ground.advised
        lift = (then - below) @ ground.advised
        down = np.maximum(min(left, 0.0) - np.minimum(left + lift, 0.0), 0.0) * ADVICE
        mended += np.outer(down, np.minimum(lift, left + lift) > 0)
    promise = gain[:, None] + gain[None, :] - mended - mended.T
    one, two = np.nonzero((promise < -BETTER) & (items[:, None] < items[None, :]))
    if not len(one):
        return None
    found = _costs(ground, values[one] + shift[two], at.alone + alone[one] + alone[two])
    best = int(np.argmin(found))
    if found[best] >= at.cost - BETTER:
        return None
    return int(order[one[best]]), int(order[two[best]])


def _costs(ground: Ground, values: FloatArray, alone: FloatArray) -> FloatArray:
    """(M,) cost of (M, R) values of the rows and (M,) what the items cost by themselves. The values are
    overwritten."""
    # A row of noughts: beside a single one numpy is twice as slow.
    below = np.minimum(values, np.zeros(values.shape[1]), out=values)
    missed = -(below @ ground.advised)
    cost: FloatArray = alone - below @ ground.weight
    cost += ADVICE * np.maximum(missed - ground.leave, 0.0)
    return cost
