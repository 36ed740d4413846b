"""Limits that no recipe can hold together and that nobody has decided about yet."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals


def undecided_conflicts(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """One finding a conflict; a decision, with its reason, takes it away."""
    for conflict in dossier.targets.conflicts:
        if conflict.decided is None:
            yield Finding(
                kind=Kind.CONFLICT,
                level=Level.DECIDE,
                what=f"{conflict.name}: two limits are apart",
                why=conflict.words.rstrip("."),
                do="Decide in the targets which gives way, with the attending vet.",
                source=f"{conflict.floor.citation}; {conflict.ceiling.citation}",
                nutrient=conflict.key,
            )


def narrow_windows(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Windows that a raised floor has nearly closed."""
    for window in dossier.targets.narrow:
        yield Finding(
            kind=Kind.CONFLICT,
            level=Level.NOTE,
            what=f"{window.name}: a narrow window",
            why=window.words,
            do="Decide in the targets whether the raised floor binds, or weigh its source with care.",
            nutrient=window.key,
        )
