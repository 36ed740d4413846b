"""What a recipe is as a whole."""

from collections.abc import Iterator

import numpy as np

from ..confidence import Confidence
from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals

# Green beans and peas in the pod are vegetables here.
_PULSES = frozenset({"pulse", "fresh-seed"})
_ANIMAL = frozenset({"poultry", "beef", "pork", "lamb-game", "fish", "dairy-egg"})


def pulses_in_the_bowl(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Peas, beans, lentils and chickpeas as a main ingredient, with the notice on the heart muscle."""
    rules = dossier.reference.availability
    dry_g = np.nan_to_num(sums.grams - sums.contributions[:, sums.catalogue.index("WATER")])
    pulse = sum(
        float(dry_g[i])
        for i, line in enumerate(dossier.lines)
        if line.food.attributes.pulse in _PULSES
    )
    share = pulse / float(dry_g.sum()) if dry_g.sum() > 0 else 0.0
    if share > rules.pulse_share:
        yield Finding(
            kind=Kind.PATTERN, level=Level.WARN, what=f"Pulses: {share:.0%} of the dry matter",
            why="diets rich in pulses were reported beside heart muscle disease; a cause is not proven, no share is known "
            f"to be safe, and {rules.pulse_share:.0%} is a suggestion",
            do="Rice, oats or potato instead of a part of them; ask the vet about taurine and the heart, most of all in a "
            "breed that is prone.",
            source=rules.pulse_source, confidence=Confidence.LOW,
        )  # fmt: skip


def nothing_of_an_animal(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """What a bowl without animal food does not bring by itself."""
    foods = [line.food for line in dossier.lines if not line.food.is_supplement]
    if foods and not any(food.klass in _ANIMAL for food in foods):
        yield Finding(
            kind=Kind.PATTERN, level=Level.WARN, what="Nothing of an animal in the bowl",
            why="plants bring no vitamin B12 and D3, hardly any taurine, carnitine, EPA and DHA, and iron and zinc that are "
            "used less",
            do="Each of them as a supplement; have taurine and the blood count checked.",
            source="NRC 2006; convention", confidence=Confidence.MEDIUM,
        )  # fmt: skip
