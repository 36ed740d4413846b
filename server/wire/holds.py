"""What a column may hold, said to the database: whoever writes past the application is refused as well."""

from enum import Enum

from django.db import migrations
from django.db.models import CharField, CheckConstraint, F, Func, Q, Value
from django.db.models.lookups import Exact

# Rows of an older database that hold something else are put into the trail as they are before the table is made strict.
SET_ASIDE = "record.set-aside"
MOST_HELD = 20_000


def _named(table: str, field: str) -> str:
    return f"{table}_{field}_can_be"


def shaped(table: str, field: str, shape: type, null: bool = False) -> CheckConstraint:
    """A JSON column is an object (dict) or an array (list)."""
    told = Func(F(field), function="JSON_TYPE", output_field=CharField())
    right = Q(Exact(told, Value("object" if shape is dict else "array")))
    return CheckConstraint(
        condition=Q(**{f"{field}__isnull": True}) | right if null else right,
        name=_named(table, field),
    )


def one_of(table: str, field: str, kinds: type[Enum], blank: bool = False) -> CheckConstraint:
    """A column is one of these words."""
    words = [str(k.value) for k in kinds] + ([""] if blank else [])
    return CheckConstraint(condition=Q(**{f"{field}__in": words}), name=_named(table, field))


def between(
    table: str, field: str, least: float, most: float, null: bool = False, open_below: bool = True
) -> CheckConstraint:
    """A number is above `least` (or at least so much) and at most `most`; never beyond any figure."""
    right = Q(**{f"{field}__{'gt' if open_below else 'gte'}": least, f"{field}__lte": most})
    return CheckConstraint(
        condition=Q(**{f"{field}__isnull": True}) | right if null else right,
        name=_named(table, field),
    )


def set_aside(
    table: str, field: str, good: str, instead: str, owner: str = "practice_id"
) -> migrations.RunSQL:
    """Put what a column must not hold into the trail of its practice, and something it may hold in its place. good: SQL that
    is true of a row that stays; instead: SQL of what takes its place; owner: SQL of its practice."""
    bad = f"NOT COALESCE({good}, 0)"
    return migrations.RunSQL(
        [
            "INSERT INTO events_event (practice_id, at, by, kind, subject, data) "  # noqa: S608
            f"SELECT {owner}, CURRENT_TIMESTAMP, 'Wainscot', '{SET_ASIDE}', id, "
            f"json_object('table', '{table}', 'field', '{field}', "
            f"'held', substr(CAST(\"{field}\" AS TEXT), 1, {MOST_HELD})) FROM {table} WHERE {bad}",
            f'UPDATE {table} SET "{field}" = {instead} WHERE {bad}',  # noqa: S608
        ],
        migrations.RunSQL.noop,
    )


def kept_as(field: str, shape: type) -> str:
    """SQL: what a JSON column held, as text inside of the shape it must have: nothing is lost, and nothing reads it as what it
    is not."""
    text = f'substr(CAST("{field}" AS TEXT), 1, {MOST_HELD})'
    return f"json_object('unreadable', {text})" if shape is dict else f"json_array({text})"


def is_shaped(field: str, shape: type) -> str:
    """SQL: a column holds JSON of this shape."""
    word = "object" if shape is dict else "array"
    return f'CASE WHEN json_valid("{field}") THEN json_type("{field}") = \'{word}\' ELSE 0 END'


def reshaped(table: str, field: str, shape: type, **more: str) -> migrations.RunSQL:
    """Before `shaped`: what has another shape is put into it."""
    return set_aside(table, field, is_shaped(field, shape), kept_as(field, shape), **more)


def bounded(
    table: str, field: str, least: float, most: float, instead: str = "NULL", **more: str
) -> migrations.RunSQL:
    """Before `between`: what is beyond is put aside."""
    return set_aside(table, field, is_between(field, least, most), instead, **more)


def is_between(field: str, least: float, most: float) -> str:
    """SQL: a number is above `least` and at most `most`, or not there."""
    return f'"{field}" IS NULL OR ("{field}" > {least} AND "{field}" <= {most})'
