"""Own foods as CSV or JSON: any headings a person has looked at, row-level errors, nothing guessed.

Our own columns: slug, name, class, form, ingredients, fibre (dietary or crude), then INFOODS tagnames in
catalogue units per 100 g as fed, and TAG_above for how much more there may be. A name and energy are
required; an empty cell is unknown, not zero.
"""

import csv
import io
import json
import re
import unicodedata
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated

from pydantic import Field

from ..boundary import Number, parse_json, read
from ..cells import cell_back, csv_text
from ..errors import InputError
from ..facts.foods import wrong_values
from ..facts.me_methods import FibreKind
from ..facts.nutrients import Catalogue
from ..facts.table_words import TableBasis, TableWords
from .columns import (
    ABOVE,
    FIXED,
    LEFT_OUT,
    ColumnUse,
    FoundColumn,
    columns_of,
    decimal_commas,
    figure_of,
    per_100_g,
    units_of,
)

FORMS = ("raw", "cooked", "canned", "dried", "plain")
MAX_ROWS = 5000
FOODS_FORMAT = "wainscot-foods"


@dataclass(frozen=True)
class TableFood:
    """One accepted row. fibre: whether FIBTG is dietary fibre, or the crude fibre of a pet food label.
    may_exceed: by how much more than its value there may be, where a label says "at least"."""

    slug: str
    name: str
    klass: str
    form: str
    ingredients: str
    values: dict[str, float]
    fibre: FibreKind = FibreKind.DIETARY
    may_exceed: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class CellError:
    """What is wrong with one cell: row as counted in the file (header is row 1), column name."""

    row: int
    column: str
    message: str


@dataclass(frozen=True, kw_only=True)
class TableResult:
    """Rows that can be taken, and the errors of those that cannot. columns: of a CSV, what each was taken for; notes:
    what was taken for unknown, and what else is worth a look."""

    foods: tuple[TableFood, ...] = ()
    errors: tuple[CellError, ...] = ()
    columns: tuple[FoundColumn, ...] = ()
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Sheet:
    """The cells of a CSV; rows by their number in the file, the heading in row `at`. comma: it writes decimals with a
    comma; before: what stands above the heading."""

    header: tuple[str, ...]
    at: int
    rows: tuple[tuple[int, tuple[str, ...]], ...]
    comma: bool
    before: tuple[str, ...]


def read_table(
    text: str,
    catalogue: Catalogue,
    words: TableWords,
    uses: Sequence[ColumnUse] | None = None,
    basis: TableBasis = TableBasis.PER_100_G,
) -> TableResult:
    """Read a CSV of any headings, parted by commas, semicolons or tabs. `uses`: what each column holds, as a person said
    it; None for what the headings say. `basis`: what figures are for where their column does not say.

    A column that is taken for nothing brings nothing; one too few (name, energy) is an error of row 1. Raises
    InputError (text, columns) for what is no table, or uses that do not fit it.
    """
    sheet = _sheet(text)
    columns = columns_of(sheet.header, [cells for _, cells in sheet.rows], words, catalogue)
    if uses is None:
        uses = [c.use for c in columns]
    _check_uses(uses, columns, catalogue)
    held = {u.field or (u.tag if not u.above else "") for u in uses}
    errors = [
        CellError(sheet.at, column, f"no column holds {what}")
        for column, what in (("name", "the name of the food"), ("ENERC", "its energy"))
        if column not in held
    ]
    above = [f"Above the headings, and not read: “{text}”" for text in sheet.before]
    if errors:
        return TableResult(errors=tuple(errors), columns=columns, notes=tuple(above))
    reader = _Rows(catalogue, words, tuple(uses), columns, basis, sheet.comma)
    foods = []
    for taken, (number, cells) in enumerate(sheet.rows):
        if taken >= MAX_ROWS:
            errors.append(CellError(number, "", f"at most {MAX_ROWS} rows at a time"))
            break
        food, wrong = reader.read(number, cells)
        errors += wrong
        if food:
            foods.append(food)
    return TableResult(
        foods=tuple(foods), errors=tuple(errors), columns=columns,
        notes=(*above, *reader.notes()),
    )  # fmt: skip


