"""A recipe as others read it: plain text, a table, schema.org data. What is written is read back as the same recipe."""

import csv
import io
import json
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from wainscot_core.cells import cell_back, csv_text

from ..boundary import Text160
from ..recipe.line import Line
from ..recipe.numbers import plain_text
from ..transcribe.ingredients import LineKind
from ..transcribe.reading import CandidateOut, ReadLine

COLUMNS = ("amount", "ingredient", "cooking", "grams", "food")


class RecipeForm(StrEnum):
    """What a recipe can be written as."""

    TEXT = "text"
    TABLE = "csv"
    SCHEMA = "json-ld"


@dataclass(frozen=True)
class Written:
    """A recipe to write: its lines feed `days` days."""

    name: Text160
    lines: Sequence[Line]
    days: float


def write(recipe: Written, form: RecipeForm) -> str:
    """A recipe in one of these forms."""
    if form is RecipeForm.TABLE:
        return as_table(recipe)
    if form is RecipeForm.SCHEMA:
        return json.dumps(as_schema(recipe), indent=1, ensure_ascii=False) + "\n"
    return as_text(recipe)


def as_text(recipe: Written) -> str:
    """Name, for how long it feeds, an ingredient a line."""
    lines = (ingredient(line) for line in recipe.lines)
    return "\n".join([f"# {recipe.name}", _makes(recipe), "", "Ingredients", *lines]) + "\n"


def as_schema(recipe: Written) -> Mapping[str, Any]:
    """A schema.org Recipe (JSON-LD)."""
    return {
        "@context": "https://schema.org",
        "@type": "Recipe",
        "name": recipe.name,
        "recipeYield": _makes(recipe).removeprefix("Makes "),
        "recipeIngredient": [ingredient(line) for line in recipe.lines],
    }


def as_table(recipe: Written) -> str:
    """A table with one ingredient a row (COLUMNS)."""
    rows: list[tuple[str, ...]] = [COLUMNS]
    for line in recipe.lines:
        cooking = line.prepared.method.id if line.prepared else ""
        grams = f"{line.amount.grams:.10g}"
        rows.append((_quantity(line), line.food.name, cooking, grams, line.food.id))
    return csv_text(rows)


def is_table(text: str) -> bool:
    """Whether a text is a table that as_table wrote."""
    return text.lstrip("\ufeff").split("\n", 1)[0].strip() == ",".join(COLUMNS)


def lines_of_table(text: str) -> tuple[ReadLine, ...]:
    """The lines of such a table, nothing in them guessed. ValueError for a weight that is no number above zero."""
    found = []
    for row in csv.DictReader(io.StringIO(text.lstrip("\ufeff"))):
        # A cell that a hand took away is None.
        cells = {column: cell_back(row[column] or "") for column in COLUMNS}
        grams = float(cells["grams"])
        if not (math.isfinite(grams) and grams > 0):
            raise ValueError(cells["grams"])
        source = ",".join(cells.values())
        found.append(sure_line(source, cells["food"], cells["ingredient"], grams, cells["cooking"]))
    return tuple(found)


def sure_line(source: str, food: str, name: str, grams: float, preparation: str = "") -> ReadLine:
    """An ingredient of which everything is known."""
    return ReadLine(
        source=source, text=source, kind=LineKind.INGREDIENT, amount=grams, unit="g", food=food,
        candidates=(CandidateOut(food, name, 1.0),), grams=grams, grams_low=grams, grams_high=grams,
        preparation=preparation,
    )  # fmt: skip


def ingredient(line: Line) -> str:
    """ "2 cups (312 g) Potato, boiled without skin", and how it is cooked: the weight always stands there."""
    quantity = _quantity(line)
    weight = f"{line.amount.grams:.10g} g"
    amount = quantity if line.amount.unit == "g" else f"{quantity} ({weight})"
    cooking = f" ({line.prepared.method.label})" if line.prepared else ""
    return f"{amount} {line.food.name}{cooking}"


def _quantity(line: Line) -> str:
    if line.amount.unit == "g" or line.text is None:
        return f"{line.amount.grams:.10g} g"
    return plain_text(line.text.quantity)


def _makes(recipe: Written) -> str:
    days = f"{recipe.days:.10g}"
    return f"Makes {days} {'day' if recipe.days == 1 else 'days'} of food"
