"""Small adjustments by hand: rescale to a way of feeding, put one food for another."""

from dataclasses import dataclass
from enum import StrEnum

from ..bowl.exclusions import why_unfit
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import Food
from ..facts.preparations import MethodChoice, method_choices
from ..recipe.line import sum_lines
from ..recipe.proportions import Way, rescaled
from .candidates import nearest_amount


@dataclass(frozen=True, kw_only=True)
class NewAmount:
    """A line's amount after rescaling."""

    line: int
    quantity: str


@dataclass(frozen=True, kw_only=True)
class Suggestion:
    """A food with an amount. why_not: what speaks against it for this dog, or ""."""

    food: str
    name: str
    quantity: str
    why_not: str
    methods: tuple[MethodChoice, ...]


class Keep(StrEnum):
    """What a food that takes the place of another brings as much of."""

    ENERGY = "energy"
    PROTEIN = "protein"


TAGS = {Keep.ENERGY: "ENERC", Keep.PROTEIN: "PROCNT"}


def _way(dossier: Dossier) -> Way:
    if dossier.way is None:
        raise InputError("way", "choose a way of feeding first")
    return dossier.way


def suggestion(dossier: Dossier, food: Food, grams: float, why_not: str = "") -> Suggestion:
    """A food with the amount a person can give that is nearest to a weight."""
    return Suggestion(
        food=food.id,
        name=food.name,
        quantity=nearest_amount(dossier.reference.formulation, food, grams),
        why_not=why_not,
        methods=method_choices(dossier.reference.methods, food),
    )


def rescale(dossier: Dossier) -> tuple[NewAmount, ...]:
    """Bring the lines to the way's proportions, to whichever part there is least of.

    Raises InputError (way) without a way, or when one of its parts is missing.
    """
    lines, reference = dossier.lines, dossier.reference
    factors = rescaled(
        reference.feeding, _way(dossier), [x.food for x in lines], [x.fed_grams for x in lines]
    )
    return tuple(
        NewAmount(
            line=position,
            quantity=nearest_amount(reference.formulation, line.food, line.amount.grams * factor),
        )
        for position, (line, factor) in enumerate(zip(lines, factors, strict=True))
        if abs(factor - 1) > 1e-9
    )


def substitute(dossier: Dossier, position: int, food_id: str, keep: Keep) -> Suggestion:
    """How much of a food brings what line `position` brings. Raises InputError (line or food)."""
    library = dossier.library
    if not 0 <= position < len(dossier.lines):
        raise InputError("line", "is no line of this recipe")
    if food_id not in library:
        raise InputError("food", f"no food {food_id!r} in the library")
    food, tag = library.food(food_id), TAGS[keep]
    theirs = float(library.values[library.row(food_id), library.catalogue.index(tag)])
    if not theirs > 0:
        raise InputError("food", f"{food.name} brings no {keep}")
    wanted = sum_lines(library, [dossier.lines[position]], 1).amount(tag)
    return suggestion(dossier, food, wanted / theirs * 100, why_unfit(food, dossier.avoid))
