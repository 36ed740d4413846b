"""The typed boundary: plain data becomes frozen dataclasses, or an InputError that names the field.

Whatever comes in (the API, a case file, the database) and whatever goes out passes here, so that
the shape of a record is written once, as a dataclass.
"""

import json
from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from datetime import date
from enum import Enum, auto
from functools import lru_cache
from types import UnionType
from typing import Annotated, Any, TypeVar, Union, get_args, get_origin, get_type_hints, overload

from pydantic import (
    BeforeValidator,
    Field,
    Strict,
    StringConstraints,
    TypeAdapter,
    ValidationError,
    ValidationInfo,
)
from pydantic_core import ErrorDetails

from .days import read_day
from .errors import InputError

T = TypeVar("T")


def _number(value: object) -> object:
    if value is None or (isinstance(value, int | float) and not isinstance(value, bool)):
        return value
    raise ValueError("must be a number")


def _whole(value: object) -> object:
    if value is None or (isinstance(value, int) and not isinstance(value, bool)):
        return value
    if isinstance(value, float) and value.is_integer():
        return int(value)
    raise ValueError("must be a whole number")


def is_typed(info: ValidationInfo) -> bool:
    """Whether somebody typed what is read, rather than a program having written it."""
    return isinstance(info.context, dict) and bool(info.context.get("typed"))


def _day(value: object, info: ValidationInfo) -> object:
    if value is None or isinstance(value, date):
        return value
    if not isinstance(value, str):
        raise ValueError("must be a date, YYYY-MM-DD")
    return read_day(value) if is_typed(info) else value


# What stands in records. JSON has one kind of number, so 108.0 is a whole number too.
Number = Annotated[float, BeforeValidator(_number), Field(allow_inf_nan=False)]
# No number beyond what JSON carries exactly: the database holds no more either.
Whole = Annotated[int, BeforeValidator(_whole), Field(ge=-(2**53), le=2**53)]
# How many of something.
Count = Annotated[int, BeforeValidator(_whole), Field(ge=0, le=100_000)]
YesNo = Annotated[bool, Strict()]
# In a file 2026-12-03; in a box as people write days.
Day = Annotated[date, BeforeValidator(_day)]


def _none_is_blank(value: object) -> object:
    return "" if value is None else value


# Text that may be left out as null.
OrBlank = BeforeValidator(_none_is_blank)


def at_most(length: int) -> StringConstraints:
    """Text of at most so many characters, without blanks around it."""
    return StringConstraints(strip_whitespace=True, max_length=length)


def not_empty(length: int) -> StringConstraints:
    """Text of 1 to so many characters, without blanks around it."""
    return StringConstraints(strip_whitespace=True, min_length=1, max_length=length)


# Text of at most so many characters; a name is not empty.
Name160 = Annotated[str, not_empty(160)]
Name20 = Annotated[str, not_empty(20)]
Name40 = Annotated[str, not_empty(40)]
Name80 = Annotated[str, not_empty(80)]
Name120 = Annotated[str, not_empty(120)]
Text20 = Annotated[str, OrBlank, at_most(20)]
Text40 = Annotated[str, OrBlank, at_most(40)]
Text60 = Annotated[str, OrBlank, at_most(60)]
Text80 = Annotated[str, OrBlank, at_most(80)]
Text120 = Annotated[str, OrBlank, at_most(120)]
Text160 = Annotated[str, OrBlank, at_most(160)]
Text200 = Annotated[str, OrBlank, at_most(200)]
# An e-mail address, or "" for none; whether it is one is looked at where it is used.
Email = Annotated[str, OrBlank, at_most(254)]
Text300 = Annotated[str, OrBlank, at_most(300)]
Text400 = Annotated[str, OrBlank, at_most(400)]
Text1000 = Annotated[str, OrBlank, at_most(1000)]
Text20000 = Annotated[str, OrBlank, at_most(20_000)]


@lru_cache(maxsize=256)
def adapter(kind: Any) -> TypeAdapter[Any]:
    """The validator and printer of a type, made once."""
    return TypeAdapter(kind)


@overload
def read(kind: type[T], data: object, at: str = "", typed: bool = False) -> T: ...


@overload
def read(kind: Any, data: object, at: str = "", typed: bool = False) -> Any: ...


def read(kind: Any, data: object, at: str = "", typed: bool = False) -> Any:
    """Plain JSON data as a dataclass. Raises InputError naming the first field that is wrong.

    `at` is the path the data stands at. `typed`: the data was typed by a person, so fields that
    read what people write ("9 lb") may do so.
    """
    try:
        return adapter(kind).validate_python(data, context={"typed": typed})
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise InputError(path_of(first["loc"], at), words_of(first)) from None


def read_exact(kind: type[T], data: object, typed: bool = False) -> T:
    """The same, and a field that is not known is refused, not passed over."""
    for path in unknown_fields(kind, data):
        raise InputError(path, "is not a field that is known here")
    return read(kind, data, typed=typed)


def dump(value: object, kind: Any = None) -> Any:
    """A dataclass as plain JSON data."""
    shape: Any = kind or type(value)
    return adapter(shape).dump_python(value, mode="json", by_alias=True)


def path_of(parts: tuple[int | str, ...], at: str = "") -> str:
    """("recipe", "lines", 2, "grams") as recipe.lines[2].grams."""
    path = at
    for part in parts:
        if isinstance(part, int):
            path += f"[{part}]"
        else:
            path += f".{part}" if path else part
    return path


