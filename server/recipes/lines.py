"""Stored lines: how a row becomes the core's line text, and back. Every door goes through here."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, replace
from typing import Any

from library.facts import reference
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.recipe.line import Line as CoreLine
from wainscot_core.recipe.line import LineText, read_all, stored

from .models import Line, Recipe


def text_of(row: Line) -> LineText:
    """A stored line as it was typed and read."""
    return LineText(
        row.food, row.quantity, row.note, row.preparation, row.override, row.grams, row.basis
    )


def texts_of(recipe: Recipe) -> list[LineText]:
    """A stored recipe's lines in order."""
    return [text_of(row) for row in recipe.lines.all()]


def text_from(data: Mapping[str, Any]) -> LineText:
    """A line as it was kept as plain data."""
    return LineText(**data)


def as_data(texts: Iterable[LineText]) -> list[dict[str, Any]]:
    """Lines as plain data, to be kept."""
    return [asdict(text) for text in texts]


def with_readings(texts: Sequence[LineText], known: Iterable[LineText]) -> list[LineText]:
    """What lines were read as when they were stored, for those that did not change since."""
    read = {(t.food, t.quantity): t for t in known if t.grams is not None}
    found = []
    for text in texts:
        before = read.get((text.food, text.quantity))
        found.append(
            text
            if before is None or text.grams is not None
            else replace(text, grams=before.grams, basis=before.basis)
        )
    return found


def stored_lines(recipe: Recipe, library: FoodLibrary) -> tuple[CoreLine, ...]:
    """A stored recipe's lines, all of them.

    Raises InputError naming the recipe and the line when one cannot be read: what is computed of
    a recipe is never computed of a part of it.
    """
    try:
        return read_all(reference().methods, library, texts_of(recipe))
    except InputError as error:
        raise InputError(error.field, f"{recipe.name}: {error.message}") from None


def replace_rows(recipe: Recipe, lines: Sequence[CoreLine]) -> None:
    """Store these lines instead of the recipe's, with what they were read as."""
    recipe.lines.all().delete()
    Line.objects.bulk_create(
        Line(recipe=recipe, position=i, **asdict(stored(line))) for i, line in enumerate(lines)
    )
