"""What a slip in the kitchen would do: a heaped spoon, a dose given twice."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..findings import Finding, Kind, Level
from ..recipe.line import Line
from ..recipe.totals import Totals
from ..targets.safe_limits import Counts, Role, SafeLimit
from .added import limit_amount, limit_scale

_SPOONS = frozenset({"tsp", "tbsp", "cup", "pinch", "dash"})
_ROLES = frozenset({Role.CEILING, Role.ACUTE})
# Foods so strong that a spoon more of them counts.
_STRONG = frozenset({"seaweed", "fat:fish-liver"})


def strong_doses_that_slip(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """One finding for every strong supplement that passes a safe limit by a heaped spoon or a second dose, where the
    recipe as it is keeps to it."""
    rules = dossier.reference.availability
    strong = [i for i, line in enumerate(dossier.lines) if _is_strong(line)]
    room = _Room.of(dossier, sums) if strong else None
    for i in strong:
        line = dossier.lines[i]
        slips = [("given twice", rules.twice)]
        if line.amount.unit in _SPOONS:
            slips.insert(0, ("if the spoon is heaped", rules.heaped))
        worst = [(words, room.worst(line, i, times)) for words, times in slips if room]
        passed = [f"{words}: {w[0]} {w[1]:.2g} times its limit" for words, w in worst if w]
        heaped = line.amount.unit in _SPOONS and worst[0][1] is not None
        if passed:
            yield Finding(
                kind=Kind.SLIP, # A spoon is heaped sooner than a dose is given twice.
                level=Level.WARN if heaped else Level.NOTE, what=f"{line.food.name}: little room for a slip",
                why="; ".join(passed),
                do="Weigh it, write level spoon and once a day on the sheet, or divide it over more batches.",
                source=rules.slip_source, food=line.food.id,
            )  # fmt: skip


@dataclass(frozen=True)
class _Room:
    """The safe limits that a dose may pass: what the recipe holds of each as a share of it, and what one of the
    nutrient in the batch adds to that share."""

    sums: Totals
    limits: tuple[SafeLimit, ...]
    names: tuple[str, ...]
    columns: NDArray[np.intp]
    held: FloatArray
    each: FloatArray

    @classmethod
    def of(cls, dossier: Dossier, sums: Totals) -> "_Room":
        kept = tuple(
            x for x in dossier.targets.safe
            if x.role in _ROLES and x.value and x.key in sums.catalogue and x.unit != "ratio"
        )  # fmt: skip
        values = np.array([x.value for x in kept])
        held = np.array([limit_amount(dossier, sums, x) for x in kept]) / values
        each = np.array([limit_scale(dossier, sums, x) for x in kept]) / values
        columns = np.array([sums.catalogue.index(x.key) for x in kept], dtype=np.intp)
        names = tuple(dossier.library.catalogue.name_of(x.key) for x in kept)
        return cls(sums, kept, names, columns, held, each)

    def worst(self, line: Line, i: int, times: float) -> tuple[str, float] | None:
        """The nutrient that passes its limit by most with so many times a line, and what it then is of it; None where
        none does that keeps to it as it is."""
        more = np.nan_to_num(self.sums.contributions[i, self.columns]) * (times - 1) * self.each
        then = self.held + more
        passes = (more > 0) & (self.held <= 1) & (then > 1)
        found = [k for k in np.flatnonzero(passes) if _counts(self.limits[k], line)]
        if not found:
            return None
        k = max(found, key=lambda k: float(then[k]))
        return self.names[k], float(then[k])


def _counts(limit: SafeLimit, line: Line) -> bool:
    """Whether a limit counts what a line brings."""
    given = line.food.handling
    if limit.counts is Counts.TOTAL:
        return True
    bound = given is not None and given.bound_phosphate
    return given is not None and not (limit.counts is Counts.ADDED_SOLUBLE and bound)


def _is_strong(line: Line) -> bool:
    return line.food.handling is not None or line.food.attributes.kind in _STRONG
