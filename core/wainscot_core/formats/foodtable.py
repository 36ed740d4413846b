"""Own foods as CSV or JSON: documented columns, row-level errors, nothing guessed.

Columns: slug, name, class, form, ingredients, fibre (dietary or crude), then INFOODS tagnames in
catalogue units per 100 g as fed. ENERC (kcal) is required; an empty cell is unknown, not zero.
"""

import csv
import io
import json
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from wainscot_core.cells import cell_back, csv_text

from ..boundary import parse_json
from ..errors import InputError
from ..facts.foods import wrong_values
from ..facts.me_methods import FibreKind
from ..facts.nutrients import Catalogue

FIXED = ("slug", "name", "class", "form", "ingredients", "fibre")
FORMS = ("raw", "cooked", "canned", "dried", "plain")
MAX_ROWS = 5000
FOODS_FORMAT = "wainscot-foods"


@dataclass(frozen=True)
class TableFood:
    """One accepted row. fibre: whether FIBTG is dietary fibre, or the crude fibre of a pet food label."""

    slug: str
    name: str
    klass: str
    form: str
    ingredients: str
    values: dict[str, float]
    fibre: FibreKind = FibreKind.DIETARY


@dataclass(frozen=True)
class CellError:
    """What is wrong with one cell: row as counted in the file (header is row 1), column name."""

    row: int
    column: str
    message: str


@dataclass(frozen=True)
class TableResult:
    """Rows that can be taken, and the errors of those that cannot."""

    foods: tuple[TableFood, ...]
    errors: tuple[CellError, ...]


def read_table(text: str, catalogue: Catalogue) -> TableResult:
    """Read a CSV. A broken header is an error of row 1 and no food is taken."""
    reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    header = [h.strip() for h in reader.fieldnames or []]
    tags = [h for h in header if h not in FIXED]
    stored = {n.key for n in catalogue.nutrients if not n.parts}
    errors = [
        CellError(1, h, f"is not a column; use {', '.join(FIXED)} or a nutrient key")
        for h in tags
        if h not in stored
    ]
    errors += [
        CellError(1, h, "column is missing") for h in ("slug", "name", "ENERC") if h not in header
    ]
    if errors:
        return TableResult((), tuple(errors))
    foods: list[TableFood] = []
    seen: dict[str, int] = {}
    for number, raw in enumerate(reader, start=2):
        if number > MAX_ROWS + 1:
            errors.append(CellError(number, "", f"at most {MAX_ROWS} rows at a time"))
            break
        row = {
            (k or "").strip(): cell_back((v or "").strip()) if isinstance(v, str) else ""
            for k, v in raw.items()
        }
        if not any(row.values()):
            continue
        food, found = _read_row(number, row, tags, seen, catalogue)
        errors += found
        if food:
            foods.append(food)
    return TableResult(tuple(foods), tuple(errors))


def _read_row(
    number: int,
    row: Mapping[str, str],
    tags: list[str],
    seen: dict[str, int],
    catalogue: Catalogue,
) -> tuple[TableFood | None, list[CellError]]:
    errors = []
    values: dict[str, float] = {}
    for tag in tags:
        cell = row.get(tag, "")
        if not cell:
            continue
        try:
            values[tag] = float(cell.replace(",", "."))
        except ValueError:
            errors.append(CellError(number, tag, f"{cell!r} is not a number"))
    food, found = _checked(number, row, values, seen, catalogue)
    known = {e.column for e in errors}
    errors += [e for e in found if e.column not in known]
    return (None if errors else food), errors


