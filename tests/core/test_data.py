"""The built food data, and how a food's provenance reads."""

import csv
import shutil
from pathlib import Path

import numpy as np
import pytest
from wainscot_cli.checking import check_data
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.foods import Grade

REFERENCE = Path(__file__).resolve().parents[2] / "reference"


def test_all_checks_pass() -> None:
    report = check_data(REFERENCE)
    assert report["failures"] == []
    assert report["plain_foods"] >= 150  # type: ignore[operator]


def test_the_checks_catch_a_slip_of_a_unit(tmp_path: Path) -> None:
    """Beef liver's copper in ug, and protein times ten: the checks must name both."""
    shutil.copytree(REFERENCE, tmp_path / "reference")
    path = tmp_path / "reference" / "composition" / "values.csv"
    rows = list(csv.DictReader(path.open()))
    liver = next(r for r in rows if r["id"] == "usda:13325")
    liver["CU"], liver["PROCNT"] = "9755", "203"
    with path.open("w", newline="") as handle:
        writer = csv.DictWriter(handle, rows[0].keys())
        writer.writeheader()
        writer.writerows(rows)
    failures = check_data(tmp_path / "reference")["failures"]
    assert sum("Beef liver, raw" in f and "CU beyond" in f for f in failures) == 1  # type: ignore[attr-defined]
    assert any("Beef liver, raw" in f and "water + protein" in f for f in failures)  # type: ignore[attr-defined]
    assert any("usda:13325 CU" in f for f in failures)  # type: ignore[attr-defined]


def test_unknown_is_never_zero(facts: Reference) -> None:
    """Lamb liver's vitamin E is a hole in the tables, not a zero."""
    value = facts.library.values[facts.library.row("usda:17199"), facts.catalogue.index("TOCPHA")]
    assert np.isnan(value)
    assert facts.library.provenance_of("usda:17199", "TOCPHA").grade == "unknown"


@pytest.mark.parametrize(
    ("food", "key", "grade"),
    [
        ("usda:05062", "PROCNT", "analysed"),
        ("usda:05062", "LYS", "pattern"),
        ("usda:02047", "CLD", "stoichiometric"),
        ("usda:13326", "FOL", "borrowed"),
        ("usda:20445", "VITB12", "analysed"),
    ],
)
def test_grades(facts: Reference, food: str, key: str, grade: str) -> None:
    assert facts.library.provenance_of(food, key).grade == grade


def test_every_known_value_has_a_grade_and_a_citation(facts: Reference) -> None:
    known = ~np.isnan(facts.library.values)
    assert (facts.library.codes[known] > 0).all()
    assert (facts.library.codes[~known] == 0).all()
    assert all(p.grade in set(Grade) for p in facts.library.provenance)
    assert all(p.citation and p.text for p in facts.library.provenance[1:])


def test_gelatin_has_no_tryptophan_pattern_of_meat(facts: Reference) -> None:
    row = facts.library.values[facts.library.row("usda:19177")]
    assert row[facts.catalogue.index("TRP")] < 0.05
    assert row[facts.catalogue.index("PROCNT")] == pytest.approx(85.6)
