"""All standards over each other, and a printed row that is read off."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.confidence import Confidence
from wainscot_core.errors import InputError
from wainscot_core.targets.beside import (
    KindOfDog,
    Printed,
    must_stand_as_read,
    over_each_other,
    stands_as_read,
)
from wainscot_core.targets.standards import LifeStage, PublishedLimit, Standard

ADULT = KindOfDog(id="adult", name="Adult", stage="adult")


def standard(name: str, *limits: PublishedLimit, stage: str = "adult") -> Standard:
    stages = {stage: LifeStage(stage, stage, "Table 1", limits, stage)}
    return Standard(name, name, name, "House", "1", "min is the least", "unchecked", stages)


def limit(key: str, unit: str, low=None, high=None, base=None) -> PublishedLimit:
    return PublishedLimit(key, unit, low, base, high, Confidence.HIGH, "")


def test_windows_stand_in_one_unit_with_the_strictest_ends(facts) -> None:
    """1.25 g and 900 mg of calcium are 1250 and 900 mg; 1250 / 900 = 1.389."""
    found = over_each_other(
        facts.catalogue,
        {
            "a": standard("a", limit("CA", "g", 1.25, 4.5), limit("ZN", "mg", 20)),
            "b": standard("b", limit("CA", "mg", 900, 6250, base=500)),
        },
        ADULT,
    )
    calcium = next(n for n in found.nutrients if n.key == "CA")
    assert (calcium.unit, calcium.rail) == ("mg", 1250)
    assert calcium.apart == pytest.approx(1250 / 900)
    a, b = calcium.windows
    assert (a.least, a.most, a.strictest_least, a.strictest_most) == (1250, 4500, True, True)
    assert (b.least, b.most, b.strictest_least, b.strictest_most) == (900, 6250, False, False)
    assert b.printed == Printed(min=900, base=500, max=6250) and a.unit == "g"
    zinc = next(n for n in found.nutrients if n.key == "ZN")
    assert zinc.apart is None and [w.standard for w in zinc.windows] == ["a"]


def test_a_standard_without_a_column_for_the_dog_is_named(facts) -> None:
    found = over_each_other(
        facts.catalogue,
        {"a": standard("a", limit("ZN", "mg", 20)), "b": standard("b", stage="growth")},
        ADULT,
    )
    assert found.without == ("b",)
    assert [c.standard for c in found.columns] == ["a"]


def test_every_kind_of_dog_has_a_column_in_every_published_standard(facts) -> None:
    """The columns the publications print: a puppy of 10 weeks is not one of 5 months."""
    columns = {}
    for kind in facts.kinds_of_dogs:
        found = over_each_other(facts.catalogue, facts.standards, kind)
        assert found.without == ()
        columns[kind.id] = {(c.standard, c.stage) for c in found.columns}
        assert all(c.rows > 35 and c.read == 0 for c in found.columns)
    assert {s for s in columns["adult"] if s[0] == "fediaf-2021"} == {
        ("fediaf-2021", "adult-mer110"),
        ("fediaf-2021", "adult-mer95"),
    }
    assert ("nrc-2006", "growth-4-14wk") in columns["puppy-young"]
    assert ("nrc-2006", "growth-14wk-plus") in columns["puppy-small"]
    assert ("aafco-2016", "growth-large") in columns["puppy-large"]
    assert ("fediaf-2021", "growth-late-large-over-6mo") in columns["puppy-large-late"]
    assert ("nrc-2006", "gestation-lactation") in columns["mother"]


LEAST = st.one_of(st.none(), st.floats(0.01, 100))
MOST = st.one_of(st.none(), st.floats(100, 1000))


@given(st.lists(st.tuples(LEAST, MOST), min_size=1, max_size=5))
def test_no_window_is_stricter_than_the_strictest(facts, ends) -> None:
    found = over_each_other(
        facts.catalogue,
        {f"s{n}": standard(f"s{n}", limit("ZN", "mg", *e)) for n, e in enumerate(ends)},
        ADULT,
    )
    windows = found.nutrients[0].windows
    assert len(windows) == len(ends)
    for w in windows:
        for other in windows:
            if w.strictest_least:
                assert other.least is None or other.least <= w.least
            if w.strictest_most:
                assert other.most is None or other.most >= w.most
    assert any(w.strictest_least for w in windows) == any(low is not None for low, _ in ends)


@pytest.mark.parametrize(
    "read, field",
    [
        (Printed(min=1.2, base=0.5), "read.min"),
        (Printed(min=1.0), "read.base"),
        (Printed(base=0.5), "read.min"),
        (Printed(min=1.0, base=0.5, max=6.25), "read.max"),
        (Printed(min=1.00001, base=0.5), "read.min"),
    ],
)
def test_what_is_read_otherwise_is_not_signed(read, field) -> None:
    stands = limit("CA", "g", 1.0, None, base=0.5)
    with pytest.raises(InputError) as refused:
        must_stand_as_read(stands, read)
    assert refused.value.field == field
    assert not stands_as_read(stands, read)


def test_what_is_read_as_it_stands_is_signed() -> None:
    stands = limit("CA", "g", 1.0, None, base=0.5)
    must_stand_as_read(stands, Printed(min=1, base=0.5))
    assert stands_as_read(stands, Printed(min=1, base=0.5))
    assert not stands_as_read(replace(stands, minimum=0.9), Printed(min=1, base=0.5))


def test_nothing_read_where_nothing_stands_is_signed_but_zero_is_not_nothing() -> None:
    stands = limit("CA", "g", None, 6.25)
    must_stand_as_read(stands, Printed(max=6.25))
    with pytest.raises(InputError):
        must_stand_as_read(stands, Printed(min=0, max=6.25))
