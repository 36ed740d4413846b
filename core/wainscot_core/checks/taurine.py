"""What speaks for less taurine in the blood: a reason to measure it."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals
from .patterns import pulse_share

_HEART = "dcm"
# A figure that is known of less of the recipe is no sign.
_KNOWN = 0.8


def taurine_may_run_low(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Several signs together; one alone is nothing."""
    rules = dossier.reference.availability.taurine
    signs = tuple(_signs(dossier, sums))
    if len(signs) >= rules.signs:
        yield Finding(
            kind=Kind.PATTERN, level=Level.WARN, what="Taurine may run low",
            why=", ".join(signs) + "; together they were seen with low taurine and a weak heart muscle",
            do="Ask the vet to measure taurine in whole blood; think of 25 to 50 mg of taurine per kg a day.",
            nutrient="TAU", source=rules.source,
        )  # fmt: skip


def _signs(dossier: Dossier, sums: Totals) -> Iterator[str]:
    rules, facts = dossier.reference.availability.taurine, dossier.targets.facts
    breed = dossier.reference.breeds.of(dossier.breed)
    if breed is not None and any(p.condition == _HEART for p in breed.prone):
        yield "a breed prone to it"
    elif (facts.adult_weight_kg or facts.ideal_weight_kg) >= rules.adult_kg:
        yield "a large dog"
    if sums.kcal <= 0:
        return
    if _known(sums, "AAS") and sums.amount("AAS") / sums.kcal * 1000 < rules.saa_g_mcal:
        yield "little methionine and cystine"
    if _known(sums, "TAU") and sums.amount("TAU") / sums.kcal * 1000 < rules.taurine_mg_mcal:
        yield "little taurine in the food"
    dry_g = sums.dry_matter_grams
    if dry_g > 0 and sums.amount("FIBTG") / dry_g > rules.fibre_dry_share:
        yield "much fibre"
    if pulse_share(dossier, sums) > dossier.reference.availability.pulse_share:
        yield "pulses"


def _known(sums: Totals, key: str) -> bool:
    return float(sums.known_share[sums.catalogue.index(key)]) >= _KNOWN
