"""A practice's shelf as it is seen."""

from collections.abc import Mapping
from dataclasses import dataclass

from wainscot_core.boundary import read
from wainscot_core.facts.foods import SupplementKind
from wainscot_core.facts.shelf import ShelfItem
from wainscot_core.facts.shelf_label import Brings, ShelfLabel, blocked, brings_of, label_of

from .facts import reference
from .listing import Named
from .models import PracticeFood, ShelfEntry


@dataclass(frozen=True, kw_only=True)
class ShelfEntryView:
    """A supplement on the shelf. brings: of one unit, or 100 g of what is weighed. blocked: why it is never proposed.
    price, pack: what was paid, and for how many units (grams of what is weighed)."""

    id: str
    name: str
    kind: SupplementKind
    version: int
    retired: bool
    unit: str
    brings: tuple[Brings, ...]
    blocked: str
    price: float | None
    pack: float | None
    label: ShelfLabel


@dataclass(frozen=True, kw_only=True)
class UnitChoice:
    """What a label can count in. weighs: its weight must be known; weight: it is grams; piece: what a pack holds some
    of, "" where it holds grams."""

    id: str
    words: str
    weighs: bool
    weight: bool
    piece: str


@dataclass(frozen=True, kw_only=True)
class ShelfPage:
    """The shelf, and what a label is entered with. asked: the practice has said what stands on it."""

    asked: bool
    items: tuple[ShelfEntryView, ...]
    units: tuple[UnitChoice, ...]
    nutrients: tuple[Named, ...]
    source_groups: tuple[str, ...]


def entry_view(
    entry: ShelfEntry, notes: Mapping[str, PracticeFood] | None = None
) -> ShelfEntryView:
    """An entry as it is seen; `notes`: what the practice noted of foods, by food."""
    facts, item = reference(), read(ShelfItem, entry.item)
    if notes is None:
        found = PracticeFood.objects.for_practice(entry.practice).filter(food=entry.slug)
        notes = {n.food: n for n in found}
    noted = notes.get(entry.slug)
    each = item.unit_g or 1.0
    paid = noted is not None and noted.price is not None and bool(noted.price_grams)
    label = read(ShelfLabel, entry.label) if entry.label else label_of(facts.shelf_labels, item)
    return ShelfEntryView(
        id=entry.slug, name=item.name, kind=item.kind, version=entry.version, retired=entry.retired,
        unit=item.unit or "100 g", brings=brings_of(facts.shelf_labels, item),
        blocked=blocked(facts.shelf_labels, item),
        price=float(noted.price) if paid and noted and noted.price is not None else None,
        pack=noted.price_grams / each if paid and noted and noted.price_grams else None,
        label=label,
    )  # fmt: skip
