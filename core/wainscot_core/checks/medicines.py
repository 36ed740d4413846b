"""Recorded medicines and what they may do to food or nutrients, or food to them."""

from collections.abc import Iterable, Iterator, Sequence

from ..facts.interactions import Interaction, met_by
from ..findings import Finding, Kind, Level


def medicines_met(
    interactions: Sequence[Interaction], medicines: Iterable[str]
) -> Iterator[Finding]:
    """One finding for every published interaction of a recorded medicine, the gravest first."""
    for met in met_by(interactions, medicines):
        found = met.interaction
        yield Finding(
            kind=Kind.MEDICINE,
            level=Level(found.action),
            what=f"{found.medicine} and {found.food_or_nutrient}: {found.effect}",
            why=found.why,
            do=found.do,
            source=found.source,
            confidence=found.confidence,
            named=met.named,
        )
