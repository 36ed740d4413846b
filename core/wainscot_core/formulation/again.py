"""A recipe that was kept, begun again for another dog: the same foods in the same proportions, scaled to its energy."""

from dataclasses import dataclass

import numpy as np

from ..bowl.exclusions import why_unfit
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..recipe.line import sum_lines
from .adjust import Suggestion, suggestion


@dataclass(frozen=True, kw_only=True)
class BegunLine(Suggestion):
    """A line of it, prepared as it was kept. note: what is said of it beside."""

    preparation: str
    note: str


def begun_again(dossier: Dossier) -> tuple[BegunLine, ...]:
    """The dossier's lines, scaled so that they bring the dog's energy on its days. What speaks against a food for this dog
    is said (why_not), and nothing is left out by itself: proportions that lost a food in silence would be another recipe.

    Raises InputError (recipe.lines) where the energy of a line is not known: it could not be scaled.
    """
    lines, library = dossier.lines, dossier.library
    if not lines:
        raise InputError("recipe.lines", "this recipe holds no lines")
    kcal = np.array([sum_lines(library, [line], 1).amount("ENERC") for line in lines])
    for line, brings in zip(lines, kcal, strict=True):
        # A supplement is told by its label, and brings next to no energy.
        if not np.isfinite(brings) and not line.food.is_supplement:
            raise InputError(
                "recipe.lines",
                f"the energy of {line.food.name} is not known, so that the recipe cannot be scaled to this dog",
            )
    whole = float(np.nansum(kcal))
    if whole <= 0:
        raise InputError("recipe.lines", "the foods bring no energy, so that nothing can be scaled")
    factor = dossier.energy.target_kcal * dossier.days / whole
    found = []
    for line in lines:
        said = suggestion(
            dossier, line.food, line.amount.grams * factor, why_unfit(line.food, dossier.avoid)
        )
        found.append(
            BegunLine(
                food=said.food, name=said.name, quantity=said.quantity, why_not=said.why_not,
                methods=said.methods, preparation=line.text.preparation if line.text else "",
                note=line.text.note if line.text else "",
            )
        )  # fmt: skip
    return tuple(found)
