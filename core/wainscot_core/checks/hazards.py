"""Foods that can harm any dog."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..facts.hazards import FoodHazard
from ..findings import Finding, Kind
from ..recipe.totals import Totals


def food_hazards_met(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Published hazards of the recipe's foods as they are fed, with the dose where one is known."""
    told = set()
    for i, line in enumerate(dossier.lines):
        grams = float(sums.fed_grams[i]) / sums.days / dossier.weight_kg
        for hazard in dossier.reference.hazards.of(line.as_fed):
            if (hazard.id, line.food.id) in told:
                continue
            told.add((hazard.id, line.food.id))
            yield Finding(
                kind=Kind.HAZARD,
                level=hazard.level,
                matter=hazard.name,
                what=f"{hazard.name}: {line.food.name}",
                why=hazard.hazard + _dose(hazard, grams),
                do=hazard.do,
                source=hazard.source,
                confidence=hazard.confidence,
                food=line.food.id,
            )


def _dose(hazard: FoodHazard, grams_per_kg: float) -> str:
    signs = hazard.signs_from_g_per_kg
    if signs is None:
        return ""
    return f"; here {grams_per_kg:.2g} g per kg a day, signs were seen from {signs:g}"
