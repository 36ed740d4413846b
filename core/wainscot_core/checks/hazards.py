"""Foods that can harm any dog."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..facts.hazards import DoseHazard, FoodHazard
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


def doses_met(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Foods of the recipe that harm by how much of them a day's food holds."""
    for hazard in dossier.reference.hazards.doses:
        grams = sum(
            float(sums.fed_grams[i])
            for i, line in enumerate(dossier.lines)
            if line.food.id in hazard.foods
        )
        found = dose_finding(hazard, grams / sums.days / dossier.weight_kg)
        if found is not None:
            yield found


def dose_finding(hazard: DoseHazard, g_per_kg: float) -> Finding | None:
    """What so much of a food in a day comes to; None where it is no hazard."""
    level = hazard.level(g_per_kg)
    if level is None:
        return None
    return Finding(
        kind=Kind.HAZARD, level=level, what=hazard.name,
        why=f"{hazard.hazard}; here {g_per_kg:.2g} g per kg a day", do=hazard.do,
        source=hazard.source, confidence=hazard.confidence,
    )  # fmt: skip


def _dose(hazard: FoodHazard, grams_per_kg: float) -> str:
    signs = hazard.signs_from_g_per_kg
    if signs is None:
        return ""
    return f"; here {grams_per_kg:.2g} g per kg a day, signs were seen from {signs:g}"
