"""Many kitchens that cook a recipe again and again: drawn by the thousand, the same for a seed on any number of threads.

Each kitchen keeps its own scale, spoons, care and the error of its tables; each batch has its own purchases, its own
hand and what is left out of it. Over a month the second averages and the first does not.

Shapes: K kitchens, B batches of each, J columns of nutrients that are asked for, L lines.
"""

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..facts.foods import FloatArray
from ..figures import rounded
from .uncertain import Others, Uncertain

SEED = 20061
BATCHES = 10_000
MONTH_DAYS = 28
WEEK_DAYS = 7
# Kitchens that are drawn together; each such block has a stream of its own.
BLOCK = 125

Float32 = NDArray[np.float32]


@dataclass(frozen=True, kw_only=True)
class Runs:
    """How much is drawn: so many kitchens, each with so many batches in four weeks; a week takes so many of them."""

    kitchens: int
    batches: int
    week: int
    seed: int = SEED

    @classmethod
    def of(cls, days: float, batches: int = BATCHES, seed: int = SEED) -> "Runs":
        """Of a batch that feeds so many days: about `batches` in all."""
        monthly = int(np.clip(round(MONTH_DAYS / max(days, 1e-9)), 1, MONTH_DAYS))
        weekly = int(np.clip(round(WEEK_DAYS / max(days, 1e-9)), 1, monthly))
        return cls(kitchens=max(1, batches // monthly), batches=monthly, week=weekly, seed=seed)


@dataclass(frozen=True)
class Drawn:
    """What was drawn: (K, B, J) amounts of a batch in catalogue units, (K, B) kcal of it; columns: which nutrients
    the J are. extra: (K, B, J) what may be there beside it, of foods that stand for others and have no value, infinite
    where nothing bounds it; None where none stands for another. uneven: (K, B, J) what one day of each batch, taken as
    long as the batch, has beside it by uneven stirring; None where nothing is stirred in. known: (J,) the amounts by
    the tables."""

    runs: Runs
    columns: tuple[int, ...]
    amounts: Float32
    extra: Float32 | None
    uneven: Float32 | None
    kcal: FloatArray
    known: FloatArray

    def at(self, column: int) -> int:
        """Where a nutrient of the catalogue stands among the columns."""
        return self.columns.index(column)


def simulate(of: Uncertain, columns: Sequence[int], runs: Runs, threads: int = 1) -> Drawn:
    """Draw the batches. columns: nutrients of the catalogue; those that bring energy and protein are drawn with
    them."""
    catalogue = of.library.catalogue
    energy = {catalogue.index(tag): share for tag, share in of.library.factors.kcal_per_g.items()}
    protein = catalogue.index("PROCNT")
    # Protein first: amino acids follow it.
    asked = (protein, *sorted({*columns, *energy} - {protein}))
    parts = _Parts.of(of, asked)
    sizes = [min(BLOCK, runs.kitchens - at) for at in range(0, runs.kitchens, BLOCK)]
    amounts = np.empty((runs.kitchens, runs.batches, len(asked)), dtype=np.float32)
    extra = np.zeros_like(amounts) if any(of.others) else None
    uneven = np.zeros_like(amounts) if of.uneven.any() else None

    def fill(block: int) -> None:
        at, size = block * BLOCK, sizes[block]
        stream = np.random.SeedSequence(runs.seed, spawn_key=(block,))
        beside = [
            None if x is None else x[at : at + size].reshape(-1, len(asked))
            for x in (extra, uneven)
        ]
        rng = np.random.Generator(np.random.SFC64(stream))
        drawn = _block(parts, rng, size, runs.batches, *beside)
        amounts[at : at + size] = drawn.reshape(size, runs.batches, -1)

    if threads > 1:
        with ThreadPoolExecutor(threads) as pool:
            list(pool.map(fill, range(len(sizes))))
    else:
        for block in range(len(sizes)):
            fill(block)
    known = of.brought.sum(axis=0)[list(asked)]
    kcal = np.full(amounts.shape[:2], of.kcal)
    for column, per_gram in energy.items():
        j = asked.index(column)
        kcal += per_gram * (amounts[:, :, j] - known[j])
    return Drawn(runs, asked, amounts, extra, uneven, np.maximum(kcal, 1e-9), known)


@dataclass(frozen=True)
class _Line:
    """A line as it is drawn: its columns (of J), what it brings there, and what each food that may stand for it brings
    and may hold beside that, (M, columns); log-normal sigmas of a batch and for good."""

    columns: NDArray[np.intp]
    brought: Float32
    others: Float32
    others_may_hold: Float32
    uneven: float
    lot: Float32
    stays: Float32
    middle: Float32
    amino: NDArray[np.intp]


@dataclass(frozen=True)
class _Parts:
    """All lines, and the hand that measures them."""

    width: int
    lines: tuple[_Line, ...]
    once: Float32
    tool_stays: Float32
    bias: Float32
    tool_at: NDArray[np.intp]
    tools: int
    rates: Float32
    half: float
    over: float
    least: float
    span: float

    @classmethod
    def of(cls, of: Uncertain, asked: Sequence[int]) -> "_Parts":
        index = np.array(asked, dtype=np.intp)
        lines = []
        for i in range(len(of.names)):
            brought = of.brought[i, index]
            instead = of.others[i] or _none_of(len(of.library.catalogue.nutrients))
            others, may_hold = instead.brought[:, index], instead.may_hold[:, index]
            here = np.flatnonzero((brought != 0) | others.any(axis=0) | may_hold.any(axis=0))
            if here.size and here[0] != 0:
                here = np.concatenate([[0], here])
            at = index[here]
            content, table, left = of.content[i, at], of.table[i, at], of.retention[i, at]
            # What a pack says is off the same way in every tub of it.
            lot = np.zeros_like(content) if of.labelled[i] else content
            good = content if of.labelled[i] else table
            lot2 = np.log1p(np.square(lot)) + np.log1p(np.square(left))
            good2 = np.log1p(np.square(good))
            lines.append(
                _Line(
                    here, brought[here].astype(np.float32), others[:, here].astype(np.float32),
                    may_hold[:, here].astype(np.float32), float(of.uneven[i]), np.sqrt(lot2).astype(np.float32),
                    np.sqrt(good2).astype(np.float32), ((lot2 + good2) / 2).astype(np.float32),
                    np.flatnonzero(of.follows_protein[at]),
                )
            )  # fmt: skip
        names = sorted({t.id for t in of.tools})
        rates = [
            [d.left_out, d.halved, d.over, d.swapped if of.others[i] else 0.0]
            for i, d in enumerate(of.drifts)
        ]
        return cls(
            width=len(asked),
            lines=tuple(lines),
            once=of.measured_once.astype(np.float32),
            tool_stays=of.tool_stays.astype(np.float32),
            bias=of.tool_bias.astype(np.float32),
            tool_at=np.array([names.index(t.id) for t in of.tools], dtype=np.intp),
            tools=len(names),
            rates=np.array(rates, dtype=np.float32).reshape(-1, 4),
            half=of.errors.half,
            over=of.errors.over,
            least=of.errors.careful_least,
            span=of.errors.careful_range,
        )


def _none_of(width: int) -> Others:
    return Others(np.zeros((0, width)), np.zeros((0, width)))


def _block(
    parts: _Parts, rng: np.random.Generator, kitchens: int, batches: int, extra: Float32 | None,
    uneven: Float32 | None,
) -> Float32:  # fmt: skip
    """(kitchens x batches, J) amounts of a block. What may be there beside them, and what one day has, is added to
    `extra` and `uneven`, of that shape."""
    rows = kitchens * batches
    care = parts.least + parts.span * rng.random(kitchens, dtype=np.float32)
    hand = rng.standard_normal((kitchens, parts.tools), dtype=np.float32)
    taken, swapped = _taken(parts, rng, np.repeat(care, batches), np.repeat(hand, batches, axis=0))
    found = np.zeros((rows, parts.width), dtype=np.float32)
    for i, line in enumerate(parts.lines):
        if not line.columns.size:
            continue
        factor = rng.standard_normal((rows, line.columns.size), dtype=np.float32)
        factor *= line.lot
        stays = rng.standard_normal((kitchens, line.columns.size), dtype=np.float32)
        stays *= line.stays
        stays -= line.middle
        shaped = factor.reshape(kitchens, batches, -1)
        shaped += stays[:, None, :]
        np.exp(factor, out=factor)
        if line.amino.size:
            factor[:, line.amino] *= factor[:, :1]
        at = np.flatnonzero(swapped[:, i])
        factor_of_others = factor[at]
        factor *= line.brought
        if at.size:
            # Each food of the class as often; it differs from its table as the one it stands for does.
            which = rng.integers(len(line.others), size=len(at))
            factor[at] = factor_of_others * line.others[which]
            if extra is not None:
                # What is endless stays so of next to nothing.
                amount = np.maximum(taken[at, i, None], np.float32(1e-6))
                extra[np.ix_(at, line.columns)] += line.others_may_hold[which] * amount
        factor *= taken[:, i, None]
        found[:, line.columns] += factor
        if line.uneven and uneven is not None:
            # One part of a whole that is parted: near a gamma, never under nothing.
            shape = 1 / line.uneven**2
            share = rng.standard_gamma(shape, rows, dtype=np.float32) / np.float32(shape)
            uneven[:, line.columns] += factor * (share - 1)[:, None]
    return found


def _taken(
    parts: _Parts, rng: np.random.Generator, care: Float32, hand: Float32
) -> tuple[Float32, NDArray[np.bool_]]:
    """(rows, L) how much of each line gets in, as a share of what was asked; whether another food does."""
    shape = (len(care), len(parts.lines))
    measured = 1 + parts.once * rng.standard_normal(shape, dtype=np.float32)
    measured *= (1 + parts.bias) * (1 + parts.tool_stays * hand[:, parts.tool_at])
    slip = rng.random(shape, dtype=np.float32)
    # What is left out, halved, over and swapped lie one after the other on the line from 0 to 1.
    ends = np.cumsum(care[:, None, None] * parts.rates, axis=2)
    share = np.where(
        slip < ends[:, :, 0], 0.0,
        np.where(slip < ends[:, :, 1], parts.half, np.where(slip < ends[:, :, 2], parts.over, 1.0)),
    )  # fmt: skip
    taken: Float32 = (np.maximum(measured, 0) * share).astype(np.float32)
    return taken, (slip >= ends[:, :, 2]) & (slip < ends[:, :, 3])


def error_of(held: NDArray[np.bool_]) -> float:
    """Standard error of a share over kitchens: (K, ...) whether it held. Batches of one kitchen are not independent."""
    by_kitchen = held.reshape(len(held), -1).mean(axis=1)
    if len(by_kitchen) < 2:
        return 1.0
    return rounded(float(by_kitchen.std(ddof=1) / np.sqrt(len(by_kitchen))))
