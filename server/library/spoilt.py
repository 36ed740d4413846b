"""What a practice put into its library and can no longer be read: it is told and set aside, and hides nothing else."""

import json
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, fields
from enum import StrEnum
from typing import Any

from accounts.models import Practice, PracticeRecord
from wainscot_core.boundary import Number, read
from wainscot_core.errors import InputError
from wainscot_core.facts.labels import PackLabel, read_pack
from wainscot_core.facts.shelf import ShelfItem
from wainscot_core.facts.shelf_label import ShelfLabel
from wainscot_core.formats.own_library import check_known

from .copies import own_copy
from .facts import reference
from .models import OwnFood, PracticeFood, PracticeStandard, ShelfEntry

Figures = dict[str, Number]
MOST_SHOWN = 2000


class SpoiltKind(StrEnum):
    """What cannot be read: an own food, what was noted of a food, a supplement on the shelf, an own standard."""

    FOOD = "food"
    NOTE = "note"
    SHELF = "shelf"
    STANDARD = "standard"


@dataclass(frozen=True, kw_only=True)
class Spoilt:
    """A row that cannot be read. id: its number; food: the food it is about, "" for a standard; why: what is wrong; held:
    what stands there, the beginning of it."""

    kind: SpoiltKind
    id: int
    food: str
    name: str
    why: str
    held: str


def readable_food(row: OwnFood) -> Figures:
    """The values of an own food. Raises InputError."""
    found: Figures = read(Figures, row.values, "values")
    readable_excess(row)
    return found


def readable_excess(row: OwnFood) -> Figures:
    """By how much more than its values an own food may hold, per 100 g by tag: as it was kept with them, or as its
    label has it where it was entered before that was. Raises InputError."""
    origin = row.origin
    found: Figures = {}
    if "may_exceed" in origin:
        found = read(Figures, origin["may_exceed"], "origin.may_exceed")
    elif origin.get("by") == "label":
        said = {f.name: origin[f.name] for f in fields(PackLabel) if f.name in origin}
        found = read_pack(reference().labels, read(PackLabel, said, "origin")).may_exceed
    return {tag: more for tag, more in found.items() if tag in row.values}


def readable_note(row: PracticeFood) -> tuple[Figures, Figures]:
    """The label strengths and the measures that were noted of a food. Raises InputError."""
    strengths, measures = (
        read(Figures, row.strengths, "strengths"), read(Figures, row.measures, "measures"),
    )  # fmt: skip
    check_known(reference(), row.food, strengths, measures)
    return strengths, measures


def readable_shelf(row: ShelfEntry) -> ShelfItem:
    """A supplement on the shelf. Raises InputError."""
    if row.label is not None:
        read(ShelfLabel, row.label, "label")
    return read(ShelfItem, row.item, "item")


# By kind: the rows, how one is read, what of it is held, and what it is called.
_Reads = Callable[[Any], object]
KINDS: Mapping[SpoiltKind, tuple[type[PracticeRecord], _Reads, tuple[str, ...]]] = {
    SpoiltKind.FOOD: (OwnFood, readable_food, ("values", "origin")),
    SpoiltKind.NOTE: (PracticeFood, readable_note, ("strengths", "measures")),
    SpoiltKind.SHELF: (ShelfEntry, readable_shelf, ("item", "label")),
    SpoiltKind.STANDARD: (PracticeStandard, own_copy, ("base", "stages")),
}


def spoilt_of(practice: Practice) -> Iterator[Spoilt]:
    """Every row of a practice's library that cannot be read."""
    for kind, (model, _, _) in KINDS.items():
        for row in model.objects.for_practice(practice).order_by("pk"):
            why = fault_of(kind, row)
            if why is not None:
                yield spoilt_row(kind, row, why)


def fault_of(kind: SpoiltKind, row: PracticeRecord) -> InputError | None:
    """Why a row cannot be read, None when it can."""
    try:
        KINDS[kind][1](row)
    except InputError as error:
        return error
    return None


def spoilt_row(kind: SpoiltKind, row: Any, why: InputError) -> Spoilt:
    """A row as it is told of."""
    food = {SpoiltKind.FOOD: "food_id", SpoiltKind.NOTE: "food", SpoiltKind.SHELF: "slug"}.get(kind)
    item = row.item if kind is SpoiltKind.SHELF else None
    name = str(item["name"]) if isinstance(item, dict) and "name" in item else str(row)
    table = reference().library
    if kind is SpoiltKind.NOTE and row.food in table:
        name = table.food(row.food).name
    return Spoilt(
        kind=kind, id=row.pk, food=str(getattr(row, food)) if food else "", name=name[:160],
        why=f"{why.field}: {why.message}" if why.field else why.message, held=held_in(kind, row)[:MOST_SHOWN],
    )  # fmt: skip


def held_in(kind: SpoiltKind, row: PracticeRecord) -> str:
    """What a row holds of what cannot be read, as JSON text."""
    return json.dumps({name: getattr(row, name) for name in KINDS[kind][2]}, default=str)
