"""The stand-in scales of this process, a set for each practice. They are no record: what is taken from them is put down as
an entry of a batch; they themselves begin anew when the server does."""

import threading
import time
from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass, field

from library.facts import reference
from wainscot_core.boundary import adapter
from wainscot_core.errors import InputError
from wainscot_core.scale.believed import Believed, Doubt, Shown
from wainscot_core.scale.simulated import Fault, SimulatedScale

# As many readings are kept for a screen that was away and comes back.
KEPT_READINGS = 200
LOOK_S = 0.12
WARM_S = 1.0
# A stream ends by itself; a browser comes back with the number of the last reading it had.
STREAM_S = 600.0
# Each holds a thread of the process.
MOST_STREAMS = 8


@dataclass(frozen=True, kw_only=True)
class ScaleReadingView:
    """What a scale shows, in grams. net_g: None while it shows nothing; doubt: why it is not taken, "" for a weight that
    can be; device: what it is called in the record."""

    sequence: int
    gross_g: float | None
    tare_g: float
    net_g: float | None
    stable: bool
    doubt: str
    in_ounces: bool
    device: str
    step_g: float


@dataclass
class Stand:
    """A scale with who follows it."""

    kind: str
    scale: SimulatedScale
    believed: Believed
    lock: threading.Lock = field(default_factory=threading.Lock)
    shown: deque[Shown] = field(default_factory=lambda: deque(maxlen=KEPT_READINGS))

    def follow(self) -> None:
        """Read what came; the lock is held."""
        now = time.monotonic()
        for event in self.scale.readings(now):
            found = self.believed.take(event, now)
            if found is not None:
                self.shown.append(found)

    def after(self, sequence: int) -> list[ScaleReadingView]:
        """What was shown after a reading; all that is kept for a number this scale has not come to, as after a restart."""
        with self.lock:
            self.follow()
            newest = self.shown[-1].sequence if self.shown else 0
            last = 0 if sequence > newest else sequence
            return [self._view(x) for x in self.shown if x.sequence > last]

    def _view(self, shown: Shown) -> ScaleReadingView:
        can = self.scale.capabilities
        return ScaleReadingView(
            sequence=shown.sequence, gross_g=shown.gross_g, tare_g=shown.tare_g, net_g=shown.net_g,
            stable=shown.stable, doubt=shown.doubt.value if isinstance(shown.doubt, Doubt) else "",
            in_ounces=shown.in_ounces, device=f"stand-in: {can.name}", step_g=can.step_g,
        )  # fmt: skip

    def do(self, what: str, grams: float | None, fault: Fault | None, on: bool) -> None:
        """Something is done with it: "put" so many g on it, "tare", "zero", "fault". Raises InputError."""
        now = time.monotonic()
        with self.lock:
            self.follow()
            if what == "put":
                if grams is None or not 0 <= grams <= 20_000:
                    raise InputError("grams", "must be between 0 and 20000 g")
                self.scale.put(grams, now)
            elif what == "tare":
                self.scale.tare(now)
                self.believed.tared()
            elif what == "zero":
                self.scale.zero(now)
                self.believed.tared()
            elif what == "fault" and fault is not None:
                self.scale.play(fault, on, now)
            else:
                raise InputError("do", "use one of: put, tare, zero, fault")


_stands: dict[tuple[int, str], Stand] = {}
_lock = threading.Lock()
_streams = threading.BoundedSemaphore(MOST_STREAMS)


def stand_of(practice: int, kind: str) -> Stand:
    """A practice's stand-in scale of a kind, switched on. Raises InputError for a kind there is none of."""
    kinds = reference().scales
    if kind not in kinds:
        raise InputError("scale", f"use one of: {', '.join(kinds)}")
    with _lock:
        stand = _stands.get((practice, kind))
        if stand is None:
            scale = SimulatedScale(kinds[kind], seed=practice)
            # It has been on for a moment: it shows something at once.
            scale.open(time.monotonic() - WARM_S)
            stand = _stands[practice, kind] = Stand(kind, scale, Believed(scale.capabilities))
        return stand


class Stream:
    """Readings of a scale as server-sent events, from after a number on. It holds a place among the streams until it is
    closed, begun or not. Raises InputError where too many screens look on."""

    def __init__(self, stand: Stand, last: int) -> None:
        if not _streams.acquire(blocking=False):
            raise InputError("", "too many screens look at scales: close one of them")
        self._open = True
        self._parts = _events(stand, last)

    def __iter__(self) -> "Stream":
        return self

    def __next__(self) -> bytes:
        return next(self._parts).encode()

    def close(self) -> None:
        """Give the place free."""
        if self._open:
            self._open = False
            _streams.release()


def _events(stand: Stand, last: int) -> Iterator[str]:
    shape = adapter(ScaleReadingView)
    end = time.monotonic() + STREAM_S
    yield "retry: 1000\n\n"
    while time.monotonic() < end:
        fresh = stand.after(last)
        # The newest is what it shows; those between were on no screen.
        if fresh:
            last = fresh[-1].sequence
            yield f"id: {last}\ndata: {shape.dump_json(fresh[-1]).decode()}\n\n"
        time.sleep(LOOK_S)
