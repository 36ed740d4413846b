"""A simulated scale: it settles, drifts, creeps, trembles and fails as a real one does.

y = gain x (1 + creep) + zero + drift, a first-order lag, noise, steps; figures of reference/kitchen/scales.yaml
(typical specifications, convention, not checked). Its clock is the caller's, and the same seed gives the same readings.
"""

import math
import random
from collections import deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from enum import StrEnum
from typing import Any

from .device import OUNCE_G, Capabilities, ScaleEvent, ScaleUnit


class Fault(StrEnum):
    """What can be played. disconnect: it is gone until it is taken back; tare-lost: it was off, and counts the bowl
    again; battery: readings jump; ounces: somebody pressed the unit key; stuck: it shows the same whatever lies on it;
    draught: it never rests; twice, backwards, late: messages come twice, in the wrong order, or not at once."""

    DISCONNECT = "disconnect"
    TARE_LOST = "tare-lost"
    BATTERY = "battery"
    OUNCES = "ounces"
    STUCK = "stuck"
    DRAUGHT = "draught"
    TWICE = "twice"
    BACKWARDS = "backwards"
    LATE = "late"


@dataclass(frozen=True, kw_only=True)
class ScaleKind:
    """How a kind of scale behaves. tau_s: of its lag; window_s: for which it must rest to be stable; noise: one standard
    deviation in steps; gain: off by so much as a share; drift: steps per root minute; creep: share in five minutes."""

    id: str
    name: str
    capacity_g: float
    step_g: float
    least_g: float
    per_s: float
    tau_s: float
    window_s: float
    noise: float
    gain: float
    drift: float
    creep: float


def read_scales(data: Mapping[str, Any]) -> dict[str, ScaleKind]:
    """The kinds of the parsed reference/kitchen/scales.yaml, by id."""
    figures = [f.name for f in fields(ScaleKind) if f.type == "float" or f.type is float]
    return {
        entry["id"]: ScaleKind(
            id=entry["id"], name=entry["name"], **{name: float(entry[name]) for name in figures}
        )
        for entry in data["scales"]
    }


# Over its capacity by more steps it shows an error.
_OVER_STEPS = 9
_CREEP_S = 300.0
# It follows its zero while it is off it by no more, for a second.
_AUTO_ZERO, _AUTO_ZERO_S = 0.5, 1.0
_MOST_GAP_S = 30.0


