"""Boxes of a batch: where each is kept, by when it is eaten, when it is taken out. Days counted by hand."""

from datetime import date, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from stews import STEW, dossier, lead, pot
from wainscot_core.batch.ask import BatchAsk
from wainscot_core.batch.boxes import (
    Box,
    boxes_of,
    evenings_before,
    thaw_hours,
    thaw_plan,
)
from wainscot_core.batch.eaters import Eater
from wainscot_core.batch.plan import plan_batch
from wainscot_core.batch.results import BatchPlan
from wainscot_core.batch.weighed_batch import WeighedIn, weigh_batch
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.boxes import read_box_rules

COOKED = date(2026, 11, 24)


def day(n: int) -> date:
    """So many days after it was cooked."""
    return COOKED + timedelta(days=n)


def planned(facts: Reference, days: float = 14, *others: Eater) -> BatchPlan:
    cooked = pot(dossier(facts))
    return plan_batch(cooked, BatchAsk(amount=days), [lead(cooked), *others])


def boxes(
    facts: Reference, plan: BatchPlan, wait: int = 0, shape: str = "flat", **more: Any
) -> tuple[Box, ...]:
    return boxes_of(
        facts.batches, facts.boxes, plan, more.get("weighed"), shape, COOKED, day(wait),
        more.get("oily", False),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("shape", "grams", "low", "high"),
    [
        ("flat", 100, 3, 5), ("flat", 250, 8, 10), ("flat", 500, 9, 12), ("flat", 1000, 16, 20),
        ("boxes", 250, 12.5, 18), ("boxes", 500, 20, 26), ("boxes", 1000, 30, 40), ("boxes", 2000, 48, 61),
    ],
)  # fmt: skip
def test_thawing_takes_what_the_table_says(
    facts: Reference, shape: str, grams: float, low: float, high: float
) -> None:
    assert low <= thaw_hours(facts.boxes.thaw[shape], grams) <= high


def test_how_many_evenings_before(facts: Reference) -> None:
    """A flat bag of 250 g takes 9 h, 11.25 at most: the evening before. 1 kg in a tub takes 36 h, 45 at most: 13 h and two
    days more."""
    assert evenings_before(facts.boxes, "flat", 250) == 1
    assert evenings_before(facts.boxes, "flat", 500) == 1
    assert evenings_before(facts.boxes, "boxes", 500) == 2
    assert evenings_before(facts.boxes, "boxes", 1000) == 3


@given(st.sampled_from(["flat", "boxes"]), st.floats(5, 3000), st.floats(5, 3000))
def test_more_never_thaws_faster(facts: Reference, shape: str, one: float, other: float) -> None:
    rule = facts.boxes.thaw[shape]
    less, more = sorted((one, other))
    assert thaw_hours(rule, less) <= thaw_hours(rule, more) + 1e-9


def test_three_days_fresh_then_from_the_freezer(facts: Reference) -> None:
    """Two weeks, two meals a day, fed from the day it is cooked: six boxes in the fridge, eaten by the third day after;
    the seventh is eaten on day 3, and taken out on the evening of day 2."""
    found = boxes(facts, planned(facts))
    assert len(found) == 28 and [b.number for b in found] == list(range(1, 29))
    fresh = [b for b in found if not b.frozen]
    assert len(fresh) == 6 and all(b.use_by == day(3) and b.take_out is None for b in fresh)
    assert (found[6].eat_on, found[6].take_out, found[6].use_by) == (day(3), day(2), day(56))
    assert found[-1].eat_on == day(13) and found[-1].meal == 2
    out = thaw_plan(found)
    assert [t.on for t in out] == [day(n) for n in range(2, 13)]
    assert all(len(t.boxes) == 2 for t in out) and out[0].boxes == (7, 8)


def test_what_is_fed_later_is_frozen_earlier(facts: Reference) -> None:
    """Fed from the second day after: that day and the next are within three days, the others are frozen."""
    found = boxes(facts, planned(facts), wait=2)
    assert [b.eat_on for b in found if not b.frozen] == [day(2), day(2), day(3), day(3)]
    assert all(b.take_out is not None and b.take_out >= day(1) for b in found if b.frozen)


@given(st.integers(1, 26), st.integers(0, 20), st.sampled_from(["flat", "boxes"]), st.booleans())
def test_no_box_is_fed_past_its_day(
    facts: Reference, days: int, wait: int, shape: str, oily: bool
) -> None:
    """Whatever the batch: every box has a place, is fed by its last day and taken out before; or the batch is refused."""
    plan = planned(facts, days)
    try:
        found = boxes(facts, plan, wait, shape, oily=oily)
    except InputError as error:
        assert error.field == "feed_from" and wait + days > 28
        return
    assert sum(b.grams for b in found) == pytest.approx(plan.finished.grams, abs=1)
    for box in found:
        assert COOKED <= box.eat_on <= box.use_by
        assert (box.take_out is None) is not box.frozen
        if box.take_out is not None:
            assert COOKED < box.take_out < box.eat_on
        else:
            assert box.eat_on <= day(3)


def test_oily_fish_keeps_half_as_long(facts: Reference) -> None:
    plan = planned(facts, 14)
    assert max(b.use_by for b in boxes(facts, plan, oily=True)) == day(28)
    with pytest.raises(InputError, match="thrown away"):
        boxes(facts, planned(facts, 30), oily=True)


@pytest.mark.parametrize("wait", [-1, 29])
def test_the_first_day_can_be(facts: Reference, wait: int) -> None:
    with pytest.raises(InputError) as caught:
        boxes(facts, planned(facts, 2), wait)
    assert caught.value.field == "feed_from"


def test_the_weighed_batch_says_what_is_in_a_box(facts: Reference) -> None:
    plan = planned(facts, 7)
    weighed = weigh_batch(facts, BatchAsk(), plan, WeighedIn(finished_g=plan.finished.grams * 1.08))
    found = boxes(facts, plan, weighed=weighed)
    assert found[0].grams == pytest.approx(weighed.meals[0].portions.each_g)
    # Heavier and thinner: the kcal of a box are what they were.
    assert found[0].kcal == pytest.approx(boxes(facts, plan)[0].kcal, rel=0.01)


def test_two_dogs_have_their_own_boxes(facts: Reference) -> None:
    moss = Eater(case=2, name="Moss", dossier=dossier(facts, STEW, name="Moss", kcal=900))
    found = boxes(facts, planned(facts, 7, moss))
    assert [b.dog for b in found[:4]] == ["Fen", "Moss", "Fen", "Moss"]
    assert found[1].grams > 1.8 * found[0].grams


# Stock.


def test_label_sheets_fit_their_paper(facts: Reference) -> None:
    counts = {s.id: s.count for s in facts.boxes.sheets.values()}
    assert counts == {"a4-65": 65, "a4-21": 21, "a4-8": 8, "letter-30": 30, "letter-10": 10}
    sheet = vars(facts.boxes.sheets["a4-8"])
    data = {
        "sheets": [{**sheet, "across": 3}], "small_mm": 30, "warm": "", "law": "", "soon_days": 7,
        "thaw": {},
    }  # fmt: skip
    with pytest.raises(ValueError, match="does not fit"):
        read_box_rules(data)
