"""Writes to a practice's shelf, each in one transaction."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any

from accounts.models import Practice
from accounts.scoping import Actor, find_own, looked_at
from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify
from events.log import log
from events.models import EventKind
from pydantic import Field
from wainscot_core.boundary import Number, Whole, dump
from wainscot_core.conventions import Numbers
from wainscot_core.errors import InputError
from wainscot_core.facts.shelf import ShelfItem
from wainscot_core.facts.shelf_label import ShelfLabel, ShelfReading, read_label
from wainscot_core.formats.own_library import with_shelf

from .actions import FoodNote, free_slug, note_food, touch
from .facts import reference
from .models import ShelfEntry
from .shelf import entry_view

_POINT = frozenset({Numbers.SPACE_POINT, Numbers.COMMA_POINT})


@dataclass(frozen=True, kw_only=True)
class StockIn:
    """A label for the shelf, and what was paid: price of pack units (grams of what is weighed). version: the one an
    edit was made on; None for a new item."""

    label: ShelfLabel
    price: Annotated[Number, Field(ge=0, le=1_000_000)] | None = None
    pack: Annotated[Number, Field(gt=0, le=1_000_000)] | None = None
    version: Whole | None = None


def reading_of(practice: Practice, label: ShelfLabel, item_id: str = "shelf:new") -> ShelfReading:
    """What a label means to this practice, which writes numbers its own way."""
    numbers = practice.conventions.get("numbers", Numbers.SPACE_POINT)
    return read_label(reference().shelf_labels, label, item_id, numbers in _POINT)


@transaction.atomic
def stock_label(who: Actor, asked: StockIn, slug: str = "") -> ShelfEntry:
    """Put a supplement on the shelf by its label, or enter the label of one anew.

    Raises InputError while something of the label is open, StaleWriteError for an edit of what changed meanwhile.
    """
    practice = who.practice
    entry = find_own(ShelfEntry, practice, lock=True, slug=slug) if slug else None
    if entry is not None:
        looked_at(entry, asked.version, lambda: entry_view(entry))
    if not slug:
        taken = set(ShelfEntry.objects.for_practice(practice).values_list("slug", flat=True))
        bare = {s.removeprefix("shelf:") for s in taken}
        slug = f"shelf:{free_slug(slugify(asked.label.name)[:50] or 'supplement', bare)}"
    reading = reading_of(practice, asked.label, slug)
    if reading.item is None:
        first = reading.open[0]
        raise InputError(f"label.{first.field}", first.message)
    if (asked.price is None) != (asked.pack is None):
        raise InputError(
            "pack", "a price needs how much the pack holds, and a pack its price; or leave both out"
        )
    stored = _put(who, reading.item, dump(asked.label), entry)
    if asked.price is not None and asked.pack is not None:
        grams = asked.pack * (reading.item.unit_g or 1.0)
        day = timezone.localdate()
        note = FoodNote(price=asked.price, price_grams=grams, price_date=day)
        note_food(who, slug, note, {"price", "price_grams", "price_date"})
    return stored


@transaction.atomic
def stock(who: Actor, item: ShelfItem) -> ShelfEntry:
    """Put a supplement on the shelf by what it holds, or replace it. Raises InputError for values that cannot be."""
    entry = ShelfEntry.objects.for_practice(who.practice).filter(slug=item.id).first()
    return _put(who, item, None, entry)


def _put(
    who: Actor, item: ShelfItem, label: Mapping[str, Any] | None, entry: ShelfEntry | None
) -> ShelfEntry:
    with_shelf(reference().library, [item], reference().measuring)
    stored = entry or ShelfEntry(practice=who.practice, slug=item.id)
    if entry is not None:
        stored.version += 1
    stored.item, stored.label, stored.retired = dump(item), label, False
    stored.save()
    shelf_asked(who)
    touch(who.practice)
    log(who, EventKind.SHELF_STOCKED, None, stored.pk, item=item.name)
    return stored


@transaction.atomic
def take_off(who: Actor, slug: str, retired: bool = True) -> ShelfEntry:
    """Take a supplement off the shelf, or put it back. Recipes that hold it keep it; nothing proposes it."""
    entry = find_own(ShelfEntry, who.practice, lock=True, slug=slug)
    if entry.retired == retired:
        return entry
    entry.retired, entry.version = retired, entry.version + 1
    entry.save()
    touch(who.practice)
    kind = EventKind.SHELF_TAKEN_OFF if retired else EventKind.SHELF_STOCKED
    log(who, kind, None, entry.pk, item=entry.item["name"])
    return entry


def shelf_asked(who: Actor) -> None:
    """The practice was asked for its shelf, and has answered."""
    if not who.practice.shelf_asked:
        who.practice.shelf_asked = True
        who.practice.save(update_fields=["shelf_asked"])
