"""A case as a file, and a file as a case: through the core's one reader and writer."""

from typing import Any

import yaml
from accounts.conventions import conventions_of
from accounts.models import Practice
from accounts.scoping import Actor
from cases.actions import mark_foods, set_guided, start_case
from cases.models import Case, Client
from cases.queries import conventions_for, library_of, sourcing_of
from cases.records import record_of
from django.conf import settings
from django.db import transaction
from events.models import EventKind
from library.actions import FoodNote, note_food, touch
from library.facts import reference
from library.models import OwnFood, PracticeFood, ShelfEntry
from library.practice import fibre_kind, library_for
from library.spoilt import readable_excess
from wainscot_core.boundary import dump, read
from wainscot_core.bowl.marks import Mark, mark_said
from wainscot_core.conventions import OwnConventions, as_data, otherwise
from wainscot_core.errors import InputError
from wainscot_core.facts.shelf import ShelfItem
from wainscot_core.formats.casefile import (
    CaseFile,
    case_file_data,
    dossier_of,
    line_text,
    read_case_file,
)
from wainscot_core.formats.casefile import (
    record_of as file_record,
)
from wainscot_core.formats.own_library import FileKnown, values_of

from .actions import fill_recipe, start_recipe
from .lines import stored_lines
from .models import Recipe

# What a file that names no owner or recipe is filed under.
UNNAMED = "From a case file"


@transaction.atomic
def import_case(who: Actor, data: dict[str, Any]) -> Case:
    """Make client, dog, case, own foods, shelf and recipe.

    Everything is checked by the same boundary as a change to a case is, and the recipe is read
    before anything is written. Raises InputError naming the field; nothing is written then.
    """
    file = read_case_file(data)
    dossier_of(reference(), file)
    if not file.dog.name:
        raise InputError("dog.name", "is missing")
    client = _client(who.practice, file, said="conventions" in data)
    record = file_record(file, {c.id: c.name for c in reference().conditions.values()})
    case = start_case(who, client, dump(record), title="", kind=EventKind.CASE_IMPORTED)
    _recipe(who, case, file)
    return case


def start_sample(who: Actor) -> Case:
    """A made-up dog to try the program on (reference/sample_case.yaml): a case like any other, deleted like any other."""
    data = yaml.safe_load((settings.REFERENCE_DIR / "sample_case.yaml").read_text(encoding="utf-8"))
    return set_guided(who, import_case(who, data).pk, True)


@transaction.atomic
def import_recipe(who: Actor, case: Case, data: dict[str, Any]) -> Recipe:
    """The recipe of another case file as one of a case, with the foods it brings. Raises InputError; nothing is written
    then."""
    file = read_case_file(data)
    dossier_of(reference(), file)
    return _recipe(who, case, file)


def _recipe(who: Actor, case: Case, file: CaseFile) -> Recipe:
    _own_foods(who.practice, file)
    _shelf(who.practice, file)
    name = file.recipe.name or UNNAMED
    _known(who, case, file)
    recipe = start_recipe(who, case, name)
    measures = file.conventions.measures
    lines = [
        line_text(entry, f"recipe.lines[{i}]", measures)
        for i, entry in enumerate(file.recipe.lines)
    ]
    return fill_recipe(who, recipe, name, file.recipe.covers_days, lines)


def _client(practice: Practice, file: CaseFile, said: bool) -> Client:
    """The client of the file's name, or a new one, for whom things are written as the file says."""
    name = file.client.name or UNNAMED
    known: Client | None = Client.objects.for_practice(practice).filter(name=name).first()
    if known is not None:
        return known
    own = otherwise(conventions_of(practice), file.conventions) if said else OwnConventions()
    return Client.objects.create(practice=practice, name=name, conventions=as_data(own))


def _own_foods(practice: Practice, file: CaseFile) -> None:
    """Own foods of the file that the practice does not have; those it has stay as they are."""
    library = library_for(practice)
    fresh = [f for f in file.foods if f.id not in library]
    for food in fresh:
        OwnFood.objects.create(
            practice=practice,
            slug=food.id.removeprefix("own:"),
            name=food.name or food.id,
            klass=food.food_class or "own",
            form=food.form,
            ingredients=food.ingredients,
            values=values_of(library, food.per_100_g, "foods"),
            origin={"by": "case file", "fibre_kind": food.fibre, "may_exceed": food.may_exceed},
        )
    if fresh:
        touch(practice)


def _shelf(practice: Practice, file: CaseFile) -> None:
    """Shelf items of the file that the practice does not have."""
    library = library_for(practice)
    fresh = [item for item in file.shelf if item.id not in library]
    for item in fresh:
        ShelfEntry.objects.create(practice=practice, slug=item.id, item=dump(item))
    if fresh:
        touch(practice)


def _known(who: Actor, case: Case, file: CaseFile) -> None:
    """What the file says of foods: strengths, measures and prices where the practice has said nothing of
    them; what cannot be used becomes the client's mark."""
    noted = {n.food: n for n in PracticeFood.objects.for_practice(who.practice)}
    library = library_for(who.practice)
    for food_id in dict.fromkeys((*file.known, *file.prices_per_kg)):
        mine, said = noted.get(food_id), file.known.get(food_id, FileKnown())
        price = file.prices_per_kg.get(food_id)
        fresh: dict[str, Any] = {}
        if said.strengths and not (mine and mine.strengths):
            fresh["strengths"] = said.strengths
        if said.measures and not (mine and mine.measures):
            fresh["measures"] = said.measures
        if price is not None and not (mine and mine.price is not None):
            fresh |= {"price": price, "price_grams": 1000.0}
        if fresh and food_id in library:
            note_food(who, food_id, FoodNote(**fresh), set(fresh))
    for food_id, words in file.cannot_use.items():
        mark = mark_said(words)
        if food_id in library:
            mark_foods(who, case, [food_id], Mark.CANNOT_GET if mark is Mark.UNAVAILABLE else mark)
    for food_id, had in file.sourcing.items():
        if food_id in library:
            mark_foods(who, case, [food_id], Mark(had.had), had.days)


def case_file(case: Case, recipe: Recipe) -> dict[str, Any]:
    """A case with one of its recipes as a case file.

    Raises InputError naming the line when one can no longer be read.
    """
    library = library_of(case)
    lines = stored_lines(recipe, library)
    used = {line.food.id for line in lines}
    foods = [
        {
            "id": f.food_id, "name": f.name, "form": f.form, "ingredients": f.ingredients,
            "food_class": "" if f.klass == "own" else f.klass, "per_100_g": f.values,
            "fibre": fibre_kind(f), "may_exceed": readable_excess(f),
        }
        for f in OwnFood.objects.for_practice(case.practice)
        if f.food_id in used
    ]  # fmt: skip
    shelf = [
        read(ShelfItem, entry.item)
        for entry in ShelfEntry.objects.for_practice(case.practice)
        if entry.slug in used
    ]
    known = {
        n.food: FileKnown(strengths=n.strengths, measures=n.measures)
        for n in PracticeFood.objects.for_practice(case.practice)
        if n.food in used and (n.strengths or n.measures)
    }
    sourcing = sourcing_of(case)
    return case_file_data(
        record_of(case), case.dog.client.name, recipe.name, recipe.covers_days, lines, foods, shelf,
        known, {food: price for food, price in sourcing.prices.items() if food in used},
        sourcing.marks, conventions_for(case.dog.client),
    )  # fmt: skip
