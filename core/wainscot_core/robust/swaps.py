"""What comes instead of a line: every food of its class at the same weight, and the one that does worst.

An owner who reads "white fish" takes the white fish there is. A class is what a food is by its attributes: kind, state,
bone and skin; species and fat are what may change.
"""

from dataclasses import dataclass, replace

import numpy as np

from ..analysis.adequacy import HELD, Status
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import Food, FoodLibrary, use_of
from ..figures import rounded
from ..recipe.amount import Amount
from ..recipe.line import Line, sum_lines
from .without import Breach, breaches_of, judged_day

# So many members of a class are looked at, those of the same species first.
MOST_MEMBERS = 40


@dataclass(frozen=True, kw_only=True)
class Swapped:
    """A food in place of another, with what breaks by it, the worst first. weight: how much, as of a line left out;
    unknown: limits that held and are no longer proven, by name."""

    food: str
    name: str
    weight: float
    breaches: tuple[Breach, ...]
    unknown: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class SwapClass:
    """What may stand for a line. members: how many were looked at; sound: how many of them break nothing and leave
    nothing unknown that held; worst: the one by which most breaks, or else by which most is unknown, None where all are
    sound."""

    line: int
    members: int
    sound: int
    worst: Swapped | None


def class_of(library: FoodLibrary, food: Food) -> tuple[Food, ...]:
    """The foods of a food's class without itself, its own species first; none of a supplement, whose strength is its
    own, or of what is not known."""
    if food.is_supplement or food.attributes.kind == "unknown":
        return ()
    rows = library.rows_by_use.get(use_of(food), ())
    found = [other for row in rows if (other := library.foods[row]).id != food.id]
    found.sort(key=lambda f: (f.attributes.species != food.attributes.species, f.id))
    return tuple(found[:MOST_MEMBERS])


def swaps(dossier: Dossier, line: int) -> SwapClass:
    """What breaks when a line is one of the others of its class, at the same weight as fed. Raises InputError (line)."""
    if not 0 <= line < len(dossier.lines):
        raise InputError("line", "is no line of this recipe")
    library, lines = dossier.library, dossier.lines
    whole = sum_lines(library, lines, dossier.days)
    before = judged_day(dossier, whole, whole.kcal)
    found = []
    for other in class_of(library, lines[line].food):
        instead = [*lines[:line], with_food(library, lines[line], other), *lines[line + 1 :]]
        now = judged_day(dossier, sum_lines(library, instead, dossier.days), whole.kcal)
        breaches = breaches_of(before, now)
        weight = rounded(float(np.sum([b.more for b in breaches])))
        unknown = tuple(
            b.name
            for key, b in now.items()
            if b.status is Status.UNPROVEN and before[key].status in HELD
        )
        found.append(
            Swapped(food=other.id, name=other.name, weight=weight, breaches=breaches, unknown=unknown)
        )  # fmt: skip
    unsound = [s for s in found if s.breaches or s.unknown]
    return SwapClass(
        line=line,
        members=len(found),
        sound=len(found) - len(unsound),
        worst=max(unsound, key=lambda s: (s.weight, len(s.unknown), s.food), default=None),
    )


def with_food(library: FoodLibrary, line: Line, food: Food) -> Line:
    """A line with another food of the same weight; cooked as that one is, where it can be."""
    amount = Amount(line.amount.grams, "g", line.amount.grams, "as much of another food")
    return replace(line, food=food, row=library.row(food.id), amount=amount, text=None)
