"""A row as plain data for a file, and back. Numbers in a file are its own: rows of each table from 1, in their order."""

from __future__ import annotations

import hashlib
import math
import secrets
import zlib
from collections.abc import Callable, Mapping
from datetime import UTC, date, datetime
from decimal import Decimal, InvalidOperation
from typing import Any

from accounts.models import Practice
from django.core.exceptions import ValidationError
from django.db import models
from django.utils.dateparse import parse_date, parse_datetime
from records.models import Snapshot
from release.models import VetRequest
from wainscot_core.errors import InputError

from .tables import SUBJECTS, Model, Table

# The number of a record that is gone, or not in the file.
GONE = 0
# The deepest a value of JSON may be nested.
MOST_DEEP = 40

Numbers = Mapping[Model, Mapping[int, int]]


def columns(table: Table) -> list[models.Field[Any, Any]]:
    """The columns a file holds of a table, without the row's own number and its practice."""
    left = {"id", "practice", *table.without}
    return [f for f in table.model._meta.concrete_fields if f.name not in left]


def row_of(table: Table, record: models.Model, numbers: Numbers) -> dict[str, Any]:
    """A record as its row; numbers: those of the file, by record and the number it has here."""
    row: dict[str, Any] = {"id": numbers[table.model][record.pk]}
    for column in columns(table):
        row[column.name] = _plain(table, column, record, numbers)
    about = SUBJECTS.get(getattr(record, "kind", ""))
    if "subject" in table.without and about is not None:
        row["subject"] = numbers[about].get(getattr(record, "subject", None) or GONE)
    return row


def _plain(
    table: Table, column: models.Field[Any, Any], record: models.Model, numbers: Numbers
) -> Any:
    value = getattr(record, column.attname)
    if isinstance(record, Snapshot) and column.name == "content":
        return record.text
    if value is None:
        return None
    if column.is_relation:
        return numbers[column.related_model].get(value, GONE)  # type: ignore[index]
    if column.name in table.numbers:
        return numbers[table.numbers[column.name]].get(value)
    if column.name in table.within:
        return renumbered(value, table.within[column.name], numbers)
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    return str(value) if isinstance(value, Decimal) else value


def renumbered(value: Any, named: Mapping[str, Model], numbers: Numbers) -> Any:
    """The same JSON with the numbers of records under these names as they are there; one that is not there is GONE."""
    if isinstance(value, list):
        return [renumbered(x, named, numbers) for x in value]
    if not isinstance(value, dict):
        return value
    return {
        k: numbers[named[k]].get(v, GONE)
        if k in named and _is_number(v)
        else renumbered(v, named, numbers)
        for k, v in value.items()
    }


def _is_number(value: Any) -> bool:
    return isinstance(value, int) and not isinstance(value, bool)


def record_of(
    table: Table, row: Any, numbers: Numbers, practice: Practice
) -> tuple[int, models.Model]:
    """The number a row has in its file, and its record, not written yet. Raises InputError naming the column: for one that is
    missing, not known, of another kind or out of its range."""
    if not isinstance(row, dict):
        raise InputError("", "is no object")
    known = {c.name: c for c in columns(table)}
    extra = {"id", *(["subject"] if "subject" in table.without else [])}
    for name in row:
        if name not in known and name not in extra:
            raise InputError(
                str(name)[:40], "is not known here: the file is of another version of Wainscot"
            )
    number = row.get("id")
    if not isinstance(number, int) or isinstance(number, bool) or not 0 < number < 1 << 53:
        raise InputError("id", "is no number of a row")
    record = table.model()
    for name, column in known.items():
        if name not in row:
            # A column that came later may hold nothing, or has a value to begin with.
            if not (column.has_default() or column.null):
                raise InputError(name, "is missing")
            continue
        try:
            setattr(record, column.attname, _value(table, column, row[name], numbers))
        except InputError as error:
            raise error.under(name) from None
    if table.practice == "practice":
        record.practice = practice  # type: ignore[attr-defined]
    about = SUBJECTS.get(str(row.get("kind", "")))
    if about is not None and _is_number(row.get("subject")):
        record.subject = numbers[about].get(row["subject"])  # type: ignore[attr-defined]
    if isinstance(record, VetRequest):
        record.key = secrets.token_urlsafe(32)
    if (
        isinstance(record, Snapshot)
        and hashlib.sha256(row["content"].encode()).hexdigest() != record.digest
    ):
        raise InputError("content", "is not what was kept: its SHA-256 is another")
    return number, record


