"""A rotation that was formulated, in words and in lines that can be stored."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..dossier.dossier import Dossier
from ..figures import listed, rounded
from ..recipe.line import LineText, stored
from ..recipe.plan import Turn
from ..units import Measures
from .proposal import Change, Happens, State
from .rotation import Rotation


@dataclass(frozen=True, kw_only=True)
class RotationRecipe:
    """A recipe that changes. turn: its place in the rotation; days: of each round; state: how it stands beside the others;
    distance: the share of its energy that comes from other foods; changes: what happens to its foods; lines: it as it would
    be."""

    turn: int
    name: str
    days: float
    state: State
    distance: float
    changes: tuple[Change, ...]
    lines: tuple[LineText, ...]


@dataclass(frozen=True, kw_only=True)
class RotationResult:
    """What makes a round hold. before, after: the names of what is not met over the round, as it is and with the recipes."""

    words: str
    holds: bool
    before: tuple[str, ...]
    after: tuple[str, ...]
    recipes: tuple[RotationRecipe, ...]


def rotation_result(dossier: Dossier, turns: Sequence[Turn], found: Rotation) -> RotationResult:
    """A rotation as it is shown. turns: as they were."""
    names = dossier.library.catalogue
    before, after = (
        tuple(names.name_of(key) for key in keys) for keys in (found.before, found.after)
    )
    recipes = tuple(
        RotationRecipe(
            turn=one.turn,
            name=turns[one.turn].name,
            days=turns[one.turn].days,
            state=one.proposal.state,
            distance=rounded(one.distance),
            changes=tuple(c for c in one.proposal.changes if c.kind is not Happens.KEPT),
            lines=lines_with(turns[one.turn], one.proposal.changes, dossier.measures),
        )
        for one in found.adjusted
    )
    return RotationResult(
        words=_words(before, after, recipes), holds=found.holds, before=before, after=after,
        recipes=recipes,
    )  # fmt: skip


def lines_with(turn: Turn, changes: Sequence[Change], measures: Measures) -> tuple[LineText, ...]:
    """The lines of a recipe with what happens to them, in their order, what is added after them. measures: whose cups and
    spoons the changes are told in."""
    of = {c.line: c for c in changes if c.line is not None}
    found = []
    for i, line in enumerate(turn.lines):
        text, change = stored(line), of.get(i)
        if change is None or change.kind is Happens.KEPT:
            found.append(text)
        elif change.kind is Happens.CHANGED:
            found.append(
                LineText(
                    text.food, change.after, text.note, text.preparation, text.override,
                    measures=measures,
                )
            )  # fmt: skip
    added = (c for c in changes if c.line is None and c.kind is Happens.ADDED)
    return (*found, *(LineText(c.food, c.after, measures=measures) for c in added))


def _words(before: Sequence[str], after: Sequence[str], recipes: Sequence[RotationRecipe]) -> str:
    if not before:
        return "Every limit is met over the round as it is: nothing needs to change."
    names = listed([f"“{one.name}”" for one in recipes]) if recipes else ""
    if recipes and not after:
        only = "is the only recipe" if len(recipes) == 1 else "are the fewest recipes"
        return (
            f"{names} {only} that has to change for every limit to be met over the round.".replace(
                "recipes that has", "recipes that have"
            )
        )
    counted = "1 limit" if len(after) == 1 else f"{len(after)} limits"
    stay = f"{counted} would stay unmet over the round ({listed(after)})"
    if recipes:
        return f"Nothing was found that meets every limit. With {names} changed {stay}."
    return f"Nothing was found that could be changed: {stay}."
