"""The library as one practice sees it: reference, own foods, label strengths, own measures."""

from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Any
from uuid import uuid4

from accounts.models import Practice
from django.db import transaction
from wainscot_core.amounts import weight_unit
from wainscot_core.boundary import dump, read
from wainscot_core.casefile import with_shelf
from wainscot_core.errors import InputError
from wainscot_core.foods import Food, FoodLibrary, Measure, Provenance, fill_derived
from wainscot_core.foodtable import TableFood
from wainscot_core.record import ShelfItem
from wainscot_core.supplements import with_label

from .facts import reference
from .models import OwnFood, OwnFoodRevision, PracticeFood, ShelfEntry


def library_for(practice: Practice) -> FoodLibrary:
    """The library of a practice, rebuilt only after the practice changed it."""
    revision = practice.library_revision
    return reference().library if not revision else _library(practice.pk, revision)


@lru_cache(maxsize=32)
def _library(practice_id: int, revision: str) -> FoodLibrary:
    base = reference().library
    foods, values, provenance = [], [], []
    for own in OwnFood.objects.filter(practice_id=practice_id):
        words = reference().allergens.found_in(f"{own.name}. {own.ingredients}")
        foods.append(
            Food(
                own.food_id,
                own.name,
                own.klass,
                own.form,
                True,
                tuple(sorted(words)),
                own.ingredients,
            )
        )
        values.append({k: float(v) for k, v in own.values.items()})
        provenance.append(
            Provenance(
                own.food_id,
                "label",
                f"Own food, revision {own.revision}",
                "entered by the practice",
                "",
            )
        )
    library = base.extended(foods, values, provenance) if foods else base
    shelf = [read(ShelfItem, e.item) for e in ShelfEntry.objects.filter(practice_id=practice_id)]
    library = with_shelf(library, shelf)
    for known in PracticeFood.objects.filter(practice_id=practice_id):
        if known.food in library and known.strengths:
            library = _with_strengths(library, known)
        if known.food in library and known.measures:
            library = _with_measures(library, known.food, known.measures)
    return library


def _with_strengths(library: FoodLibrary, known: PracticeFood) -> FoodLibrary:
    supplement = reference().supplements[known.food]
    values = with_label(supplement, known.strengths, library.catalogue)
    row = library.row(known.food)
    matrix, codes = library.values.copy(), library.codes.copy()
    for tag in known.strengths:
        column = library.catalogue.index(tag)
        matrix[row, column] = values[tag]
        codes[row, column] = len(library.provenance)
    # Derived columns (EPA + DHA) depend on the strengths.
    for i, nutrient in enumerate(library.catalogue.nutrients):
        if set(nutrient.parts) & set(known.strengths):
            matrix[row, i] = float("nan")
    fill_derived(library.catalogue, matrix, codes)
    label = Provenance(
        f"label:{known.food}", "label", "Strength read from the pack", "entered by the practice", ""
    )
    return FoodLibrary(
        library.catalogue, library.foods, matrix, codes, (*library.provenance, label)
    )


def _with_measures(
    library: FoodLibrary, food_id: str, measures: Mapping[str, float]
) -> FoodLibrary:
    own = tuple(
        Measure(name, float(grams), "measured by the practice", "high")
        for name, grams in measures.items()
    )
    foods = tuple(
        replace(f, measures=(*own, *(m for m in f.measures if m.name not in measures)))
        if f.id == food_id
        else f
        for f in library.foods
    )
    return FoodLibrary(library.catalogue, foods, library.values, library.codes, library.provenance)


def touch(practice: Practice) -> None:
    """Drop the cached library of a practice."""
    practice.library_revision = uuid4().hex
    practice.save(update_fields=["library_revision"])


def questions_open(practice: Practice, food_id: str) -> list[dict[str, str]]:
    """The strengths of a supplement that still have to be read from its pack."""
    supplement = reference().supplements.get(food_id)
    if supplement is None or not supplement.label:
        return []
    known = PracticeFood.objects.for_practice(practice).filter(food=food_id).first()
    have = set(known.strengths) if known else set()
    return [
        {"tag": q.tag, "unit": q.unit, "per": q.per} for q in supplement.label if q.tag not in have
    ]


@transaction.atomic
def note_food(practice: Practice, food_id: str, changes: Mapping[str, Any]) -> PracticeFood:
    """Set price, shop, season, availability, measures or strengths of a food.

    Raises InputError for a food that is not there, a unit that cannot be measured, a strength
    that is not asked for, or a figure that cannot be.
    """
    library = library_for(practice)
    if food_id not in library:
        raise InputError("food", f"no food {food_id!r} in the library")
    known, _ = PracticeFood.objects.get_or_create(practice=practice, food=food_id)
    for key, value in changes.items():
        if key == "measures":
            for name, grams in value.items():
                _positive(f"measures.{name}", grams, 10_000)
                if not 0 < len(name.strip()) <= 40 or weight_unit(name):
                    raise InputError(
                        f"measures.{name}", "name a measure that is not a weight: cup, can, scoop"
                    )
        if key == "strengths":
            asked = {q.tag for q in getattr(reference().supplements.get(food_id), "label", ())}
            for tag, amount in value.items():
                if tag not in asked:
                    raise InputError(f"strengths.{tag}", "this food does not ask for it")
                _positive(f"strengths.{tag}", amount, 1_000_000)
        setattr(known, key, value)
    if (known.price is None) != (known.price_grams is None):
        raise InputError(
            "price_grams", "a price needs the weight it is for, and a weight its price"
        )
    if known.price_grams is not None:
        _positive("price_grams", known.price_grams, 100_000)
    known.version += 1
    known.save()
    touch(practice)
    return known


def _positive(field: str, value: object, most: float) -> None:
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 < value <= most:
        raise InputError(field, f"must be a number above 0 and at most {most:g}")


@transaction.atomic
def stock(practice: Practice, item: ShelfItem) -> ShelfEntry:
    """Put a supplement on the practice's shelf, or enter its label anew.

    Raises InputError for values that cannot be.
    """
    with_shelf(reference().library, [item])
    entry, _ = ShelfEntry.objects.update_or_create(
        practice=practice, slug=item.id, defaults={"item": dump(item)}
    )
    touch(practice)
    return entry


@transaction.atomic
def save_own_food(practice: Practice, entry: TableFood, origin: Mapping[str, Any]) -> OwnFood:
    """Add an own food, or make a new revision of the one with this slug."""
    food = OwnFood.objects.for_practice(practice).filter(slug=entry.slug).first()
    if food is None:
        food = OwnFood(practice=practice, slug=entry.slug)
    else:
        OwnFoodRevision.objects.create(
            food=food,
            revision=food.revision,
            snapshot={
                "name": food.name,
                "values": food.values,
                "ingredients": food.ingredients,
                "origin": food.origin,
            },
        )
        food.revision += 1
        food.version += 1
    food.name, food.klass, food.form = entry.name, entry.klass, entry.form
    food.ingredients, food.values, food.origin = entry.ingredients, entry.values, dict(origin)
    food.retired = False
    food.save()
    touch(practice)
    return food


@transaction.atomic
def import_foods(practice: Practice, entries: tuple[TableFood, ...]) -> int:
    """Take every row of an accepted table, all or nothing."""
    for entry in entries:
        save_own_food(practice, entry, {"by": "import"})
    return len(entries)
