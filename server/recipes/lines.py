"""Stored lines: how a row becomes the core's line text, and back. Every door goes through here."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from math import isfinite
from typing import Annotated, Any

from library.facts import reference
from pydantic import Field, StringConstraints
from wainscot_core.boundary import Name80, Name160, Number, Text40, Text60, Text200, dump
from wainscot_core.changes import Table
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.recipe.line import Line as CoreLine
from wainscot_core.recipe.line import LineText, read_all
from wainscot_core.recipe.tones import Entering, tones
from wainscot_core.units import Measures

from .models import Line, Recipe, new_key

# More lines than a recipe may have, so that too many are named as such and not cut off.
MOST_LINES = 1000
# What a line is called from outside; the browser makes them.
LineKey = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{1,40}$")]


@dataclass(frozen=True, kw_only=True)
class LineIn:
    """A line as it stands on the bench: amount as typed, method, notes."""

    food: Name80
    quantity: Text60
    note: Text200 = ""
    preparation: Text40 = ""
    override: Text200 = ""

    def text(self, measures: Measures) -> LineText:
        """The line as the core takes it, typed by someone with these cups and spoons."""
        return LineText(
            self.food, self.quantity, self.note, self.preparation, self.override, measures=measures
        )


@dataclass(frozen=True, kw_only=True)
class RecipeFields:
    """What can be changed of a recipe, field by field. lines by key; order: their keys."""

    name: Name160
    covers_days: Number
    lines: Annotated[dict[LineKey, LineIn], Field(max_length=MOST_LINES)]
    order: tuple[LineKey, ...]


# How the lines of a recipe come and go.
LINES = Table("lines", "order")


def fields_of(recipe: Recipe) -> dict[str, Any]:
    """A stored recipe as plain data, to be changed field by field."""
    rows = list(recipe.lines.all())
    lines = {
        row.key: LineIn(
            food=row.food, quantity=row.quantity, note=row.note, preparation=row.preparation,
            override=row.override,
        )
        for row in rows
    }  # fmt: skip
    data: dict[str, Any] = dump(
        RecipeFields(
            name=recipe.name, covers_days=recipe.covers_days, lines=lines,
            order=tuple(row.key for row in rows),
        )
    )  # fmt: skip
    return data


def text_of(row: Line) -> LineText:
    """A stored line as it was typed and read."""
    return LineText(
        row.food, row.quantity, row.note, row.preparation, row.override, row.grams, row.basis,
        Measures(row.measures),
    )  # fmt: skip


def texts_of(recipe: Recipe) -> list[LineText]:
    """A stored recipe's lines in order."""
    return [text_of(row) for row in recipe.lines.all()]


def text_from(data: Mapping[str, Any]) -> LineText:
    """A line as it was kept as plain data. Raises InputError for what is none."""
    try:
        return LineText(**{**data, "measures": Measures(data.get("measures", Measures.US))})
    except (AttributeError, TypeError, ValueError):
        raise InputError("lines", "hold something that cannot be read as a line") from None


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
            else replace(text, grams=before.grams, basis=before.basis, measures=before.measures)
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


def _entering(library: FoodLibrary, texts: Iterable[LineText]) -> Iterable[Entering]:
    energy = library.catalogue.index("ENERC")
    for text in texts:
        if text.food in library:
            per_gram = float(library.values[library.row(text.food), energy]) / 100
            kcal = per_gram * (text.grams or 0.0)
            supplement = library.food(text.food).is_supplement
            yield Entering(text.food, supplement, kcal if isfinite(kcal) else 0.0)


def replace_rows(
    recipe: Recipe,
    library: FoodLibrary,
    lines: Iterable[LineText],
    keys: Sequence[str] | None = None,
) -> None:
    """Store these lines, as read, instead of the recipe's; without keys each gets a new one."""
    recipe.lines.all().delete()
    texts = list(lines)
    recipe.tones = tones(recipe.tones, _entering(library, texts))
    recipe.save(update_fields=["tones"])
    named = keys if keys is not None else [new_key() for _ in texts]
    Line.objects.bulk_create(
        Line(recipe=recipe, key=key, position=i, **asdict(text))
        for i, (key, text) in enumerate(zip(named, texts, strict=True))
    )
