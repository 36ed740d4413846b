"""The supplements a practice stocks, by their labels."""

from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field, StringConstraints

from ..boundary import Name20, Name40, Name160, Number, Text20, Text200, YesNo, read
from ..errors import InputError
from ..units import convert
from .foods import SupplementKind


@dataclass(frozen=True, kw_only=True)
class ShelfItem:
    """A supplement a practice stocks, by its label: values per 100 g by tag, in catalogue units or
    with their unit. rest_is_zero: the label names all it holds; what it does not name is unknown
    otherwise. unknown: what is not known though the label names all else. unit, unit_g: the piece it comes in and
    its weight; unit_g_typical: not on the label, it only carries the figures of a piece. most_g_per_mcal,
    most_g_per_kg_day: the most the label allows per 1000 kcal, or a day per kg of the dog."""

    id: Annotated[str, StringConstraints(pattern=r"^shelf:[a-z0-9][a-z0-9-]{0,59}$")]
    name: Name160
    kind: SupplementKind = SupplementKind.SINGLE
    per_100_g: dict[str, Any]
    rest_is_zero: YesNo = False
    unknown: tuple[Name20, ...] = ()
    unit: Text20 = ""
    unit_g: Annotated[Number, Field(gt=0)] | None = None
    unit_g_typical: YesNo = False
    step: Annotated[Number, Field(gt=0)] = 1.0
    tsp_g: Annotated[Number, Field(gt=0)] | None = None
    most_g_per_mcal: Annotated[Number, Field(gt=0)] | None = None
    most_g_per_kg_day: Annotated[Number, Field(gt=0)] | None = None
    heat: Text200 = ""
    add: Text200 = ""
    allergens: tuple[Name40, ...] = ()
    source: Text200 = ""


def amount_in(catalogue_unit: str, key: str, raw: object, at: str) -> float:
    """A value that is a number in the catalogue's unit, or {"value", "unit"}."""
    value: object = raw
    unit = catalogue_unit
    if isinstance(raw, dict):
        value, unit = raw.get("value"), str(raw.get("unit"))
    number = read(Number, value, at)
    try:
        found = convert(key, number, unit, catalogue_unit)
    except ValueError as error:
        raise InputError(at, str(error)) from None
    if found < 0:
        raise InputError(at, "cannot be below 0")
    return found
