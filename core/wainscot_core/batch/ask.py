"""What is asked of a batch: how much, in which vessels, weighed on what, kept where."""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from ..boundary import Name40, Number, Text40, Text60, Whole, YesNo


class ScaleBy(StrEnum):
    """What sets how much is made. vessels: as much as they hold; on hand: all of a line that is there."""

    DAYS = "days"
    PORTIONS = "portions"
    VESSELS = "vessels"
    ON_HAND = "on-hand"


@dataclass(frozen=True, kw_only=True)
class VesselIn:
    """A vessel by its id. share: percent of the batch that goes into it, None by what it holds."""

    vessel: Name40
    share: Number | None = None
    name: Text60 = ""


@dataclass(frozen=True, kw_only=True)
class PackIn:
    """A line that comes in packs or pieces of so many grams. whole: only whole ones of it are used, which moves its share
    of the recipe; otherwise the whole batch is made so much larger or smaller."""

    line: Whole
    grams: Number
    whole: YesNo = False


@dataclass(frozen=True, kw_only=True)
class EaterIn:
    """Another dog of the household that eats from the pot, by its case. kcal_per_day: what it gets of the pot, None for
    what its energy leaves beside all else; recipe: whose supplements and toppers it gets at serving, None for none."""

    case: Whole
    kcal_per_day: Number | None = None
    recipe: Whole | None = None


@dataclass(frozen=True, kw_only=True)
class BatchAsk:
    """A batch as it is asked for. amount: days, meals or grams on hand; line: which is on hand. water_g: water that stays
    in the food, beside what dry food takes up. coarse_g, fine_g: steps of the scales at hand, fine_g None without a fine
    one. fridge_litres, freezer_litres: what is free, None where nobody said."""

    by: ScaleBy = ScaleBy.DAYS
    amount: Number = 7.0
    line: Whole | None = None
    vessels: Annotated[tuple[VesselIn, ...], Field(max_length=12)] = ()
    packs: Annotated[tuple[PackIn, ...], Field(max_length=60)] = ()
    eaters: Annotated[tuple[EaterIn, ...], Field(max_length=12)] = field(default=())
    water_g: Number = 0.0
    cover: Name40 = "lid"
    minutes: Number = 30.0
    coarse_g: Number = 1.0
    fine_g: Number | None = None
    fridge_litres: Number | None = None
    freezer_litres: Number | None = None
    shape: Name40 = "flat"
    density: Text40 = ""
