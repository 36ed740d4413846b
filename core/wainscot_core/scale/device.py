"""The interface of a scale. A real one is one more class beside the simulated: what reads its wire and answers these
calls."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol


class ScaleUnit(StrEnum):
    """What a scale shows weights in."""

    G = "g"
    OZ = "oz"


OUNCE_G = 28.349523125


@dataclass(frozen=True, kw_only=True)
class Capabilities:
    """What a scale can do. step_g: of its display; least_g: the smallest load that it weighs sensibly; per_s: readings a
    second."""

    name: str
    capacity_g: float
    step_g: float
    least_g: float
    per_s: float


@dataclass(frozen=True, kw_only=True)
class ScaleEvent:
    """A reading. sequence: counts up by one; at: seconds on the device's clock; gross, tare, net: in `unit`, as it shows
    them, None while it shows none (overload, no connection); stable: it rests; battery: share that is left."""

    sequence: int
    at: float
    gross: float | None
    tare: float
    net: float | None
    unit: ScaleUnit
    stable: bool
    overload: bool
    connected: bool
    battery: float


class Scale(Protocol):
    """What every scale answers."""

    @property
    def capabilities(self) -> Capabilities:
        """What it can do."""

    def open(self, now: float) -> None:
        """Begin to read. Raises OSError where there is no scale."""

    def close(self) -> None:
        """Stop reading."""

    def readings(self, now: float) -> Sequence[ScaleEvent]:
        """What came since the last call, in the order in which it came."""

    def tare(self, now: float) -> None:
        """What stands on it is not counted from now on."""

    def zero(self, now: float) -> None:
        """What stands on it is nothing."""

    def unit(self, to: ScaleUnit) -> None:
        """Show weights in another unit."""
