"""Without it, half of it, twice of it: what each line of a recipe carries.

What is left out is missing in the day's bowl, and whoever feeds by energy makes up for it with the rest: a minimum is
looked at on both, and the less counts. Too much of a line is looked at both ways too, and the more counts.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from ..analysis.adequacy import BREAKS, Status, against, judge, judge_ratios
from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..figures import lowered, rounded
from ..recipe.totals import Totals, totals
from ..targets.standards import Limit

CARRIES = 3


class LineChange(StrEnum):
    """What is done to a line."""

    WITHOUT = "without"
    HALF = "half"
    TWICE = "twice"


SHARES = {LineChange.WITHOUT: 0.0, LineChange.HALF: 0.5, LineChange.TWICE: 2.0}


@dataclass(frozen=True, kw_only=True)
class Breach:
    """A limit that breaks, or breaks more: its amount per 1000 kcal, or the ratio, and the bound it breaks.
    depth: the share of the bound that is missing, or of the amount that is too much, 0 to 1; more: by how much that
    is more than it was; words: that, as it is told."""

    key: str
    name: str
    unit: str
    status: Status
    value: float | None
    bound: float | None
    depth: float
    more: float = 0.0
    words: str = ""


@dataclass(frozen=True, kw_only=True)
class LineChanged:
    """A line changed in one way, and what breaks by it, the worst first."""

    change: LineChange
    breaches: tuple[Breach, ...]


@dataclass(frozen=True, kw_only=True)
class Carried:
    """A line with what it carries. weight: how much breaks without it, the sum over the limits of the share that is
    missing, or too much, beyond what it was."""

    line: int
    food: str
    name: str
    weight: float
    changes: tuple[LineChanged, ...]

    def of(self, change: LineChange) -> tuple[Breach, ...]:
        """What breaks by one change."""
        return next(c.breaches for c in self.changes if c.change is change)


@dataclass(frozen=True, kw_only=True)
class Carrying:
    """Every line, the heaviest first, and how many of them the diet cannot live without."""

    lines: tuple[Carried, ...]
    most: tuple[Carried, ...]


def carrying(dossier: Dossier, changes: Sequence[LineChange] = tuple(LineChange)) -> Carrying:
    """What each line of a dossier's recipe carries. changes: those that are looked at, WITHOUT among them."""
    lines = dossier.lines
    rows = [x.row for x in lines]
    grams = np.array([x.amount.grams for x in lines])
    if not lines:
        return Carrying(lines=(), most=())
    retention = None
    if any(x.prepared for x in lines):
        plain = np.ones(len(dossier.library.catalogue.nutrients))
        retention = np.array([x.prepared.retention if x.prepared else plain for x in lines])

    def of(taken: FloatArray) -> Totals:
        return totals(dossier.library, rows, taken.tolist(), dossier.days, None, retention)

    whole = of(grams)
    if not whole.kcal > 0:
        return Carrying(lines=(), most=())
    before = judged_day(dossier, whole, whole.kcal)
    found = []
    for i, line in enumerate(lines):
        seen = []
        for change in changes:
            taken = grams.copy()
            taken[i] *= SHARES[change]
            now = judged_day(dossier, of(taken), whole.kcal)
            seen.append(LineChanged(change=change, breaches=breaches_of(before, now)))
        without = next(x for x in seen if x.change is LineChange.WITHOUT)
        weight = sum(b.more for b in without.breaches)
        found.append(
            Carried(
                line=i,
                food=line.food.id,
                name=line.food.name,
                weight=rounded(weight),
                changes=tuple(seen),
            )
        )
    found.sort(key=lambda c: (-c.weight, c.line))
    most = tuple(c for c in found[:CARRIES] if c.weight > 0)
    return Carrying(lines=tuple(found), most=most)


Judged = dict[str, Breach]


def judged_day(dossier: Dossier, of: Totals, day_kcal: float) -> Judged:
    """Every limit of a recipe, by its own energy and by that of the day it is meant for: the worse of the two."""
    energy = of.catalogue.index("ENERC")
    known = of.known.copy()
    known[energy] = day_kcal
    found: Judged = {}
    for totals_ in (of, replace(of, known=known)):
        if not totals_.kcal > 0:
            continue
        for breach in _verdicts(dossier, totals_):
            other = found.get(breach.key)
            if other is None or breach.depth > other.depth:
                found[breach.key] = breach
    return found


def _verdicts(dossier: Dossier, of: Totals) -> Iterator[Breach]:
    catalogue = of.catalogue
    for v in judge(of, dossier.requirements, dossier.policy):
        if v.limit is not None and v.status is not Status.NO_LIMIT:
            yield _breach(catalogue.name_of(v.key), v.status, v.value, v.limit)
    for r in judge_ratios(of, dossier.requirements):
        if r.limit is not None:
            yield _breach(r.ratio.name, r.status, r.value, r.limit)


def _breach(name: str, status: Status, value: float | None, limit: Limit) -> Breach:
    bound = against(value, status, limit)
    return Breach(
        key=limit.key, name=name, unit=limit.unit, status=status,
        value=None if value is None else rounded(value), bound=bound,
        depth=rounded(_depth(value, status, bound)),
        words=_told(name, value, status, bound),
    )  # fmt: skip


def _told(name: str, value: float | None, status: Status, bound: float | None) -> str:
    """ "zinc at 34 % of its least", "iodine 1.4 times its most"; "" of what does not break."""
    if status not in BREAKS or bound is None:
        return ""
    if status is Status.SHORT:
        return f"{lowered(name)} at {(value or 0) / bound * 100:.0f} % of its least"
    if value is None:
        return f"{lowered(name)} over its most"
    return f"{lowered(name)} {value / bound:.3g} times its most"


def _depth(value: float | None, status: Status, bound: float | None) -> float:
    """The share that is missing, or too much, of a limit that breaks; 0 of one that does not."""
    if status not in BREAKS or bound is None:
        return 0.0
    if value is None or value <= 0:
        return 1.0
    return 1 - value / bound if status is Status.SHORT else 1 - bound / value


# A limit that is broken already counts where it breaks by so much more.
DEEPER = 0.02


def breaches_of(before: Judged, now: Judged) -> tuple[Breach, ...]:
    """What breaks, or breaks more, the worst first."""
    grown = [replace(b, more=rounded(b.depth - before[key].depth)) for key, b in now.items()]
    worse = [b for b in grown if b.more > DEEPER]
    return tuple(sorted(worse, key=lambda b: (-b.more, b.key)))
