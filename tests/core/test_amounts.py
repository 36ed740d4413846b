"""Amounts as people write them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core import amounts
from wainscot_core.errors import InputError
from wainscot_core.foods import Food, Measure

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
    found = amounts.household(RICE, grams)
    if found is not None:
        assert found.grams == pytest.approx(grams * (1 + found.error))
        # Quarters and thirds of a cup are never further apart than 1/8 of a cup.
        assert abs(found.grams - grams) <= 158 / 8 + 25


def test_household_text() -> None:
    assert amounts.household(RICE, 237).text == "1 1/2 cups"  # type: ignore[union-attr]
    assert amounts.household(BARE, 100) is None
