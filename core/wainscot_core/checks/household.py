"""Raw feeding and who lives in the house."""

from collections.abc import Iterator

from ..confidence import Confidence
from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals

_SOURCE = "CDC 2020; Freeman et al 2013; AVMA 2012; WSAVA 2011"


def raw_in_the_house(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Flesh or eggs fed raw where somebody must keep away from them. Where nobody asked, the hazard of each raw food says
    who must not have it."""
    if dossier.vulnerable_home is not True:
        return
    rule = dossier.reference.handling.core_when
    raw = [
        line.food.name
        for line in dossier.lines
        if rule.holds(line.as_fed.attributes) is True and line.as_fed.attributes.state == "raw"
    ]
    if raw:
        yield Finding(
            kind=Kind.HAZARD, level=Level.BLOCK, what="Raw in a house where it must not be",
            why=f"{', '.join(dict.fromkeys(raw))}: raw flesh and eggs carry germs, and a dog that eats them sheds them for "
            "days; freezing does not kill them. A child under 5, somebody over 65, pregnant or with weak defences can fall "
            "gravely ill",
            do="Cook it to 74 °C, or let the attending vet decide in writing.",
            field="intake.vulnerable_home", source=_SOURCE, confidence=Confidence.HIGH,
        )  # fmt: skip
