"""A household's boxes over its batches: what is fed first, what is taken out tonight. Days counted by hand."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from stews import dossier, lead, pot
from wainscot_core.batch.ask import BatchAsk
from wainscot_core.batch.boxes import boxes_of, evenings_before
from wainscot_core.batch.freezer import Freezer, Store, freezer
from wainscot_core.batch.plan import plan_batch
from wainscot_core.batch.results import BatchPlan
from wainscot_core.dossier.reference import Reference

FIRST = date(2026, 11, 24)


def day(n: int) -> date:
    return FIRST + timedelta(days=n)


@pytest.fixture(scope="module")
def plan(facts: Reference) -> BatchPlan:
    cooked = pot(dossier(facts))
    return plan_batch(cooked, BatchAsk(amount=14), [lead(cooked)])


def store(
    facts: Reference, plan: BatchPlan, batch: int = 1, cooked: int = 0, fed: int | None = None,
    gone: Sequence[int] = (),
) -> Store:  # fmt: skip
    start = cooked if fed is None else fed
    boxes = boxes_of(
        facts.batches, facts.boxes, plan, None, "flat", day(cooked), day(start), oily=False
    )
    return Store(
        batch=batch, code=f"B{batch}", cook_on=day(cooked), fed_from=day(start), shape="flat",
        boxes=boxes, gone=frozenset(gone), meals={1: 2},
    )  # fmt: skip


def on(facts: Reference, n: int, *stores: Store) -> Freezer:
    return freezer(facts.boxes, stores, day(n))


def frozen(found: Freezer) -> int:
    return sum(b.frozen for b in found.boxes)


def tonight(found: Freezer) -> list[tuple[str, int]]:
    return [(found.boxes[i].code, found.boxes[i].number) for i in found.tonight]


def test_the_stock_of_each_day(facts: Reference, plan: BatchPlan) -> None:
    """28 boxes. At first 6 in the fridge; on day 2 two are left there, and the first two are taken out tonight; on day 8 the
    last is 5 days away, which is within the week at which it is said."""
    own = store(facts, plan)
    first = on(facts, 0, own)
    assert (len(first.boxes), frozen(first), first.tonight, first.dogs[0].soon) == (
        28,
        22,
        (),
        False,
    )
    third = on(facts, 2, own)
    assert (len(third.boxes), frozen(third), tonight(third)) == (24, 22, [("B1", 7), ("B1", 8)])
    later = on(facts, 8, own).dogs[0]
    assert later.runs_out == day(13) and later.soon
    assert not on(facts, 6, own).dogs[0].soon
    assert on(facts, 14, own).dogs[0].runs_out is None


def test_first_in_first_out(facts: Reference, plan: BatchPlan) -> None:
    """A second batch is cooked on day 6 and fed from then on: its 6 fresh boxes first, as they keep until day 9 only; then
    what is left of the first batch, and last what is frozen of the second."""
    one, two = store(facts, plan), store(facts, plan, 2, cooked=6)
    found = on(facts, 6, one, two)
    assert [b.code for b in found.boxes] == ["B2"] * 6 + ["B1"] * 16 + ["B2"] * 22
    assert [b.eat_on for b in found.boxes[:6:2]] == [day(6), day(7), day(8)]
    assert found.boxes[6].eat_on == day(9) and found.dogs[0].runs_out == day(27)
    # Box 13 of the first, due on day 6 before, is taken out on the evening of day 8.
    assert found.boxes[6].number == 13 and found.boxes[6].take_out == day(8)
    assert found.past == found.wasted == ()


def test_a_box_that_is_gone_brings_the_others_forward(facts: Reference, plan: BatchPlan) -> None:
    """Two of tomorrow's boxes are gone: those of the day after are due tomorrow, and are taken out tonight."""
    own = store(facts, plan, gone=(9, 10))
    found = on(facts, 3, own)
    assert [(b.number, b.eat_on) for b in found.boxes[:4]] == [
        (7, day(3)), (8, day(3)), (11, day(4)), (12, day(4)),
    ]  # fmt: skip
    assert tonight(found) == [("B1", 11), ("B1", 12)] and found.dogs[0].runs_out == day(12)


