"""The built food data, and how a food's provenance reads."""

import csv
import shutil
from pathlib import Path

import numpy as np
import pytest
from wainscot_cli.checking import check_data, report
from wainscot_core.dossier.reference import Reference, load_soundness
from wainscot_core.facts.foods import Grade

REFERENCE = Path(__file__).resolve().parents[2] / "reference"


def test_all_checks_pass() -> None:
    found = check_data(REFERENCE)
    assert found.failures == ()
    assert found.plain_foods >= 150 and found.derived_foods >= 40
    assert all(c.looked_at > 20 for c in found.checks)
    printed = report(found)
    assert printed["failures"] == [] and len(printed["checks"]) == len(found.checks)  # type: ignore[arg-type]


def failures_with(folder: Path, food: str, **values: str) -> list[str]:
    """What the checks find in a copy of the data with values of one food changed."""
    shutil.copytree(REFERENCE, folder / "reference")
    path = folder / "reference" / "composition" / "values.csv"
    rows = list(csv.DictReader(path.open()))
    next(r for r in rows if r["id"] == food).update(values)
    with path.open("w", newline="") as handle:
        writer = csv.DictWriter(handle, rows[0].keys())
        writer.writeheader()
        writer.writerows(rows)
    return list(check_data(folder / "reference").failures)


def test_the_checks_catch_a_slip_of_a_unit(tmp_path: Path) -> None:
    """Beef liver's copper in ug, and protein times ten: the checks must name both."""
    failures = failures_with(tmp_path, "usda:13325", CU="9755", PROCNT="203")
    assert sum("Beef liver, raw" in f and "CU beyond" in f for f in failures) == 1
    assert any("Beef liver, raw" in f and "water + protein" in f for f in failures)
    assert any("usda:13325 CU" in f for f in failures)


@pytest.mark.once
@pytest.mark.parametrize(
    ("food", "values", "told"),
    [
        # Each of these stood in the table once: what would have caught it.
        ("usda:04060", {"F18D2N6": "65.7"}, "single acids above polyunsaturated fat"),
        ("usda:05096", {"FAPU": "9"}, "saturated and unsaturated fat above fat"),
        ("usda:05187", {"RETOL": "0", "CARTBEQ": "156"}, "carotene in flesh"),
        ("usda:05187", {"VITA_RAE": "40"}, "vitamin A activity is not retinol"),
        ("usda:17169", {"MG": "0"}, "MG is 0"),
        ("usda:17169", {"VITB6A": "0"}, "VITB6A is 0"),
        ("usda:12078", {"P": "0"}, "P is 0"),
        ("usda:15016", {"P": "100"}, "P per g protein"),
        ("usda:05098", {"FAT": "20", "WATER": "53.7", "ENERC": "290"}, "FAT per g protein"),
        ("usda:05096", {"LYS": "30"}, "essential amino acids above protein"),
        ("usda:05015", {"LYS": "1.13"}, "LYS of its protein is not that of skin"),
        ("usda:13325", {"TRP": "0.05"}, "TRP of its protein is not that of flesh"),
        ("usda:11457", {"FIBTG": "6"}, "fibre above carbohydrate"),
        ("usda:05170", {"SE": "124.3"}, "SE per g protein"),
        ("usda:23575", {"FAT": "40", "WATER": "32"}, "of the raw food's fat per g protein"),
        ("usda:05096", {"NA": "400"}, "400 mg of sodium, and no salt added"),
        ("usda:15121", {"WATER": "85"}, "drained, with 85 g of water"),
        ("usda:05096", {"CHOLN": "6000"}, "CHOLN beyond any food"),
        ("usda:05096", {"ENERC": "400"}, "energy more than 15 % from Atwater"),
    ],
)
def test_each_check_fails_on_a_broken_copy(
    tmp_path: Path, food: str, values: dict[str, str], told: str
) -> None:
    assert any(food in f and told in f for f in failures_with(tmp_path, food, **values))


def test_raw_flesh_taken_for_cooked_is_told(tmp_path: Path) -> None:
    """ "BLD" of a shoulder, arm and blade, was once read as boiled: raw lamb was cooked to every rule."""
    shutil.copytree(REFERENCE, tmp_path / "reference")
    path = tmp_path / "reference" / "composition" / "attributes.csv"
    rows = list(csv.DictReader(path.open()))
    next(r for r in rows if r["id"] == "usda:17035")["state"] = "cooked"
    with path.open("w", newline="") as handle:
        writer = csv.DictWriter(handle, rows[0].keys())
        writer.writeheader()
        writer.writerows(rows)
    failures = check_data(tmp_path / "reference").failures
    assert [f for f in failures if "usda:17035" in f and "listed raw, taken for cooked" in f]


def test_an_explanation_that_is_no_longer_needed_is_told(tmp_path: Path) -> None:
    """The gizzard pair's magnesium stands among no exceptions; kidney's potassium does."""
    failures = failures_with(tmp_path, "usda:13324", K="200")
    assert [f for f in failures if "needs no explaining" in f and "13324" in f]


@pytest.mark.parametrize(
    ("food", "key", "figure"),
    [
        # Foundation Foods analyses of the very food (USDA FoodData Central).
        ("usda:05096", "FAT", 7.916),
        ("usda:05096", "ENERC", 149),
        ("usda:05062", "FAT", 1.934),
        ("usda:05057", "FAT", 4.777),
        ("usda:23562", "FAT", 12.85),
        ("usda:10219", "FAT", 17.49),
        ("usda:17224", "FAT", 18.64),
        ("usda:15015", "NA", 298.8),
        ("usda:16069", "K", 948.9),
        # High-linoleic safflower; retinol of turkey; cooked mussel keeps half of 655 mg taurine.
        ("usda:04510", "F18D2N6", 74.6),
        ("usda:05306", "RETOL", 24),
        ("usda:05187", "RETOL", 13),
        ("usda:05173", "RETOL", 46),
        ("usda:15165", "TAU", 327.5),
        ("usda:15016", "P", 240),
        # Unenriched rice holds next to no folate; ground chicken no more potassium than other chicken.
        ("usda:20445", "FOL", 3),
        ("usda:05332", "K", 302),
    ],
)
def test_a_figure_of_the_table(facts: Reference, food: str, key: str, figure: float) -> None:
    row, column = facts.library.row(food), facts.catalogue.index(key)
    assert facts.library.values[row, column] == pytest.approx(figure, rel=0.002)


@pytest.mark.parametrize(
    ("food", "key"), [("usda:17169", "MG"), ("usda:17169", "VITB6A"), ("usda:05024", "MG")]
)
def test_a_hole_is_unknown(facts: Reference, food: str, key: str) -> None:
    assert np.isnan(facts.library.values[facts.library.row(food), facts.catalogue.index(key)])


def test_a_salt_with_iodine_says_so(facts: Reference) -> None:
    for food in facts.library.foods:
        iodine = facts.library.values[facts.library.row(food.id), facts.catalogue.index("ID")]
        if food.attributes.kind == "salt" and iodine > 0:
            assert "iodised" in food.name


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


def test_what_is_told_people_is_what_is_told_developers() -> None:
    """Every kind of number of the page stands in docs/validation.md, and so does what nobody did."""
    rules = load_soundness(REFERENCE)
    written = " ".join((REFERENCE.parent / "docs" / "validation.md").read_text().lower().split())
    assert len(rules.kinds) >= 12
    for kind in rules.kinds:
        assert f"| {kind.what.lower()} |" in written, kind.what
    for words in rules.not_done:
        assert words.lower() in written, words
