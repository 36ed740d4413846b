"""Foods beside the gaps of a recipe: densities by hand, and that what is said to close a gap moves the recipe's amount."""

import math
from dataclasses import replace

import numpy as np
import pytest
import stews
from wainscot_core.analysis.adequacy import Status, Verdict
from wainscot_core.analysis.analyse import analyse
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formulation.density import (
    MOST_GAPS,
    MOST_TIMES,
    GapTable,
    Side,
    densities,
    gap_of,
    gap_table,
    yards_of,
)
from wainscot_core.recipe.amount import Amount
from wainscot_core.recipe.line import Line
from wainscot_core.targets.standards import Limit

OYSTER, SALT, PREMIX = "usda:15167", "usda:02047", "supp:calcium-carbonate"


@pytest.fixture(scope="module")
def stew(facts: Reference) -> Dossier:
    return stews.dossier(facts, reactions=[{"food": "turkey"}])


@pytest.fixture(scope="module")
def table(stew: Dossier) -> GapTable:
    return gap_table(stew, whole=True)


def with_food(dossier: Dossier, food: str, grams: float) -> Dossier:
    line = Line(
        dossier.library.food(food), dossier.library.row(food), Amount(grams, "g", grams, ""), None
    )
    return dossier.with_lines([*dossier.lines, line])


def values(dossier: Dossier) -> dict[str, float]:
    nutrients = analyse(dossier).nutrients
    return {n.key: n.per_1000_kcal for n in nutrients if n.per_1000_kcal is not None}


def test_the_gaps_are_what_the_analysis_finds(stew: Dossier, table: GapTable) -> None:
    statuses = {n.key: n.status for n in analyse(stew).nutrients}
    missed = {
        k for k, s in statuses.items() if s in {"short", "unproven", "over", "above safe limit"}
    }
    yards = yards_of(stew)
    gaps = [y for y in yards if y.gap]
    assert {y.key for y in gaps} == missed and len(missed) > MOST_GAPS
    assert list(yards[: len(gaps)]) == gaps and table.gaps == tuple(gaps[:MOST_GAPS])
    assert table.fed and table.dog == stew.dog_name
    # What is short comes before what is only in doubt.
    short = [y.status is Status.SHORT for y in gaps if y.gap is Side.FLOOR]
    assert short == sorted(short, reverse=True)


def test_a_density_by_hand(facts: Reference, stew: Dossier) -> None:
    """Zinc of the wild oyster, 39.3 mg in 100 g, by the energy of the library."""
    library = stew.library
    kcal = library.values[library.row(OYSTER), facts.catalogue.index("ENERC")]
    found = densities(stew, [OYSTER, SALT, PREMIX])
    zinc = next(i for i, y in enumerate(found.yards) if y.key == "ZN")
    minimum = found.yards[zinc].minimum
    assert minimum is not None
    amount = found.foods[0].amounts[zinc]
    assert amount.value == pytest.approx(39.3 * 1000 / kcal)
    assert amount.times == pytest.approx(min(39.3 * 1000 / kcal / minimum, MOST_TIMES))
    assert [f.dosed for f in found.foods] == [False, False, True]
    # What is given in doses is not too much by itself, however dense.
    assert any(a.over for a in found.foods[0].amounts)
    assert not any(a.over for a in found.foods[2].amounts)
    # Salt has no energy: its sodium is as dense as is told of anything.
    sodium = next(i for i, y in enumerate(found.yards) if y.key == "NA")
    assert found.foods[1].amounts[sodium].times == MOST_TIMES


def test_what_is_not_known_is_none_and_closes_nothing(stew: Dossier, table: GapTable) -> None:
    library = stew.library
    seen = 0
    for closes in table.foods:
        for gap, times in zip(table.gaps, closes.times, strict=True):
            food, row = library.food(closes.food), library.row(closes.food)
            value, kcal = (
                library.values[row, library.catalogue.index(k)] for k in (gap.key, "ENERC")
            )
            unknown = math.isnan(value) or (math.isnan(kcal) and not food.is_supplement)
            assert (times is None) == unknown
            seen += times is None
    assert seen > 100


def test_a_food_that_is_denser_than_asked_raises_the_amount_and_a_thinner_one_lowers_it(
    stew: Dossier, table: GapTable
) -> None:
    """Ten grams of each of the first foods, and of some others."""
    before = values(stew)
    checked = 0
    for closes in [*table.foods[:25], *table.foods[100:300:8]]:
        food = stew.library.food(closes.food)
        if food.is_supplement:
            continue
        after = values(with_food(stew, closes.food, 10))
        for gap, times in zip(table.gaps, closes.times, strict=True):
            if times is None or gap.key not in before:
                continue
            if gap.gap is Side.FLOOR and times > 1.01:
                assert after[gap.key] > before[gap.key], (food.name, gap.key)
                checked += 1
            if gap.gap is Side.CEILING and times < 0.99:
                assert after[gap.key] < before[gap.key], (food.name, gap.key)
                checked += 1
    assert checked > 60


def test_what_the_dog_must_not_have_comes_last_with_its_reason(
    stew: Dossier, table: GapTable
) -> None:
    barred = [bool(c.why_not) for c in table.foods]
    assert barred == sorted(barred) and any(barred)
    turkey = [c for c in table.foods if "turkey" in stew.library.food(c.food).allergens]
    assert turkey and all(c.why_not for c in turkey)


