"""The simulated scale and what is believed of it. Its truth is what the hand puts on it; its clock is ours."""

from collections.abc import Iterator
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.dossier.reference import Reference
from wainscot_core.scale.believed import Believed, Doubt, Shown
from wainscot_core.scale.device import Scale, ScaleEvent, ScaleUnit
from wainscot_core.scale.simulated import Fault, SimulatedScale


class Bench:
    """A scale with somebody before it: time goes on when he waits."""

    def __init__(
        self, facts: Reference, kind: str = "kitchen", seed: int = 1, **more: float
    ) -> None:
        self.scale = SimulatedScale(replace(facts.scales[kind], **more), seed)
        self.now = 100.0
        self.scale.open(self.now)
        self.believed = Believed(self.scale.capabilities)
        self.events: list[ScaleEvent] = []
        self.shown: Shown | None = None

    def wait(self, seconds: float) -> "Bench":
        end = self.now + seconds
        while self.now < end - 1e-9:
            self.now = min(end, self.now + 0.25)
            for event in self.scale.readings(self.now):
                self.events.append(event)
                self.shown = self.believed.take(event, self.now) or self.shown
        return self

    def put(self, grams: float, seconds: float = 5.0) -> "Bench":
        self.scale.put(grams, self.now)
        return self.wait(seconds)

    def tare(self) -> "Bench":
        self.scale.tare(self.now)
        self.believed.tared()
        return self.wait(2)

    @property
    def last(self) -> Shown:
        assert self.shown is not None
        return self.shown

    @property
    def doubt(self) -> Doubt | None:
        found = self.believed.at(self.now)
        assert found is not None
        return found.doubt


@pytest.fixture(params=["kitchen", "fine"])
def bench(request: pytest.FixtureRequest, facts: Reference) -> Iterator[Bench]:
    yield Bench(facts, request.param)


def rests(bench: Bench) -> None:
    """Wait until a weight is taken: noise may break the rest for a moment."""
    for _ in range(40):
        if bench.doubt is None:
            return
        bench.wait(0.25)
    raise AssertionError(bench.doubt)


def test_it_is_a_scale_like_any_other(facts: Reference) -> None:
    scale: Scale = SimulatedScale(facts.scales["kitchen"])
    assert scale.capabilities.step_g == 1 and scale.readings(5.0) == ()


@given(st.floats(10, 4800), st.integers(1, 50))
def test_it_comes_to_rest_near_the_truth(facts: Reference, grams: float, seed: int) -> None:
    """Gain 0.2 %, creep 0.03 %, two steps of noise and rounding."""
    bench = Bench(facts, seed=seed).put(grams)
    rests(bench)
    net = bench.last.net_g
    assert net is not None and abs(net - grams) <= 0.003 * grams + 2
    assert net == round(net)


def test_it_settles_and_says_when(bench: Bench) -> None:
    bench.scale.put(150, bench.now)
    start = len(bench.events)
    bench.wait(5)
    fresh = bench.events[start:]
    assert not fresh[0].stable and any(e.stable for e in fresh)
    first = next(e for e in fresh if e.stable and (e.gross or 0) > 100)
    assert first.gross == pytest.approx(150, abs=0.01 * 150)
    numbers = [e.sequence for e in bench.events]
    assert numbers == list(range(1, len(numbers) + 1))


def test_tare_and_what_it_forgets(facts: Reference) -> None:
    bench = Bench(facts).put(1320).tare()
    rests(bench)
    assert bench.last.net_g == pytest.approx(0, abs=1) and bench.last.gross_g == pytest.approx(
        1320, abs=5
    )
    bench.put(1320 + 420)
    rests(bench)
    assert bench.last.net_g == pytest.approx(420, abs=3)
    # It was off for a moment: the bowl counts again, and nobody takes that for food.
    bench.scale.play(Fault.TARE_LOST, True, bench.now)
    bench.wait(3)
    assert bench.doubt is Doubt.TARE_LOST
    bench.put(1320).tare()
    bench.put(1320 + 100)
    rests(bench)
    assert bench.last.net_g == pytest.approx(100, abs=3)


