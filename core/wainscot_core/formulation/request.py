"""Settings of a formulation as the case file and the server take them."""

from collections.abc import Mapping
from typing import Any

from ..boundary import Number, read
from ..errors import InputError
from .candidates import LineRule
from .problem import MacroTarget
from .proposal import Settings

ROLES = ("", "free", "fixed", "excluded")


def read_settings(data: Mapping[str, Any]) -> Settings:
    """The "formulate" section of a case file. Raises InputError naming the field."""
    known = {
        "mode", "goals", "max_supplements", "margin_percent", "school", "allowed", "lines", "macros",
        "time_limit_s",
    }  # fmt: skip
    for key in data:
        if key not in known:
            raise InputError(key, f"is not a setting; use: {', '.join(sorted(known))}")
    rules: dict[int, LineRule] = {}
    for i, entry in enumerate(_list(data.get("lines", []), "lines")):
        item = _object(entry, f"lines[{i}]")
        position = item.get("line", i)
        if isinstance(position, bool) or not isinstance(position, int) or position < 0:
            raise InputError(f"lines[{i}].line", "must be the position of a line, from 0")
        rules[position] = _line_rule(item, f"lines[{i}]")
    macros = None
    if data.get("macros") is not None:
        shares = _object(data["macros"], "macros")
        macros = MacroTarget(
            *(_number(shares.get(k), f"macros.{k}") for k in ("protein", "fat", "carbohydrate"))
        )
    allowed = data.get("allowed")
    count = data.get("max_supplements")
    return Settings(
        str(data.get("mode", "rebalance")),
        tuple(str(g) for g in _list(data.get("goals", []), "goals")),
        None if count is None else _whole(count, "max_supplements"),
        _optional(data, "margin_percent"),
        str(data.get("school", "none")),
        None if allowed is None else tuple(str(x) for x in _list(allowed, "allowed")),
        rules,
        macros,
        None,
        _optional(data, "time_limit_s"),
    )


def _list(value: object, at: str) -> list[Any]:
    if not isinstance(value, list):
        raise InputError(at, "must be a list")
    return value


def _object(value: object, at: str) -> dict[str, Any]:
    if not isinstance(value, dict):
        raise InputError(at, "must be a JSON object")
    return value


def _number(value: object, at: str) -> float:
    if value is None:
        raise InputError(at, "must be a number")
    return float(read(Number, value, at))


def _whole(value: object, at: str) -> int:
    number = _number(value, at)
    if not number.is_integer():
        raise InputError(at, "must be a whole number")
    return int(number)


def _optional(data: Mapping[str, Any], key: str) -> float | None:
    return None if data.get(key) is None else _number(data[key], key)


def _line_rule(item: Mapping[str, Any], field: str) -> LineRule:
    role = str(item.get("role", ""))
    if role not in ROLES:
        raise InputError(f"{field}.role", "must be free, fixed or excluded")
    bounds = []
    for key in ("low_grams", "high_grams"):
        value = None if item.get(key) is None else _number(item[key], f"{field}.{key}")
        if value is not None and not 0 <= value <= 100_000:
            raise InputError(f"{field}.{key}", "must be from 0 to 100 000 g")
        bounds.append(value)
    to = item.get("tie_to")
    if to is not None and (isinstance(to, bool) or not isinstance(to, int)):
        raise InputError(f"{field}.tie_to", "must be the position of another line")
    ratio = (
        1.0 if item.get("tie_ratio") is None else _number(item["tie_ratio"], f"{field}.tie_ratio")
    )
    return LineRule(role, bounds[0], bounds[1], to, ratio)
