"""Energy of food: worked figures of every method, one scale for everything in a case."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from wainscot_core.analysis.analyse import analyse
from wainscot_core.confidence import Confidence
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.food_energy import energies, given_of, off_scale, on_scale
from wainscot_core.facts.foods import Food, Grade, Provenance
from wainscot_core.facts.me_methods import FibreKind, MeMethod
from wainscot_core.formats.casefile import read_case
from wainscot_core.recipe.amount import Amount
from wainscot_core.recipe.line import Line, sum_lines

BREAST, LENTILS, OIL, BEEF = "usda:05062", "usda:16070", "usda:04593", "usda:23562"

# Protein, fat, carbohydrate with fibre, dietary fibre and water in g per 100 g, and kcal by 4/9/4,
# 3.5/8.5/3.5 and the predictive equation, each worked by hand from those figures.
WORKED = [
    ("chicken breast", (23.1, 1.2, 0, 0, 74.8), 103.2, 91.1, 114.1),
    ("beef 90/10", (20.0, 10.0, 0, 0, 69.5), 170.0, 155.0, 180.1),
    ("egg, boiled", (12.6, 10.6, 1.1, 0, 74.6), 150.2, 138.1, 156.9),
    ("white rice, cooked", (2.7, 0.3, 28.2, 0.4, 68.4), 124.7, 109.3, 125.3),
    ("sweet potato, boiled", (1.4, 0.1, 17.7, 2.5, 80.1), 67.3, 59.0, 67.5),
    ("lentils, boiled", (9.0, 0.4, 20.1, 7.9, 69.6), 88.4, 77.6, 89.8),
    ("salmon oil", (0, 100, 0, 0, 0), 900.0, 850.0, 908.0),
    ("broccoli, raw", (2.8, 0.4, 6.6, 2.6, 89.3), 30.8, 27.2, 31.6),
]


@pytest.mark.parametrize(("name", "parts", "atwater", "modified", "predicted"), WORKED)
def test_worked_figures(
    facts: Reference, name: str, parts: tuple[float, ...], atwater: float, modified: float,
    predicted: float,
) -> None:  # fmt: skip
    protein, fat, carbohydrate, fibre, water = parts
    for method, kcal in (
        (MeMethod.ATWATER, atwater),
        (MeMethod.MODIFIED_ATWATER, modified),
        (MeMethod.NRC_PREDICTIVE, predicted),
    ):
        formula = facts.me.methods[method]
        found = float(formula.kcal(protein, fat, carbohydrate, fibre, 100 - water))
        assert found == pytest.approx(kcal, abs=0.5), method


def test_the_predictive_equation_takes_crude_fibre_of_a_label(facts: Reference) -> None:
    """Dry food 26/16/4 in 90 g of dry matter: GE 5.7 x 26 + 9.4 x 16 + 4.1 x 40 = 462.6; digestible
    91.2 - 1.43 x 4.444 = 84.84 %; ME 462.6 x 0.8484 - 1.04 x 26 = 365.4."""
    formula = facts.me.methods[MeMethod.NRC_PREDICTIVE]
    assert float(formula.kcal(26, 16, 40, 4, 90, FibreKind.CRUDE)) == pytest.approx(365.4, abs=0.1)


def test_every_plain_food_is_within_reach_of_its_table(facts: Reference) -> None:
    """4/9/4 lies between a quarter under and an eighth over the table for what is energy to a dog."""
    library = facts.library
    kcal, _ = energies(library, facts.me, facts.me.methods[MeMethod.ATWATER])
    given_kcal = given_of(library)
    plain = np.array(
        [
            f.proposable and not f.is_supplement and f.klass not in {"herb-spice", "fruit"}
            for f in library.foods
        ]
    )
    known = plain & (given_kcal > 20) & ~np.isnan(kcal)
    ratio = np.where(known, kcal / np.where(given_kcal > 0, given_kcal, 1), 1.0)
    far = {library.foods[i].id for i in np.flatnonzero(known & ((ratio < 0.72) | (ratio > 1.125)))}
    assert known.sum() > 200
    # Spirulina, whose table figure counts its protein for a third less; raw Brussels sprouts and cauliflower,
    # which are nearly half fibre and protein of low human digestibility.
    assert far == {"usda:11667", "usda:11098", "usda:11135"}


def test_no_method_gives_more_than_fat_has(facts: Reference) -> None:
    for formula in facts.me.methods.values():
        kcal, _ = energies(facts.library, facts.me, formula)
        assert np.nanmax(kcal, initial=0.0) <= 940


@settings(max_examples=200, deadline=None)
@given(
    protein=st.floats(0, 40), fat=st.floats(0, 40), available=st.floats(0, 15),
    fibre=st.floats(0, 15), ash=st.floats(0.5, 5),
)  # fmt: skip
def test_fibre_never_adds_energy(
    facts: Reference, protein: float, fat: float, available: float, fibre: float, ash: float
) -> None:
    dry = protein + fat + available + fibre + ash
    for formula in facts.me.methods.values():
        whole = float(formula.kcal(protein, fat, available, 0.0, dry))
        more = float(formula.kcal(protein, fat, available + fibre, fibre, dry))
        if formula.predictive is None:
            assert more == pytest.approx(whole)
        assert more <= 9.4 * (protein + fat + available + fibre) + 1e-9


def test_a_library_returns_to_what_its_sources_say(facts: Reference) -> None:
    scaled = on_scale(facts.library, facts.me, MeMethod.MODIFIED_ATWATER)
    again = on_scale(scaled, facts.me, MeMethod.ATWATER)
    straight = on_scale(facts.library, facts.me, MeMethod.ATWATER)
    assert np.array_equal(again.values, straight.values, equal_nan=True)
    assert np.array_equal(off_scale(scaled).values, facts.library.values, equal_nan=True)
    assert np.array_equal(off_scale(scaled).codes, facts.library.codes)
    with pytest.raises(ValueError, match="before"):
        scaled.extended([], [], [])


def test_only_energy_moves(facts: Reference) -> None:
    scaled = on_scale(facts.library, facts.me, MeMethod.ATWATER)
    column = facts.catalogue.index("ENERC")
    others = [i for i in range(len(facts.catalogue.nutrients)) if i != column]
    assert np.array_equal(scaled.values[:, others], facts.library.values[:, others], equal_nan=True)
    origin = scaled.provenance_of(LENTILS, "ENERC")
    assert origin.grade is Grade.COMPUTED and "available" not in origin.citation
    assert "carbohydrate - dietary fibre" in origin.text


def test_what_a_formula_cannot_know_keeps_its_figure(facts: Reference) -> None:
    """Vinegar's acid and an extract's alcohol are no protein, fat or carbohydrate; bone meal's fat is not known."""
    scaled = on_scale(facts.library, facts.me, MeMethod.ATWATER)
    for food in ("usda:02048", "usda:02050", "supp:bone-meal", "supp:lecithin"):
        row = scaled.row(food)
        assert scaled.values[row, 0] == facts.library.values[row, 0]
    premix = facts.library.extended(
        [Food("own:mix", "Mix", "own", "plain")],
        [{"ENERC": 300, "PROCNT": 0, "FAT": 0, "CHOCDF": 0}],
        [Provenance("own:mix", Grade.LABEL, "", "", Confidence.UNSAID)],
    )
    kept = on_scale(premix, facts.me, MeMethod.ATWATER)
    assert kept.values[kept.row("own:mix"), 0] == 300


