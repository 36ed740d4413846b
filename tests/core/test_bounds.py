"""What is not known lies between nothing and the most its class holds."""

import csv
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from printed import analysed
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.attributes import Attributes
from wainscot_core.facts.bounds import AMINO_SHARE, ClassBounds, groups_of
from wainscot_core.recipe.totals import totals

CHICKEN, RICE = "usda:05062", "usda:20445"
COMPOSITION = Path(__file__).resolve().parents[2] / "reference" / "composition"


def rows(name: str) -> list[dict[str, str]]:
    with (COMPOSITION / name).open(newline="", encoding="utf-8") as handle:
        return list(csv.DictReader(handle))


def nutrients(facts: Reference, lines: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 12},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": lines}, **more,
    }  # fmt: skip
    report = analysed(facts, data)
    return {n["key"]: n for n in [*report["nutrients"], *report["ratios"]]}


BASE = [{"food": CHICKEN, "grams": 250}, {"food": RICE, "grams": 300}]


def test_a_spoon_of_husk_does_not_hide_a_shortage(facts: Reference) -> None:
    """Psyllium has no zinc value: 4 g of it cannot mend a shortage of 10 mg."""
    husk = nutrients(facts, [*BASE, {"food": "supp:psyllium-husk", "grams": 4}])
    for key in ("ZN", "CU", "SE", "MN", "FE", "MG", "CA"):
        assert husk[key]["unknown_lines"] >= 1, key
    assert husk["ZN"]["status"] == "short"
    assert husk["ZN"]["most"] - husk["ZN"]["per_1000_kcal"] < 2
    assert "even the most" in husk["ZN"]["why"]


def test_bone_meal_brings_no_vitamins_and_hides_no_shortage(facts: Reference) -> None:
    found = nutrients(facts, [*BASE, {"food": "supp:bone-meal", "grams": 5}])
    for key in ("VITD", "VITA", "THIA", "CHOLN", "EPADHA", "F18D2N6"):
        assert found[key]["status"] in {"short", "met"}, key


def test_seaweed_is_bounded_by_nothing(facts: Reference) -> None:
    """Iodine of kelp that nobody read from the jar: it may be any amount."""
    found = nutrients(facts, [*BASE, {"food": "supp:kelp-powder", "grams": 0.5}])["ID"]
    assert (found["most"], found["status"]) == (None, "unproven")
    assert "nothing bounds" in found["why"]


def test_an_own_food_without_a_class_may_hold_anything_and_with_one_what_its_class_does(
    facts: Reference,
) -> None:
    own = {
        "id": "own:stew",
        "name": "Stew",
        "per_100_g": {"ENERC": 120, "PROCNT": 10, "FAT": 5, "CHOCDF": 8},
    }
    open_ended = nutrients(facts, [*BASE, {"food": "own:stew", "grams": 50}], foods=[own])
    assert open_ended["ZN"]["most"] is None and open_ended["ZN"]["status"] == "unproven"
    # But no food is more than its fat and its protein.
    assert open_ended["F18D2N6"]["most"] is not None
    assert open_ended["LYS"]["most"] is not None
    classed = nutrients(
        facts,
        [*BASE, {"food": "own:stew", "grams": 50}],
        foods=[{**own, "food_class": "vegetable"}],
    )
    assert classed["ZN"]["status"] == "short"
    assert classed["VITB12"]["most"] == pytest.approx(classed["VITB12"]["per_1000_kcal"])


def test_a_maximum_that_an_unknown_could_pass_is_not_met(facts: Reference) -> None:
    """Pancreatitis, at most 20 g of fat per 1000 kcal: a food whose fat nobody knows."""
    own = {"id": "own:stew", "name": "Stew", "per_100_g": {"ENERC": 120, "PROCNT": 10}}
    targets = {"standard": "nrc-2006", "conditions": [{"id": "pancreatitis", "stage": "recurrent"}]}
    lines = [*BASE, {"food": "usda:04510", "grams": 8}, {"food": "own:stew", "grams": 200}]
    found = nutrients(facts, lines, foods=[own], targets=targets)["FAT"]
    assert found["status"] == "unproven" and found["maximum_unproven"]
    known = nutrients(facts, lines[:-1], targets=targets)["FAT"]
    assert known["status"] == "met" and not known["maximum_unproven"]


