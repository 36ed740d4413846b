"""Recorded medicines and what they may do to food or nutrients, or food to them."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

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


def medicines_beside_food(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """What the recorded medicines mean for the bowl: foods and amounts that they speak against, and what is to be known
    of each, whatever is fed. What this bowl does not meet is told with the targets alone."""
    fed = {line.food.id: line.as_fed for line in dossier.lines}.values()
    for met in met_by(dossier.reference.interactions, dossier.medicines):
        found = met.interaction
        if not found.about_recipes:
            told = _finding(met, f"{met.named} and {found.food_or_nutrient}: {found.effect}")
            yield replace(told, level=found.check or told.level, field="intake.medicines")
            continue
        for food in fed:
            if found.about(food):
                yield _finding(met, f"{food.name} beside {met.named}: {found.effect}", food.id)
        if found.amount is not None and sums.kcal > 0:
            key = found.amount.key
            if found.amount.met(sums.amount(key) / sums.kcal * 1000):
                what = f"{found.food_or_nutrient} beside {met.named}: {found.effect}"
                yield replace(_finding(met, what[:1].upper() + what[1:]), nutrient=key)


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
