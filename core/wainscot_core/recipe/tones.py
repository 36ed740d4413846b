"""Which tone an ingredient is drawn in: woods for foods, inlays for what comes out of a bottle.

A tone belongs to an ingredient for the life of its recipe: it is given when the ingredient enters, in the
order of the energy that those which enter together bring, and is never reshuffled.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

# How many of each can be told apart; one more wood stands for all others.
WOODS = 8
OTHER_WOODS = f"w{WOODS}"
INLAYS = 4


@dataclass(frozen=True)
class Entering:
    """An ingredient of a recipe: its food's id, whether it is a supplement, its energy in kcal."""

    food: str
    supplement: bool
    kcal: float


def merged(recipes: Iterable[Mapping[str, str]]) -> dict[str, str]:
    """Tones of several recipes on one wall: those of the first stay, further ones keep theirs where no
    other food has it."""
    found: dict[str, str] = {}
    for recipe in recipes:
        for food, tone in recipe.items():
            if food not in found and tone not in found.values():
                found[food] = tone
    return found


def tones(known: Mapping[str, str], ingredients: Iterable[Entering]) -> dict[str, str]:
    """Tones by food ("w0" .. "w8", "i0" .. "i3"): those that are known stay, new ones are given the first
    that nothing has, else the first that nothing in the recipe has any more."""
    present = {i.food: i for i in ingredients}
    found = dict(known)
    fresh = sorted(
        (i for i in present.values() if i.food not in found), key=lambda i: (-i.kcal, i.food)
    )
    for entering in fresh:
        kind, count = ("i", INLAYS) if entering.supplement else ("w", WOODS)
        names = [f"{kind}{n}" for n in range(count)]
        held = {found[food] for food in present if food in found}
        free = [name for name in names if name not in found.values()]
        left = free or [name for name in names if name not in held]
        tone = left[0] if left else names[-1] if entering.supplement else OTHER_WOODS
        if not free and left:
            found = {food: had for food, had in found.items() if had != tone}
        found[entering.food] = tone
    return found
