"""The lines a diet cannot live without, each with why, as paper says it."""

from collections.abc import Mapping

from ..conventions import Conventions, spelled
from ..figures import listed, lowered
from ..snapshot.snapshot import FrozenRecipe
from .paper import Words

MOST_LOST = 4


def vital_lines(
    c: Conventions, recipe: FrozenRecipe, names: Mapping[str, str], short: Mapping[str, str]
) -> dict[int, Words]:
    """By the line's place in the recipe, the heaviest first. names: of nutrients and ratios; short: of foods."""
    found = {}
    for kept in recipe.vital:
        missing = [x for x in kept.lost if x.missing and x.key in names]
        told_of = missing or [x for x in kept.lost if x.key in names]
        if not told_of:
            continue
        lost = tuple(dict.fromkeys(spelled(c, lowered(names[x.key])) for x in told_of))
        left = round((1 - told_of[0].depth) * 100)
        why = f": {lost[0]} at {left} % of what is needed" if missing else ""
        food = recipe.analysis.recipe.lines[kept.line].food
        found[kept.line] = Words(
            lead=f"{spelled(c, short[food])}:",
            text=f"without it {'too little' if missing else 'out of balance'} "
            f"{listed(lost, MOST_LOST)}{why}.",
        )
    return found


def vital_lead(found: Mapping[int, Words]) -> str:
    """What stands before them."""
    return (
        f"Without {'these' if len(found) > 1 else 'this'} it is no longer this diet. "
        "If one is missing, ask before you feed it:"
    )
