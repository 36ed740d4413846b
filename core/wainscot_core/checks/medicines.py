"""Recorded medicines and what they may do to food or nutrients, or food to them."""

from collections.abc import Iterable, Iterator, Sequence

from ..dossier.dossier import Dossier
from ..facts.interactions import Interaction, Met, met_by
from ..findings import Finding, Kind
from ..recipe.totals import Totals


def medicines_met(
    interactions: Sequence[Interaction], medicines: Iterable[str]
) -> Iterator[Finding]:
    """One finding for every published interaction of a recorded medicine, the gravest first."""
    for met in met_by(interactions, medicines):
        found = met.interaction
        yield _finding(met, f"{found.medicine} and {found.food_or_nutrient}: {found.effect}")


def supplements_beside_medicines(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Foods of the recipe that a recorded medicine speaks against: a potassium salt beside
    spironolactone. Interactions that no line of the recipe meets are told with the targets."""
    foods = {line.food.id: line.food for line in dossier.lines}.values()
    for met in met_by(dossier.reference.interactions, dossier.medicines):
        rule = met.interaction.rules_out
        for food in foods:
            if rule is not None and rule.match(food.id):
                effect = met.interaction.effect
                yield _finding(met, f"{food.name} beside {met.named}: {effect}", food.id)


def _finding(met: Met, what: str, food: str = "") -> Finding:
    found = met.interaction
    return Finding(
        kind=Kind.MEDICINE,
        level=found.action,
        what=what,
        why=found.why,
        do=found.do,
        source=found.source,
        confidence=found.confidence,
        food=food,
        named=met.named,
    )