def test_too_much_by_itself_is_told_and_costs(facts: Reference, stew: Dossier) -> None:
    table = gap_table(stew, whole=True)
    ceilings = {y.key: y.ceiling for y in yards_of(stew) if y.ceiling is not None}
    shorts = {n.short: n.key for n in facts.catalogue.nutrients}
    library = stew.library
    for closes in table.foods[:40]:
        row = library.row(closes.food)
        kcal = max(library.values[row, facts.catalogue.index("ENERC")], 10)
        for short in closes.over:
            key = shorts[short]
            assert library.values[row, facts.catalogue.index(key)] / kcal * 1000 > ceilings[key]
    liver = next(c for c in table.foods if c.food == "usda:13325")
    assert {"Retinol", "Cu"} <= set(liver.over)


def test_what_a_label_may_exceed_counts_against_a_ceiling(facts: Reference) -> None:
    """75 g of fat per 1000 kcal are promised; with 20 g more in 100 g there may be 125."""
    bag = {"id": "own:bag", "name": "Bag", "per_100_g": {"ENERC": 400, "PROCNT": 30, "FAT": 30}}
    at = {
        more: densities(
            stews.dossier(facts, foods=[bag | {"may_exceed": {"FAT": more}}]), ["own:bag"]
        )
        for more in (0, 20)
    }
    fat = next(i for i, y in enumerate(at[0].yards) if y.key == "FAT")
    ceiling, kcal = at[0].yards[fat].ceiling, at[0].foods[0].amounts[fat]
    assert ceiling is not None and kcal.value is not None
    # 30 g stay under the ceiling, 50 g do not.
    assert kcal.value < ceiling < kcal.value * 5 / 3
    assert [at[more].foods[0].amounts[fat].over for more in (0, 20)] == [False, True]


def test_what_is_mostly_water_does_not_come_first(table: GapTable) -> None:
    """Boiled kale closes as many gaps by its kcal as chicken liver, and a kilogram of it has 280 kcal."""
    order = [c.food for c in table.foods]
    assert order.index("usda:05027") < order.index("usda:11234")
    kale = next(c for c in table.foods if c.food == "usda:11234")
    assert sum(t is not None and t > 1 for t in kale.times) >= 4


def test_what_brings_more_of_every_gap_never_comes_after_what_brings_less(
    stew: Dossier, table: GapTable
) -> None:
    """Of foods that are eaten, allowed, too much of nothing and no mere water."""
    library = stew.library
    energy = library.catalogue.index("ENERC")
    alike = [
        c for c in table.foods
        if not c.why_not and not c.over and not library.food(c.food).is_supplement
        and library.values[library.row(c.food), energy] >= 60 and None not in c.times
    ]  # fmt: skip
    floors = [g.gap is Side.FLOOR for g in table.gaps]
    better = 0
    for i, later in enumerate(alike):
        for sooner in alike[:i]:
            less = [
                (a < b) if floor else (a > b)
                for a, b, floor in zip(sooner.times, later.times, floors, strict=True)
                if a is not None and b is not None and (max(a, b) > 1 if floor else min(a, b) < 1)
            ]
            assert not less or not all(less), (sooner.food, later.food)
            better += bool(less)
    assert better > 50
    # A bottle is too much of nothing: it has no share of the energy.
    assert not any(c.over for c in table.foods if library.food(c.food).is_supplement)


def verdict(
    value: float | None, status: Status, low: float | None, high: float | None
) -> Side | None:
    limit = Limit("FAT", "g", low, None, high)
    return gap_of(Verdict("FAT", value, limit, status, 1, False), limit)


def test_which_end_of_a_window_is_missed() -> None:
    assert verdict(5, Status.SHORT, 10, 20) is Side.FLOOR
    assert verdict(5, Status.UNPROVEN, 10, 20) is Side.FLOOR
    # The least reaches the minimum: what is in doubt is the ceiling.
    assert verdict(15, Status.UNPROVEN, 10, 20) is Side.CEILING
    assert verdict(25, Status.OVER, 10, 20) is Side.CEILING
    assert verdict(25, Status.ABOVE_SAFE, 10, None) is Side.CEILING
    assert verdict(15, Status.MET, 10, 20) is None
    assert verdict(None, Status.UNPROVEN, 10, 20) is None


def test_an_empty_recipe_misses_nothing_yet(stew: Dossier) -> None:
    empty = gap_table(replace(stew, lines=()), whole=True)
    assert empty.gaps == () and not empty.fed
    assert all(c.times == () for c in empty.foods)


def test_over_a_ceiling_what_is_thinner_comes_first(stew: Dossier) -> None:
    salted = with_food(stew, SALT, 20)
    table = gap_table(salted, whole=True)
    sodium = next(i for i, g in enumerate(table.gaps) if g.key == "NA")
    assert table.gaps[sodium].gap is Side.CEILING
    salt = next(i for i, c in enumerate(table.foods) if c.food == SALT)
    allowed = [c for c in table.foods if not c.why_not]
    assert table.foods[salt].why_not or salt > len(allowed) / 2


def test_every_food_is_there_once(stew: Dossier) -> None:
    every = gap_table(stew, whole=False)
    assert sorted(c.food for c in every.foods) == sorted(f.id for f in stew.library.foods)
    plain = {f.id for f in stew.library.foods if f.plain}
    assert {c.food for c in gap_table(stew, whole=True).foods} == plain


def test_a_food_that_is_not_there(stew: Dossier) -> None:
    with pytest.raises(KeyError):
        densities(stew, ["usda:none"])
    assert np.isfinite(len(yards_of(stew)))
