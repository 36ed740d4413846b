"""What may be added to a recipe of a case, with what speaks against each."""

from typing import Any

from wainscot_core.dossier import Dossier
from wainscot_core.exclusions import why_unfit
from wainscot_core.formulation.candidates import open_questions
from wainscot_core.formulation.proposal import default_allowed


def choices(dossier: Dossier) -> list[dict[str, Any]]:
    """What stands on the shelf, every generic supplement and the staples."""
    rules, library = dossier.reference.formulation, dossier.library
    usual = default_allowed(dossier.reference, library, "rebalance")
    supplements = [f.id for f in library.foods if f.is_supplement]
    found = []
    for food_id in dict.fromkeys((*usual, *supplements, *rules.staples)):
        food = library.food(food_id)
        why = why_unfit(food, dossier.avoid)
        if not why and open_questions(library, food):
            why = "its strength must be read from the pack first"
        found.append(
            {
                "food": food_id,
                "name": food.name,
                "kind": "supplement" if food.is_supplement else "food",
                "usual": food_id in usual,
                "why_not": why,
            }
        )
    return found
