"""Lines whose text can no longer be read and that stand by what they were read as."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals


def stale_readings(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """One finding a line."""
    for line in dossier.lines:
        if line.stale:
            yield Finding(
                kind=Kind.READING,
                level=Level.WARN,
                what=line.food.name,
                why=line.stale,
                do="Give its amount anew, in grams to be sure.",
                food=line.food.id,
            )
