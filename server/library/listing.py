"""The library list with its filters."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from accounts.models import Practice
from wainscot_core.facts.completeness import completeness
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.figures import figure

from .models import PracticeFood
from .practice import library_for
from .search import search


@dataclass(frozen=True)
class Filters:
    """What the list shows: "" and False mean no restriction."""

    text: str = ""
    klass: str = ""
    without: str = ""
    richest: str = ""
    complete: str = ""
    available: bool = False
    whole: bool = True


@dataclass(frozen=True, kw_only=True)
class ListedFood:
    """A row of the library list; `value` is the sorting nutrient per 1000 kcal."""

    id: str
    name: str
    klass: str
    form: str
    derived: bool
    kcal_per_100g: float | None
    known_share: float
    price_per_kg: float | None
    unavailable: bool
    value: float | None


@dataclass(frozen=True, kw_only=True)
class Named:
    """Something to choose."""

    id: str
    name: str


@dataclass(frozen=True, kw_only=True)
class Listing:
    """The library list, and what it can be filtered and sorted by."""

    foods: tuple[ListedFood, ...]
    classes: tuple[str, ...]
    allergens: tuple[str, ...]
    nutrients: tuple[Named, ...]


def own_rows(library: FoodLibrary, text: str) -> list[int]:
    """Own foods and supplements whose name holds every word of a query."""
    words = text.lower().split()
    found: Sequence[tuple[int, str]] = library.kept_by_practice if words else ()
    for word in words:
        found = [(row, name) for row, name in found if word in name]
    return [row for row, _ in found]


def find(practice: Practice, text: str, limit: int = 12) -> list[int]:
    """Rows for a query: own foods and what is on the shelf that hold every word, then the tables and the
    generic supplements."""
    library = library_for(practice)
    own = dict.fromkeys(own_rows(library, text))
    first = [r for r in own if not library.foods[r].id.startswith("supp:")]
    supplements = [r for r in own if library.foods[r].id.startswith("supp:")]
    tables = [r for r in search(text, limit) if r not in own]
    room = limit - len(first) - min(4, len(supplements))
    return [*first, *tables[: max(room, 0)], *supplements][:limit]


def listing(practice: Practice, filters: Filters) -> Listing:
    """The library list under its filters."""
    library = library_for(practice)
    return Listing(
        foods=tuple(listed_foods(practice, library, filters)),
        classes=tuple(sorted({food.klass for food in library.foods})),
        allergens=tuple(sorted({a for food in library.foods for a in food.allergens})),
        nutrients=tuple(
            Named(id=n.key, name=n.name) for n in library.catalogue.nutrients if n.board
        ),
    )


def listed_foods(practice: Practice, library: FoodLibrary, filters: Filters) -> list[ListedFood]:
    """Foods that pass the filters, in search order, or richest first, or by name."""
    energy = library.values[:, library.catalogue.index("ENERC")]
    known = {p.food: p for p in PracticeFood.objects.for_practice(practice)}
    rows: Sequence[int] = (
        find(practice, filters.text, 400) if filters.text else range(len(library.foods))
    )
    board = [i for i, n in enumerate(library.catalogue.nutrients) if n.board]
    share = 1 - np.isnan(library.values[:, board]).mean(axis=1)
    richest = library.per_1000_kcal(filters.richest) if filters.richest else None
    out = []
    for row in rows:
        food = library.foods[row]
        noted = known.get(food.id)
        if (
            (filters.klass and food.klass != filters.klass)
            or (filters.without and filters.without in food.allergens)
            or (filters.whole and not filters.text and not food.plain)
            or (filters.available and noted is not None and noted.unavailable)
        ):
            continue
        if filters.complete:
            group = next(c for c in completeness(library, row) if c.group == filters.complete)
            if group.known < 1:
                continue
        value = None if richest is None or np.isnan(richest[row]) else float(richest[row])
        if richest is not None and value is None:
            continue
        out.append(
            ListedFood(
                id=food.id,
                name=food.name,
                klass=food.klass,
                form=food.form,
                derived=food.derived,
                kcal_per_100g=figure(float(energy[row])),
                known_share=round(float(share[row]), 3),
                price_per_kg=noted.price_per_kg() if noted else None,
                unavailable=bool(noted and noted.unavailable),
                value=figure(value),
            )
        )
    if richest is not None:
        out.sort(key=lambda f: -(f.value or 0))
    elif not filters.text:
        out.sort(key=lambda f: f.name.lower())
    return out
