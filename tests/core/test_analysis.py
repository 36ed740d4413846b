"""Totals and statuses against hand calculation and properties that must hold."""

import csv
import random
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from wainscot_core.analysis.adequacy import judge, judge_ratios, status_of
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.foods import Food, Provenance
from wainscot_core.recipe.totals import Totals, totals
from wainscot_core.targets.standards import Limit, RequirementSet, requirement_set

ROOT = Path(__file__).resolve().parents[2]
CHICKEN, RICE, CARROT = "usda:05062", "usda:20445", "usda:11124"

INFINITE = float("inf")


def adult(facts: Reference) -> RequirementSet:
    return requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")


def test_three_foods_by_hand(facts: Reference) -> None:
    """200 g chicken breast, 300 g cooked rice, 100 g carrot; table figures copied by hand.

    per 100 g:      protein  P      K      kcal
    chicken breast  22.525   214.9  330.1  112
    rice, cooked     2.69     43     35    130
    carrot, raw      0.941    39.8  279.6   45
    """
    rows = [facts.library.row(f) for f in (CHICKEN, RICE, CARROT)]
    sums = totals(facts.library, rows, [200, 300, 100], days=2)
    by_hand = {
        "PROCNT": 2 * 22.525 + 3 * 2.69 + 0.941,
        "P": 2 * 214.9 + 3 * 43 + 39.8,
        "K": 2 * 330.1 + 3 * 35 + 279.6,
        "ENERC": 2 * 112 + 3 * 130 + 45,
    }
    for key, amount in by_hand.items():
        assert sums.amount(key) == pytest.approx(amount, rel=0.005)
    column = facts.catalogue.index("PROCNT")
    assert sums.known[column] / sums.days == pytest.approx(by_hand["PROCNT"] / 2, rel=0.005)
    assert sums.known[column] / sums.kcal * 1000 == pytest.approx(
        by_hand["PROCNT"] / by_hand["ENERC"] * 1000, rel=0.005
    )


PLAIN = [
    row["id"]
    for row in csv.DictReader((ROOT / "reference/composition/foods.csv").open())
    if row["plain"] == "1" and row["class"] != "fat-oil"
]
RECIPES = st.lists(st.tuples(st.sampled_from(PLAIN), st.floats(1, 800)), min_size=1, max_size=12)


def test_every_nutrient_of_three_foods_by_plain_arithmetic(facts: Reference) -> None:
    """The same recipe summed straight from the table's cells, without the library."""
    with (ROOT / "reference/composition/values.csv").open() as handle:
        table = {row["id"]: row for row in csv.DictReader(handle)}
    lines = {CHICKEN: 200, RICE: 300, CARROT: 100}
    sums = batch(facts, list(lines.items()))
    compared = 0
    for tag in next(iter(table.values())):
        cells = [table[food][tag] for food in lines]
        if tag == "id" or "" in cells:
            continue
        by_hand = sum(float(c) * g / 100 for c, g in zip(cells, lines.values(), strict=True))
        assert sums.amount(tag) == pytest.approx(by_hand, rel=0.005), tag
        compared += 1
    assert compared > 45


def batch(facts: Reference, lines: list[tuple[str, float]], factor: float = 1.0) -> Totals:
    rows = [facts.library.row(food) for food, _ in lines]
    return totals(facts.library, rows, [grams * factor for _, grams in lines])


@settings(max_examples=60, deadline=None)
@given(lines=RECIPES, factor=st.floats(0.05, 20))
def test_scaling_keeps_everything_per_1000_kcal(
    facts: Reference, lines: list[tuple[str, float]], factor: float
) -> None:
    one, many = batch(facts, lines), batch(facts, lines, factor)
    if one.kcal == 0:
        return
    np.testing.assert_allclose(one.known / one.kcal, many.known / many.kcal, rtol=1e-9)
    np.testing.assert_allclose(one.known_share, many.known_share, rtol=1e-9, atol=1e-12)
    statuses = [[f.status for f in judge(t, adult(facts))] for t in (one, many)]
    assert statuses[0] == statuses[1]


@settings(max_examples=40, deadline=None)
@given(lines=RECIPES, seed=st.integers(0, 1000))
def test_order_of_lines_does_not_matter(
    facts: Reference, lines: list[tuple[str, float]], seed: int
) -> None:
    mixed = random.Random(seed).sample(lines, len(lines))
    one, two = batch(facts, lines), batch(facts, mixed)
    np.testing.assert_allclose(one.known, two.known, rtol=1e-9)
    np.testing.assert_array_equal(one.unknown_lines, two.unknown_lines)


def with_food(facts: Reference, **values: float):
    return facts.library.extended(
        [Food("own:x", "X", "own", "plain")], [values], [Provenance("own:x", "label", "", "", "")]
    )


