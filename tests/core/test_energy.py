"""RER and multipliers against hand-computed figures."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.dog.energy import by_multiplier, by_own_figure, check_weight, rer_kcal
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError

WEIGHTS = st.floats(0.1, 120, allow_nan=False)


@pytest.mark.parametrize(
    ("weight", "multiplier", "kcal"),
    # 70 x kg^0.75 by pocket calculator; 10^0.75 = 5.6234.
    [(10, 1, 393.6), (10, 1.6, 629.8), (20, 1, 662.0), (20, 1.8, 1192), (1, 1, 70.0)],
)
def test_worked_examples(facts: Reference, weight: float, multiplier: float, kcal: float) -> None:
    found = by_multiplier(facts.energy, weight, multiplier).target_kcal
    assert float(f"{found:.4g}") == kcal


@given(small=WEIGHTS, factor=st.floats(1.01, 3))
def test_rer_grows_with_weight_but_less_than_in_proportion(
    facts: Reference, small: float, factor: float
) -> None:
    large = small * factor
    if large > 120:
        return
    a, b = rer_kcal(facts.energy, small), rer_kcal(facts.energy, large)
    assert a < b < a * factor


@pytest.mark.parametrize("weight", [0, -3, 200, math.nan, math.inf, 0.01])
def test_impossible_weights_are_refused_by_name(facts: Reference, weight: float) -> None:
    with pytest.raises(InputError) as caught:
        by_multiplier(facts.energy, weight, 1.6)
    assert caught.value.field == "weight_kg"


def test_steps_carry_formula_and_inputs(facts: Reference) -> None:
    rer, chosen = by_multiplier(facts.energy, 10, 1.6).steps
    assert rer.formula == "70 x kg^0.75"
    assert (chosen.inputs[0].name, chosen.inputs[0].value) == ("multiplier", 1.6)
    assert chosen.inputs[1].value == pytest.approx(rer.value)


def test_own_figure_is_taken_and_absurd_ones_refused(facts: Reference) -> None:
    assert by_own_figure(facts.energy, 10, 500).target_kcal == 500
    with pytest.raises(InputError, match="out of reach"):
        by_own_figure(facts.energy, 10, 50_000)


@pytest.mark.parametrize(
    ("multiplier", "may"),
    [
        (0.5, True),
        (0.49, False),
        (12.0, True),
        (12.01, False),
        (math.nan, False),
        (math.inf, False),
    ],
)
def test_multipliers_have_bounds(facts: Reference, multiplier: float, may: bool) -> None:
    if may:
        assert by_multiplier(facts.energy, 10, multiplier).rer_kcal == pytest.approx(393.6, abs=0.1)
    else:
        with pytest.raises(InputError) as caught:
            by_multiplier(facts.energy, 10, multiplier)
        assert caught.value.field == "multiplier"


@pytest.mark.parametrize(
    # 0.2 and 12 x RER of 10 kg, 393.64 kcal: 78.73 and 4723.7.
    ("kcal", "may"),
    [(78.8, True), (78.6, False), (4723, True), (4725, False), (math.nan, False)],
)
def test_an_own_figure_has_bounds(facts: Reference, kcal: float, may: bool) -> None:
    if may:
        assert by_own_figure(facts.energy, 10, kcal).target_kcal == kcal
    else:
        with pytest.raises(InputError) as caught:
            by_own_figure(facts.energy, 10, kcal)
        assert caught.value.field == "kcal_per_day"


@pytest.mark.parametrize(
    ("weight", "words"),
    [
        (0.0, "above 0"), (-1.0, "above 0"), (math.nan, "above 0"), (0.09, "give 0.1 to 120 kg"),
        (120.1, "give 0.1 to 120 kg"),
    ],
)  # fmt: skip
def test_a_weight_is_told_what_is_wrong_with_it(
    facts: Reference, weight: float, words: str
) -> None:
    with pytest.raises(InputError, match=words):
        check_weight(facts.energy, weight)


@pytest.mark.parametrize("weight", [0.1, 120.0])
def test_the_lightest_and_the_heaviest_dog_are_dogs(facts: Reference, weight: float) -> None:
    assert check_weight(facts.energy, weight) == weight
