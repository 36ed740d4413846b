"""Hazards that words tell of: notes, statements of ingredients, phrases of a recipe."""

from collections.abc import Iterator
from dataclasses import replace

from ..dossier.dossier import Dossier
from ..dossier.reference import Reference
from ..facts.foods import Food
from ..facts.hazards import FoodHazard
from ..findings import GRAVEST_FIRST, Finding, Kind, Level
from ..recipe.totals import Totals
from ..transcribe.ingredients import LineKind
from ..transcribe.reading import ReadLine, transcribe
from .hazards import dose_finding
from .told_doses import doses_not_known, strong_doses_told

# What a raw food asks of whoever has not said how it is fed.
_UNSAID = {Level.BLOCK: Level.DECIDE, Level.DECIDE: Level.WARN}
_COOKED = frozenset({"cooked", "canned"})


def hazards_in_notes(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Hazards that the notes of the recipe's lines tell of, beside those of their foods. What only a raw food has is
    told by the food as it is fed, not by what somebody wrote of it."""
    reference = dossier.reference
    for line in dossier.lines:
        own = {h.id for h in reference.hazards.of(line.as_fed)}
        for told in reference.hazard_words.told_in(line.text.note if line.text else ""):
            hazard = reference.hazards.by_id[told.entry.hazard]
            if hazard.id in own or _is_of_raw(hazard):
                continue
            found = _finding(hazard, told.entry.level or hazard.level, told.text)
            yield replace(
                found, what=f"{found.what}, in the note of {line.food.name}", food=line.food.id
            )


def hazards_in_statements(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Hazards that the labels of foods the practice added name among their ingredients."""
    reference = dossier.reference
    for food in {line.food.id: line.food for line in dossier.lines if line.food.statement}.values():
        for found in hazards_of_text(reference, food.statement):
            yield replace(
                found, what=f"{found.what}, among the ingredients of {food.name}", food=food.id
            )


def hazards_of_text(reference: Reference, text: str) -> tuple[Finding, ...]:
    """What a whole text tells of hazards by its words alone, in their order; what only a raw food has is told by the
    foods that are made of it."""
    found = []
    for told in reference.hazard_words.told_in(text):
        hazard = reference.hazards.by_id[told.entry.hazard]
        if not _is_of_raw(hazard):
            found.append(_finding(hazard, told.entry.level or hazard.level, told.text))
    return tuple(found)


def check_phrase(
    reference: Reference, text: str, weight_kg: float | None = None
) -> tuple[Finding, ...]:
    """What a phrase tells of hazards, the gravest first: by its words, and by the foods that are read in it. weight_kg:
    of the dog, for what a dose comes to."""
    lines = [x for x in transcribe(reference.matcher, text).lines if x.kind is LineKind.INGREDIENT]
    grams = [x.grams for x in lines if x.grams is not None]
    dose = grams[0] if len(grams) == 1 and len(lines) == 1 else None
    found: dict[str, Finding] = {}
    for told in reference.hazard_words.told_in(text):
        hazard = reference.hazards.by_id[told.entry.hazard]
        level = told.entry.level or hazard.level
        of = None if dose is None else dose * told.entry.dose_of
        _keep(found, hazard.id, _finding(hazard, level, told.text, of, weight_kg))
    # What is said not to be there, or only looks alike, is not told by a food either.
    unsaid = reference.hazard_words.spoken_of(text) - found.keys()
    for line in lines:
        if line.food is None:
            continue
        food = reference.library.food(line.food)
        for hazard in reference.hazards.of(food):
            fed = _as_said(hazard, food, line)
            if fed is not None and hazard.id not in unsaid:
                _keep(found, hazard.id, _finding(hazard, fed, food.name, line.grams, weight_kg))
    for unknown in doses_not_known(lines):
        found[unknown.what] = unknown
    if weight_kg is not None:
        for dosed in reference.hazards.doses:
            grams_of = sum(x.grams or 0.0 for x in lines if x.food in dosed.foods)
            one = dose_finding(dosed, grams_of / weight_kg)
            if one is not None:
                found[dosed.id] = one
        for strong in strong_doses_told(reference, lines, weight_kg):
            found[strong.what] = strong
    return tuple(sorted(found.values(), key=lambda f: GRAVEST_FIRST.index(f.level)))


def _as_said(hazard: FoodHazard, food: Food, line: ReadLine) -> Level | None:
    """How grave a hazard of a food is by what is said of it: what only the raw food has is none of the cooked one, and
    is asked where nobody says which."""
    if not hazard.only_raw(food.id, food.attributes):
        return hazard.level
    if line.state in _COOKED or line.preparation:
        return None
    return hazard.level if line.state else _UNSAID.get(hazard.level, hazard.level)


def _is_of_raw(hazard: FoodHazard) -> bool:
    return hazard.when is not None and "state" in hazard.when.reads


def _keep(found: dict[str, Finding], hazard: str, new: Finding) -> None:
    old = found.get(hazard)
    if old is None or GRAVEST_FIRST.index(new.level) < GRAVEST_FIRST.index(old.level):
        found[hazard] = new


def _finding(
    hazard: FoodHazard,
    level: Level,
    called: str,
    grams: float | None = None,
    weight_kg: float | None = None,
) -> Finding:
    return Finding(
        kind=Kind.HAZARD,
        level=level,
        matter=hazard.name,
        what=f"{hazard.name}: {called}",
        why=hazard.hazard + _dose(hazard, grams, weight_kg),
        do=hazard.do,
        source=hazard.source,
        confidence=hazard.confidence,
        named=called,
    )


def _dose(hazard: FoodHazard, grams: float | None, weight_kg: float | None) -> str:
    if grams is None or weight_kg is None:
        return ""
    here = f"; here {grams / weight_kg:.2g} g per kg of dog"
    signs = hazard.signs_from_g_per_kg
    return here if signs is None else f"{here}, signs were seen from {signs:g}"
