"""A record changed field by field: what was set, from what, and where two people collide."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from .boundary import Text160
from .errors import InputError

Data = Mapping[str, Any]


@dataclass(frozen=True, kw_only=True)
class FieldChange:
    """One field of a record set to a value. `was`: what it stood at when it was changed.

    path: dotted. A row of a table is set as a whole where it comes or goes (None takes it away).
    """

    path: Text160
    value: Any = None
    was: Any = None


@dataclass(frozen=True)
class Collision:
    """A field that someone else changed meanwhile: what is stored, and what was to be written."""

    path: str
    stored: Any
    yours: Any


@dataclass(frozen=True)
class Table:
    """Rows of a record that come and go. rows: the field they stand in, by key; order: the field
    that lists the keys in order, "" where the order says nothing."""

    rows: str
    order: str = ""


def value_at(data: Data, path: str, tables: Sequence[Table] = ()) -> Any:
    """The value at a dotted path; None for a row that is not there.

    Raises InputError for a path that is not a field.
    """
    at: Any = data
    for i, part in enumerate(parts := path.split(".")):
        if isinstance(at, Mapping) and part in at:
            at = at[part]
        elif any(table.rows == ".".join(parts[:i]) for table in tables):
            return None
        else:
            raise InputError(path, "is not a field of the record")
    return at


def with_value(data: Data, path: str, value: Any, tables: Sequence[Table] = ()) -> dict[str, Any]:
    """The data with another value at a dotted path; lists are set as a whole.

    Raises InputError for a path that is not a field, or lies in a row that is not there.
    """
    return _with(data, path.split("."), value, frozenset(table.rows for table in tables), ())


def _with(
    data: Data, parts: Sequence[str], value: Any, rows: frozenset[str], at: tuple[str, ...]
) -> dict[str, Any]:
    first, rest = parts[0], parts[1:]
    path = ".".join((*at, *parts))
    row = ".".join(at) in rows
    if row and not rest:
        return {
            **{key: kept for key, kept in data.items() if key != first or value is not None},
            **({} if value is None else {first: value}),
        }
    if first not in data:
        raise InputError(path, "was taken away" if row else "is not a field of the record")
    if not rest:
        return {**data, first: value}
    if not isinstance(data[first], Mapping):
        raise InputError(path, "is not a field of the record")
    return {**data, first: _with(data[first], rest, value, rows, (*at, first))}


def _among(order: Any, others: Any) -> list[Any]:
    """The keys of an order that another one has too."""
    known = set(others or ())
    return [key for key in (order or ()) if key in known]


def _same_order(stored: Sequence[Any], order: Any) -> bool:
    """Whether two orders agree on the keys they share: rows that came or went move nothing."""
    return _among(stored, order) == _among(order, stored)


def _in_order(data: dict[str, Any], table: Table) -> dict[str, Any]:
    rows = value_at(data, table.rows)
    wanted = [key for key in value_at(data, table.order) if key in rows]
    known = list(dict.fromkeys(wanted))
    return with_value(data, table.order, [*known, *(key for key in rows if key not in set(known))])


def changed(
    data: Data,
    changes: Sequence[FieldChange],
    tables: Sequence[Table] = (),
    settle: Callable[[Data], Data] = lambda data: data,
) -> tuple[dict[str, Any], list[Collision]]:
    """Apply field changes to a stored record's data.

    A field that stands neither at what the change began from nor at what it would set was changed
    by someone else: nothing is applied there, and the collision is told. So a change that is sent
    again, because its answer was lost, changes nothing. settle: the data as it would be stored, for
    what is stored otherwise than it is written ("9 lb").

    Rows that come stand at the end, and rows that go leave the order of the others. Raises
    InputError for a path that is not a field, or lies in a row that is not there.
    """
    result: dict[str, Any] = dict(data)
    collisions = []
    orders = {table.order for table in tables if table.order}
    for change in changes:
        stored = value_at(result, change.path, tables)
        if change.path in orders:
            free = any(_same_order(stored, order) for order in (change.was, change.value))
        else:
            free = stored in (change.was, change.value) or _agrees(result, change, tables, settle)
        if free:
            result = with_value(result, change.path, change.value, tables)
        else:
            collisions.append(Collision(change.path, stored, change.value))
    for table in tables:
        if table.order:
            result = _in_order(result, table)
    return result, collisions


def _agrees(
    data: Data, change: FieldChange, tables: Sequence[Table], settle: Callable[[Data], Data]
) -> bool:
    """Whether what is to be set, once it is read, is what is stored."""
    try:
        read = settle(with_value(data, change.path, change.value, tables))
        return bool(value_at(read, change.path, tables) == value_at(data, change.path, tables))
    except InputError:
        return False