def _checked(
    number: int,
    row: Mapping[str, str],
    values: dict[str, float],
    seen: dict[str, int],
    catalogue: Catalogue,
) -> tuple[TableFood | None, list[CellError]]:
    """The one check of a food that comes in by a document; `seen`: rows by slug so far."""
    errors = []
    slug = row["slug"]
    if not re.fullmatch(r"[a-z0-9]+(-[a-z0-9]+)*", slug) or len(slug) > 60:
        errors.append(
            CellError(number, "slug", "use small letters, digits and hyphens, at most 60")
        )
    elif slug in seen:
        errors.append(CellError(number, "slug", f"{slug} stands in row {seen[slug]} already"))
    seen.setdefault(slug, number)
    if not row["name"]:
        errors.append(CellError(number, "name", "is missing"))
    form = row.get("form", "") or "plain"
    if form not in FORMS:
        errors.append(CellError(number, "form", f"use one of: {', '.join(FORMS)}"))
    fibre = row.get("fibre", "") or FibreKind.DIETARY
    if fibre not in set(FibreKind):
        errors.append(CellError(number, "fibre", f"use one of: {', '.join(FibreKind)}"))
    errors += [CellError(number, tag, message) for tag, message in wrong_values(catalogue, values)]
    if errors:
        return None, errors
    klass = row.get("class", "") or "own"
    ingredients = row.get("ingredients", "")
    return TableFood(slug, row["name"], klass, form, ingredients, values, FibreKind(fibre)), []


def read_json_foods(text: str, catalogue: Catalogue) -> TableResult:
    """Own foods as JSON: {"format": "wainscot-foods", "foods": [{slug, name, ..., "per_100_g": {}}]}.

    Rows are counted from 1. Raises InputError (field "text") for what is no such document.
    """
    try:
        data = parse_json(text)
    except InputError as error:
        raise InputError("text", f"not a wainscot-foods document: {error.message}") from None
    entries = data.get("foods")
    if data.get("format") != FOODS_FORMAT or not isinstance(entries, list):
        raise InputError("text", f'must be {{"format": "{FOODS_FORMAT}", "foods": [...]}}')
    stored = {n.key for n in catalogue.nutrients if not n.parts}
    foods: list[TableFood] = []
    errors: list[CellError] = []
    seen: dict[str, int] = {}
    for number, entry in enumerate(entries, start=1):
        values = entry.get("per_100_g") if isinstance(entry, dict) else None
        if not isinstance(entry, dict) or not isinstance(values, dict):
            said = "every food needs slug, name and per_100_g"
            errors.append(CellError(number, "per_100_g", said))
            continue
        wrong = [
            CellError(number, str(tag), "is not a nutrient key")
            for tag in values
            if tag not in stored
        ]
        if any(isinstance(v, bool) or not isinstance(v, int | float) for v in values.values()):
            wrong.append(CellError(number, "per_100_g", "every value must be a number"))
        if wrong:
            errors += wrong
            continue
        row = {key: str(entry.get(key) or "") for key in FIXED}
        food, found = _checked(
            number, row, {k: float(v) for k, v in values.items()}, seen, catalogue
        )
        errors += found
        if food:
            foods.append(food)
    return TableResult(tuple(foods), tuple(errors))


def write_json_foods(foods: Iterable[TableFood]) -> str:
    """The same document back."""
    entries = [
        {
            "slug": f.slug, "name": f.name, "class": f.klass, "form": f.form,
            "ingredients": f.ingredients, "fibre": f.fibre, "per_100_g": f.values,
        }
        for f in foods
    ]  # fmt: skip
    return json.dumps({"format": FOODS_FORMAT, "version": 1, "foods": entries}, indent=1)


def write_table(foods: Iterable[TableFood], catalogue: Catalogue) -> str:
    """The same columns back, one for every stored nutrient."""
    tags = [n.key for n in catalogue.nutrients if not n.parts]
    rows: list[list[str]] = [[*FIXED, *tags]]
    for food in foods:
        cells = [f"{food.values[t]:.9g}" if t in food.values else "" for t in tags]
        said = [food.slug, food.name, food.klass, food.form, food.ingredients, food.fibre]
        rows.append([*said, *cells])
    return csv_text(rows)
