"""A case as its record: read from the rows, checked as one, written back as one."""

from collections.abc import Mapping
from dataclasses import fields
from typing import Any

from django.utils import timezone
from library.facts import reference
from wainscot_core.boundary import dump, read
from wainscot_core.dog.record import CaseRecord, DogRecord, RedFlags, check_record, read_record
from wainscot_core.errors import InputError

from .models import Case

_DOG = tuple(f.name for f in fields(DogRecord))
_CASE = tuple(f.name for f in fields(CaseRecord) if f.name != "dog")


def stored_data(case: Case) -> dict[str, Any]:
    """What the rows hold, as plain data; nothing is checked."""
    dog = {name: getattr(case.dog, name) for name in _DOG}
    dog["age_months"] = case.dog.age
    return {"dog": dog, **{name: getattr(case, name) for name in _CASE}}


def record_of(case: Case) -> CaseRecord:
    """The case's record. Raises InputError for rows that hold what cannot be."""
    try:
        return read_record(stored_data(case))
    except InputError as error:
        raise InputError(
            error.field,
            f"this case holds something that cannot be read: {error.field} {error.message}",
        ) from None


def plain_data(case: Case) -> dict[str, Any]:
    """A case's record as plain data, every field filled in; the rows as they are when they hold
    something that cannot be read, so that it can be mended."""
    try:
        data: dict[str, Any] = dump(record_of(case))
    except InputError:
        return stored_data(case)
    return data


def as_stored(data: Mapping[str, Any]) -> dict[str, Any]:
    """A record's plain data as it would be stored, what people wrote read. Raises InputError."""
    found: dict[str, Any] = dump(read_record(dict(data), typed=True))
    return found


def flags_of(data: dict[str, Any]) -> RedFlags:
    """The red flags in a record's plain data; none when they cannot be read."""
    try:
        return read(RedFlags, (data.get("intake") or {}).get("red_flags") or {})
    except (InputError, AttributeError):
        return RedFlags()


def checked(data: dict[str, Any], typed: bool = False) -> CaseRecord:
    """A record from plain data, checked as a whole. Raises InputError naming the field."""
    record = read_record(data, typed=typed)
    check_record(record, reference().energy, reference().conditions, timezone.localdate())
    return record


def fill(case: Case, record: CaseRecord) -> None:
    """Set a case and its dog to a record; saving is the caller's."""
    data = dump(record)
    for name in _DOG:
        setattr(case.dog, name, data["dog"][name])
    case.dog.birth_date = record.dog.birth_date
    for name in _CASE:
        setattr(case, name, data[name])
