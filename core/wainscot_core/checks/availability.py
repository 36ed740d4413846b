"""What stands in the way of nutrients that the wall counts in full. Never taken off a figure, always told."""

from collections.abc import Callable, Iterator

import numpy as np

from ..confidence import Confidence
from ..dossier.dossier import Dossier
from ..facts.attributes import Attributes
from ..facts.availability import AvailabilityRules
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals
from ..targets.safe_limits import SafeStage


def minerals_in_the_way(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Phytate and calcium over zinc, zinc and iron over copper."""
    rules, zinc = dossier.reference.availability, sums.amount("ZN")
    if zinc > 0 and sums.kcal > 0:
        ratio, high = phytate_to_zinc(rules, dossier, sums)
        yield from _phytate(rules, dossier, ratio, high)
        yield from _calcium(rules, sums, ratio)
    copper = sums.amount("CU")
    if copper > 0 and zinc > 0:
        yield from _zinc_over_copper(rules, zinc / copper)
    if copper > 0 and sums.kcal > 0:
        iron = sums.amount("FE")
        per_mcal = iron / sums.kcal * 1000
        if iron / copper > rules.iron_to_copper or per_mcal > rules.iron_mg_mcal:
            yield _finding(
                "FE", Level.NOTE, f"Iron: {iron / copper:.0f} times the copper, {per_mcal:.0f} mg per 1000 kcal",
                "much iron lowers the uptake of copper, zinc and manganese",
                "Less spleen, blood or liver; no iron that is not needed.", rules.iron_source,
            )  # fmt: skip


def phytate_to_zinc(
    rules: AvailabilityRules, dossier: Dossier, sums: Totals
) -> tuple[float, float]:
    """Moles of phytate to one of zinc, by usual figures of phytate and by the highest. Zinc that is not known counts as
    none. Source: reference/hazards/availability.yaml."""
    dry_g = np.nan_to_num(sums.grams - sums.contributions[:, sums.catalogue.index("WATER")])
    usual = high = 0.0
    for i, line in enumerate(dossier.lines):
        holds = rules.phytate_of(line.food.attributes)
        if holds is not None and not line.food.is_supplement:
            usual += float(dry_g[i]) * holds.usual / 100
            high += float(dry_g[i]) * holds.high / 100
    zinc_mol = sums.amount("ZN") / 1000 / rules.zinc_g
    return usual / rules.phytate_g / zinc_mol, high / rules.phytate_g / zinc_mol


def _phytate(
    rules: AvailabilityRules, dossier: Dossier, ratio: float, high: float
) -> Iterator[Finding]:
    if ratio < rules.middling:
        return
    age, grown = (
        dossier.targets.facts.age_months,
        dossier.reference.life_stages.growth_until["small"],
    )
    growing = any(s.safe_stage != SafeStage.ADULT for s in dossier.targets.stages.stages)
    growing = growing or (age is not None and age < grown)
    poor = ratio > rules.poor
    level = (Level.DECIDE if growing else Level.WARN) if poor else Level.NOTE
    yield _finding(
        "ZN", level, f"Zinc may not be used: {ratio:.1f} phytate to one of zinc",
        f"above {rules.middling:g} phytate holds zinc back, above {rules.poor:g} badly; it may be {high:.0f} with the "
        "highest figures of these foods",
        "Refined or soaked and drained grains and pulses instead of whole ones and bran; zinc as gluconate, sulphate or "
        "chelate and not as oxide, 1.2 times the target, 1.5 times where it is badly held back.",
        f"{rules.zinc_source}; {rules.phytate_source}",
    )  # fmt: skip


def _calcium(rules: AvailabilityRules, sums: Totals, ratio: float) -> Iterator[Finding]:
    g_mcal = sums.amount("CA") / sums.kcal
    beside = ratio >= rules.middling and g_mcal > rules.calcium_with_phytate
    if beside or g_mcal > rules.calcium_any:
        yield _finding(
            "ZN", Level.NOTE, f"Calcium over zinc: {g_mcal:.1f} g of calcium per 1000 kcal",
            "calcium, most of all beside phytate, lowers the uptake of zinc by a third to a half",
            "Less calcium where its target allows, or 1.25 to 1.5 times the zinc.", rules.calcium_source,
        )  # fmt: skip


def _zinc_over_copper(rules: AvailabilityRules, ratio: float) -> Iterator[Finding]:
    least, most, far = rules.zinc_to_copper
    if least <= ratio <= most:
        return
    over = ratio > most
    yield _finding(
        "CU" if over else "ZN", Level.WARN if ratio > far else Level.NOTE,
        f"Zinc to copper {ratio:.0f} : 1",
        "zinc keeps copper from being taken up" if over else "copper far beside zinc",
        "Add copper, unless the dog's copper is held down on purpose." if over
        else "Add zinc, or less liver.",
        rules.copper_source,
    )  # fmt: skip


def _finding(key: str, level: Level, what: str, why: str, do: str, source: str) -> Finding:
    return Finding(
        kind=Kind.AVAILABILITY, level=level, what=what, why=why, do=do, source=source,
        confidence=Confidence.LOW, nutrient=key,
    )  # fmt: skip


def poorly_used_forms(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Supplements in a form that is used less than others of the same."""
    for food in {line.food.id: line.food for line in dossier.lines if line.food.handling}.values():
        if food.handling is not None and food.handling.poorly_used:
            yield Finding(
                kind=Kind.AVAILABILITY, level=Level.WARN, what=f"{food.name}: a form that is used less",
                why=f"{food.handling.poorly_used}; the wall counts it in full",
                do="Take another form of it, or more than what just reaches the least.",
                source="NRC 2006; AAFCO 2016; dog figures few", confidence=Confidence.MEDIUM, food=food.id,
            )  # fmt: skip


def _part(dossier: Dossier, sums: Totals, key: str, of: Callable[[Attributes], bool]) -> float:
    """What share of the known amount of a nutrient comes from such foods; 0 where none is known."""
    whole, column = sums.amount(key), sums.catalogue.index(key)
    part = sum(
        float(np.nan_to_num(sums.contributions[i, column]))
        for i, line in enumerate(dossier.lines)
        if of(line.food.attributes) and not line.food.is_supplement
    )
    return part / whole if whole > 0 else 0.0


def calcium_of_leaves(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Calcium that oxalate of the same leaf holds."""
    rules = dossier.reference.availability
    held = _part(dossier, sums, "CA", lambda of: of.oxalate == "high")
    if held > rules.leaf_share:
        yield Finding(
            kind=Kind.AVAILABILITY, level=Level.NOTE,
            what=f"{held:.0%} of the calcium stands in food rich in oxalate",
            why="oxalate holds the calcium of spinach, chard and the like nearly all; the wall counts it in full",
            do="Do not count on it: another source of calcium for what just reaches the least.",
            nutrient="CA", source=rules.leaf_source, confidence=Confidence.MEDIUM,
        )  # fmt: skip


def vitamin_d_of_mushrooms(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Vitamin D2, where it is a good part of the vitamin D."""
    rules = dossier.reference.availability
    of_fungi = _part(dossier, sums, "VITD", lambda of: of.kind == "fungus")
    if of_fungi > rules.d2_share:
        yield Finding(
            kind=Kind.AVAILABILITY, level=Level.NOTE,
            what=f"{of_fungi:.0%} of the vitamin D is of mushrooms",
            why=f"that is vitamin D2, which may count for {rules.d2_counts:g} of D3; the wall counts it in full",
            do="Another source for what just reaches the least: vitamin D3, egg yolk, fish.",
            nutrient="VITD", source=rules.d2_source, confidence=Confidence.LOW,
        )  # fmt: skip


def vitamin_a_of_plants(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Vitamin A that is nearly all carotene, which needs cooking and fat."""
    rules = dossier.reference.availability
    whole, preformed = sums.amount("VITA"), sums.amount("RETOL")
    if sums.kcal <= 0 or whole <= 0 or preformed / whole >= rules.plant_a_retinol_share:
        return
    lean = sums.amount("FAT") / sums.kcal * 1000 < rules.plant_a_fat_g_mcal
    yield Finding(
        kind=Kind.AVAILABILITY, level=Level.WARN if lean else Level.NOTE,
        what="Vitamin A comes from carotene",
        why="a dog makes it from carotene, less from raw or coarse vegetables and with little fat"
        + (", as here" if lean else ""),
        do="Cook and mash the vegetables with fat, or bring some preformed vitamin A: a little liver, egg, or drops.",
        nutrient="VITA", source=rules.plant_a_source, confidence=Confidence.LOW,
    )  # fmt: skip
