"""Labels of supplements: what a line is read as, what is asked, and what stands on the shelf of it."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from printed import analysed
from shelf import SHELF
from wainscot_core.boundary import dump, read
from wainscot_core.checks import check
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.label_lines import LineState, ReadLine, read_lines
from wainscot_core.facts.shelf import ShelfItem
from wainscot_core.facts.shelf_label import (
    ShelfLabel,
    ShelfReading,
    item_values,
    label_of,
    read_label,
)
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.candidates import added_candidates
from wainscot_core.formulation.question import default_allowed


def lines(facts: Reference, *texts: str | tuple[str, str], point: bool = True) -> list[ReadLine]:
    said = [t if isinstance(t, tuple) else (t, "") for t in texts]
    return list(read_lines(facts.label_words, facts.catalogue, said, point))


def counted(line: ReadLine) -> dict[str, float]:
    return {part.key: part.amount for part in line.parts}


# Figures by hand: definitions of the units, and molar masses (Zn 65.38 of 455.68 g zinc gluconate).
@pytest.mark.parametrize(
    ("text", "key", "amount"),
    [
        ("Zinc (as zinc gluconate) 15 mg 136%", "ZN", 15.0),
        ("• Zn .......... 7,5 mg **", "ZN", 7.5),
        ("5 mg zinc", "ZN", 5.0),
        ("Vitamin D3 25 mcg (1,000 IU) 125% DV", "VITD", 25.0),
        ("Vitamin D 400 IU", "VITD", 10.0),
        ("Vitamin A (as retinyl palmitate) 900 mcg RAE", "RETOL", 900.0),
        ("Vitamin A (as beta-carotene) 5000 IU", "CARTBEQ", 3000.0),
        ("Vitamin E 100 IU", "TOCPHA", 67.114),
        ("dl-alpha-tocopheryl acetate 50 mg", "TOCPHA", 33.557),
        ("Folate 680 mcg DFE", "FOL", 399.84),
        ("Niacin 20 mg NE", "NIA", 20.0),
        ("Selenium 0,055 mg", "SE", 55.0),
        ("Iodine (from kelp) 0.15 mg", "ID", 150.0),
        ("Magnesium 1 g", "MG", 1000.0),
        ("EPA (eicosapentaenoic acid) 180 mg", "F20D5N3", 0.18),
        ("Calcium carbonate 1250 mg providing calcium 500 mg", "CA", 500.0),
        ("Calories 10", "ENERC", 10.0),
        ("Thiamine (Vitamin B1) 1.5 mg", "THIA", 1.5),
    ],
)  # fmt: skip
def test_a_line_is_read_as_it_is_printed(
    facts: Reference, text: str, key: str, amount: float
) -> None:
    (line,) = lines(facts, text)
    assert (line.state, line.text) == (LineState.COUNTED, text)
    assert counted(line) == {key: pytest.approx(amount, rel=1e-3)}


@pytest.mark.parametrize(
    "text",
    [
        "Kelp 50 mg", "Proprietary blend 300 mg", "Zinc", "Iron 5 IU", "Vitamin B12 1.000 mcg", "Vitamin A 5000 IU",
        "Polyunsaturated fat <1 g", "Zinc gluconate 50 mg", "Vitamin E 45 mg (100 IU)", "Total omega-3 300 mg",
        "Zinc proteinate 10 mg", "Vitamin B complex 10 mg", "Vitamin A 900 mcg (50% as beta-carotene)",
        "Iron 5 mg, zinc 5 mg", "Vitamin D 3 400 IU", "Fish oil 1000 mg providing EPA 180 mg",
        "EPA 120 mg DHA 120 mg", "Calcium 500 mg (as calcium carbonate 1250 mg)",
    ],
)  # fmt: skip
def test_what_is_not_understood_is_asked_and_brings_nothing(facts: Reference, text: str) -> None:
    (line,) = lines(facts, text)
    assert (line.state, line.parts) == (LineState.OPEN, ())
    assert line.options and line.says


def test_a_weight_of_a_salt_is_not_taken_for_the_element(facts: Reference) -> None:
    (asked,) = lines(facts, "Zinc gluconate 50 mg")
    assert [o.id for o in asked.options] == ["compound", "ZN"]
    (salt,) = lines(facts, ("Zinc gluconate 50 mg", "compound"))
    assert counted(salt) == {"ZN": pytest.approx(50 * 65.38 / 455.68, rel=1e-3)}
    (element,) = lines(facts, ("Zinc gluconate 50 mg", "ZN"))
    assert counted(element) == {"ZN": 50}


def test_a_nutrient_on_two_lines_counts_once_it_is_said_which(facts: Reference) -> None:
    one, other = lines(facts, "Zinc 15 mg", "Zinc 30 mg")
    assert {one.state, other.state} == {LineState.OPEN}
    one, other = lines(facts, "Zinc 15 mg", ("Zinc 30 mg", "nothing"))
    assert (counted(one), other.state) == ({"ZN": 15}, LineState.NOTHING)
    # Two salts bring what they bring together.
    salts = lines(facts, ("Zinc gluconate 50 mg", "compound"), ("Zinc oxide 5 mg", "compound"))
    assert all(line.state is LineState.COUNTED for line in salts)


def test_a_total_and_an_oil_stand_back_for_what_is_named_apart(facts: Reference) -> None:
    fat, oil, total, _ = lines(facts, "Fat 1 g", "Fish oil 1000 mg", "Omega-3 330 mg", "EPA 180 mg")
    assert (counted(fat), counted(oil), total.state) == ({"FAT": 1}, {}, LineState.NOTHING)
    (alone,) = lines(facts, "Fish oil 1000 mg")
    assert counted(alone) == {"FAT": 1} and "F20D5N3" in alone.unknown
    # What a liver oil holds of vitamins is not known where the label does not say.
    (liver,) = lines(facts, "Cod liver oil 1000 mg")
    assert {"RETOL", "VITD"} <= set(liver.unknown)
    both = lines(facts, "Fish oil 500 mg", "Flaxseed oil 500 mg")
    assert [counted(line) for line in both] == [{"FAT": 0.5}, {"FAT": 0.5}]


def test_thousands_are_read_as_the_practice_writes_them(facts: Reference) -> None:
    assert counted(lines(facts, "Choline 1,000 mg")[0]) == {"CHOLN": 1000}
    assert counted(lines(facts, "Choline 1.000 mg", point=False)[0]) == {"CHOLN": 1000}
    assert lines(facts, "Choline 1,000 mg", point=False)[0].state is LineState.OPEN


@given(st.lists(st.text(max_size=60), max_size=4))
def test_no_line_vanishes_and_none_is_refused_with_a_fault(
    facts: Reference, texts: list[str]
) -> None:
    found = lines(facts, *texts)
    assert [line.text for line in found] == [t.strip() for t in texts if t.strip()]


def shelf(facts: Reference, **label: Any) -> ShelfReading:
    whole = {"name": "Made up", "unit": "tablet", "rest": "nothing", **label}
    whole["lines"] = [{"text": text} for text in label["lines"]]
    return read_label(facts.shelf_labels, read(ShelfLabel, whole), "shelf:made-up")


def case_with(item: ShelfItem | None, quantity: dict[str, Any], **more: Any) -> dict[str, Any]:
    assert item is not None
    recipe = [{"food": "usda:05062", "grams": 200}, {"food": item.id, **quantity}]
    return {
        "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 12}, "energy": {"kcal_per_day": 700},
        "targets": {"standard": "nrc-2006"}, "shelf": [dump(item)], "recipe": {"lines": recipe}, **more,
    }  # fmt: skip


def added(facts: Reference, data: dict[str, Any], key: str) -> float:
    without = {**data, "recipe": {"lines": data["recipe"]["lines"][:1]}}
    totals = [
        next(n["total"] for n in analysed(facts, d)["nutrients"] if n["key"] == key)
        for d in (data, without)
    ]
    return float(totals[0] - totals[1])


@pytest.mark.parametrize("weight", [None, 0.9])
def test_a_piece_brings_what_its_label_says_whatever_it_weighs(
    facts: Reference, weight: float | None
) -> None:
    item = shelf(facts, per=2, unit_g=weight, lines=["Zinc 30 mg", "Iron 9 mg"]).item
    data = case_with(item, {"amount": 3, "unit": "tablet"})
    assert added(facts, data, "ZN") == pytest.approx(45)
    assert added(facts, data, "FE") == pytest.approx(13.5)


def test_a_spoon_brings_what_its_label_says(facts: Reference) -> None:
    reading = shelf(facts, unit="teaspoon", lines=["Calcium 800 mg"])
    assert reading.item is None and [o.field for o in reading.open] == ["unit_g"]
    item = shelf(facts, unit="teaspoon", unit_g=2.5, lines=["Calcium 800 mg"]).item
    data = case_with(item, {"amount": 1.5, "unit": "tsp"})
    assert added(facts, data, "CA") == pytest.approx(1200)


@pytest.mark.parametrize(
    ("label", "field"),
    [
        ({"lines": []}, "lines"),
        ({"lines": ["Biotin 5 mg"]}, "lines"),
        ({"lines": ["Zinc 15 mg", "Kelp 50 mg"]}, "lines"),
        ({"lines": ["Zinc 15 mg"], "rest": ""}, "rest"),
        ({"lines": ["Zinc 15 mg"], "unit": "barrel"}, "unit"),
        ({"lines": ["Zinc 1500 mg"], "unit_g": 0.5}, "lines"),
    ],
)
def test_what_is_open_keeps_a_label_from_the_shelf(
    facts: Reference, label: dict[str, Any], field: str
) -> None:
    reading = shelf(facts, **label)
    assert reading.item is None
    assert field in [o.field for o in reading.open]


def test_what_was_said_to_be_unknown_is_never_zero(facts: Reference) -> None:
    label = {"name": "Made up", "unit": "tablet", "rest": "nothing"}
    kelp = {"text": "Kelp 50 mg", "meant": "unknown"}
    zinc = {"text": "Zinc 15 mg"}
    read_as = read_label(
        facts.shelf_labels, read(ShelfLabel, {**label, "lines": [zinc, kelp]}), "shelf:x"
    )
    assert [o.field for o in read_as.open] == ["rest"]
    fat = shelf(facts, unit="softgel", lines=["Fish oil 1000 mg", "EPA 180 mg", "DHA 120 mg"]).item
    assert fat is not None and {"FAPU", "F20D4N6"} <= set(fat.unknown)
    assert not {"F20D5N3", "F22D6N3"} & set(fat.unknown)
    library = read_case(facts, case_with(fat, {"amount": 1, "unit": "capsule"})).library
    row = library.values[library.row(fat.id)]
    known = {key: row[library.catalogue.index(key)] for key in ("FAPU", "F20D5N3", "ZN")}
    assert np.isnan(known["FAPU"])
    assert (known["F20D5N3"] > 0, known["ZN"]) == (True, 0)


def test_a_shell_and_the_other_ingredients_tell_what_a_dog_may_react_to(facts: Reference) -> None:
    softgel = shelf(
        facts, unit="softgel", lines=["Vitamin E 100 IU", "Other ingredients: soy lecithin"]
    )
    assert softgel.source_groups == ("beef", "pork", "soy")
    plant = shelf(facts, unit="plant-capsule", lines=["Vitamin E 100 IU"])
    assert plant.source_groups == ()


def test_a_dose_too_strong_to_be_measured_is_said_and_never_proposed(facts: Reference) -> None:
    reading = shelf(facts, unit="drop", lines=["Vitamin D3 1000 IU"])
    assert reading.item is not None and "never be proposed" in reading.cautions[0]
    dossier = read_case(facts, case_with(reading.item, {"amount": 1, "unit": "drop"}))
    bare = dossier.with_lines(dossier.lines[:1])
    allowed = default_allowed(bare, "rebalance")
    assert reading.item.id in allowed
    assert reading.item.id not in {c.food.id for c in added_candidates(bare, allowed, 700)}


@pytest.mark.parametrize(
    ("most", "most_for", "grams"),
    [(8, "1000-kcal", 8 * 0.7), (4, "10-kg-day", 4 * 1.2)],
)
def test_a_label_is_not_overstepped(
    facts: Reference, most: float, most_for: str, grams: float
) -> None:
    item = shelf(
        facts, unit="gram", per=5, tsp_g=4, most=most, most_for=most_for, lines=["Calcium 800 mg"]
    ).item
    data = case_with(item, {"grams": 60}, prices_per_kg={})
    dossier = read_case(facts, data)
    bare = dossier.with_lines(dossier.lines[:1])
    (candidate,) = added_candidates(bare, [item.id if item else ""], 700)
    assert candidate.high_grams == pytest.approx(grams)
    over = [f for f in check(dossier) if "its label allows" in f.what]
    assert [f.food for f in over] == ["shelf:made-up"]


def test_a_fine_scale_opens_what_has_no_spoon(facts: Reference) -> None:
    item = shelf(facts, unit="gram", per=10, lines=["Calcium 800 mg"]).item
    assert item is not None
    for fine in (False, True):
        data = case_with(item, {"grams": 5}, intake={"owner": {"fine_scale": fine}})
        dossier = read_case(facts, data)
        bare = dossier.with_lines(dossier.lines[:1])
        found = {
            c.food.id: c for c in added_candidates(bare, [item.id, "supp:calcium-carbonate"], 700)
        }
        assert (item.id in found) is fine
        step = found["supp:calcium-carbonate"].increment
        assert (step.unit, step.grams) == (("g", 0.1) if fine else ("tsp", 2.7 / 8))


@pytest.mark.parametrize("at", [0, 1])
def test_an_item_without_a_label_gets_one_that_makes_it_again(facts: Reference, at: int) -> None:
    item = read(ShelfItem, SHELF[at])
    label = label_of(facts.shelf_labels, item)
    again = read_label(facts.shelf_labels, label, item.id).item
    assert again is not None
    before, after = item_values(facts.shelf_labels, item), item_values(facts.shelf_labels, again)
    assert {k: v for k, v in after.items() if v} == pytest.approx(
        {k: v for k, v in before.items() if v}
    )
    assert (again.most_g_per_mcal, again.tsp_g) == (item.most_g_per_mcal, item.tsp_g)


@pytest.mark.parametrize("unit", ["tablet", "block"])
def test_a_piece_without_a_label_gets_one_with_the_same_contents(
    facts: Reference, unit: str
) -> None:
    values = {"ZN": {"value": 2, "unit": "g"}}
    item = ShelfItem(
        id="shelf:x", name="X", per_100_g=values, unit=unit, unit_g=0.5, rest_is_zero=True
    )
    again = read_label(facts.shelf_labels, label_of(facts.shelf_labels, item), item.id).item
    assert again is not None
    # 2 g in 100 g, whatever it is counted in.
    assert item_values(facts.shelf_labels, again)["ZN"] == pytest.approx(2000)
