"""Foods this very dog must not get: its reactions, and what a trial leaves out."""

from collections.abc import Iterator
from dataclasses import replace

from ..bowl.exclusions import why_excluded
from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals


def foods_to_leave_out(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Foods of the recipe that reactions or a trial speak against; hazards and sourcing are told
    by findings and marks of their own."""
    avoid = replace(dossier.avoid, hazards=None, marked={})
    for food in {line.food.id: line.food for line in dossier.lines}.values():
        block = food.handling.block if food.handling else ""
        if block:
            yield Finding(
                kind=Kind.SAFETY,
                level=Level.BLOCK,
                what=f"{food.name}: not for a kitchen",
                why=block,
                do="Use a tablet, a premix or a dilution a pharmacist prepares.",
                food=food.id,
            )
            continue
        why = why_excluded(food, avoid)
        if why:
            yield Finding(
                kind=Kind.REACTION,
                level=Level.BLOCK,
                what=food.name,
                why=why,
                do="Take it out, broth and traces included.",
                source=avoid.groups.source,
                food=food.id,
            )