_WORDS = {
    "missing": "is missing",
    "float_type": "must be a number",
    "float_parsing": "must be a number",
    "finite_number": "must be a number",
    "int_type": "must be a whole number",
    "int_parsing": "must be a whole number",
    "int_from_float": "must be a whole number",
    "bool_type": "must be true or false",
    "bool_parsing": "must be true or false",
    "string_type": "must be text",
    "string_unicode": "holds a character that is not text",
    "list_type": "must be a list",
    "tuple_type": "must be a list",
    "dict_type": "must be an object",
    "dataclass_type": "must be a JSON object",
    "date_type": "must be a date, YYYY-MM-DD",
    "date_parsing": "must be a date, YYYY-MM-DD",
    "date_from_datetime_parsing": "must be a date, YYYY-MM-DD",
    "none_required": "must be null",
    "too_long": "has too many entries",
}


def words_of(error: ErrorDetails) -> str:
    """What is wrong, in words a person can act on."""
    kind, context = error["type"], error.get("ctx", {})
    if kind in {"enum", "literal_error"}:
        wanted = str(context["expected"]).replace("'", "").replace(" or ", ", ")
        return f"must be one of: {wanted}" if "," in wanted else f'must be "{wanted}"'
    if kind == "value_error":
        cause = context.get("error")
        return cause.message if isinstance(cause, InputError) else str(cause)
    if kind in {"greater_than_equal", "greater_than", "less_than_equal", "less_than"}:
        side = {"greater_than_equal": "at least", "greater_than": "above",
                "less_than_equal": "at most", "less_than": "below"}[kind]  # fmt: skip
        return f"must be {side} {next(iter(context.values())):g}"
    if kind == "string_too_long":
        return f"must be at most {context['max_length']} characters"
    if kind == "string_too_short":
        return "is missing"
    if kind == "string_pattern_mismatch":
        return "holds characters it cannot have"
    return _WORDS.get(kind, error["msg"])


@lru_cache(maxsize=256)
def _fields_of(kind: type) -> Mapping[str, Any]:
    """Types of a dataclass's fields by name; asked for every line of every keystroke."""
    hints = get_type_hints(kind)
    return {f.name: hints[f.name] for f in fields(kind)}


class _Holds(Enum):
    """What of a type may have fields inside."""

    RECORD = auto()
    MAP = auto()
    LIST = auto()
    NOTHING = auto()


@lru_cache(maxsize=1024)
def _shape_of(kind: Any) -> tuple[_Holds, Any]:
    """How a type is walked through, and what it holds; asked for every field of every keystroke."""
    if is_dataclass(kind) and isinstance(kind, type):
        return _Holds.RECORD, _fields_of(kind)
    origin, inner = get_origin(kind), get_args(kind)
    if origin in {Union, UnionType}:
        said = [k for k in inner if k is not type(None)]
        return _shape_of(said[0]) if len(said) == 1 else (_Holds.NOTHING, None)
    if origin is Annotated:
        return _shape_of(inner[0])
    if origin is dict:
        return _Holds.MAP, inner[1]
    if origin is tuple:
        return _Holds.LIST, inner[0]
    return _Holds.NOTHING, None


def unknown_fields(kind: Any, data: object, at: str = "") -> list[str]:
    """Paths in plain data that a type does not know, so that nothing is passed over in silence."""
    holds, inner = _shape_of(kind)
    found: list[str] = []
    if holds is _Holds.RECORD and isinstance(data, Mapping):
        for key, value in data.items():
            if key not in inner:
                found.append(path_of((str(key),), at))
            elif _shape_of(inner[key])[0] is not _Holds.NOTHING:
                found += unknown_fields(inner[key], value, path_of((str(key),), at))
    elif holds is _Holds.MAP and isinstance(data, Mapping):
        for key, value in data.items():
            found += unknown_fields(inner, value, path_of((str(key),), at))
    elif holds is _Holds.LIST and isinstance(data, list | tuple):
        for i, value in enumerate(data):
            found += unknown_fields(inner, value, path_of((i,), at))
    return found


_BOUNDS = {"ge": "minimum", "gt": "exclusiveMinimum", "le": "maximum", "lt": "exclusiveMaximum"}


def tidy(schema: Any, asked: bool) -> Any:
    """A JSON schema without titles that only repeat names, bounds under their standard words.

    An answer holds every field; a request may leave out what has a default.
    """
    if isinstance(schema, list):
        return [tidy(item, asked) for item in schema]
    if not isinstance(schema, dict):
        return schema
    found = {
        _BOUNDS.get(key, key): tidy(value, asked)
        for key, value in schema.items()
        if not (key == "title" and isinstance(value, str)) and (asked or key != "default")
    }
    properties = found.get("properties")
    if not asked and isinstance(properties, dict):
        found["required"] = list(properties)
    return found


def schema_of(kind: Any, name: str, title: str) -> dict[str, Any]:
    """The JSON schema of what a type prints, to be published."""
    schema: dict[str, Any] = tidy(adapter(kind).json_schema(mode="serialization"), asked=False)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema", "$id": name, "title": title,
        **schema,
    }  # fmt: skip


def parse_json(text: str) -> dict[str, Any]:
    """JSON text to an object; InputError says where it breaks."""
    try:
        data = json.loads(text, parse_constant=_no_constant)
    except json.JSONDecodeError as error:
        raise InputError(
            "", f"not valid JSON: {error.msg} at line {error.lineno}, column {error.colno}"
        ) from None
    except RecursionError:
        raise InputError("", "not usable JSON: it is nested too deeply") from None
    except ValueError as error:
        raise InputError("", str(error)) from None
    if not isinstance(data, dict):
        raise InputError("", "must be a JSON object")
    return data


def _no_constant(name: str) -> float:
    raise ValueError(f"not valid JSON: {name} is not a number")