def case(method: str, lines: list[dict], **more: object) -> dict:
    return {
        "format": "wainscot-case", "version": 1, "dog": {"name": "Fen", "weight_kg": 12},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"}, "me_method": method,
        "recipe": {"covers_days": 1, "lines": lines}, **more,
    }  # fmt: skip


LABEL_FOOD = {
    "id": "own:dry", "name": "Dry food", "fibre": "crude",
    "per_100_g": {"ENERC": 353, "WATER": 10, "PROCNT": 26, "FAT": 16, "CHOCDF": 40, "FIBTG": 4, "ASH": 8},
}  # fmt: skip


@pytest.mark.parametrize(
    ("method", "label_kcal"),
    # 4 x 26 + 9 x 16 + 4 x 36; 3.5 x 26 + 8.5 x 16 + 3.5 x 36; the predictive figure above; a food table
    # states nothing for a label, so 4/9/4.
    [("4-9-4", 392), ("3.5-8.5-3.5", 353), ("nrc-predictive", 365.4), ("table", 392)],
)
def test_a_label_stands_on_the_scale_of_the_recipe(
    facts: Reference, method: str, label_kcal: float
) -> None:
    found = analyse(
        read_case(facts, case(method, [{"food": "own:dry", "grams": 100}], foods=[LABEL_FOOD]))
    )
    assert found.recipe.kcal == pytest.approx(label_kcal, abs=0.1)
    assert found.food_energy is not None and found.food_energy.method == method