def _sheet(text: str) -> _Sheet:
    if text.startswith("PK") or "\0" in text:
        raise InputError("text", "is no text: save the sheet as CSV and bring that in")
    plain = text.lstrip("\ufeff")
    first, _, rest = plain.partition("\n")
    said = re.fullmatch(r"sep=(.)\s*", first)
    if said:
        plain = rest
    delimiter = said[1] if said else _delimiter(plain)
    try:
        rows = [
            tuple(cell_back(c.strip()) for c in row)
            for row in csv.reader(io.StringIO(plain), delimiter=delimiter)
        ]
    except csv.Error as error:
        raise InputError(
            "text", f"cannot be read as a table ({error}): is a quotation mark left open?"
        ) from None
    filled = [(number, row) for number, row in enumerate(rows, start=1) if any(row)]
    if not filled:
        raise InputError("text", "is empty: bring in a table whose first row names its columns")
    # A title alone in its row stands above the headings.
    heading = next((i for i, (_, row) in enumerate(filled) if sum(map(bool, row)) > 1), 0)
    at, header = filled[heading]
    body = tuple(filled[heading + 1 :])
    comma = decimal_commas([c for _, row in body for c in row])
    before = tuple(" ".join(filter(None, row))[:120] for _, row in filled[:heading])
    return _Sheet(header, at, body, comma, before)


def _delimiter(text: str) -> str:
    """What parts the cells of the heading: what stands in it most often, outside of quotes."""
    heading = next((line for line in text.splitlines() if line.strip()), "")
    bare = re.sub(r'"[^"]*"', "", heading)
    return max((",", ";", "\t", "|"), key=bare.count)


def _check_uses(
    uses: Sequence[ColumnUse], columns: Sequence[FoundColumn], catalogue: Catalogue
) -> None:
    if len(uses) != len(columns):
        raise InputError(
            "columns", f"say of each of the {len(columns)} columns what it holds, in their order"
        )
    stored = {n.key: n for n in catalogue.nutrients if not n.parts}
    seen: dict[tuple[str, str, bool], int] = {}
    for i, use in enumerate(uses):
        at = f"columns[{i}]"
        if use.field and use.tag:
            raise InputError(at, "is a field of the food or a nutrient, not both")
        if use.field and use.field not in FIXED:
            raise InputError(f"{at}.field", f"use one of: {', '.join(FIXED)}")
        if use.tag and use.tag not in stored:
            raise InputError(f"{at}.tag", "is not a nutrient key")
        if use.tag and use.unit not in units_of(stored[use.tag]):
            fitting = ", ".join(units_of(stored[use.tag]))
            raise InputError(f"{at}.unit", f"{stored[use.tag].name} is in one of: {fitting}")
        if use == LEFT_OUT:
            continue
        key = (use.field, use.tag, use.above)
        if key in seen:
            raise InputError(at, f"holds the same as column {seen[key] + 1}: leave one of them out")
        seen[key] = i


class _Rows:
    """Reads the rows of one table, and remembers what it has to tell of all of them."""

    def __init__(
        self,
        catalogue: Catalogue,
        words: TableWords,
        uses: tuple[ColumnUse, ...],
        columns: tuple[FoundColumn, ...],
        basis: TableBasis,
        comma: bool,
    ) -> None:
        self.catalogue, self.words, self.uses, self.columns = catalogue, words, uses, columns
        self.basis, self.comma = basis, comma
        self.seen: dict[str, int] = {}
        self.bounds: Counter[str] = Counter()

    def read(self, number: int, cells: tuple[str, ...]) -> tuple[TableFood | None, list[CellError]]:
        """A row as a food, or what is wrong with it."""
        errors: list[CellError] = []
        if len(cells) > len(self.uses) and any(cells[len(self.uses) :]):
            errors.append(CellError(number, "", "has more cells than the heading has columns"))
        figures: dict[tuple[str, bool], tuple[float, ColumnUse]] = {}
        row: dict[str, str] = {}
        for use, column, cell in zip(self.uses, self.columns, cells, strict=False):
            if use.field:
                row[use.field] = cell
            elif use.tag and not self.words.said_nothing(cell):
                if self.words.no_figure(cell):
                    self.bounds[column.header] += 1
                    continue
                try:
                    figures[use.tag, use.above] = figure_of(cell, self.comma), use
                except InputError as error:
                    errors.append(CellError(number, column.header, error.message))
        values, exceed = self._values(number, figures, errors)
        if any(use.crude and use.tag in values for use in self.uses):
            row.setdefault("fibre", FibreKind.CRUDE)
        named = "slug" in {u.field for u in self.uses}
        if not named:
            row["slug"] = _slug(row.get("name", ""), number)
        food, found = _checked(number, row, values, self.seen, self.catalogue, named)
        known = {e.column for e in errors} | {self._tag_of(e.column) for e in errors}
        errors += [e for e in found if e.column not in known]
        if errors or food is None:
            return None, errors
        return replace(food, may_exceed={k: x for k, x in exceed.items() if k in food.values}), []

    def _tag_of(self, header: str) -> str:
        return next(
            (u.tag for u, c in zip(self.uses, self.columns, strict=True) if c.header == header), ""
        )

    def _values(
        self,
        number: int,
        figures: Mapping[tuple[str, bool], tuple[float, ColumnUse]],
        errors: list[CellError],
    ) -> tuple[dict[str, float], dict[str, float]]:
        """Values per 100 g as fed by tag, and how much more there may be of each."""
        water = figures.get(("WATER", False))
        dry = None
        if water is not None:
            # Moisture is of the food as it is fed, whatever else is of its dry matter.
            per = water[1].per or (
                TableBasis.PER_100_G if self.basis is TableBasis.DRY_MATTER else self.basis
            )
            dry = 1 - per_100_g(self.catalogue.get("WATER"), *water, per, 1.0) / 100
        values: dict[str, float] = {}
        exceed: dict[str, float] = {}
        for (tag, above), (value, use) in figures.items():
            per = use.per or self.basis
            if tag == "WATER" and not use.per and per is TableBasis.DRY_MATTER:
                per = TableBasis.PER_100_G
            if per is TableBasis.DRY_MATTER and dry is None:
                errors.append(
                    CellError(number, tag, "is of dry matter: the moisture of the food is needed")
                )
                continue
            into = exceed if above else values
            into[tag] = per_100_g(
                self.catalogue.get(tag), value, use, per, 1.0 if dry is None else dry
            )
        return values, exceed

    def notes(self) -> Iterator[str]:
        """What was taken for unknown."""
        for header, count in self.bounds.items():
            cells = "cell gives" if count == 1 else "cells give"
            yield f"{header}: {count} {cells} only a bound or a trace, taken as unknown"


