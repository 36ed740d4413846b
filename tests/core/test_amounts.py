"""Amounts as people write them."""

import csv
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.confidence import Confidence
from wainscot_core.conventions import FoodUnit, Kitchen
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import Food, Measure
from wainscot_core.recipe import amounts
from wainscot_core.recipe.household import household
from wainscot_core.recipe.typed import Typed, split_typed, typed_amount
from wainscot_core.units import Measures

RICE = Food(
    "t:rice", "Rice", "grain", "cooked",
    measures=(Measure("cup", 158, "t", ""), Measure("each large", 50, "t", ""), Measure("slice, thin", 9, "t", "")),
)  # fmt: skip
BARE = Food("t:bare", "Powder", "own", "plain")


@pytest.mark.parametrize(
    ("text", "grams"),
    [
        ("180", 180),
        ("180 g", 180),
        ("1.5 kg", 1500),
        ("1,5 kg", 1500),
        ("1 lb", 453.59237),
        ("6 oz", 170.0971),
        ("1 cup", 158),
        ("1 1/2 cups", 237),
        ("1½ cups", 237),
        ("¾ cup", 118.5),
        ("3/4 cup", 118.5),
        ("half a cup", 79),
        ("a cup", 158),
        ("2 large", 100),
        ("2 slices", 18),
        # A tablespoon is a sixteenth of a cup; there is no own weight for it.
        ("1 tbsp", 158 / 16),
        ("2 tsp", 2 * 158 / 48),
    ],
)
def test_reads(text: str, grams: float) -> None:
    assert amounts.parse(RICE, text).grams == pytest.approx(grams, rel=1e-6)


@pytest.mark.parametrize(
    ("text", "field", "says"),
    [
        ("-5 g", "amount", "above zero"),
        ("0 g", "amount", "above zero"),
        ("lots", "amount", "cannot read"),
        ("", "amount", "cannot read"),
        ("1/0 cup", "amount", "fraction"),
        ("5 furlongs", "unit", "use one of"),
        ("999999 kg", "amount", "too much"),
        ("1e400 g", "amount", "above zero"),
    ],
)
def test_refuses_in_words(text: str, field: str, says: str) -> None:
    with pytest.raises(InputError) as caught:
        amounts.parse(RICE, text)
    assert caught.value.field == field
    assert says in caught.value.message


def test_a_volume_without_a_known_weight_is_not_guessed() -> None:
    with pytest.raises(InputError, match="no volume weight"):
        amounts.parse(BARE, "1 cup")


@given(st.floats(0.01, 50_000))
def test_grams_come_back_unchanged(grams: float) -> None:
    assert amounts.parse(BARE, f"{grams!r} g").grams == pytest.approx(grams)


@given(st.floats(40, 2000))
def test_household_error_is_that_of_the_rounding(grams: float) -> None:
    found = household(RICE, grams)
    if found is not None:
        assert found.grams == pytest.approx(grams * (1 + found.error))
        # Quarters and thirds of a cup are never further apart than 1/8 of a cup.
        assert abs(found.grams - grams) <= 158 / 8 + 25


def test_household_text() -> None:
    assert household(RICE, 237).text == "1 1/2 cups"  # type: ignore[union-attr]
    assert household(BARE, 100) is None


EGG, POTATO, BANANA, BREAST = "usda:01123", "usda:11352", "usda:09040", "usda:05062"
SARDINE, PUMPKIN, CHEDDAR, GARLIC = "usda:15088", "usda:11424", "usda:01009", "usda:11215"


@pytest.mark.parametrize(
    ("food", "text", "grams"),
    [
        # A large egg without its shell weighs 50 g, an extra large one 56 g (household weights).
        (EGG, "3 large eggs", 150),
        (EGG, "3 large", 150),
        (EGG, "2 extra large eggs", 112),
        (EGG, "180", 180),
        (EGG, "3 g", 3),
        (EGG, "1 cup", 243),
        (BANANA, "2 medium bananas", 236),
        (BANANA, "1 cup mashed", 225),
        (POTATO, "2 medium potatoes", 426),
        (BREAST, "2 half breasts", 236),
        (BREAST, "1 lb chicken breast", 453.59237),
        (SARDINE, "1/2 can", 46),
        (SARDINE, "2 tins", 184),
        (PUMPKIN, "2 cups pumpkin", 490),
        ("supp:zinc-tablet-10", "1/2", 0.125),
        ("supp:zinc-tablet-10", "1 1/2 tablets", 0.375),
    ],
)
def test_number_and_noun_are_read_together(
    facts: Reference, food: str, text: str, grams: float
) -> None:
    assert amounts.parse(facts.library.food(food), text).grams == pytest.approx(grams, rel=1e-6)


