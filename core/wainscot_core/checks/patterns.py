"""What a recipe is as a whole."""

from collections.abc import Iterator

import numpy as np

from ..confidence import Confidence
from ..dossier.dossier import Dossier
from ..facts.attributes import Attributes
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals

# Green beans and peas in the pod are vegetables here.
_PULSES = frozenset({"pulse", "fresh-seed"})
_ANIMAL = frozenset({"poultry", "beef", "pork", "lamb-game", "fish", "dairy-egg"})


def pulse_share(dossier: Dossier, sums: Totals) -> float:
    """What share of the dry matter is of peas, beans, lentils and chickpeas."""
    dry_g = np.nan_to_num(sums.grams - sums.contributions[:, sums.catalogue.index("WATER")])
    pulse = sum(
        float(dry_g[i])
        for i, line in enumerate(dossier.lines)
        if line.food.attributes.pulse in _PULSES
    )
    return pulse / float(dry_g.sum()) if dry_g.sum() > 0 else 0.0


def pulses_in_the_bowl(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Peas, beans, lentils and chickpeas as a main ingredient, with the notice on the heart muscle."""
    rules = dossier.reference.availability
    share = pulse_share(dossier, sums)
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


def liver_every_day(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Liver as more than a small part of what is fed every day."""
    rules = dossier.reference.availability
    liver = sum(
        float(sums.fed_grams[i])
        for i, line in enumerate(dossier.lines)
        if line.food.attributes.kind == "organ:liver"
    )
    whole = float(sums.fed_grams.sum())
    if whole > 0 and liver / whole > rules.liver_share:
        yield Finding(
            kind=Kind.PATTERN, level=Level.WARN, what=f"Liver: {liver / whole:.0%} of the food, every day",
            why="the liver stores vitamin A and copper, and so does whoever eats it: too much of both builds up over months",
            do=f"At most {rules.liver_share:.0%} of the food; no cod liver oil and no premix with much vitamin A beside it.",
            source=rules.liver_source, confidence=Confidence.MEDIUM,
        )  # fmt: skip


def plant_omega_3(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Omega-3 of plants where nothing brings EPA and DHA."""
    rules = dossier.reference.availability
    if sums.kcal <= 0:
        return
    ala = sums.amount("F18D3N3") / sums.kcal * 1000
    marine = (sums.amount("F20D5N3") + sums.amount("F22D6N3")) / sums.kcal * 1000
    if ala >= rules.plant_omega_3_g_mcal and marine < ala / 10:
        yield Finding(
            kind=Kind.PATTERN, level=Level.NOTE, what="Omega-3 of plants is not fish oil",
            why=f"{ala:.2g} g of alpha-linolenic acid per 1000 kcal; a dog turns little of it into EPA and hardly any into DHA",
            do="Fish or algal oil where EPA and DHA are wanted: flax, hemp and chia do not count for them.",
            nutrient="F18D3N3", source=rules.plant_omega_3_source, confidence=Confidence.MEDIUM,
        )  # fmt: skip


_STARCHES = ("grain:", "starch", "pulse")
_STARCHY_ROOTS = frozenset({"potato", "sweetpotato", "sweet potato", "cassava", "yam"})


def rice_alone(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Rice as the only starch, day by day."""
    rules = dossier.reference.availability
    dry_g = np.nan_to_num(sums.grams - sums.contributions[:, sums.catalogue.index("WATER")])
    starchy = [i for i, line in enumerate(dossier.lines) if _is_starch(line.food.attributes)]
    rice = [i for i in starchy if dossier.lines[i].food.attributes.species == "rice"]
    whole = float(dry_g.sum())
    if (
        rice
        and rice == starchy
        and whole > 0
        and float(dry_g[rice].sum()) / whole > rules.rice_share
    ):
        yield Finding(
            kind=Kind.PATTERN, level=Level.NOTE, what="Rice is the only starch",
            why="rice takes up arsenic from the field; for a day it does not matter, for years nobody knows",
            do="Change to oats, potato or millet at times; cook rice in much water and pour it off.",
            source=rules.rice_source, confidence=Confidence.LOW,
        )  # fmt: skip


def _is_starch(of: Attributes) -> bool:
    return of.kind.startswith(_STARCHES) or (of.kind == "root" and of.species in _STARCHY_ROOTS)