def _slug(name: str, number: int) -> str:
    """A short name from a name; of one without a letter it is the row's."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:50].strip("-") or f"row-{number}"


def _checked(
    number: int,
    row: Mapping[str, str],
    values: dict[str, float],
    seen: dict[str, int],
    catalogue: Catalogue,
    named: bool = True,
) -> tuple[TableFood | None, list[CellError]]:
    """The one check of a food that comes in by a document; `seen`: rows by slug so far; `named`: the slug is its own, not
    made from its name."""
    errors = []
    slug = row.get("slug", "")
    if not re.fullmatch(r"[a-z0-9]+(-[a-z0-9]+)*", slug) or len(slug) > 60:
        errors.append(
            CellError(number, "slug", "use small letters, digits and hyphens, at most 60")
        )
    elif slug in seen:
        column, what = ("slug", slug) if named else ("name", row.get("name", ""))
        errors.append(CellError(number, column, f"{what} stands in row {seen[slug]} already"))
    seen.setdefault(slug, number)
    if not row.get("name"):
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
        try:
            exceed = read(dict[str, Annotated[Number, Field(ge=0)]], entry.get("may_exceed") or {})
        except InputError as error:
            wrong.append(CellError(number, "may_exceed", error.message))
        if wrong:
            errors += wrong
            continue
        exceed = {tag: more for tag, more in exceed.items() if tag in values}
        row = {key: str(entry.get(key) or "") for key in FIXED}
        food, found = _checked(
            number, row, {k: float(v) for k, v in values.items()}, seen, catalogue
        )
        errors += found
        if food:
            foods.append(replace(food, may_exceed=exceed))
    return TableResult(foods=tuple(foods), errors=tuple(errors))


def write_json_foods(foods: Iterable[TableFood]) -> str:
    """The same document back."""
    entries = [
        {
            "slug": f.slug, "name": f.name, "class": f.klass, "form": f.form,
            "ingredients": f.ingredients, "fibre": f.fibre, "per_100_g": f.values,
            "may_exceed": dict(f.may_exceed),
        }
        for f in foods
    ]  # fmt: skip
    return json.dumps({"format": FOODS_FORMAT, "version": 1, "foods": entries}, indent=1)


def write_table(foods: Iterable[TableFood], catalogue: Catalogue) -> str:
    """The same columns back, one for every stored nutrient, and one for how much more there may be where a food has that."""
    kept = list(foods)
    tags = [n.key for n in catalogue.nutrients if not n.parts]
    above = [t for t in tags if any(t in food.may_exceed for food in kept)]
    rows: list[list[str]] = [[*FIXED, *tags, *(f"{t}{ABOVE}" for t in above)]]
    for food in kept:
        cells = [f"{food.values[t]:.9g}" if t in food.values else "" for t in tags]
        cells += [f"{food.may_exceed[t]:.9g}" if t in food.may_exceed else "" for t in above]
        said = [food.slug, food.name, food.klass, food.form, food.ingredients, food.fibre]
        rows.append([*said, *cells])
    return csv_text(rows)