@pytest.mark.parametrize(
    ("food", "text", "readings"),
    [
        (EGG, "3 eggs", {114, 132, 150, 168, 189}),
        (EGG, "3", {3, 114, 132, 150, 168, 189}),
        (POTATO, "1 potato", {213, 369}),
        # 200 g, or 200 bananas of 118 g.
        (BANANA, "200 banana", {200, 20_200, 23_600, 27_200}),
        (BANANA, "2 bananas", {202, 236, 272}),
        # One side of the bird, or both.
        (BREAST, "2 chicken breasts", {236, 472}),
        # Diced or melted: nearly twice as much cheese.
        (CHEDDAR, "1 cup", {113, 132, 244}),
        # One can is not the other, and what is on the label is not what is drained of it.
        (PUMPKIN, "1/2 can pumpkin", {212, 411}),
        (SARDINE, "1 can (106 g)", {92, 106}),
    ],
)
def test_what_can_be_read_in_several_ways_is_asked(
    facts: Reference, food: str, text: str, readings: set[float]
) -> None:
    with pytest.raises(amounts.UnsureError) as caught:
        amounts.parse(facts.library.food(food), text)
    assert {round(a.grams) for a in caught.value.candidates} == readings
    for candidate in caught.value.candidates:
        # What is offered reads as what it says.
        again = amounts.parse(facts.library.food(food), amounts.written(candidate))
        assert again.grams == pytest.approx(candidate.grams)


@pytest.mark.parametrize(
    ("food", "text", "says"),
    [
        (PUMPKIN, "1/2 jar pumpkin", "no weight is known"),
        (GARLIC, "3 bulbs", "use one of"),
        (BREAST, "6 oz turkey", "not part of"),
        (EGG, "1,000 g", "1000 or 1.000"),
        (BREAST, "2 furlongs", "use one of"),
    ],
)
def test_what_cannot_be_read_is_not_guessed(
    facts: Reference, food: str, text: str, says: str
) -> None:
    with pytest.raises(InputError, match=says) as caught:
        amounts.parse(facts.library.food(food), text)
    assert not isinstance(caught.value, amounts.UnsureError)


def test_every_measure_of_every_food_reads_back_as_what_it_weighs(facts: Reference) -> None:
    checked = 0
    for food in facts.library.foods:
        for measure in food.measures:
            one = amounts.Amount(2.0, measure.name, 2 * measure.grams, "")
            try:
                again = amounts.parse(food, amounts.written(one))
            except amounts.UnsureError as unsure:
                # Two measures of one name: both are offered.
                assert any(a.grams == pytest.approx(one.grams) for a in unsure.candidates)
                continue
            # Two entries of one name differ by a few percent in three foods of the tables.
            assert again.grams == pytest.approx(one.grams, rel=0.045), (food.name, measure.name)
            checked += 1
    assert checked > 4000


