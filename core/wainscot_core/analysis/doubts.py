"""What hangs on a line that is not sure yet: what a recipe comes to with each thing that it may stand for."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..figures import rounded
from ..recipe.line import Line, sum_lines
from .adequacy import Status, judge, judge_ratios, urgency

# A nutrient that moves less is not told.
MOVES = 0.05
# Newton's steps on a quotient of two sums: it is exact after as many as there are lines, and mostly after three.
STEPS = 12
MOST_TURNED = 3


@dataclass(frozen=True, kw_only=True)
class Turned:
    """A verdict that becomes another one."""

    key: str
    name: str
    was: Status
    now: Status


@dataclass(frozen=True, kw_only=True)
class Effect:
    """What a choice makes of a recipe. turned: verdicts that it turns, the weightiest first; moved: the nutrient that it
    moves most, "" for none, and by what factor; weight: how much that is; words: the same, to be read."""

    turned: tuple[Turned, ...]
    moved: str
    factor: float | None
    kcal_per_day: float
    weight: float
    words: str


@dataclass(frozen=True, kw_only=True)
class OpenLine:
    """A line that is looked at. now: as it is taken for now, None while that cannot be computed. choices: what it may
    stand for, each with whether that is credible. settled: a person has looked at it. grams: what it may weigh."""

    now: Line | None
    choices: tuple[tuple[Line | None, bool], ...] = ()
    settled: bool = False
    grams: tuple[float, float] | None = None


@dataclass(frozen=True, kw_only=True)
class Doubt:
    """What hangs on a line. effects: of every choice, None where it cannot be computed. sure: nothing that may well be
    meant turns a verdict or moves the wall much. weight: how much hangs on it."""

    effects: tuple[Effect | None, ...]
    sure: bool
    weight: float


@dataclass(frozen=True, kw_only=True)
class Doubts:
    """What hangs on every line; order: their positions, the weightiest doubt first and the sure ones last, in the order
    of the text; ranges: what the open weights could still change, per nutrient and 1000 kcal."""

    lines: tuple[Doubt, ...]
    order: tuple[int, ...]
    ranges: Mapping[str, tuple[float, float]]


# Nothing else weighs as much as a line that stands for nothing yet.
UNREAD = 1e6
# A doubt that moves the wall by less than this in all is none.
MATTERS = 0.1


def doubts_of(dossier: Dossier, lines: Sequence[OpenLine]) -> Doubts:
    """What hangs on the lines of a text that is looked at, in the dossier of its dog."""
    at = [i for i, line in enumerate(lines) if line.now is not None]
    standing = dossier.with_lines([line.now for line in lines if line.now is not None])
    found = []
    for i, line in enumerate(lines):
        place = at.index(i) if i in at else None
        found.append(_doubt(standing, place, line))
    open_grams = {
        place: line.grams
        for place, i in enumerate(at)
        if (line := lines[i]).grams is not None and not line.settled
    }
    order = sorted(range(len(lines)), key=lambda i: (found[i].sure, -_rank(found[i]), i))
    return Doubts(lines=tuple(found), order=tuple(order), ranges=ranges(standing, open_grams))


def _rank(doubt: Doubt) -> float:
    return 0.0 if doubt.sure else doubt.weight


def _doubt(dossier: Dossier, place: int | None, line: OpenLine) -> Doubt:
    computed = effects(dossier, place, [c for c, _ in line.choices if c is not None])
    told = iter(computed)
    each = tuple(next(told) if choice is not None else None for choice, _ in line.choices)
    if line.now is None:
        return Doubt(effects=each, sure=False, weight=UNREAD)
    credible = [e for e, (_, c) in zip(each, line.choices, strict=True) if c]
    unknown = any(e is None for e in credible)
    known = [e for e in credible if e is not None]
    weight = max((e.weight for e in known), default=0.0)
    sure = not unknown and weight < MATTERS and not any(e.turned for e in known)
    return Doubt(effects=each, sure=sure, weight=rounded(weight))


def effects(dossier: Dossier, position: int | None, choices: Sequence[Line]) -> tuple[Effect, ...]:
    """What the recipe becomes with each of these in place of the line at a position, or beside the others where that is
    None, against the recipe as it stands."""
    before = _stand(dossier, dossier.lines)
    found = []
    for line in choices:
        lines = list(dossier.lines)
        if position is None:
            lines.append(line)
        else:
            lines[position] = line
        found.append(_effect(before, _stand(dossier, lines)))
    return tuple(found)


def ranges(
    dossier: Dossier, grams: Mapping[int, tuple[float, float]]
) -> Mapping[str, tuple[float, float]]:
    """Per nutrient, what there is at least and at most per 1000 kcal, in its unit, while lines weigh between these
    grams: the nutrients that this moves. grams: low and high by position; the other lines weigh what they weigh.

    A quotient of two sums is largest where every line stands at one of its ends, found by Newton's steps (Dinkelbach
    1967, Management Science 13:492)."""
    if not grams:
        return {}
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    with np.errstate(divide="ignore", invalid="ignore"):
        per_gram = sums.contributions / sums.grams[:, None]
    kcal = per_gram[:, dossier.library.catalogue.index("ENERC")]
    if not np.all(np.isfinite(kcal)):
        # While energy is not known every figure per 1000 kcal is open.
        return {}
    low, high = sums.grams.copy(), sums.grams.copy()
    for i, (least, most) in grams.items():
        low[i], high[i] = least, most
    if float(low @ kcal) <= 0:
        return {}
    found = {}
    known = np.nan_to_num(per_gram)
    for column, nutrient in enumerate(dossier.library.catalogue.nutrients):
        least = -_largest(-known[:, column], kcal, low, high)
        most = _largest(known[:, column], kcal, low, high)
        if most > least * (1 + MOVES):
            found[nutrient.key] = (rounded(least * 1000), rounded(most * 1000))
    return found


def _largest(amounts: FloatArray, kcal: FloatArray, low: FloatArray, high: FloatArray) -> float:
    """The largest quotient of amounts and energy over weights between low and high."""
    quotient = float(low @ amounts) / float(low @ kcal)
    for _ in range(STEPS):
        grams = np.where(amounts > quotient * kcal, high, low)
        better = float(grams @ amounts) / float(grams @ kcal)
        if better <= quotient * (1 + 1e-12) if quotient >= 0 else better <= quotient * (1 - 1e-12):
            break
        quotient = better
    return quotient


@dataclass(frozen=True)
class _Stand:
    """Where a recipe stands. of: by key, its verdict, its value and how much it wants looking at."""

    of: Mapping[str, tuple[str, Status, float | None, float]]
    kcal_per_day: float


def _stand(dossier: Dossier, lines: Sequence[Line]) -> _Stand:
    sums = sum_lines(dossier.library, lines, dossier.days)
    verdicts = judge(sums, dossier.requirements, dossier.policy)
    nutrients = dossier.library.catalogue.nutrients
    of = {
        v.key: (n.name, v.status, v.value, urgency(v.value, v.status, v.limit))
        for n, v in zip(nutrients, verdicts, strict=True)
        if v.status is not Status.NO_LIMIT
    }
    for ratio in judge_ratios(sums, dossier.requirements):
        if ratio.status is not Status.NO_LIMIT:
            weight = urgency(ratio.value, ratio.status, ratio.limit)
            of[ratio.ratio.key] = (ratio.ratio.name, ratio.status, ratio.value, weight)
    return _Stand(of, sums.kcal / dossier.days)


def _effect(before: _Stand, after: _Stand) -> Effect:
    turned, weight = [], 0.0
    moved, factor = "", 1.0
    for key, (name, status, value, urgent) in after.of.items():
        was = before.of.get(key)
        if was is None:
            continue
        weight += abs(urgent - was[3])
        if status is not was[1]:
            turned.append(
                (abs(urgent - was[3]), Turned(key=key, name=name, was=was[1], now=status))
            )
        if value and was[2] and abs(math.log(value / was[2])) > abs(math.log(factor)):
            moved, factor = name, value / was[2]
    turned.sort(key=lambda pair: -pair[0])
    if abs(factor - 1) <= MOVES:
        moved = ""
    kcal = after.kcal_per_day - before.kcal_per_day
    told = tuple(t for _, t in turned)
    return Effect(
        turned=told, moved=moved, factor=rounded(factor) if moved else None,
        kcal_per_day=rounded(kcal), weight=rounded(weight), words=_words(told, moved, factor, kcal),
    )  # fmt: skip


def _words(turned: Sequence[Turned], moved: str, factor: float, kcal: float) -> str:
    parts = [f"{t.name}: {t.now}, was {t.was}" for t in turned[:MOST_TURNED]]
    if len(turned) > MOST_TURNED:
        parts.append(f"{len(turned) - MOST_TURNED} more verdicts turn")
    if moved and not turned:
        parts.append(f"{moved} {factor:.2g}x")
    if abs(kcal) >= 1:
        parts.append(f"{abs(kcal):.0f} kcal a day {'more' if kcal > 0 else 'less'}")
    return "; ".join(parts) or "changes little"
