"""The supplements a practice stocks, by their labels."""

from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field, StringConstraints

from ..boundary import Name40, Name160, Number, Text20, Text200, YesNo
from .foods import SupplementKind


@dataclass(frozen=True, kw_only=True)
class ShelfItem:
    """A supplement a practice stocks, by its label: values per 100 g by tag, in catalogue units or
    with their unit. rest_is_zero: the label names all it holds; what it does not name is unknown
    otherwise. unit, unit_g: the piece it comes in and its weight. most_g_per_mcal: the most the
    label allows per 1000 kcal."""

    id: Annotated[str, StringConstraints(pattern=r"^shelf:[a-z0-9][a-z0-9-]{0,59}$")]
    name: Name160
    kind: SupplementKind = SupplementKind.SINGLE
    per_100_g: dict[str, Any]
    rest_is_zero: YesNo = False
    unit: Text20 = ""
    unit_g: Annotated[Number, Field(gt=0)] | None = None
    step: Annotated[Number, Field(gt=0)] = 1.0
    tsp_g: Annotated[Number, Field(gt=0)] | None = None
    most_g_per_mcal: Annotated[Number, Field(gt=0)] | None = None
    heat: Text200 = ""
    add: Text200 = ""
    allergens: tuple[Name40, ...] = ()
    source: Text200 = ""