def test_ratios_with_an_unknown_part_are_given_as_bounds(facts: Reference) -> None:
    own = {
        "id": "own:stew",
        "name": "Stew",
        "food_class": "vegetable",
        "per_100_g": {"ENERC": 40, "CA": 30},
    }
    lines = [*BASE, {"food": "supp:calcium-carbonate", "grams": 3}]
    whole = nutrients(facts, lines, targets={"standard": "aafco-2016"})["CA_P"]
    part = nutrients(
        facts,
        [*lines, {"food": "own:stew", "grams": 30}],
        foods=[own],
        targets={"standard": "aafco-2016"},
    )["CA_P"]
    assert whole["value"] == pytest.approx(whole["least"]) == pytest.approx(whole["most"])
    assert part["value"] is None
    assert part["least"] < part["most"]
    # The bounds hold whatever the stew turns out to be.
    assert part["status"] in {"met", "unproven"}
    # No calcium source at all: short, whatever a spoon of vegetable holds.
    bare = nutrients(
        facts,
        [*BASE, {"food": "own:stew", "grams": 5}],
        foods=[own],
        targets={"standard": "aafco-2016"},
    )["CA_P"]
    assert bare["status"] == "short"


@given(grams=st.lists(st.floats(0, 500), min_size=3, max_size=3))
def test_a_recipe_with_every_value_has_one_figure(facts: Reference, grams: list[float]) -> None:
    library = facts.library
    picked = [library.row(f) for f in (CHICKEN, RICE, "supp:calcium-carbonate")]
    sums = totals(library, picked, grams)
    known = ~np.isnan(library.values[picked]).any(axis=0)
    assert np.all(sums.may_hold[known] == 0)


@given(
    grams=st.lists(st.floats(1, 300), min_size=4, max_size=4),
    picks=st.lists(st.integers(0, 2900), min_size=4, max_size=4),
)
def test_another_food_never_narrows_what_there_may_be(
    facts: Reference, grams: list[float], picks: list[int]
) -> None:
    few, all_ = (totals(facts.library, picks[:n], grams[:n]) for n in (3, 4))
    assert np.all(all_.known + all_.may_hold >= few.known + few.may_hold - 1e-9)
    assert np.all(all_.known >= few.known - 1e-9)


def test_groups_go_from_the_part_to_the_kingdom() -> None:
    muscle = Attributes(kind="muscle")
    assert groups_of("beef", muscle, 70) == ("beef, fresh", "beef", "animal")
    assert groups_of("fish", Attributes(kind="fish:oily"), 60) == (
        "oily fish, fresh", "oily fish", "fish, fresh", "fish",
    )  # fmt: skip
    # A liver is no muscle, and a seaweed is bounded by itself before it is by other plants.
    assert "beef" not in groups_of("beef", Attributes(kind="organ:liver"), 70)
    assert groups_of("vegetable", Attributes(kind="seaweed"), 10)[:2] == ("seaweed, dry", "seaweed")
    assert groups_of("own", Attributes(), 50) == ()


def test_the_narrowest_group_that_has_a_bound_speaks() -> None:
    bounds = ClassBounds({"ZN": {"beef": 9.0, "animal": 12.0}, "CU": {"animal": 0.3}})
    found = bounds.of_groups(("ZN", "CU", "SE"), ("beef, fresh", "beef", "animal"))
    assert list(found) == [9.0, 0.3, float("inf")]


def test_bounds_by_the_rule_hold_what_the_table_knows(facts: Reference) -> None:
    """1.5 x the 95th percentile of analysed rows: at most 5 in 100 of them lie above it, and none
    above twice of it without being of a few that are listed by eye (seeds rich in selenium, liver oils
    and the like stand in no group of their own)."""
    library, catalogue = facts.library, facts.catalogue
    upper = library.bounds.upper(catalogue, library.foods, library.values)
    firm = np.array([p.grade == "analysed" for p in library.provenance])[library.codes]
    known = firm & ~np.isnan(library.values) & np.isfinite(upper) & (upper > 0)
    above_it = known & (library.values > upper * (1 + 1e-9))
    for key in ("ZN", "CU", "SE", "MN", "FE", "MG", "K", "CA", "THIA", "RIBF", "NIA", "TOCPHA"):
        column = catalogue.index(key)
        share = above_it[:, column].sum() / known[:, column].sum()
        assert share < 0.05, (key, share)


def test_every_bound_says_where_it_comes_from() -> None:
    for row in rows("bounds.csv"):
        assert row["source"] and row["rule"] in {"table", "hand"}
        if row["rule"] == "table":
            assert int(row["rows"]) >= 20
            assert float(row["bound"]) <= float(row["highest"]) * 1.001
        else:
            assert row["confidence"] in {"low", "medium", "high"}


def test_no_food_holds_more_amino_acid_than_its_protein_can(facts: Reference) -> None:
    library = facts.library
    protein = library.values[:, facts.catalogue.index("PROCNT")]
    for tag, share in AMINO_SHARE.items():
        amounts = library.values[:, facts.catalogue.index(tag)]
        plain = np.array([not f.is_supplement for f in library.foods])
        with np.errstate(invalid="ignore"):
            assert not np.any(plain & (amounts > share * protein * 1.0001 + 1e-6)), tag