def test_what_comes_sooner_than_it_thaws_is_taken_out_tonight(
    facts: Reference, plan: BatchPlan
) -> None:
    """Tubs of 1 kg thaw for three evenings. What is due before them is gone, so they are due tomorrow: they are still
    frozen, and are told for tonight, not for an evening that is over."""
    own = store(facts, plan)
    assert evenings_before(facts.boxes, "boxes", 1000) == 3
    tubs = tuple(replace(b, grams=1000.0) for b in own.boxes)
    found = on(facts, 3, replace(own, shape="boxes", boxes=tubs, gone=frozenset(range(9, 13))))
    moved = found.boxes[2]
    assert (moved.number, moved.eat_on) == (13, day(4))
    assert moved.frozen and moved.take_out == day(3) and ("B1", 13) in tonight(found)


def test_what_was_eaten_and_ticked_counts_once(facts: Reference, plan: BatchPlan) -> None:
    """Whoever ticks each box as it is fed has the same stock as whoever ticks none."""
    for n in (0, 1, 5):
        eaten = range(1, 2 * n + 1)
        assert on(facts, n, store(facts, plan, gone=tuple(eaten))) == on(
            facts, n, store(facts, plan)
        )
    # The first meal of today is eaten and ticked: the second is still due today, none of tomorrow's.
    found = on(facts, 1, store(facts, plan, gone=(1, 2, 3)))
    assert [(b.number, b.eat_on) for b in found.boxes[:3]] == [
        (4, day(1)),
        (5, day(2)),
        (6, day(2)),
    ]


def test_what_is_past_its_day_is_no_stock(facts: Reference, plan: BatchPlan) -> None:
    """Fresh boxes that nobody can have fed in time are thrown away; those that will not be reached are told before."""
    own = store(facts, plan)
    short = replace(own, boxes=tuple(replace(b, use_by=day(4), take_out=None) for b in own.boxes))
    found = on(facts, 0, short)
    assert len(found.boxes) == 10 and len(found.wasted) == 18
    late = on(facts, 5, short)
    assert late.boxes == () and len(late.past) == 18 and late.dogs[0].runs_out is None


@given(
    st.lists(st.tuples(st.integers(0, 12), st.integers(0, 4), st.sets(st.integers(1, 28), max_size=6)), min_size=1, max_size=4),
    st.integers(0, 30),
)  # fmt: skip
def test_nothing_is_fed_late_twice_or_out_of_turn(
    facts: Reference, plan: BatchPlan, batches: list[tuple[int, int, set[int]]], today: int
) -> None:
    stores = [
        store(facts, plan, i, cooked, cooked + wait, tuple(gone))
        for i, (cooked, wait, gone) in enumerate(batches, 1)
    ]
    found = on(facts, today, *stores)
    told = [*found.boxes, *found.past, *found.wasted]
    keys = [(b.batch, b.number) for b in told]
    assert len(set(keys)) == len(keys)
    assert not {(s.batch, n) for s in stores for n in s.gone} & set(keys)
    days: dict[date, int] = {}
    for box in found.boxes:
        start = next(s.fed_from for s in stores if s.batch == box.batch)
        assert max(day(today), start) <= box.eat_on <= box.use_by
        days[box.eat_on] = days.get(box.eat_on, 0) + 1
        if box.frozen:
            assert box.take_out is not None and day(today) <= box.take_out <= box.eat_on
    assert all(n <= 2 for n in days.values())
    # Of two that are both there, the one that keeps shorter is fed first.
    for one, other in zip(found.boxes, found.boxes[1:], strict=False):
        opened = next(s.fed_from for s in stores if s.batch == other.batch)
        if opened <= one.eat_on:
            assert one.use_by <= other.use_by
    if found.dogs[0].runs_out is not None:
        assert found.dogs[0].runs_out == max(b.eat_on for b in found.boxes)
