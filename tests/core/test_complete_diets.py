"""Six complete diets, added up by hand to a standard: tests/fixtures/complete_diets.csv holds every food's
figures per 100 g, and the minimums stand here as their standards print them.

The application must come to the same amounts, and call every one of them met.
"""

import csv
from collections import defaultdict
from pathlib import Path
from typing import Any

import pytest
from wainscot_core.analysis.adequacy import HELD
from wainscot_core.analysis.analyse import analyse
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case

FIXTURE = Path(__file__).resolve().parents[1] / "fixtures" / "complete_diets.csv"

# kg, kcal a day and standard; kcal per kg^0.75 is what each standard's column assumes or more.
DIETS: dict[str, tuple[float, float, str]] = {
    "Chicken and rice": (20, 1245, "nrc-2006"),  # 131.6 kcal per kg^0.75
    "Beef and potato": (30, 1685, "nrc-2006"),
    "Cod and sweet potato": (10, 700, "aafco-2016"),
    "Turkey and oats": (15, 840, "fediaf-2021"),  # 110.2
    "Egg, cottage cheese and rice": (12, 850, "nrc-2006"),
    "Lamb and lentils": (25, 1450, "aafco-2016"),
}
# Per 1000 kcal: g of protein, fat and acids; mg of minerals, vitamin E and B vitamins; ug of iodine,
# selenium, vitamins A (retinol), D, K, B12 and folate.
MINIMUMS: dict[str, dict[str, float]] = {
    "nrc-2006": {
        "PROCNT": 25, "FAT": 13.8, "F18D2N6": 2.8, "F18D3N3": 0.11, "EPADHA": 0.11, "CA": 1000,
        "P": 750, "MG": 150, "NA": 200, "K": 1000, "CLD": 300, "FE": 7.5, "CU": 1.5, "ZN": 15, "MN": 1.2,
        "SE": 87.5, "ID": 220, "VITA": 379, "VITD": 3.4, "TOCPHA": 7.5, "THIA": 0.56, "RIBF": 1.3,
        "VITB6A": 0.375, "NIA": 4.25, "PANTAC": 3.75, "VITB12": 8.75, "FOL": 67.5, "CHOLN": 425,
        "ARG": 0.88, "HIS": 0.48, "ILE": 0.95, "LEU": 1.7, "LYS": 0.88, "MET": 0.83, "AAS": 1.63,
        "PHE": 1.13, "AAA": 1.85, "THR": 1.08, "TRP": 0.35, "VAL": 1.23,
    },
    # Vitamins A, D and E from IU: 1250 x 0.3, 125 x 0.025, 12.5 x 0.67.
    "aafco-2016": {
        "PROCNT": 45, "FAT": 13.8, "F18D2N6": 2.8, "CA": 1250, "P": 1000, "K": 1500, "NA": 200, "CLD": 300,
        "MG": 150, "FE": 10, "CU": 1.83, "MN": 1.25, "ZN": 20, "ID": 250, "SE": 80, "VITA": 375,
        "VITD": 3.125, "TOCPHA": 8.375, "THIA": 0.56, "RIBF": 1.3, "PANTAC": 3, "NIA": 3.4, "VITB6A": 0.38,
        "FOL": 54, "VITB12": 7, "CHOLN": 340, "ARG": 1.28, "HIS": 0.48, "ILE": 0.95, "LEU": 1.7,
        "LYS": 1.58, "MET": 0.83, "AAS": 1.63, "PHE": 1.13, "AAA": 1.85, "THR": 1.2, "TRP": 0.4,
        "VAL": 1.23,
    },
    # The column of 110 kcal per kg^0.75; A 1515 IU, D 138 IU, E 9 IU.
    "fediaf-2021": {
        "PROCNT": 45, "FAT": 13.75, "F18D2N6": 3.27, "CA": 1250, "P": 1000, "K": 1250, "NA": 250,
        "CLD": 380, "MG": 180, "FE": 9, "CU": 1.8, "MN": 1.44, "ZN": 18, "ID": 260, "VITA": 454.5,
        "VITD": 3.45, "TOCPHA": 6.03, "THIA": 0.54, "RIBF": 1.5, "PANTAC": 3.55, "NIA": 4.09,
        "VITB6A": 0.36, "FOL": 64.5, "VITB12": 8.36, "CHOLN": 409, "ARG": 1.3, "HIS": 0.58, "ILE": 1.15,
        "LEU": 2.05, "LYS": 1.05, "MET": 1.0, "AAS": 1.91, "PHE": 1.35, "AAA": 2.23, "THR": 1.3,
        "TRP": 0.43, "VAL": 1.48,
    },
}  # fmt: skip
# Most per 1000 kcal that any of the three allows an adult, in the same units.
MAXIMUMS = {"CA": 6250, "P": 4000, "ID": 2750, "SE": 500, "VITD": 18.75, "RETOL": 18750, "ZN": 71}
SUMS = {"EPADHA": ("F20D5N3", "F22D6N3"), "AAS": ("MET", "CYS"), "AAA": ("PHE", "TYR")}