class SimulatedScale:
    """A scale that is not there. `put` is the hand that lays something on it."""

    def __init__(self, kind: ScaleKind, seed: int = 1) -> None:
        self._kind = kind
        self._random = random.Random(seed)  # noqa: S311
        self._gain = 1.0 + self._random.uniform(-kind.gain, kind.gain)
        self._load = self._shown = self._drift = self._zero = self._tare = 0.0
        self._since = self._now = 0.0
        self._loaded_at = 0.0
        self._near_zero = 0.0
        self._unit = ScaleUnit.G
        self._open = False
        self._sequence = 0
        self._window: deque[tuple[float, float]] = deque()
        self._faults: set[Fault] = set()
        self._stuck: float | None = None
        self._held: list[ScaleEvent] = []

    @property
    def capabilities(self) -> Capabilities:
        """What it can do."""
        k = self._kind
        return Capabilities(
            name=k.name, capacity_g=k.capacity_g, step_g=k.step_g, least_g=k.least_g, per_s=k.per_s
        )

    def open(self, now: float) -> None:
        """Switch it on: what stands on it then is nothing."""
        if not self._open:
            self._open, self._now, self._loaded_at = True, now, now
            self._zero, self._shown = 0.0, self._load
            self._zero = -self._force(now)

    def close(self) -> None:
        """Switch it off: it forgets its tare."""
        self._open, self._tare = False, 0.0
        self._window.clear()

    def put(self, grams: float, now: float) -> None:
        """What lies on it, g, in truth."""
        self._load, self._loaded_at = max(0.0, grams), now

    def tare(self, now: float) -> None:
        """What stands on it is not counted from now on."""
        self._tare = self._quantised(self._reading(now))

    def zero(self, now: float) -> None:
        """What stands on it is nothing."""
        self._zero -= self._reading(now)
        self._tare = 0.0

    def unit(self, to: ScaleUnit) -> None:
        """Show weights in another unit."""
        self._unit = to

    def play(self, fault: Fault, on: bool, now: float) -> None:
        """Let something go wrong, or right again."""
        if fault is Fault.TARE_LOST:
            # It was off for a moment: the bowl counts again.
            self._tare = 0.0
            return
        if fault is Fault.OUNCES:
            self._unit = ScaleUnit.OZ if on else ScaleUnit.G
        if fault is Fault.STUCK:
            self._stuck = self._quantised(self._reading(now)) if on else None
        if on:
            self._faults.add(fault)
        else:
            self._faults.discard(fault)

    @property
    def faults(self) -> frozenset[Fault]:
        """What goes wrong now."""
        return frozenset(self._faults)

    def readings(self, now: float) -> Sequence[ScaleEvent]:
        """The readings since the last call, so many a second."""
        if not self._open:
            return ()
        tick = 1.0 / self._kind.per_s
        # After a long silence nobody wants all that was missed.
        self._now = max(self._now, now - _MOST_GAP_S)
        found = []
        while self._now + tick <= now + 1e-9:
            self._now += tick
            self._step(tick)
            found.append(self._event())
        return self._sent(found)

    def _step(self, tick: float) -> None:
        k = self._kind
        self._drift += self._random.gauss(0, k.drift * k.step_g * math.sqrt(tick / 60))
        aim = self._force(self._now)
        self._shown += (aim - self._shown) * (1 - math.exp(-tick / k.tau_s))
        if abs(self._shown + self._zero) < _AUTO_ZERO * k.step_g:
            self._near_zero += tick
            if self._near_zero >= _AUTO_ZERO_S:
                # It follows: what trickles in slowly is swallowed.
                self._zero = -self._shown
        else:
            self._near_zero = 0.0

    def _force(self, now: float) -> float:
        held = min(max(now - self._loaded_at, 0.0), _CREEP_S) / _CREEP_S
        return self._gain * self._load * (1 + self._kind.creep * held) + self._drift

    def _reading(self, now: float) -> float:
        return self._shown + self._zero

    def _quantised(self, grams: float) -> float:
        steps = math.floor(grams / self._kind.step_g + 0.5)
        return round(steps * self._kind.step_g, 6)

    def _event(self) -> ScaleEvent:
        k = self._kind
        noise = k.noise * (8 if Fault.DRAUGHT in self._faults else 1)
        raw = self._reading(self._now) + self._random.gauss(0, noise * k.step_g)
        if Fault.BATTERY in self._faults:
            raw *= 1 + self._random.choice([0.0, 0.0, 0.03, -0.05])
        gross = self._stuck if self._stuck is not None else self._quantised(raw)
        gone, over = Fault.DISCONNECT in self._faults, gross > k.capacity_g + _OVER_STEPS * k.step_g
        self._window.append((self._now, gross))
        while self._window and self._window[0][0] < self._now - k.window_s:
            self._window.popleft()
        values = [g for _, g in self._window]
        full = self._window[-1][0] - self._window[0][0] >= k.window_s - 1.5 / k.per_s
        stable = full and max(values) - min(values) <= k.step_g + 1e-9 and not over
        self._sequence += 1
        shown = None if gone or over else gross
        return ScaleEvent(
            sequence=self._sequence, at=round(self._now, 3), gross=self._told(shown),
            tare=self._told(self._tare) or 0.0,
            net=None if shown is None else self._told(round(shown - self._tare, 6)), unit=self._unit,
            stable=stable and not gone, overload=over, connected=not gone,
            battery=0.05 if Fault.BATTERY in self._faults else 0.8,
        )  # fmt: skip

    def _told(self, grams: float | None) -> float | None:
        if grams is None or self._unit is ScaleUnit.G:
            return grams
        return round(grams / OUNCE_G, 3)

    def _sent(self, found: list[ScaleEvent]) -> Sequence[ScaleEvent]:
        """As it comes over the wire."""
        if Fault.LATE in self._faults:
            self._held += found
            found, self._held = self._held[:-10], self._held[-10:]
        elif self._held:
            found, self._held = [*self._held, *found], []
        if Fault.TWICE in self._faults:
            found = [e for e in found for _ in range(2)]
        if Fault.BACKWARDS in self._faults and len(found) > 1:
            found = [e for pair in zip(found[1::2], found[::2], strict=False) for e in pair]
        return tuple(found)
