"""The text of a bag: its figures, energy and ingredients, and what of it is not understood."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.bag_label import BagLabel, Guarantee, read_bag

BAG = """GUARANTEED ANALYSIS
crude protein (min) 26 %, crude fat (min) 15 %, crude fibre (max) 4 %, moisture (max) 10 %
Calcium (min) 1.1 %
3 650 kcal/kg, 370 kcal/cup (calculated)
Ingredients: Chicken meal, brewers rice, poultry fat (preserved with tocopherols, rosemary), salt.

Keep in a cool place
"""


def read(facts: Reference, text: str) -> BagLabel:
    return read_bag(facts.labels.offsets, facts.allergens, text)


def printed(bag: BagLabel) -> dict[str, float]:
    return {f.name: f.printed for f in bag.figures}


def test_a_whole_bag(facts: Reference) -> None:
    bag = read(facts, BAG)
    assert printed(bag) == {"protein": 26, "fat": 15, "fibre": 4, "moisture": 10}
    kinds = {f.name: f.guarantee for f in bag.figures}
    assert (kinds["protein"], kinds["moisture"]) == (Guarantee.MIN, Guarantee.MAX)
    assert (bag.kcal_per_kg, bag.kcal_per_cup, bag.energy) == (3650, 370, "calculated")
    assert bag.ingredient_list == (
        "Chicken meal", "brewers rice", "poultry fat (preserved with tocopherols, rosemary)", "salt",
    )  # fmt: skip
    assert {a.group for a in bag.allergens} >= {"chicken", "rice"}
    assert bag.unread == ("Calcium (min) 1.1 %", "Keep in a cool place")
    assert bag.dry_matter is False


def test_what_is_usually_in_it_stands_beside_what_is_printed(facts: Reference) -> None:
    """A dry bag of 26/15/4/10 is worked with as 27.5/16/3.3/8, a wet one of 9/6/1/78 as 9.7/6.6/0.6/76."""
    dry = {f.name: f.usual for f in read(facts, BAG).figures}
    assert dry == {"protein": 27.5, "fat": 16, "fibre": 3.3, "moisture": 8}
    tin = "Protein min 9 %, fat min 6 %, fibre max 1 %, moisture max 78 %"
    wet = {f.name: f.usual for f in read(facts, tin).figures}
    assert wet == pytest.approx({"protein": 9.7, "fat": 6.6, "fibre": 0.6, "moisture": 76})


def test_the_gluten_of_corn_is_no_wheat(facts: Reference) -> None:
    def groups(statement: str) -> set[str]:
        return {a.group for a in read(facts, f"Ingredients: {statement}").allergens}

    assert groups("corn gluten meal") == {"corn"}
    assert "wheat" in groups("wheat gluten") and "wheat" in groups("gluten")


def test_averages_are_left_as_they_are(facts: Reference) -> None:
    bag = read(
        facts,
        "Analytical constituents: crude protein 26 %, crude oils and fats 15 %, crude fibre 2.5 %, crude ash 7 %",
    )
    assert printed(bag) == {"protein": 26, "fat": 15, "fibre": 2.5, "ash": 7}
    assert all(f.usual == f.printed and f.guarantee is Guarantee.AVERAGE for f in bag.figures)
    assert bag.warnings == ()


@pytest.mark.parametrize(
    ("text", "figures"),
    [
        ("Protein: not less than 32.0%\nFat: not less than 21.5%\nFiber: not more than 3%", (32, 21.5, 3)),
        ("Crude Protein, min. 32 %; Crude Fat, min. 21,5 %; Crude Fiber, max. 3 %", (32, 21.5, 3)),
        ("32% protein, 21.5% fat, 3% fibre", (32, 21.5, 3)),
        ("32 % crude protein 21.5 % fat content 3 % crude fibre", (32, 21.5, 3)),
        ("Fat 21.5 % min\nProtein 32 % min\nFibre 3 % max", (32, 21.5, 3)),
        ("CRUDE PROTEIN (MIN): 32%  CRUDE FAT (MIN): 21.5%  CRUDE FIBER (MAX): 3%", (32, 21.5, 3)),
    ],
)  # fmt: skip
def test_however_it_is_written(facts: Reference, text: str, figures: tuple[float, ...]) -> None:
    assert printed(read(facts, text)) == dict(
        zip(("protein", "fat", "fibre"), figures, strict=True)
    )


@pytest.mark.parametrize(
    ("text", "kcal_per_kg", "kcal_per_cup", "cup"),
    [
        ("4,100 kcal ME/kg; 1 cup = 110 g, 451 kcal per cup", 4100, 451, 110),
        ("365 kcal/100 g", 3650, None, None),
        ("3.65 kcal/g", 3650, None, None),
        ("15.3 MJ/kg", 3656.79, None, None),
        ("370 kcal/cup, 95 g per cup", None, 370, 95),
        ("tastes good", None, None, None),
    ],
)
def test_energy(facts: Reference, text: str, kcal_per_kg: Any, kcal_per_cup: Any, cup: Any) -> None:
    bag = read(facts, text)
    known = kcal_per_kg is not None
    assert bag.kcal_per_kg == (pytest.approx(kcal_per_kg, rel=1e-4) if known else None)
    assert (bag.kcal_per_cup, bag.cup_grams) == (kcal_per_cup, cup)


def test_what_is_not_said_is_said(facts: Reference) -> None:
    assert "taken as min" in read(facts, "Guaranteed analysis: protein 26 %").warnings[0]
    assert "taken as min" in read(facts, "protein 26 %").warnings[0]
    assert "No figure" in read(facts, "a bag of something").warnings[0]
    assert read(facts, "on dry matter: protein 30 %").dry_matter is True


@pytest.mark.parametrize("text", ["", "   ", "%PDF-1.4", "a\0b", "x" * 20_001])
def test_what_is_no_label_says_what_to_do(facts: Reference, text: str) -> None:
    with pytest.raises(InputError) as error:
        read(facts, text)
    assert error.value.field == "text"


@given(
    st.lists(
        st.tuples(st.sampled_from(["protein", "fat", "fibre", "moisture", "ash"]), st.integers(1, 99)),
        unique_by=lambda pair: pair[0], min_size=1,
    ),
    st.sampled_from([", ", "\n", "; "]),
)  # fmt: skip
def test_every_figure_is_read_as_it_stands(
    facts: Reference, figures: list[tuple[str, int]], between: str
) -> None:
    bag = read(facts, between.join(f"{name} (min) {value} %" for name, value in figures))
    assert printed(bag) == dict(figures)
    assert bag.unread == ()


@given(st.text(max_size=300))
def test_any_text_is_answered(facts: Reference, text: str) -> None:
    try:
        bag = read(facts, text)
    except InputError:
        return
    assert all(f.printed >= 0 for f in bag.figures)
