"""What is believed of a scale: a weight is taken from a reading that is new, in its turn, at rest, in grams."""

from dataclasses import dataclass
from enum import StrEnum

from .device import OUNCE_G, Capabilities, ScaleEvent, ScaleUnit

# A clock may be ahead by so many seconds.
_AHEAD_S = 2.0
# Older ones are not the weight of now.
_OLD_S = 3.0
# So many readings alike to the last digit are no scale that lives: it trembles.
_STUCK_S = 10.0


class Doubt(StrEnum):
    """Why a weight is not taken."""

    GONE = "the scale is not connected"
    OVERLOAD = "there is more on it than it can weigh"
    UNSTABLE = "it has not come to rest"
    OLD = "its last reading is old"
    FUTURE = "its clock is ahead of ours"
    STUCK = "it shows the same for long: lift the bowl and put it back"
    TARE_LOST = "it counts the bowl again: it was off; set it to zero with the bowl on it"
    NEGATIVE = "it shows less than nothing: put the bowl back, or set it to zero"
    BATTERY = "its battery is low: its readings jump"


LOW_BATTERY = 0.1


@dataclass(frozen=True, kw_only=True)
class Shown:
    """What a scale shows, in grams whatever its unit. net_g: None while it shows nothing; doubt: why it is not taken, None
    for a weight that can be; in_ounces: it shows ounces, and was converted."""

    sequence: int
    at: float
    gross_g: float | None
    tare_g: float
    net_g: float | None
    stable: bool
    doubt: Doubt | None
    in_ounces: bool


class Believed:
    """Follows one scale. Readings that come twice, late or in the wrong order are passed over."""

    def __init__(self, capabilities: Capabilities) -> None:
        self._can = capabilities
        self._last: ScaleEvent | None = None
        self._same_since: float | None = None
        self._tare_lost = False

    def take(self, event: ScaleEvent, now: float) -> Shown | None:
        """What it shows with this reading; None for one that does not count."""
        last = self._last
        if last is not None and event.sequence <= last.sequence:
            return None
        self._follow(event, last)
        self._last = event
        return self._shown(event, now)

    def at(self, now: float) -> Shown | None:
        """What it shows now; None before the first reading."""
        return None if self._last is None else self._shown(self._last, now)

    def tared(self) -> None:
        """It was set to zero on purpose."""
        self._tare_lost = False

    def _follow(self, event: ScaleEvent, last: ScaleEvent | None) -> None:
        tare, before = _grams(event.tare, event.unit) or 0.0, 0.0
        if last is not None:
            before = _grams(last.tare, last.unit) or 0.0
            if before > 0 and tare == 0:
                # Whoever sets it to zero on purpose says so (tared).
                self._tare_lost = True
        if tare > 0:
            self._tare_lost = False
        alike = last is not None and (event.gross, event.unit) == (last.gross, last.unit)
        if not alike or event.gross is None or event.gross == 0 or self._same_since is None:
            self._same_since = event.at

    def _shown(self, event: ScaleEvent, now: float) -> Shown:
        gross, net = (_grams(x, event.unit) for x in (event.gross, event.net))
        return Shown(
            sequence=event.sequence, at=event.at, gross_g=gross,
            tare_g=_grams(event.tare, event.unit) or 0.0, net_g=net, stable=event.stable,
            doubt=self._doubt(event, net, now), in_ounces=event.unit is ScaleUnit.OZ,
        )  # fmt: skip

    def _doubt(self, event: ScaleEvent, net: float | None, now: float) -> Doubt | None:
        if not event.connected:
            return Doubt.GONE
        if event.overload:
            return Doubt.OVERLOAD
        if event.at > now + _AHEAD_S:
            return Doubt.FUTURE
        if event.at < now - _OLD_S:
            return Doubt.OLD
        if event.battery < LOW_BATTERY:
            return Doubt.BATTERY
        if self._tare_lost:
            return Doubt.TARE_LOST
        if self._same_since is not None and event.at - self._same_since > _STUCK_S:
            return Doubt.STUCK
        if net is not None and net < -self._can.step_g:
            return Doubt.NEGATIVE
        if not event.stable or net is None:
            return Doubt.UNSTABLE
        return None


def _grams(value: float | None, unit: ScaleUnit) -> float | None:
    if value is None or unit is ScaleUnit.G:
        return value
    return value * OUNCE_G
