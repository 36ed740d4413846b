"""Writes to what a practice adds to the library, each in one transaction."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields
from decimal import Decimal
from typing import Annotated, Any
from uuid import uuid4

from accounts.models import Practice
from accounts.scoping import Actor, find_own, looked_at
from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify
from events.log import log
from events.models import EventKind
from pydantic import BeforeValidator, Field
from wainscot_core.boundary import (
    Day,
    Name40,
    Name160,
    Number,
    Text80,
    Text160,
    Text20000,
    YesNo,
    dump,
    read,
    read_exact,
)
from wainscot_core.changes import FieldChange, Table, changed
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import wrong_values
from wainscot_core.facts.labels import PackLabel, read_pack
from wainscot_core.facts.me_methods import FibreKind
from wainscot_core.formats.foodtable import TableFood
from wainscot_core.formats.own_library import check_known
from wainscot_core.recipe.amounts import weight_unit
from wainscot_core.recipe.numbers import parse_number_and_unit, read_number
from wainscot_core.units import WEIGHT_G
from wire.errors import CollisionError

from .facts import reference
from .models import OwnFood, OwnFoodRevision, PracticeFood
from .practice import library_for
from .views import own_food_view

MOST_PRICED_GRAMS = 100_000
MOST_SLUGS = 10_000


# Rows of an import that are written with one statement, and what of a food it writes over.
AT_ONCE = 300
IMPORTED = (
    "name", "klass", "form", "ingredients", "values", "origin", "retired", "revision", "version", "updated",
)  # fmt: skip


def touch(practice: Practice) -> None:
    """Drop the cached library and standards of a practice."""
    practice.library_revision = uuid4().hex
    practice.save(update_fields=["library_revision"])


def free_slug(wanted: str, taken: set[str]) -> str:
    """A slug that is not taken, numbered when it must be."""
    numbered = (f"{wanted}-{i}" for i in range(2, MOST_SLUGS))
    return next(s for s in (wanted, *numbered) if s not in taken)


@dataclass(frozen=True, kw_only=True)
class FoodNote:
    """What a practice says of a food; what is left out stays as it is.

    measures: grams of one level measure by name; strengths: amounts read from the pack by tag.
    """

    price: Annotated[Number, Field(ge=0, le=1_000_000)] | None = None
    price_grams: Number | None = None
    price_date: Day | None = None
    shop: Annotated[str, Field(max_length=160)] = ""
    season: Annotated[str, Field(max_length=80)] = ""
    unavailable: YesNo = False
    measures: dict[str, Number] = field(default_factory=dict)
    strengths: dict[str, Number] = field(default_factory=dict)


def _read_figure(value: object) -> object:
    """A figure as people write it ("12,50"); an empty box is none."""
    if isinstance(value, str):
        return read_number(value) if value.strip() else None
    return value


def _read_grams(value: object) -> object:
    """Grams of a measure: a number, or a weight with its unit ("2 oz")."""
    if not isinstance(value, str):
        return value
    number, unit = parse_number_and_unit(value)
    known = weight_unit(unit) if unit else "g"
    if not known:
        raise InputError("", f"cannot read {value!r} as a weight; write for example 15 g or 2 oz")
    return number * WEIGHT_G[known]


Figure = Annotated[Number | None, BeforeValidator(_read_figure)]


@dataclass(frozen=True, kw_only=True)
class NoteFields:
    """What can be changed of a food's note, field by field. measures: grams of one by name;
    strengths: amounts read from the pack by tag."""

    price: Figure = None
    price_grams: Figure = None
    shop: Text160 = ""
    season: Text80 = ""
    unavailable: YesNo = False
    measures: dict[str, Annotated[Number, BeforeValidator(_read_grams)]] = field(
        default_factory=dict
    )
    strengths: dict[str, Annotated[Number, BeforeValidator(_read_figure)]] = field(
        default_factory=dict
    )


NOTE_TABLES = (Table("measures"), Table("strengths"))


@transaction.atomic
def change_note(who: Actor, food_id: str, changes: Sequence[FieldChange]) -> PracticeFood:
    """Set fields of what a practice says of a food.

    Raises InputError naming the field, CollisionError where someone else changed one; nothing is
    written then.
    """
    known = PracticeFood.objects.for_practice(who.practice).filter(food=food_id).first()
    before: dict[str, Any] = dump(note_of(known))
    data, collisions = changed(
        before, changes, NOTE_TABLES, lambda x: dict(dump(read(NoteFields, x)))
    )
    if collisions:
        raise CollisionError(collisions)
    now = read_exact(NoteFields, data)
    said = {name for name, value in dump(now).items() if value != before[name]}
    if "price" in said:
        said.add("price_date")
    note = FoodNote(
        **{f.name: getattr(now, f.name) for f in fields(now)},
        price_date=None if now.price is None else timezone.localdate(),
    )
    return note_food(who, food_id, note, said)


def note_of(known: PracticeFood | None) -> NoteFields:
    """What a practice says of a food, as it can be changed."""
    if known is None:
        return NoteFields()
    return NoteFields(
        price=None if known.price is None else float(known.price),
        price_grams=known.price_grams,
        shop=known.shop,
        season=known.season,
        unavailable=known.unavailable,
        measures=known.measures,
        strengths=known.strengths,
    )


@transaction.atomic
def note_food(who: Actor, food_id: str, note: FoodNote, said: set[str]) -> PracticeFood:
    """Set those fields of a food's note that were `said`.

    Raises InputError for a food that is not there, a unit that cannot be measured, a strength
    that is not asked for, or a figure that cannot be.
    """
    practice = who.practice
    library = library_for(practice)
    if food_id not in library:
        raise InputError("food", f"no food {food_id!r} in the library")
    check_known(reference(), food_id, note.strengths, note.measures)
    known, _ = PracticeFood.objects.get_or_create(practice=practice, food=food_id)
    for name in said:
        value = getattr(note, name)
        # Two decimals, as the column keeps them.
        setattr(known, name, _money(value) if name == "price" else value)
    if (known.price is None) != (known.price_grams is None):
        raise InputError(
            "price_grams", "a price needs the weight it is for, and a weight its price"
        )
    if known.price_grams is not None:
        _positive("price_grams", known.price_grams, MOST_PRICED_GRAMS)
    known.version += 1
    known.save()
    touch(practice)
    names = ", ".join(sorted(said)).replace("_", " ")
    log(who, EventKind.FOOD_NOTED, None, known.pk, said=names, food=library.food(food_id).name)
    return known


def _money(value: float | None) -> Decimal | None:
    return None if value is None else Decimal(str(round(value, 2)))


def _positive(field: str, value: float, most: float) -> None:
    if not 0 < value <= most:
        raise InputError(field, f"must be a number above 0 and at most {most:g}")


@dataclass(frozen=True, kw_only=True)
class OwnFoodIn:
    """A food by values per 100 g, or by label; further values are added to those of the label.

    version: the one an edit was made on; None for a new food.
    """

    name: Name160
    klass: Name40 = "own"
    form: Annotated[str, Field(pattern="^(raw|cooked|canned|dried|plain)$")] = "plain"
    ingredients: Text20000 = ""
    values: dict[str, Annotated[Number, Field(ge=0)]] = field(default_factory=dict)
    label: PackLabel | None = None
    version: int | None = None


def own_food(asked: OwnFoodIn, slug: str) -> tuple[TableFood, dict[str, Any]]:
    """The food that was entered, and how. Raises InputError naming the figure."""
    values: dict[str, float] = {}
    exceed: dict[str, float] = {}
    origin: dict[str, Any] = {"by": "values"}
    if asked.label is not None:
        try:
            label = read_pack(reference().labels, asked.label)
        except InputError as error:
            raise error.under("label") from None
        values, exceed = dict(label.per_100_g), dict(label.may_exceed)
        # A pack tells crude fibre; dietary fibre that is known beside it takes its place.
        kind = FibreKind.DIETARY if "FIBTG" in asked.values else FibreKind.CRUDE
        origin = {"by": "label", **dump(asked.label), "fibre_kind": kind}
    catalogue = reference().catalogue
    for key, value in asked.values.items():
        if key not in catalogue or catalogue.get(key).parts:
            raise InputError(f"values.{key}", "is not a nutrient that can be entered")
        values[key] = value
        # A figure of its own is no guarantee any more.
        exceed.pop(key, None)
    if "ENERC" not in values:
        raise InputError("values.ENERC", "give kcal per 100 g, or a label")
    for tag, message in wrong_values(catalogue, values):
        raise InputError(f"values.{tag}", message)
    food = TableFood(
        slug, asked.name, asked.klass, asked.form, asked.ingredients, values, may_exceed=exceed
    )
    return food, origin


@transaction.atomic
def add_own_food(who: Actor, asked: OwnFoodIn) -> OwnFood:
    """A new own food. Raises InputError naming the figure."""
    taken = set(OwnFood.objects.for_practice(who.practice).values_list("slug", flat=True))
    slug = free_slug(slugify(asked.name)[:50] or "food", taken)
    return save_own_food(who, *own_food(asked, slug))


@transaction.atomic
def edit_own_food(who: Actor, pk: int, asked: OwnFoodIn) -> OwnFood:
    """A new revision of an own food. Raises InputError, StaleWriteError."""
    food = find_own(OwnFood, who.practice, lock=True, pk=pk)
    looked_at(food, asked.version, lambda: own_food_view(food))
    return save_own_food(who, *own_food(asked, food.slug))


@transaction.atomic
def save_own_food(who: Actor, entry: TableFood, origin: Mapping[str, Any]) -> OwnFood:
    """Add an own food, or make a new revision of the one with this slug."""
    food = _written(who.practice, entry, origin)
    touch(who.practice)
    kind = EventKind.FOOD_ADDED if food.revision == 1 else EventKind.FOOD_CHANGED
    log(who, kind, None, food.pk, food=food.name, revision=food.revision)
    return food


def _before(food: OwnFood) -> OwnFoodRevision:
    """What a food is before it is written over."""
    return OwnFoodRevision(
        food=food,
        revision=food.revision,
        snapshot={
            "name": food.name,
            "values": food.values,
            "ingredients": food.ingredients,
            "origin": food.origin,
        },
    )


def _fill(food: OwnFood, entry: TableFood, origin: Mapping[str, Any]) -> None:
    if food.pk is not None:
        food.revision += 1
        food.version += 1
    food.name, food.klass, food.form = entry.name, entry.klass, entry.form
    food.ingredients, food.values = entry.ingredients, entry.values
    food.origin = {**origin, "may_exceed": dict(entry.may_exceed)}
    food.retired = False


def _written(practice: Practice, entry: TableFood, origin: Mapping[str, Any]) -> OwnFood:
    food = OwnFood.objects.for_practice(practice).filter(slug=entry.slug).first()
    if food is None:
        food = OwnFood(practice=practice, slug=entry.slug)
    else:
        _before(food).save()
    _fill(food, entry, origin)
    food.save()
    return food


@transaction.atomic
def import_foods(who: Actor, entries: tuple[TableFood, ...]) -> int:
    """Take every row of an accepted table, all or nothing."""
    slugs = {entry.slug for entry in entries}
    there = {f.slug: f for f in OwnFood.objects.for_practice(who.practice) if f.slug in slugs}
    # As many as there are at once: nobody else writes while this does.
    OwnFoodRevision.objects.bulk_create(map(_before, there.values()), batch_size=AT_ONCE)
    fresh = []
    for entry in entries:
        food = there.get(entry.slug) or OwnFood(practice=who.practice, slug=entry.slug)
        _fill(food, entry, {"by": "import", "fibre_kind": entry.fibre})
        if food.pk is None:
            fresh.append(food)
    OwnFood.objects.bulk_create(fresh, batch_size=AT_ONCE)
    now = timezone.now()
    for food in there.values():
        food.updated = now
    # As an insert that gives way: an update of many rows takes ten times as long.
    OwnFood.objects.bulk_create(
        there.values(), AT_ONCE, update_conflicts=True, unique_fields=["id"], update_fields=IMPORTED
    )
    touch(who.practice)
    log(who, EventKind.FOODS_IMPORTED, None, None, count=len(entries))
    return len(entries)
