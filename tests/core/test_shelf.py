"""What a practice stocks, by its labels: read, bounded by the label, drawn on first."""

from typing import Any

import pytest
from printed import analysed
from shelf import PREMIX, SHELF
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import case_file_data, read_case, read_case_file, record_of
from wainscot_core.formulation.question import Settings, check_settings, problem_of

# A tablet of half a gram with 10 mg of zinc: 2 g of zinc in 100 g.
TABLET: dict[str, Any] = {
    "id": "shelf:zinc-ten", "name": "Zinc ten", "unit": "tablet", "unit_g": 0.5, "step": 0.5,
    "rest_is_zero": True, "per_100_g": {"ZN": {"value": 2, "unit": "g"}}, "add": "crush in",
}  # fmt: skip
MEAT = {"food": "usda:05062", "grams": 200}


def file(shelf: list[dict[str, Any]], *lines: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {
        "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 12},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"}, "shelf": shelf,
        "recipe": {"lines": [MEAT, *lines]}, **more,
    }  # fmt: skip


def nutrient(facts: Reference, data: dict[str, Any], key: str) -> dict[str, Any]:
    found = analysed(facts, data)["nutrients"]
    return next(n for n in found if n["key"] == key)


def test_a_tablet_brings_what_its_label_says(facts: Reference) -> None:
    without = nutrient(facts, file([TABLET]), "ZN")["total"]
    line = {"food": "shelf:zinc-ten", "amount": 1.5, "unit": "tablet"}
    assert nutrient(facts, file([TABLET], line), "ZN")["total"] == pytest.approx(without + 15)


@pytest.mark.parametrize(("zero", "unknown"), [(True, 0), (False, 1)])
def test_what_a_label_does_not_name_is_zero_only_when_it_names_all(
    facts: Reference, zero: bool, unknown: int
) -> None:
    item = {**TABLET, "rest_is_zero": zero}
    line = {"food": "shelf:zinc-ten", "grams": 1}
    before = nutrient(facts, file([item]), "CA")["unknown_lines"]
    assert nutrient(facts, file([item], line), "CA")["unknown_lines"] - before == unknown


def test_the_shelf_is_offered_first_and_within_its_label(facts: Reference) -> None:
    dossier = read_case(facts, file([TABLET, *SHELF]))
    problem = problem_of(dossier, check_settings(facts, Settings()))
    added = {c.food.id: c for c in problem.candidates if c.line is None}
    assert [*added][:3] == ["shelf:zinc-ten", *(item["id"] for item in SHELF)]
    # 8 g per 1000 kcal at 700 kcal; half a tablet is the least of the other.
    assert added[PREMIX].high_grams <= 5.6 + 1e-9 and added[PREMIX].kind == "premix"
    assert added["shelf:zinc-ten"].increment.grams == 0.25


def test_without_a_shelf_no_premix_is_a_candidate(facts: Reference) -> None:
    problem = problem_of(read_case(facts, file([])), check_settings(facts, Settings()))
    assert {c.kind for c in problem.candidates} == {"food", "single"}


def test_a_shelf_item_the_dog_reacts_to_stays_out(facts: Reference) -> None:
    item = {**TABLET, "allergens": ["beef"]}
    data = file([item], reactions=[{"food": "beef"}])
    problem = problem_of(read_case(facts, data), check_settings(facts, Settings()))
    assert "shelf:zinc-ten" not in {c.food.id for c in problem.candidates}


@pytest.mark.parametrize(
    ("shelf", "field"),
    [
        ([{**TABLET, "id": "zinc"}], "shelf[0].id"),
        ([{**TABLET, "id": "shelf:Zinc ../"}], "shelf[0].id"),
        ([TABLET, TABLET], "shelf[1].id"),
        ([{**TABLET, "kind": "magic"}], "shelf[0].kind"),
        ([{**TABLET, "unit_g": 0}], "shelf[0].unit_g"),
        ([{**TABLET, "per_100_g": {"ZZ": 1}}], "shelf[0].per_100_g.ZZ"),
        ([{**TABLET, "per_100_g": {"ZN": -1}}], "shelf[0].per_100_g.ZN"),
        # 200 g of zinc in 100 g: the unit was read wrongly.
        ([{**TABLET, "per_100_g": {"ZN": {"value": 200, "unit": "g"}}}], "shelf[0].per_100_g.ZN"),
        ([{**TABLET, "per_100_g": {"ZN": {"value": 2, "unit": "spoon"}}}], "shelf[0].per_100_g.ZN"),
    ],
)  # fmt: skip
def test_a_label_that_cannot_be_is_named(
    facts: Reference, shelf: list[dict[str, Any]], field: str
) -> None:
    with pytest.raises(InputError) as caught:
        read_case(facts, file(shelf))
    assert caught.value.field == field


def test_a_shelf_travels_in_the_case_file(facts: Reference) -> None:
    data = file([TABLET], {"food": "shelf:zinc-ten", "amount": 2, "unit": "tablet"})
    data["dog"]["name"] = "Pip"
    read = read_case_file(data)
    dossier = read_case(facts, data)
    again = case_file_data(record_of(read), "Owner", "R", 1, dossier.lines, [], read.shelf)
    assert analysed(facts, again)["nutrients"] == analysed(facts, data)["nutrients"]