def _value(table: Table, column: models.Field[Any, Any], value: Any, numbers: Numbers) -> Any:
    """A value of a row as its record holds it. Raises InputError."""
    if value is None:
        if not column.null:
            raise InputError("", "is missing")
        return None
    if column.is_relation or column.name in table.numbers:
        about: Any = column.related_model if column.is_relation else table.numbers[column.name]
        found = numbers[about].get(value) if _is_number(value) else None
        if found is None:
            raise InputError("", "is the number of nothing in this file")
        return found
    if column.name in table.within:
        return renumbered(_json(value), table.within[column.name], numbers)
    for kind, read in _READ:
        if isinstance(column, kind):
            read_value = read(value)
            break
    else:
        raise InputError("", "cannot be read here")
    try:
        column.run_validators(read_value)
    except ValidationError as error:
        raise InputError("", " ".join(error.messages)) from None
    if column.choices and read_value not in {c for c, _ in column.flatchoices} and read_value != "":
        raise InputError("", f"{str(value)[:40]!r} is none of what it can be")
    return read_value


def _text(value: Any) -> str:
    if not isinstance(value, str):
        raise InputError("", "is no text")
    try:
        value.encode()
    except UnicodeEncodeError:
        raise InputError("", "holds what is no letter") from None
    return value


def _yes_no(value: Any) -> bool:
    if not isinstance(value, bool):
        raise InputError("", "is neither true nor false")
    return value


def _whole(value: Any) -> int:
    if not _is_number(value):
        raise InputError("", "is no whole number")
    return int(value)


def _number(value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise InputError("", "is no number")
    try:
        number = float(value)
    except OverflowError:
        number = math.inf
    if not math.isfinite(number):
        raise InputError("", "is no number")
    return number


def _decimal(value: Any) -> Decimal:
    try:
        number = Decimal(_text(value))
    except InvalidOperation:
        raise InputError("", "is no number") from None
    if not number.is_finite():
        raise InputError("", "is no number")
    return number


def moment(value: Any) -> datetime:
    """A moment as a file holds it. Raises InputError."""
    try:
        read = parse_datetime(_text(value))
    except ValueError:
        read = None
    if read is None or read.tzinfo is None:
        raise InputError("", "is no moment: 2026-03-31T12:00:00+00:00 is one")
    return read.astimezone(UTC)


def _day(value: Any) -> date:
    try:
        day = parse_date(_text(value))
    except ValueError:
        day = None
    if day is None:
        raise InputError("", "is no day: 2026-03-31 is one")
    return day


def _json(value: Any, deep: int = 0) -> Any:
    if deep > MOST_DEEP:
        raise InputError("", "is nested too deeply")
    if isinstance(value, dict):
        return {_text(k): _json(v, deep + 1) for k, v in value.items()}
    if isinstance(value, list):
        return [_json(v, deep + 1) for v in value]
    if isinstance(value, str):
        return _text(value)
    return value if isinstance(value, bool | int) or value is None else _number(value)


def _packed(value: Any) -> bytes:
    return zlib.compress(_text(value).encode())


# How a value is read by the kind of its column; the first that fits.
_READ: tuple[tuple[type[models.Field[Any, Any]], Callable[[Any], Any]], ...] = (
    (models.DateTimeField, moment),
    (models.DateField, _day),
    (models.BooleanField, _yes_no),
    (models.IntegerField, _whole),
    (models.FloatField, _number),
    (models.DecimalField, _decimal),
    (models.JSONField, _json),
    (models.BinaryField, _packed),
    (models.CharField, _text),
    (models.TextField, _text),
)
