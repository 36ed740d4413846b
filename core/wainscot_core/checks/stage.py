"""The life stage of the targets beside the dog's own facts."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals


def life_stage_in_doubt(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """A stage that the dog's facts leave open, or that is for other dogs."""
    stages, facts = dossier.targets.stages, dossier.targets.facts
    if stages.asks:
        yield Finding(
            kind=Kind.MISSING,
            level=Level.DECIDE,
            what="Life stage: several may hold",
            why=f"{stages.name}: the strictest of each bound is held until it is known",
            do=f"Give {' and '.join(stages.asks)}, or choose the life stage itself.",
            field="dog.age_months" if facts.age_months is None else "dog.adult_weight_kg",
        )
    if stages.unfit:
        yield Finding(
            kind=Kind.MISSING,
            level=Level.DECIDE,
            what="Life stage: its figures are for other dogs",
            why=f"{stages.name} is for dogs {stages.unfit}",
            do="Choose the life stage anew, or mend the dog's age and adult weight.",
            field="life_stage",
        )
    grown = dossier.reference.life_stages.growth_until["small"]
    adult = any(s.safe_stage == "adult" for s in stages.stages)
    if adult and facts.age_months is not None and facts.age_months < grown:
        yield Finding(
            kind=Kind.MISSING,
            level=Level.DECIDE,
            what="Life stage: an adult's targets for a growing dog",
            why=f"the dog is {facts.age_months:g} months old; a pup needs more of most nutrients",
            do="Choose a growth stage.",
            field="life_stage",
        )