@pytest.mark.parametrize(
    ("text", "number", "measure", "food"),
    [
        ("3 eggs", "3", "", "eggs"),
        ("3 large eggs", "3", "large", "eggs"),
        ("1/2 can pumpkin", "1/2", "can", "pumpkin"),
        ("half a can of pumpkin", "half a", "can of", "pumpkin"),
        ("2 1/3 cups cooked rice", "2 1/3", "cups", "cooked rice"),
        ("1½ cups rice", "1½", "cups", "rice"),
        ("1,5 kg beef", "1,5", "kg", "beef"),
        ("9 lb beef heart", "9", "lb", "beef heart"),
        ("about 200 g rice", "about 200", "g", "rice"),
        ("two eggs", "two", "", "eggs"),
        ("a dozen eggs", "a dozen", "", "eggs"),
        ("half a dozen eggs", "half a dozen", "", "eggs"),
        ("2-3 carrots", "2-3", "", "carrots"),
        ("1-1/2 cups rice", "1-1/2", "cups", "rice"),
        ("one and a half cups rice", "one and a half", "cups", "rice"),
        ("three quarters of a cup of rice", "three quarters of a", "cup of", "rice"),
        ("1 lb 4 oz ground beef", "1 lb 4", "oz", "ground beef"),
        ("1 cup + 2 tbsp rice", "1 cup + 2", "tbsp", "rice"),
        ("2 x 400 g tins sardines", "2 x 400", "g tins", "sardines"),
        ("1 can (15 oz) pumpkin", "1 can (15", "oz)", "pumpkin"),
        ("2 heaped tbsp pumpkin", "2", "heaped tbsp", "pumpkin"),
        ("1 250 g beef", "1 250", "g", "beef"),
        # Behind the food an amount has a measure; a bare figure may belong to the name.
        ("turkey 200 g", "200", "g", "turkey"),
        ("turkey 200g", "200", "g", "turkey"),
        ("rice, 1 1/2 cups", "1 1/2", "cups", "rice"),
        ("turkey 1 lb 4 oz", "1 lb 4", "oz", "turkey"),
        ("beef 90/10 200 g", "200", "g", "beef 90/10"),
        ("milk 2% 1 cup", "1", "cup", "milk 2%"),
        ("eggs 3", "", "", "eggs 3"),
        ("beef ground 90/10", "", "", "beef ground 90/10"),
        ("vitamin d 400 iu", "", "", "vitamin d 400 iu"),
        # Lean to fat and per cent are names, not amounts.
        ("90/10 ground beef", "", "", "90/10 ground beef"),
        ("2% milk", "", "", "2% milk"),
        ("banana", "", "", "banana"),
    ],
)
def test_what_is_typed_to_add_a_food_is_split(
    text: str, number: str, measure: str, food: str
) -> None:
    assert split_typed(text) == Typed(number, measure, food)


@pytest.mark.parametrize(
    ("text", "food", "grams"),
    [
        ("3 large eggs", EGG, 150),
        ("2 medium bananas", BANANA, 236),
        ("1/2 can sardine", SARDINE, 46),
    ],
)
def test_what_was_typed_goes_with_the_food(
    facts: Reference, text: str, food: str, grams: float
) -> None:
    found = facts.library.food(food)
    written = typed_amount(split_typed(text))
    assert amounts.parse(found, written).grams == pytest.approx(grams)


def test_a_dash_is_an_eighth_of_a_teaspoon_and_a_pinch_a_sixteenth(facts: Reference) -> None:
    """Table salt: a teaspoon weighs 6 g."""
    salt = facts.library.food("usda:02047")
    assert amounts.parse(salt, "1 dash").grams == pytest.approx(0.75, rel=0.02)
    assert amounts.parse(salt, "1 pinch").grams == pytest.approx(0.375, rel=0.02)


TYPED = Path(__file__).parents[1] / "fixtures" / "typed_amounts.csv"


def _typed() -> list[tuple[str, str, str]]:
    with TYPED.open(encoding="utf-8") as file:
        return [(r["food"], r["typed"], r["expected"]) for r in csv.DictReader(file)]


@pytest.mark.parametrize(("food", "typed", "expected"), _typed())
def test_the_table_of_typed_amounts(facts: Reference, food: str, typed: str, expected: str) -> None:
    """Written by hand from household weights and exact units: grams, the candidates, or a refusal."""
    found = facts.library.food(food)
    if expected == "refuse":
        with pytest.raises(InputError) as refused:
            amounts.parse(found, typed)
        assert not isinstance(refused.value, amounts.UnsureError)
        assert refused.value.field in {"amount", "unit"} and refused.value.message
    elif expected.startswith("ask "):
        with pytest.raises(amounts.UnsureError) as asked:
            amounts.parse(found, typed)
        grams = [float(g) for g in expected.removeprefix("ask ").split("|")]
        assert [a.grams for a in asked.value.candidates] == pytest.approx(grams, rel=0.005)
        for candidate in asked.value.candidates:
            # What is offered reads as what it says.
            again = amounts.parse(found, amounts.written(candidate))
            assert again.grams == pytest.approx(candidate.grams)
    else:
        read = amounts.parse(found, typed)
        assert read.grams == pytest.approx(float(expected), rel=0.005)
        # What is stored reads the same again.
        assert amounts.parse(found, amounts.written(read)).grams == pytest.approx(read.grams)


