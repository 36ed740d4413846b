"""A pasted laboratory report: what says a value plainly is read, and every other line says why it was not."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.followup.report import LabReport, read_report

DAY = date(2026, 3, 2)


def read(facts: Reference, text: str) -> LabReport:
    return read_report(facts.laboratory, text, DAY, date(2026, 3, 9))


@pytest.mark.parametrize(
    ("line", "test", "value", "unit", "low", "high"),
    [
        ("Creatinine 142 µmol/L 44 - 159", "creatinine", 142, "umol/L", 44, 159),
        ("CREA  1.6 mg/dL (0.5-1.8)", "creatinine", 1.6, "mg/dL", 0.5, 1.8),
        ("Potassium: 4.9 mmol/L", "potassium", 4.9, "mmol/L", None, None),
        ("ALT 188 U/L H [10-125]", "alt", 188, "U/L", 10, 125),
        ("ALT H 188 U/L [10-125]", "alt", 188, "U/L", 10, 125),
        ("Albumin\t31\tg/L\t25–38", "albumin", 31, "g/L", 25, 38),
        ("Phosphorus 1,2 mmol/L 0,8 to 1,6", "phosphate", 1.2, "mmol/L", 0.8, 1.6),
        ("Spec cPL 150 ug/L <200", "cpli", 150, "ug/L", None, 200),
        ("Vitamin B12 410 ng/L > 252", "cobalamin", 410, "ng/L", 252, None),
        ("BUN 18 mg/dL 7-27", "urea", 18, "mg/dL BUN", 7, 27),
        ("PCV 45%", "haematocrit", 45, "%", None, None),
        ("Urine specific gravity 1.035", "usg", 1.035, "ratio", None, None),
        ("UPC 0.3 < 0.5", "upc", 0.3, "ratio", None, 0.5),
        ("25-OH vitamin D 110 nmol/L", "vitamin-d", 110, "nmol/L", None, None),
        ("Calcium (ionized) 1.31 mmol/L 1.2-1.45", "calcium-ionised", 1.31, "mmol/L", 1.2, 1.45),
        ("Neutrophils 6.2 x10^9/L 3-11.5", "neutrophils", 6.2, "10^9/L", 3, 11.5),
        ("K 4.2 mEq/L", "potassium", 4.2, "mEq/L", None, None),
    ],
)
def test_a_plain_line_is_read_as_it_is_printed(
    facts: Reference,
    line: str,
    test: str,
    value: float,
    unit: str,
    low: float | None,
    high: float | None,
) -> None:
    found = read(facts, line)
    assert found.unread == ()
    v = found.read[0].value
    assert (v.test, v.value, v.unit, v.low, v.high, v.date) == (test, value, unit, low, high, DAY)


@pytest.mark.parametrize(
    ("line", "why"),
    [
        # Another test under a name that begins alike.
        ("Creatinine, urine 120 mg/dL", "no test is called that"),
        ("Urine protein/creatinine 0.3", "no test is called that"),
        ("Albumin/globulin ratio 0.9", "no test is called that"),
        ("Na/K 28", "no test is called that"),
        ("Calcium corrected 2.5 mmol/L", "no figure stands behind"),
        ("Bile acids 12 umol/L", "no test is called that"),
        ("Free T4 22 pmol/L", "no test is called that"),
        # Which figure, in what.
        ("Creatinine 142 138 44-159 umol/L", "another figure"),
        ("Creatinine 142 umol/L (prev. 138)", "not understood"),
        ("Creatinine 142", "its unit is not said"),
        ("Creatinine 142 44-159", "its unit is not said"),
        ("Creatinine 142 mg/L", "not understood"),
        ("Urea 40 mg/dL", "not understood"),
        ("BUN 6 mmol/L", "not understood"),
        ("Creatinine 142 umol/L 1.6 mg/dL", "another figure"),
        ("Platelets 250 x10^9/L", "no test is called that"),
        ("cPLI <30 ug/L", "more or less than"),
        ("Triglycerides 1,200 mg/dL", "thousands or decimals"),
        ("ALT pending", "no figure"),
        ("ALT 88 U/L H 10-125", "marked otherwise"),
        ("Potassium 4.9 L mmol/L 3.5-5.8", "marked otherwise"),
        ("ALT 88 U/L 10-125 20-100", "two ranges"),
        ("ALT 88 U/L 125-10", "must be less"),
        ("ALT 88 U/L 10-11-2026", "another figure"),
        # The decimal point or the unit slipped.
        ("Urine specific gravity 1035", "far from anything usual"),
        ("Creatinine 1.4 umol/L", "far from anything usual"),
        ("Creatinine 1.4 mg/dL 2026-02-01", "another figure"),
        ("Sampled on 2 March", "no test is called that"),
    ],
)
def test_a_line_that_is_not_plain_says_why(facts: Reference, line: str, why: str) -> None:
    found = read(facts, line)
    assert found.read == ()
    assert why in found.unread[0].why, found.unread[0].why


def test_a_test_that_is_there_twice_is_not_chosen(facts: Reference) -> None:
    found = read(facts, "ALT 88 U/L\nPotassium 4.1 mmol/L\nALT 95 U/L")
    assert [x.value.test for x in found.read] == ["potassium"]
    assert [x.why for x in found.unread] == ["it is there twice: which one counts?"] * 2


def test_no_line_vanishes(facts: Reference) -> None:
    text = "Laboratory of Northfield\n\nALT 88 U/L\nseen: nothing\n  \nFolate 12 ug/L 7-25"
    found = read(facts, text)
    assert len(found.read) + len(found.unread) == 4


def test_every_test_is_read_by_every_name_it_has(facts: Reference) -> None:
    """At a value that is usual, in each of its units; the names of different tests are different."""
    names: dict[str, str] = {}
    for test in facts.laboratory.tests.values():
        assert test.called
        for name in test.called:
            assert names.setdefault(name, test.id) == test.id
            value = (test.high or test.low or 1) * 0.9
            for unit in [u for u in test.units if test.named_unit.get(name, u) == u]:
                factor = 1 if unit == test.unit else test.other[unit]
                said = "" if unit in ("ratio", "pH") else unit
                text = f"{name.upper()} {value * factor:.4f} {said}"
                found = read(facts, text)
                assert [(x.value.test, x.value.unit) for x in found.read] == [(test.id, unit)], text


def test_a_report_of_a_day_to_come_or_without_an_end_is_refused(facts: Reference) -> None:
    with pytest.raises(InputError) as refused:
        read_report(facts.laboratory, "ALT 88 U/L", date(2026, 3, 10), date(2026, 3, 9))
    assert refused.value.field == "date"
    with pytest.raises(InputError) as refused:
        read(facts, "x" * 20_001)
    assert refused.value.field == "text"


@given(st.text(max_size=200))
def test_any_text_is_read_or_told(facts: Reference, text: str) -> None:
    found = read(facts, text)
    lines = [line for line in text.splitlines() if line.split()]
    assert len(found.read) + len(found.unread) == len(lines)