def test_unknown_is_unproven_unless_the_known_part_suffices(facts: Reference) -> None:
    """Zinc needs 15 mg per 1000 kcal. A food of 100 kcal per 100 g without a zinc value."""
    library = with_food(facts, ENERC=100, PROCNT=10)
    zinc = facts.catalogue.index("ZN")
    limits = adult(facts)
    alone = judge(totals(library, [library.row("own:x")], [1000]), limits)[zinc]
    assert (alone.status, alone.unknown_lines) == ("unproven", 1)
    # 100 g of oyster brings 39.3 mg zinc: enough for the 1000 kcal by itself.
    oyster = library.row("usda:15167")
    both = judge(totals(library, [library.row("own:x"), oyster], [900, 100]), limits)[zinc]
    assert both.status == "met"
    # The same gap with every value known is short.
    rice = judge(totals(library, [library.row(RICE)], [500]), limits)[zinc]
    assert (rice.status, rice.unknown_lines) == ("short", 0)


@pytest.mark.parametrize(
    ("least", "most", "low", "high", "status"),
    [
        (5, 5, 10, None, "short"),
        (5, 9.9, 10, None, "short"),  # even the most is not enough
        (5, 10, 10, None, "unproven"),
        (5, INFINITE, 10, None, "unproven"),
        (10, INFINITE, 10, None, "met"),
        (10, 10, 10, 20, "met"),
        (20, 20, 10, 20, "met"),
        (10, 20, 10, 20, "met"),
        (10, 20.1, 10, 20, "unproven"),  # it may be too much
        (10, INFINITE, 10, 20, "unproven"),
        (20.1, 20.1, 10, 20, "over"),
        (20.1, INFINITE, 10, 20, "over"),
        (5, 5, None, 20, "met"),
        (5, 21, None, 20, "unproven"),
        (5, INFINITE, None, None, "no limit"),
        (None, INFINITE, 10, None, "unproven"),
    ],
)
def test_statuses(least, most, low, high, status) -> None:
    assert status_of(least, most, Limit("ZN", "mg", low, None, high)) == status


def test_no_limit_without_a_limit() -> None:
    assert status_of(3.0, 3.0, None) == "no limit"


def test_calcium_to_phosphorus(facts: Reference) -> None:
    """Chicken breast: 3.939 mg Ca to 214.9 mg P."""
    limits = requirement_set(facts.catalogue, facts.standards["aafco-2016"], "adult")
    sums = totals(facts.library, [facts.library.row(CHICKEN)], [100])
    ratio = next(r for r in judge_ratios(sums, limits) if r.ratio.key == "CA_P")
    assert ratio.value == pytest.approx(3.939 / 214.9, rel=0.01)
    assert ratio.status == "short"


def test_ratios_with_an_unknown_part_are_unproven(facts: Reference) -> None:
    library = with_food(facts, ENERC=100, P=100)
    limits = requirement_set(facts.catalogue, facts.standards["aafco-2016"], "adult")
    sums = totals(library, [library.row("own:x"), library.row(CHICKEN)], [100, 100])
    assert next(r for r in judge_ratios(sums, limits) if r.ratio.key == "CA_P").status == "unproven"


def test_units_of_ratios_are_reconciled(facts: Reference) -> None:
    """Zinc 15 mg and copper 1.5 mg give 10 : 1."""
    library = with_food(facts, ENERC=100, ZN=15, CU=1.5)
    sums = totals(library, [library.row("own:x")], [100])
    ratios = {r.ratio.key: r.value for r in judge_ratios(sums, adult(facts))}
    assert ratios["ZN_CU"] == pytest.approx(10)


def test_estimated_and_known_shares(facts: Reference) -> None:
    """Half the weight has a taurine value, and it comes from a survey, not an analysis."""
    library = with_food(facts, ENERC=100)
    sums = totals(library, [library.row("own:x"), library.row(CHICKEN)], [100, 100])
    taurine = facts.catalogue.index("TAU")
    assert sums.known_share[taurine] == pytest.approx(0.5)
    assert sums.estimated[taurine] == pytest.approx(sums.known[taurine])
    assert sums.known[taurine] == pytest.approx(18)


def test_derived_columns_are_unknown_when_a_part_is(facts: Reference) -> None:
    library = with_food(facts, ENERC=100, MET=1.0)
    assert np.isnan(library.values[library.row("own:x"), facts.catalogue.index("AAS")])
    full = with_food(facts, ENERC=100, MET=1.0, CYS=0.5)
    assert full.values[full.row("own:x"), facts.catalogue.index("AAS")] == pytest.approx(1.5)


def test_dog_vitamin_a_counts_carotene_by_its_own_factor(facts: Reference) -> None:
    """1 mg beta-carotene is 833 IU for a dog, and 1 ug retinol 3.333 IU: 250 ug RE."""
    library = with_food(facts, ENERC=100, RETOL=100, CARTBEQ=1000)
    found = library.values[library.row("own:x"), facts.catalogue.index("VITA")]
    assert found == pytest.approx(100 + 833 / 3.3333, rel=1e-3)


def test_a_recipe_without_energy_has_no_figure_per_1000_kcal(facts: Reference) -> None:
    sums = totals(facts.library, [facts.library.row("usda:02047")], [5])
    calcium = judge(sums, adult(facts))[facts.catalogue.index("CA")]
    assert (calcium.value, calcium.status) == (None, "unproven")