def test_a_typical_weight_is_told_as_such(facts: Reference) -> None:
    liver = facts.library.food("usda:05028")
    assert not amounts.parse(liver, "2 livers").sure
    assert amounts.parse(liver, "40 g").sure


US_CUP_ML, METRIC_CUP_ML = 236.5882365, 250.0


@pytest.mark.parametrize(
    ("text", "measures", "grams"),
    [
        ("1 cup", Measures.US, 158.0),
        ("1 cup", Measures.METRIC, 158 * METRIC_CUP_ML / US_CUP_ML),
        ("1 metric cup", Measures.US, 158 * METRIC_CUP_ML / US_CUP_ML),
        ("1 US cup", Measures.METRIC, 158.0),
        # A metric tablespoon is 15 ml, an Australian one 20 ml; a cup of this rice holds 158 g.
        ("1 tbsp", Measures.METRIC, 158 * 15 / US_CUP_ML),
        ("1 tbsp", Measures.AUSTRALIAN, 158 * 20 / US_CUP_ML),
        ("2 tsp", Measures.METRIC, 158 * 10 / US_CUP_ML),
        ("1 australian tablespoon", Measures.US, 158 * 20 / US_CUP_ML),
        # Millilitres, pieces and weights are the same everywhere.
        ("250 ml", Measures.US, 158 * 250 / US_CUP_ML),
        ("250 ml", Measures.METRIC, 158 * 250 / US_CUP_ML),
        ("2 large", Measures.METRIC, 100.0),
        ("1 lb", Measures.METRIC, 453.59237),
        ("1 cup + 1 tbsp", Measures.METRIC, 158 * 265 / US_CUP_ML),
    ],
)
def test_cups_and_spoons_hold_what_those_who_write_them_mean(
    text: str, measures: Measures, grams: float
) -> None:
    assert amounts.parse(RICE, text, Kitchen(measures)).grams == pytest.approx(grams, rel=1e-6)


def test_what_the_practice_filled_itself_is_its_own_cup() -> None:
    own = replace(RICE, measures=(Measure("cup", 120, "weighed here", Confidence.HIGH, own=True),))
    for measures in Measures:
        assert amounts.parse(own, "1 cup", Kitchen(measures)).grams == 120


@given(st.sampled_from(Measures), st.sampled_from(Measures), st.sampled_from(["1 1/2 cup", "2 tsp", "3 tbsp", "2 large", "70 g"]))  # fmt: skip
def test_an_amount_written_anew_is_read_alike_in_another_kitchen(
    typed: Measures, read: Measures, text: str
) -> None:
    amount = amounts.parse(RICE, text, Kitchen(typed))
    again = amounts.parse(RICE, amounts.written(amount, read), Kitchen(read))
    assert again.grams == pytest.approx(amount.grams)


@pytest.mark.parametrize("text", ["6", "180", "30 powder"])
def test_a_number_alone_is_asked_where_food_is_weighed_in_ounces(text: str) -> None:
    with pytest.raises(amounts.UnsureError) as caught:
        amounts.parse(BARE, text, Kitchen(weigh=FoodUnit.OZ))
    number = float(text.split()[0])
    found = [a.grams for a in caught.value.candidates]
    assert found == pytest.approx([number, number * 28.349523125])


@pytest.mark.parametrize(("measures", "shown"), [(Measures.US, "4 cups"), (Measures.METRIC, "3 3/4 cups")])  # fmt: skip
def test_kitchen_amounts_are_told_in_the_cups_of_the_house(measures: Measures, shown: str) -> None:
    # 632 g of rice are four US cups (946 ml), 3.79 metric ones.
    found = household(RICE, 632, measures)
    assert found is not None and found.text == shown
