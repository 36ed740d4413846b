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
# Batches that are drawn together, of whole kitchens; each such block has a stream of its own.
BLOCK = 2000

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
    together = max(1, BLOCK // runs.batches)
    sizes = [min(together, runs.kitchens - at) for at in range(0, runs.kitchens, together)]
    amounts = np.empty((runs.kitchens, runs.batches, len(asked)), dtype=np.float32)
    extra = np.zeros_like(amounts) if any(of.others) else None
    uneven = np.zeros_like(amounts) if of.uneven.any() else None

    def fill(block: int) -> None:
        at, size = block * together, sizes[block]
        # How it is stirred has a stream of its own: no figure of a batch hangs on it.
        rng, stirred = _stream(runs.seed, block), _stream(runs.seed, block, 1)
        drawn = _block(parts, rng, stirred, size, runs.batches)
        for whole, part in zip((amounts, extra, uneven), drawn, strict=True):
            if whole is not None:
                whole[at : at + size] = part.reshape(-1, runs.batches, size).transpose(2, 1, 0)

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
    """A line as it is drawn: its columns (of J), what it brings there, and what each food that may stand for it brings,
    (columns, M); what those bring that it has nothing of, (beside, M), at `beside` of the J, and may hold beside what is
    known, (more, M), at `more`; log-normal sigmas of a batch and for good, at `beside` both in one. What is of columns
    stands upright, so that it spreads over the rows of a block."""

    columns: NDArray[np.intp]
    brought: Float32
    others: Float32
    beside: NDArray[np.intp]
    others_beside: Float32
    sigma_beside: Float32
    more: NDArray[np.intp]
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
    ends: Float32
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
            here = np.flatnonzero(brought)
            if here.size and here[0] != 0:
                here = np.concatenate([[0], here])
            beside = np.setdiff1d(np.flatnonzero(others.any(axis=0)), here)
            lot2, good2 = _variances(of, i)
            both2 = lot2 + good2
            lot2, good2 = lot2[index[here]], good2[index[here]]
            more = np.flatnonzero(may_hold.any(axis=0))
            lines.append(
                _Line(
                    here, _upright(brought[here]), _upright(others[:, here].T),
                    beside, _upright(others[:, beside].T), _upright(np.sqrt(both2[index[beside]])), more,
                    _upright(may_hold[:, more].T), float(of.uneven[i]), _upright(np.sqrt(lot2)),
                    _upright(np.sqrt(good2)), _upright((lot2 + good2) / 2),
                    np.flatnonzero(of.follows_protein[index[here]]),
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
            once=_upright(of.measured_once),
            tool_stays=_upright(of.tool_stays),
            bias=_upright(of.tool_bias),
            tool_at=np.array([names.index(t.id) for t in of.tools], dtype=np.intp),
            tools=len(names),
            ends=np.cumsum(np.array(rates, dtype=np.float32).reshape(-1, 4), axis=1),
            half=of.errors.half,
            over=of.errors.over,
            least=of.errors.careful_least,
            span=of.errors.careful_range,
        )


def _stream(seed: int, *of: int) -> np.random.Generator:
    return np.random.Generator(np.random.SFC64(np.random.SeedSequence(seed, spawn_key=of)))


def _variances(of: Uncertain, line: int) -> tuple[FloatArray, FloatArray]:
    """(N,) of the logarithm of what a line brings: from one batch to the next, and for good."""
    content, table = of.content[line], of.table[line]
    # What a pack says is off the same way in every tub of it.
    lot = np.zeros_like(content) if of.labelled[line] else content
    good = content if of.labelled[line] else table
    return np.log1p(np.square(lot)) + np.log1p(np.square(of.retention[line])), np.log1p(
        np.square(good)
    )


def _upright(found: FloatArray) -> Float32:
    return np.ascontiguousarray(found if found.ndim == 2 else found[:, None], dtype=np.float32)


def _none_of(width: int) -> Others:
    return Others(np.zeros((0, width)), np.zeros((0, width)))


def _block(
    parts: _Parts,
    rng: np.random.Generator,
    stirred: np.random.Generator,
    kitchens: int,
    batches: int,
) -> tuple[Float32, Float32, Float32]:
    """(J, batches x kitchens) amounts of a block, what may be there beside them, and what one day has beside them."""
    rows = batches * kitchens
    care = parts.least + parts.span * rng.random(kitchens, dtype=np.float32)
    hand = rng.standard_normal((parts.tools, kitchens), dtype=np.float32)
    taken, swapped = _taken(parts, rng, np.tile(care, batches), np.tile(hand, batches))
    found, extra, uneven = np.zeros((3, parts.width, rows), dtype=np.float32)
    for i, line in enumerate(parts.lines):
        if not line.columns.size and not line.beside.size and not line.more.size:
            continue
        factor = rng.standard_normal((line.columns.size, rows), dtype=np.float32)
        factor *= line.lot
        stays = rng.standard_normal((line.columns.size, kitchens), dtype=np.float32)
        stays *= line.stays
        stays -= line.middle
        shaped = factor.reshape(-1, batches, kitchens)
        shaped += stays[:, None, :]
        np.exp(factor, out=factor)
        if line.amino.size:
            factor[line.amino] *= factor[0]
        at = np.flatnonzero(swapped[i])
        of_others = factor[:, at]
        factor *= line.brought
        if at.size:
            # Each food of the class as often; it differs from its table as the one it stands for does.
            which = rng.integers(line.others.shape[1], size=len(at))
            factor[:, at] = of_others * line.others[:, which]
            _beside(line, rng, at, which, taken[i, at], found, extra)
        factor *= taken[i]
        found[line.columns] += factor
        if line.uneven:
            # One part of a whole that is parted: near a gamma, never under nothing.
            shape = 1 / line.uneven**2
            share = stirred.standard_gamma(shape, rows, dtype=np.float32) / np.float32(shape)
            uneven[line.columns] += factor * (share - 1)
    return found, extra, uneven


def _beside(
    line: _Line, rng: np.random.Generator, at: NDArray[np.intp], which: NDArray[np.intp],
    taken: Float32, found: Float32, extra: Float32,
) -> None:  # fmt: skip
    """What other foods bring in these rows that the line has nothing of, and may hold."""
    if line.beside.size:
        factor = rng.standard_normal((line.beside.size, len(at)), dtype=np.float32)
        factor *= line.sigma_beside
        factor -= np.square(line.sigma_beside) / 2
        found[line.beside[:, None], at] += np.exp(factor) * line.others_beside[:, which] * taken
    if line.more.size:
        # What is endless stays so of next to nothing.
        amount = np.maximum(taken, np.float32(1e-6))
        extra[line.more[:, None], at] += line.others_may_hold[:, which] * amount


def _taken(
    parts: _Parts, rng: np.random.Generator, care: Float32, hand: Float32
) -> tuple[Float32, NDArray[np.bool_]]:
    """(L, rows) how much of each line gets in, as a share of what was asked; whether another food does."""
    shape = (len(parts.lines), len(care))
    measured = 1 + parts.once * rng.standard_normal(shape, dtype=np.float32)
    measured *= (1 + parts.bias) * (1 + parts.tool_stays * hand[parts.tool_at])
    # What is left out, halved, over and swapped lie one after the other on the line from 0 to 1, longer for the careless.
    slip = rng.random(shape, dtype=np.float32) / care
    out, halved, over, other = (parts.ends[:, k, None] for k in range(4))
    share = np.where(
        slip < out, 0.0, np.where(slip < halved, parts.half, np.where(slip < over, parts.over, 1.0))
    )
    taken: Float32 = (np.maximum(measured, 0) * share).astype(np.float32)
    return taken, (slip >= over) & (slip < other)


def error_of(held: NDArray[np.bool_]) -> float:
    """Standard error of a share over kitchens: (K, ...) whether it held. Batches of one kitchen are not independent."""
    by_kitchen = held.reshape(len(held), -1).mean(axis=1)
    if len(by_kitchen) < 2:
        return 1.0
    return rounded(float(by_kitchen.std(ddof=1) / np.sqrt(len(by_kitchen))))
