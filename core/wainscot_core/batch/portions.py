"""From the finished weight to portions, and where they are kept."""

import math
from dataclasses import dataclass

from ..errors import InputError
from ..facts.batches import BatchRules, Density, FreezeShape
from ..figures import rounded
from .split import in_grams, steps_of

# Figures are kept to nine digits.
_NOISE = 1e-6


@dataclass(frozen=True, kw_only=True)
class Portions:
    """A weight in boxes: all but the last hold each_g, the last takes the rest, last_g. part: the last is only a part of a
    meal; spread: a little that was left over was given to all of them."""

    boxes: int
    each_g: float
    last_g: float
    part: bool
    spread: bool

    @property
    def total_g(self) -> float:
        """What they hold together."""
        return (self.boxes - 1) * self.each_g + self.last_g


def portions(rules: BatchRules, total_g: float, meal_g: float, step_g: float) -> Portions:
    """Part a finished weight into meals of meal_g, in steps of the scale: together they are total_g, to the step. What is
    left under rules.residue of a meal is spread over the others; more of it is a part of a meal. Raises InputError for a
    meal that is none."""
    if not meal_g > 0 or not total_g > 0:
        raise InputError("finished_g", "must be above 0 g, as a meal of it must")
    steps, count = steps_of(total_g, step_g), math.floor(total_g / meal_g + _NOISE)
    left = total_g - count * meal_g
    whole = count > 0 and left <= rules.residue * meal_g
    boxes = count if whole else count + 1
    each = steps_of(total_g / count if whole else meal_g, step_g)
    if each * (boxes - 1) > steps:
        each = steps // boxes
    return Portions(
        boxes=boxes, each_g=in_grams(each, step_g), last_g=in_grams(steps - each * (boxes - 1), step_g),
        part=not whole, spread=whole and left > step_g,
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class Storage:
    """Where a batch is kept. fridge_days: as long as it keeps there; fridge_g, frozen_g: how much of it where;
    fridge_litres, freezer_litres: room that it needs; fridge_free, freezer_free: what is free, None
    where nobody said. short: it does not fit into what is free, in words, "" where it
    does or nobody said how much there is."""

    fridge_days: float
    fridge_g: float
    frozen_g: float
    fridge_litres: float
    freezer_litres: float
    fridge_free: float | None
    freezer_free: float | None
    short: str
    freeze_words: str


def storage(
    rules: BatchRules,
    total_g: float,
    days: float,
    shape: FreezeShape,
    fridge_litres: float | None,
    freezer_litres: float | None,
) -> Storage:
    """How much of a batch of so many days goes into the fridge and how much is frozen."""
    keep = rules.keep
    cold = min(days, float(keep.fridge_days))
    fridge_g = total_g * cold / days
    frozen_g = total_g - fridge_g
    # What keeps in the fridge needs no freezing, so that it swells there is left out.
    need_fridge = fridge_g / 1000 / keep.fridge_share
    need_freezer = frozen_g / 1000 / keep.kg_per_litre / shape.share
    short = []
    for what, need, free in (("fridge", need_fridge, fridge_litres), ("freezer", need_freezer, freezer_litres)):  # fmt: skip
        if free is not None and need > free + _NOISE:
            short.append(f"the {what} needs {need:.1f} l and has {free:g} l free")
    return Storage(
        fridge_days=rounded(cold), fridge_g=rounded(fridge_g), frozen_g=rounded(frozen_g),
        fridge_litres=rounded(need_fridge), freezer_litres=rounded(need_freezer),
        fridge_free=fridge_litres, freezer_free=freezer_litres, short="; ".join(short), freeze_words=keep.freeze_words if frozen_g > 0 else "",
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class Volume:
    """About what a weight fills, ml: low, usual, high, by a density that is told by its kind alone."""

    low: float
    ml: float
    high: float
    by: str


def volume(density: Density, grams: float) -> Volume:
    """What so many g of a kind of food fill."""
    return Volume(
        low=rounded(grams / density.high), ml=rounded(grams / density.g_per_ml),
        high=rounded(grams / density.low), by=density.name,
    )  # fmt: skip
