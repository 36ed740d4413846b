"""Foods this very dog must not get: its reactions, and what a trial leaves out."""

from collections.abc import Iterator
from dataclasses import replace

from ..bowl.exclusions import let_in, why_excluded
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


def forms_let_in(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Foods that are let in beside a reaction, because their form is tolerated: an exception, with who said so."""
    for food in {line.food.id: line.food for line in dossier.lines}.values():
        reaction = let_in(food, dossier.avoid)
        if reaction is None:
            continue
        what = reaction.tolerates or f"other than {reaction.form}"
        yield Finding(
            kind=Kind.REACTION,
            level=Level.NOTE if reaction.said else Level.DECIDE,
            what=f"{food.name}: let in beside a reaction to {reaction.food}",
            why=f"the dog tolerates {what}, said by {reaction.said}"
            if reaction.said
            else f"recorded as tolerated: {what}; nobody is named who found that out",
            do="Watch for itch, ears and stool."
            if reaction.said
            else "Say in the intake who found it out, and when; or leave it out.",
            source=dossier.avoid.groups.source, food=food.id,
        )  # fmt: skip