def rows_of(diet: str) -> list[dict[str, str]]:
    with FIXTURE.open(newline="") as handle:
        return [r for r in csv.DictReader(handle) if r["diet"] == diet]


def by_hand(diet: str) -> tuple[float, dict[str, float]]:
    """kcal by 4/9/4 with available carbohydrate, and amounts per 1000 kcal; a blank figure adds nothing."""
    kcal, amounts = 0.0, defaultdict[str, float](float)
    for row in rows_of(diet):
        share = float(row["grams"]) / 100
        figures = {k: float(row[k] or 0) for k in list(row)[4:]}
        available = figures["CHOCDF"] - figures["FIBTG"]
        kcal += share * (4 * figures["PROCNT"] + 9 * figures["FAT"] + 4 * available)
        for key, value in figures.items():
            amounts[key] += share * value
    for key, parts in SUMS.items():
        amounts[key] = sum(amounts[p] for p in parts)
    # 833 IU of vitamin A from a mg of carotene in dogs, 3.333 IU in a ug of retinol.
    amounts["VITA"] = amounts["RETOL"] + amounts["CARTBEQ"] * 0.833 / 3.333
    return kcal, {k: v / kcal * 1000 for k, v in amounts.items()}


def case_of(diet: str) -> dict[str, Any]:
    weight, kcal, standard = DIETS[diet]
    return {
        "format": "wainscot-case", "version": 1,
        "dog": {"name": "Fen", "weight_kg": weight, "age_months": 36},
        "energy": {"kcal_per_day": kcal}, "targets": {"standard": standard, "life_stage": "adult"},
        "recipe": {
            "covers_days": 1,
            "lines": [{"food": r["food"], "grams": float(r["grams"])} for r in rows_of(diet)],
        },
    }  # fmt: skip


@pytest.mark.parametrize("diet", DIETS)
def test_it_is_complete_by_hand(diet: str) -> None:
    """Every minimum of its standard is reached and no maximum passed, by plain arithmetic."""
    _, amounts = by_hand(diet)
    for key, least in MINIMUMS[DIETS[diet][2]].items():
        assert amounts[key] >= least * 0.999, key
    for key, most in MAXIMUMS.items():
        assert amounts[key] <= most, key


@pytest.mark.parametrize("diet", DIETS)
def test_the_application_comes_to_the_same(facts: Reference, diet: str) -> None:
    kcal, amounts = by_hand(diet)
    found = analyse(read_case(facts, case_of(diet)))
    assert found.recipe.kcal == pytest.approx(kcal, rel=0.002)
    by_key = {n.key: n for n in found.nutrients}
    for key, amount in amounts.items():
        told = by_key[key].per_1000_kcal
        assert told is not None and told == pytest.approx(amount, rel=0.005, abs=1e-6), key
    for key in MINIMUMS[DIETS[diet][2]]:
        assert by_key[key].status in HELD, (key, by_key[key].status)
    assert not [n.key for n in found.nutrients if n.breaks]


@pytest.mark.parametrize("diet", DIETS)
@pytest.mark.parametrize(
    ("key", "left_out"),
    [
        ("ZN", {"supp:zinc-tablet-10"}),
        ("CA", {"supp:calcium-carbonate", "supp:dicalcium-phosphate"}),
    ],
)
def test_without_its_supplement_it_is_short(
    facts: Reference, diet: str, key: str, left_out: set[str]
) -> None:
    data = case_of(diet)
    lines = [x for x in data["recipe"]["lines"] if x["food"] not in left_out]
    assert len(lines) < len(data["recipe"]["lines"])
    data["recipe"]["lines"] = lines
    found = {n.key: n for n in analyse(read_case(facts, data)).nutrients}
    assert found[key].status not in HELD
