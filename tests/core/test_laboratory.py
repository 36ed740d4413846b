"""Laboratory values: units both ways, each against its own range, what moved."""

from datetime import date, timedelta
from typing import Any

import pytest
from wainscot_core.boundary import read
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.followup.laboratory import (
    LabSeries,
    LabStand,
    LabValue,
    check_value,
    series_of,
)

TODAY = date(2026, 11, 28)


def value(test: str, figure: float, days_ago: int = 0, **more: Any) -> LabValue:
    on = (TODAY - timedelta(days=days_ago)).isoformat()
    return read(LabValue, {"date": on, "test": test, "value": figure, **more})


def one(facts: Reference, *values: LabValue) -> LabSeries:
    (found,) = series_of(facts.laboratory, values)
    return found


@pytest.mark.parametrize(
    ("test", "figure", "unit", "compared"),
    [
        # Molar masses: creatinine 113.1, glucose 180.2, triolein 885, phosphorus 31.0, calcium 40.1, urea nitrogen 28.
        ("creatinine", 1.4, "mg/dL", 123.8), ("glucose", 90, "mg/dL", 5.0), ("triglycerides", 443, "mg/dL", 5.0),
        ("phosphate", 4.65, "mg/dL", 1.5), ("calcium", 10, "mg/dL", 2.5), ("urea", 28, "mg/dL BUN", 10),
        ("albumin", 2.8, "g/dL", 28), ("cobalamin", 295.2, "pmol/L", 400), ("vitamin-d", 40, "ng/mL", 100),
        ("cholesterol", 232, "mg/dL", 6.0), ("zinc", 15.3, "umol/L", 1.0), ("potassium", 4.2, "mEq/L", 4.2),
        ("t4", 2.33, "ug/dL", 30), ("magnesium", 2.43, "mg/dL", 1.0), ("haematocrit", 0.45, "L/L", 45),
    ],
)  # fmt: skip
def test_a_unit_is_read_as_another(
    facts: Reference, test: str, figure: float, unit: str, compared: float
) -> None:
    assert one(facts, value(test, figure, unit=unit)).points[0].value == pytest.approx(compared, rel=0.005)  # fmt: skip


def test_its_own_range_is_read_in_its_own_unit(facts: Reference) -> None:
    found = one(facts, value("creatinine", 1.9, unit="mg/dL", low=0.5, high=1.8)).points[0]
    assert found.stand is LabStand.OVER and found.high == pytest.approx(159.1, rel=0.001)
    assert (found.printed, found.range) == ("1.9 mg/dL", "0.5 to 1.8")


@pytest.mark.parametrize(
    ("figure", "low", "high", "stand"),
    [
        (4.0, 3.6, 5.6, LabStand.WITHIN), (3.6, 3.6, 5.6, LabStand.WITHIN), (3.5, 3.6, 5.6, LabStand.UNDER),
        (5.7, 3.6, 5.6, LabStand.OVER), (9, None, None, LabStand.UNKNOWN), (9, None, 5.6, LabStand.OVER),
    ],
)  # fmt: skip
def test_only_the_reports_own_range_counts(
    facts: Reference, figure: float, low: float | None, high: float | None, stand: LabStand
) -> None:
    assert one(facts, value("potassium", figure, low=low, high=high)).points[0].stand is stand


def test_more_than_its_own_ups_and_downs(facts: Reference) -> None:
    """Creatinine: a fifth."""
    at_most = one(facts, value("creatinine", 100, 30), value("creatinine", 120, 1))
    more = one(facts, value("creatinine", 100, 30), value("creatinine", 121, 1))
    assert not at_most.moved and more.moved and not more.points[0].moved


def test_units_are_not_mixed_up_when_it_is_compared(facts: Reference) -> None:
    same = one(facts, value("creatinine", 113.1, 30), value("creatinine", 1.28, 1, unit="mg/dL"))
    assert not same.moved


def test_one_reading_waits_for_a_second_but_not_for_potassium(facts: Reference) -> None:
    once = value("creatinine", 200, 30, low=44, high=125)
    assert one(facts, once).once
    assert not one(facts, once, value("creatinine", 210, 1, low=44, high=125)).once
    assert not one(facts, value("potassium", 6.2, low=3.6, high=5.6)).once


def test_what_is_out_of_its_range_comes_first(facts: Reference) -> None:
    found = series_of(
        facts.laboratory,
        [value("alt", 50, low=10, high=100), value("potassium", 6, low=3.6, high=5.6)],
    )
    assert [s.test for s in found] == ["potassium", "alt"]


def test_what_was_not_said_is_told(facts: Reference) -> None:
    assert one(facts, value("triglycerides", 2)).points[0].notes == (
        "the report's own range is not put down", "whether it was fasted is not said"
    )  # fmt: skip
    assert one(facts, value("triglycerides", 2, low=0, high=1, fasted=True)).points[0].notes == ()


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"test": "mood"}, "test"), ({"unit": "mg/dL"}, "unit"), ({"date": "2026-11-29"}, "date"),
        ({"value": -1}, "value"), ({"low": 6, "high": 5}, "low"), ({"high": 2e6}, "high"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused(facts: Reference, wrong: dict[str, Any], field: str) -> None:
    said = {"date": "2026-11-01", "test": "potassium", "value": 4, **wrong}
    with pytest.raises(InputError) as caught:
        check_value(facts.laboratory, read(LabValue, said), TODAY)
    assert caught.value.field == field


def test_every_test_can_be_told(facts: Reference) -> None:
    for test in facts.laboratory.tests.values():
        assert test.low is None or test.high is None or test.low < test.high, test.id
        assert test.low is not None or test.high is not None
        assert all(x > 0 for x in test.other.values()) and test.means
        for unit in test.units:
            figure = 10.0
            assert test.compared(figure * test.other.get(unit, 1.0), unit) == pytest.approx(figure)