def test_lines_add_up_to_the_recipe_on_every_scale(facts: Reference) -> None:
    lines = [
        {"food": BEEF, "grams": 300, "preparation": "crumbles-drained"},
        {"food": LENTILS, "grams": 250},
        {"food": OIL, "grams": 10},
        {"food": "own:dry", "grams": 60},
    ]
    by_method = {}
    for method in MeMethod:
        found = analyse(read_case(facts, case(method, lines, foods=[LABEL_FOOD])))
        assert found.food_energy is not None
        assert sum(x.kcal or 0 for x in found.recipe.lines) == pytest.approx(found.recipe.kcal)
        by_method[method] = found
    for found in by_method.values():
        told = found.food_energy
        assert told is not None and {o.id for o in told.others} == set(MeMethod) - {told.method}
        for other in told.others:
            # What is told of another method is what the case would have on it.
            there = by_method[other.id].recipe.kcal_per_day
            assert other.kcal_per_day == pytest.approx(there)
            assert other.difference == pytest.approx(there / found.recipe.kcal_per_day - 1)


def test_the_whole_recipe_by_the_predictive_equation(facts: Reference) -> None:
    """Half lentils: fibre pulls digestibility of the whole bowl, meat included, down."""
    dossier = read_case(
        facts, case("4-9-4", [{"food": BREAST, "grams": 200}, {"food": LENTILS, "grams": 200}])
    )
    found = analyse(dossier)
    library, whole = facts.library, found.food_energy and found.food_energy.whole
    assert whole is not None
    keys = ("PROCNT", "FAT", "CHOCDF", "FIBTG", "WATER")
    protein, fat, carbohydrate, fibre, water = (
        sum(
            2 * float(library.values[library.row(f), library.catalogue.index(k)])
            for f in (BREAST, LENTILS)
        )
        for k in keys
    )
    digestible = 96.6 - 0.95 * 100 * fibre / (400 - water)
    gross = 5.7 * protein + 9.4 * fat + 4.1 * carbohydrate
    assert whole.digestibility_pct == pytest.approx(digestible)
    assert whole.kcal_per_day == pytest.approx(gross * digestible / 100 - 1.04 * protein)


def test_a_share_of_energy_is_by_the_same_factors(facts: Reference) -> None:
    """A condition's "so much of the energy as fat" is g per 1000 kcal by the factor that fat counts with."""
    dog = {
        "targets": {
            "standard": "nrc-2006",
            "conditions": [{"id": "hyperlipidaemia", "stage": "moderate"}],
        }
    }
    grams = {}
    for method in ("4-9-4", "3.5-8.5-3.5"):
        data = {**case(method, [{"food": BREAST, "grams": 100}]), **dog}
        dossier = read_case(facts, data)
        lines = [Line(facts.library.food(OIL), facts.library.row(OIL), Amount(1, "g", 10, ""))]
        sums = sum_lines(dossier.library, lines, 1)
        grams[method] = sums.kcal
        assert dossier.targets.facts.grams_per_1000_kcal(
            facts.catalogue, "FAT", 20
        ) == pytest.approx(200 / {"4-9-4": 9, "3.5-8.5-3.5": 8.5}[method])
    assert grams == {"4-9-4": pytest.approx(90), "3.5-8.5-3.5": pytest.approx(85)}


def test_unknown_fibre_is_said(facts: Reference) -> None:
    """No fibre value of raw amaranth leaves: the carbohydrate counts whole, and the recipe says so."""
    found = analyse(
        read_case(
            facts,
            case("4-9-4", [{"food": BREAST, "grams": 100}, {"food": "usda:11003", "grams": 50}]),
        )
    )
    assert found.food_energy is not None
    assert any("fibre" in n and "most it can be" in n for n in found.food_energy.notes)


def test_an_unknown_method_is_refused_and_none_is_the_default(facts: Reference) -> None:
    data = case("4-9-4", [{"food": BREAST, "grams": 100}])
    with pytest.raises(InputError, match="me_method"):
        read_case(facts, {**data, "me_method": "guess"})
    del data["me_method"]
    found = analyse(read_case(facts, data)).food_energy
    assert found is not None and found.is_default and found.method is MeMethod.ATWATER


def test_a_food_that_is_replaced_keeps_the_scale(facts: Reference) -> None:
    scaled = on_scale(facts.library, facts.me, MeMethod.ATWATER)
    renamed = scaled.with_food(replace(scaled.food(LENTILS), name="Lentils"))
    assert renamed.me is scaled.me and renamed.given_kcal is scaled.given_kcal


def test_by_the_table_a_food_keeps_what_its_table_says(facts: Reference) -> None:
    scaled = on_scale(facts.library, facts.me, MeMethod.TABLE)
    assert np.array_equal(scaled.values, facts.library.values, equal_nan=True)
    assert np.array_equal(scaled.codes, facts.library.codes)


def test_energy_that_is_at_most_says_so_where_it_comes_from(facts: Reference) -> None:
    scaled = on_scale(facts.library, facts.me, MeMethod.ATWATER)
    assert "not known" in scaled.provenance_of("usda:11003", "ENERC").text
    assert "not known" not in scaled.provenance_of(LENTILS, "ENERC").text
