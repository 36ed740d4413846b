"""Part a weight over vessels so that the parts add up to it, in steps of a scale."""

import math
from collections.abc import Sequence

from ..errors import InputError

# Steps that a weight misses by less are noise of the arithmetic.
_NOISE = 1e-9


def steps_of(grams: float, step_g: float) -> int:
    """A weight in whole steps of a scale, half a step up. Raises InputError for a step that is none."""
    if not step_g > 0:
        raise InputError("scale", "must show steps above 0 g")
    return math.floor(grams / step_g + 0.5 + _NOISE)


def apportion(steps: int, shares: Sequence[float]) -> tuple[int, ...]:
    """Whole steps by shares, by the largest remainder: they add up to `steps`, and each is within one step of its exact
    part. Equal remainders go to the first. Raises InputError for shares that are negative or add up to nothing.

    Source: Hamilton's method of apportionment (largest remainder).
    """
    whole = sum(shares)
    if not shares or min(shares) < 0 or not whole > 0:
        raise InputError("vessels", "must have shares of 0 or more that add up to something")
    exact = [steps * share / whole for share in shares]
    parts = [math.floor(x + _NOISE) for x in exact]
    left = steps - sum(parts)
    order = sorted(range(len(parts)), key=lambda i: (parts[i] - exact[i], i))
    for i in order[:left]:
        parts[i] += 1
    return tuple(parts)


def split(grams: float, step_g: float, shares: Sequence[float]) -> tuple[float, ...]:
    """A weight parted over vessels, g, in steps of the scale. The parts add up to the weight in whole steps."""
    return tuple(in_grams(n, step_g) for n in apportion(steps_of(grams, step_g), shares))


def in_grams(steps: int, step_g: float) -> float:
    """Steps of a scale as it shows them, g: 0.3, never 0.30000000000000004."""
    return round(steps * step_g, 6)
