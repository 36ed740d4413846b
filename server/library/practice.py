"""The library as one practice sees it: reference, own foods, its shelf, label strengths, own measures."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from accounts.models import Practice
from wainscot_core.confidence import Confidence
from wainscot_core.facts.food_energy import on_scale
from wainscot_core.facts.foods import (
    Food,
    FoodLibrary,
    Grade,
    LabelQuestion,
    Measure,
    Provenance,
)
from wainscot_core.facts.labels import cup_of
from wainscot_core.facts.me_methods import DEFAULT_ME, FibreKind, MeMethod
from wainscot_core.formats.own_library import with_known, with_shelf
from wainscot_core.transcribe.matching import Matcher

from .facts import reference
from .models import OwnFood, PracticeFood, ShelfEntry
from .spoilt import (
    SpoiltKind,
    fault_of,
    readable_excess,
    readable_food,
    readable_note,
    readable_shelf,
    spoilt_row,
)

ENTERED = "entered by the practice"


def library_for(practice: Practice, method: MeMethod = DEFAULT_ME) -> FoodLibrary:
    """The library of a practice with the energy of every food by a method, rebuilt only after the
    practice changed it."""
    revision = practice.library_revision
    return _scaled(practice.pk if revision else None, revision, method)


@lru_cache(maxsize=64)
def _scaled(practice_id: int | None, revision: str, method: MeMethod) -> FoodLibrary:
    base = reference().library if practice_id is None else _built(practice_id, revision).library
    return on_scale(base, reference().me, method)


@lru_cache(maxsize=16)
def _built(practice_id: int, revision: str) -> "Built":
    base = reference().library
    own = list(OwnFood.objects.filter(practice_id=practice_id))
    library = base
    spoilt: dict[str, str] = {}

    def sound(kind: SpoiltKind, row: Any) -> bool:
        why = fault_of(kind, row)
        if why is not None:
            spoilt[spoilt_row(kind, row, why).food] = why.message
        return why is None

    if own:
        # Of one that cannot be read nothing is known.
        values = [readable_food(f) if sound(SpoiltKind.FOOD, f) else {} for f in own]
        library = base.extended(
            [_food(food, known) for food, known in zip(own, values, strict=True)],
            values,
            [_provenance(food) for food in own],
        )
    entries = [
        e for e in ShelfEntry.objects.filter(practice_id=practice_id) if sound(SpoiltKind.SHELF, e)
    ]
    for stocked in (True, False):
        items = [readable_shelf(e) for e in entries if e.retired is not stocked]
        library = with_shelf(library, items, reference().measuring, stocked)
    for known in PracticeFood.objects.filter(practice_id=practice_id):
        if known.food in library and sound(SpoiltKind.NOTE, known):
            library = _as_known(library, known)
    return Built(library, spoilt)


@dataclass(frozen=True)
class Built:
    """A practice's library. spoilt: foods of which something cannot be read, and why."""

    library: FoodLibrary
    spoilt: Mapping[str, str]


def spoilt_foods(practice: Practice) -> Mapping[str, str]:
    """Foods of a practice of which something cannot be read, and why: nothing is computed with them."""
    revision = practice.library_revision
    return _built(practice.pk, revision).spoilt if revision else {}


def matcher_for(practice: Practice) -> Matcher:
    """What people call the foods of a practice's library, its own among them; built again only after it
    changed it."""
    revision = practice.library_revision
    return _matcher(practice.pk if revision else None, revision)


@lru_cache(maxsize=8)
def _matcher(practice_id: int | None, revision: str) -> Matcher:
    facts = reference()
    if practice_id is None:
        return facts.matcher
    return replace(facts.matcher, library=_built(practice_id, revision).library)


@dataclass(frozen=True)
class Noted:
    """What a practice noted of foods. prices: per kg by food; absent: what cannot be had; where: who sells it, by food."""

    prices: Mapping[str, float]
    absent: tuple[str, ...]
    where: Mapping[str, str]


def noted_by(practice: Practice) -> Noted:
    """What a practice noted of foods; read again only after it changed something."""
    return _noted(practice.pk, practice.library_revision)


@lru_cache(maxsize=64)
def _noted(practice_id: int, revision: str) -> Noted:
    noted = list(PracticeFood.objects.filter(practice_id=practice_id)) if revision else []
    return Noted(
        {n.food: price for n in noted if (price := n.price_per_kg()) is not None},
        tuple(n.food for n in noted if n.unavailable),
        {n.food: n.shop for n in noted if n.shop},
    )


def _food(own: OwnFood, known: Mapping[str, float]) -> Food:
    words = reference().allergens.found_in(f"{own.name}. {own.ingredients}")
    return Food(
        own.food_id, own.name, own.klass, own.form, True, tuple(sorted(words)), own.ingredients,
        measures=tuple(_cup(own)), fibre=fibre_kind(own), statement=own.ingredients,
        may_exceed=readable_excess(own) if known else {},
    )  # fmt: skip


def _cup(own: OwnFood) -> Iterator[Measure]:
    """The cup that its pack speaks of; one that the practice filled itself stands before it."""
    said = own.origin if own.origin.get("by") == "label" else {}
    grams = cup_of(said.get("cup_grams"), said.get("kcal_per_cup"), said.get("kcal_per_kg"))
    if grams:
        yield Measure("cup", grams, "as its pack says", Confidence.MEDIUM)


def fibre_kind(own: OwnFood) -> FibreKind:
    """What the fibre figure of an own food is: a pet food label tells crude fibre."""
    by_label = FibreKind.CRUDE if own.origin.get("by") == "label" else FibreKind.DIETARY
    return FibreKind(own.origin.get("fibre_kind", by_label))


def _provenance(own: OwnFood) -> Provenance:
    return Provenance(
        own.food_id, Grade.LABEL, f"Own food, revision {own.revision}", ENTERED, Confidence.UNSAID
    )


def _as_known(library: FoodLibrary, known: PracticeFood) -> FoodLibrary:
    """The library with what the practice read from a pack and measured of one food."""
    strengths, measures = readable_note(known)
    return with_known(reference(), library, known.food, strengths, measures, ENTERED, known.food)


def questions_open(practice: Practice, food_id: str) -> Iterator[LabelQuestion]:
    """The strengths of a supplement that still have to be read from its pack."""
    supplement = reference().supplements.get(food_id)
    if supplement is None or not supplement.label:
        return
    known = PracticeFood.objects.for_practice(practice).filter(food=food_id).first()
    have = set(known.strengths) if known and isinstance(known.strengths, dict) else set()
    yield from (q for q in supplement.label if q.tag not in have)