def test_the_bowl_taken_away_is_no_weight(facts: Reference) -> None:
    bench = Bench(facts).put(500).tare().put(0)
    assert bench.doubt is Doubt.NEGATIVE and (bench.last.net_g or 0) < -400


def test_overload_counts_the_bowl(facts: Reference) -> None:
    """5 kg and nine steps: a bowl of 2 kg leaves 3 kg."""
    bench = Bench(facts).put(2000).tare().put(5100)
    assert bench.doubt is Doubt.OVERLOAD and bench.last.net_g is None


def test_gone_and_back(facts: Reference) -> None:
    bench = Bench(facts).put(300)
    rests(bench)
    bench.scale.play(Fault.DISCONNECT, True, bench.now)
    bench.wait(1)
    assert bench.doubt is Doubt.GONE and bench.last.net_g is None
    bench.scale.play(Fault.DISCONNECT, False, bench.now)
    bench.wait(3)
    rests(bench)
    assert bench.last.net_g == pytest.approx(300, abs=3)


def test_ounces_are_told_in_grams(facts: Reference) -> None:
    bench = Bench(facts).put(1000)
    bench.scale.play(Fault.OUNCES, True, bench.now)
    bench.wait(2)
    assert bench.events[-1].unit is ScaleUnit.OZ and bench.last.in_ounces
    # 1000 g are 35.27 oz.
    assert bench.events[-1].gross == pytest.approx(35.27, abs=0.2)
    assert bench.last.net_g == pytest.approx(1000, abs=4)


@pytest.mark.parametrize(
    ("fault", "doubt"), [(Fault.BATTERY, Doubt.BATTERY), (Fault.STUCK, Doubt.STUCK)]
)
def test_what_goes_wrong_is_named(facts: Reference, fault: Fault, doubt: Doubt) -> None:
    bench = Bench(facts).put(700)
    bench.scale.play(fault, True, bench.now)
    bench.put(300, 15)
    assert bench.doubt is doubt
    bench.scale.play(fault, False, bench.now)
    bench.wait(4)
    rests(bench)
    assert bench.last.net_g == pytest.approx(300, abs=3)


def test_a_draught_never_rests(facts: Reference) -> None:
    bench = Bench(facts, "fine").put(5)
    bench.scale.play(Fault.DRAUGHT, True, bench.now)
    bench.wait(3)
    taken = 0
    for _ in range(40):
        bench.wait(0.5)
        taken += bench.doubt is None
    assert taken <= 2


@pytest.mark.parametrize("fault", [Fault.TWICE, Fault.BACKWARDS, Fault.LATE])
def test_a_bad_wire_gives_no_false_weight(facts: Reference, fault: Fault) -> None:
    """Whatever order they come in: what is shown never goes back in time, and is the truth in the end."""
    bench = Bench(facts).put(200)
    bench.scale.play(fault, True, bench.now)
    seen = []
    for grams in (400, 800, 350):
        bench.put(grams, 6)
        seen.append(bench.last.sequence)
    assert seen == sorted(seen)
    assert bench.last.net_g == pytest.approx(350, abs=3)


def test_an_old_or_early_reading_is_not_taken(facts: Reference) -> None:
    bench = Bench(facts).put(200)
    rests(bench)
    assert bench.believed.at(bench.now + 10) is not None
    bench.now += 10
    assert bench.doubt is Doubt.OLD
    ahead = replace(bench.events[-1], sequence=10_000, at=bench.now + 60)
    shown = bench.believed.take(ahead, bench.now)
    assert shown is not None and shown.doubt is Doubt.FUTURE


def test_slow_powder_is_swallowed_at_zero(facts: Reference) -> None:
    """0.1 g a second into an empty pan of a 1 g scale: it follows its zero, and shows less than went in."""
    bench = Bench(facts, noise=0.0, drift=0.0)
    for i in range(1, 61):
        bench.put(i * 0.1, 1.0)
    assert bench.last.net_g is not None and bench.last.net_g < 6 - 1


def test_the_same_seed_is_the_same_scale(facts: Reference) -> None:
    one, other = (Bench(facts, seed=7).put(333) for _ in range(2))
    assert one.events == other.events
