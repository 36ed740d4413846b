"""The library list with its filters, and a food's profile."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from accounts.models import Practice
from wainscot_core.completeness import completeness
from wainscot_core.foods import FoodLibrary

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


@dataclass(frozen=True)
class ShelfFood:
    """A library row that passed the filters."""

    row: int
    known_share: float
    price_per_kg: float | None
    unavailable: bool
    value: float | None


def own_rows(library: FoodLibrary, text: str) -> list[int]:
    """Own foods whose name holds every word of a query."""
    words = text.lower().split()
    return [
        i
        for i, food in enumerate(library.foods)
        if food.id.startswith(("own:", "supp:"))
        and words
        and all(w in food.name.lower() for w in words)
    ]


def find(practice: Practice, text: str, limit: int = 12) -> list[int]:
    """Rows for a query: own foods and supplements that hold every word, then the tables."""
    library = library_for(practice)
    own = own_rows(library, text)
    first = [r for r in own if library.foods[r].id.startswith("own:")]
    supplements = [r for r in own if r not in first]
    tables = [r for r in search(text, limit) if r not in set(own)]
    room = limit - len(first) - min(4, len(supplements))
    return [*first, *tables[: max(room, 0)], *supplements][:limit]


def shelf(practice: Practice, filters: Filters) -> list[ShelfFood]:
    """Foods that pass the filters, in search order, or richest first, or by name."""
    library = library_for(practice)
    known = {p.food: p for p in PracticeFood.objects.for_practice(practice)}
    rows: Sequence[int] = (
        find(practice, filters.text, 400) if filters.text else range(len(library.foods))
    )
    board = [i for i, n in enumerate(library.catalogue.nutrients) if n.board]
    share = 1 - np.isnan(library.values[:, board]).mean(axis=1)
    richest = _per_1000_kcal(library, filters.richest) if filters.richest else None
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
            ShelfFood(
                row, float(share[row]), noted.price_per_kg() if noted else None,
                bool(noted and noted.unavailable), value,
            )
        )  # fmt: skip
    if richest is not None:
        out.sort(key=lambda f: -(f.value or 0))
    elif not filters.text:
        out.sort(key=lambda f: library.foods[f.row].name.lower())
    return out


def _per_1000_kcal(library: FoodLibrary, key: str) -> np.ndarray:
    energy = library.values[:, library.catalogue.index("ENERC")]
    with np.errstate(divide="ignore", invalid="ignore"):
        amount = library.values[:, library.catalogue.index(key)] / energy * 1000
    # Spices and pure salts have so little energy that the figure says nothing.
    amount[~(energy > 10)] = np.nan
    return np.asarray(amount)
