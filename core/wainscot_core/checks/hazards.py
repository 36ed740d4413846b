"""Foods that can harm any dog."""

from collections.abc import Iterator
from dataclasses import replace

from ..dossier.dossier import Dossier
from ..facts.foods import Food
from ..facts.hazards import cautions
from ..findings import Finding, Kind
from ..recipe.line import Line
from ..recipe.totals import Totals


def as_fed(line: Line) -> Food:
    """The food as it reaches the bowl: a raw food that is cooked is not raw."""
    return replace(line.food, form="cooked") if line.prepared else line.food


def food_hazards_met(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Published hazards of the recipe's foods as they are fed."""
    foods = {line.food.id: as_fed(line) for line in dossier.lines}.values()
    for met in cautions(dossier.reference.hazards, foods):
        hazard = met.hazard
        yield Finding(
            kind=Kind.HAZARD,
            level=hazard.action,
            what=f"{hazard.name}: {met.food_name}",
            why=hazard.hazard,
            do=hazard.do,
            source=hazard.source,
            confidence=hazard.confidence,
            food=met.food_id,
        )
