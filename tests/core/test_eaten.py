"""What a dog eats of a bought diet, and how it is to eat."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from wainscot_core.analysis.eaten import as_fed_of, eaten_of
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.labels import PackLabel, cup_of, read_pack
from wainscot_core.formats.casefile import FORMAT, open_case
from wainscot_core.recipe.line import sum_lines

CHICKEN, RICE, CALCIUM = "usda:05062", "usda:20045", "supp:calcium-carbonate"
# 4 x 26 + 9 x 15 + 4 x 38 = 391 kcal by the case's method; 365 as its label states.
BAG = {
    "id": "own:bag", "name": "Dry food", "food_class": "", "fibre": "crude",
    "per_100_g": {"ENERC": 365, "PROCNT": 26, "FAT": 15, "CHOCDF": 42, "FIBTG": 4, "WATER": 10},
}  # fmt: skip


def dossier(facts: Reference, kcal: float = 700, **more: Any) -> Dossier:
    case: dict[str, Any] = {
        "format": FORMAT, "version": 1, "dog": {"name": "Hazel", "weight_kg": 12},
        "energy": {"kcal_per_day": kcal}, "targets": {"standard": "nrc-2006"},
        "foods": [BAG], "known": {"own:bag": {"measures": {"cup": 100}}},
        "recipe": {"covers_days": 1, "lines": []}, **more,
    }  # fmt: skip
    return open_case(facts, case).dossier


def test_cups_become_energy_by_the_method_of_the_case(facts: Reference) -> None:
    found = eaten_of(dossier(facts), "own:bag", "2 1/2 cups")
    assert found.grams == pytest.approx(250)
    assert found.kcal == pytest.approx(2.5 * 391)
    assert found.stated_kcal == pytest.approx(2.5 * 365)
    assert found.off_target == pytest.approx(2.5 * 391 / 700 - 1)
    assert found.as_fed.moisture == pytest.approx(0.10)
    assert found.as_fed.fibre == pytest.approx(4 / 90)


def test_one_figure_is_told_once(facts: Reference) -> None:
    same = {**BAG, "per_100_g": {**BAG["per_100_g"], "ENERC": 390}}  # type: ignore[dict-item]
    found = eaten_of(dossier(facts, foods=[same]), "own:bag", "100 g")
    assert found.stated_kcal is None and found.kcal == pytest.approx(391)


@pytest.mark.parametrize(
    ("food", "quantity", "field"),
    [("own:bag", "a few", "quantity"), ("own:bag", "", "quantity"), ("own:none", "1 cup", "food")],
)
def test_what_cannot_be_read_is_named(
    facts: Reference, food: str, quantity: str, field: str
) -> None:
    with pytest.raises(InputError) as caught:
        eaten_of(dossier(facts), food, quantity)
    assert caught.value.field == field


@pytest.mark.parametrize(("energy", "said"), [(0, "brings no energy"), (None, "not known")])
def test_without_energy_nothing_is_said_of_it(
    facts: Reference, energy: float | None, said: str
) -> None:
    at = dossier(facts)
    values = at.library.values.copy()
    column = at.library.catalogue.index("ENERC")
    values[at.library.row("own:bag"), column] = np.nan if energy is None else energy
    with pytest.raises(InputError, match=said):
        eaten_of(replace(at, library=replace(at.library, values=values)), "own:bag", "100 g")


def test_a_recipe_tells_how_it_is_to_eat(facts: Reference) -> None:
    """100 g of boiled rice: 68.44 g of water, 0.4 g of fibre."""
    at = dossier(facts, recipe={"covers_days": 1, "lines": [{"food": RICE, "grams": 200}]})
    found = as_fed_of(sum_lines(at.library, at.lines, 1))
    assert found.moisture == pytest.approx(0.6844)
    assert found.fibre == pytest.approx(0.4 / 31.56, rel=1e-3)
    salted = [{"food": RICE, "grams": 200}, {"food": CALCIUM, "grams": 1}]
    with_salt = dossier(facts, recipe={"covers_days": 1, "lines": salted})
    # A gram of a powder of which no fibre is known does not hide that of the rest.
    assert as_fed_of(sum_lines(with_salt.library, with_salt.lines, 1)).moisture is not None


def test_what_is_not_known_and_would_matter_leaves_fibre_unknown(facts: Reference) -> None:
    bran = {"id": "own:bag", "name": "Mix", "per_100_g": {"ENERC": 350, "CHOCDF": 70, "WATER": 10}}
    lines = [{"food": RICE, "grams": 200}, {"food": "own:bag", "grams": 100}]
    at = dossier(facts, foods=[bran], recipe={"covers_days": 1, "lines": lines})
    found = as_fed_of(sum_lines(at.library, at.lines, 1))
    assert found.moisture == pytest.approx((2 * 68.44 + 10) / 300) and found.fibre is None


def test_a_recipe_of_unknown_moisture_tells_none(facts: Reference) -> None:
    dry = {"id": "own:bag", "name": "Mix", "per_100_g": {"ENERC": 350, "PROCNT": 20, "FAT": 10}}
    line = [{"food": "own:bag", "grams": 100}]
    at = dossier(facts, foods=[dry], recipe={"covers_days": 1, "lines": line})
    found = as_fed_of(sum_lines(at.library, at.lines, 1))
    assert (found.moisture, found.fibre) == (None, None)


def test_a_cup_is_what_the_pack_says_or_lets_reckon(facts: Reference) -> None:
    assert cup_of(110, 370, 3650) == 110
    assert cup_of(None, 370, 3650) == pytest.approx(101.37, abs=0.01)
    assert cup_of(None, 370, None) is None and cup_of(None, None, 3650) is None
    pack = PackLabel(
        protein=26, fat=15, fibre=4, moisture=10, kcal_per_kg=3650, kcal_per_cup=500, cup_grams=100
    )
    with pytest.raises(InputError, match="make 365 kcal a cup"):
        read_pack(facts.labels, pack)
