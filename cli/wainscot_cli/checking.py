"""Checks of the built food data: what must hold for every table whatever its source."""

import csv
import itertools
from collections import Counter
from pathlib import Path

import numpy as np
from wainscot_core.dossier.reference import load_catalogue, load_library
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.facts.preparations import stem

from .composition.rules import FATTY, PROXIMATES
from .composition.samples import (
    NEVER_ZERO,
    NEVER_ZERO_IN_FLESH,
    PROTEIN_MIN_G,
    SATURATION,
)

ESSENTIAL = ("ARG", "HIS", "ILE", "LEU", "LYS", "MET", "PHE", "THR", "TRP", "VAL")
FLESH = frozenset({"poultry", "beef", "pork", "lamb-game", "fish"})
# Largest amounts per 100 g that any food holds; a slip of a unit goes far beyond.
PLAUSIBLE = {
    "ENERC": 902, "WATER": 100, "PROCNT": 100, "FAT": 100, "CHOCDF": 100, "CA": 8000, "P": 10000,
    "K": 17000, "NA": 40000, "MG": 1000, "FE": 130, "ZN": 200, "CU": 30, "MN": 340, "SE": 2000,
    "ID": 900000, "RETOL": 31000, "VITD": 300, "TOCPHA": 160, "VITK1": 3100, "THIA": 25,
    "RIBF": 20, "NIA": 130, "VITB6A": 8, "FOL": 4000, "VITB12": 110, "CHOLN": 3000, "CHOLE": 3200,
}  # fmt: skip
# Amounts beyond that which are what the food is.
IS_WHAT_IT_IS = {
    ("der:eggshell-membrane", "CA"): "shell is calcium carbonate, 40 % of it calcium",
    ("der:krill-oil", "CHOLN"): "a third to a half of it is phosphatidylcholine",
}
# Sums of printed figures may miss by this much.
ROUNDING_G = 0.04
EXPLAINED = {"usda:04531": "lecithin is phospholipid: 7.6 kcal/g, not 9"}
# Flesh that is sold with a plant food.
WITH_PLANTS = {"usda:15089", "usda:15142"}
# What cooked flesh may hold of the raw one's, both per g of protein.
COOKED_PER_RAW = {"P": (0.55, 1.45), "K": (0.35, 1.5), "MG": (0.45, 1.62), "FAT": (0.41, 1.7)}
# Classes whose published energy uses food-specific factors, alcohol or organic acids.
SPECIFIC_FACTORS = {"vegetable", "fruit", "herb-spice", "grain", "legume", "nut-seed", "supplement-food", "other"}  # fmt: skip


def check_data(folder: Path) -> dict[str, object]:
    """Run every check; `failures` is empty when the data are sound."""
    catalogue = load_catalogue(folder)
    library = load_library(folder, catalogue)
    failures = [
        *_spots(library, folder / "composition" / "spot_values.csv"),
        *_mass_balance(library),
        *_bounded_by(library, ESSENTIAL, "PROCNT", "essential amino acids above protein"),
        *_bounded_by(library, FATTY, "FAT", "fatty acids above fat"),
        *_bounded_by(library, FATTY, "FAPU", "single acids above polyunsaturated fat"),
        *_bounded_by(library, SATURATION, "FAT", "saturated and unsaturated fat above fat"),
        *_bounded_by(library, ("FIBTG",), "CHOCDF", "fibre above carbohydrate"),
        *_retinol(library),
        *_zeros(library),
        *_pairs(library, folder / "composition" / "inputs" / "pairs_explained.csv"),
        *_plausible(library),
    ]
    energy, explained = _energy(library)
    stored = [i for i, n in enumerate(catalogue.nutrients) if not n.parts]
    grades = Counter(library.provenance[int(c)].grade for c in library.codes[:, stored].ravel())
    return {
        "foods": len(library.foods),
        "plain_foods": sum(f.plain for f in library.foods),
        "nutrients": len(stored),
        "values_by_grade": dict(sorted(grades.items())),
        "energy_explained_by_specific_factors": explained,
        "failures": failures + energy,
    }


def _column(library: FoodLibrary, key: str) -> np.ndarray:
    return library.values[:, library.catalogue.index(key)]


def _names(library: FoodLibrary, rows: np.ndarray, what: str, detail: np.ndarray) -> list[str]:
    return [
        f"{library.foods[i].id} {library.foods[i].name}: {what} ({detail[i]:.4g})"
        for i in np.flatnonzero(rows)
    ]


def _spots(library: FoodLibrary, path: Path) -> list[str]:
    failures = []
    with path.open(newline="", encoding="utf-8") as handle:
        for row in csv.DictReader(handle):
            got = _column(library, row["tag"])[library.row(row["food"])]
            tolerance = 0.001 * float(row["value"]) if "derived" in row["source"] else 1e-9
            if not abs(got - float(row["value"])) <= tolerance:
                failures.append(f"{row['food']} {row['tag']}: {got} instead of {row['value']}")
    return failures


def _mass_balance(library: FoodLibrary) -> list[str]:
    total = np.sum([_column(library, key) for key in PROXIMATES], axis=0)
    off = ~(np.abs(total - 100) <= 3) & ~np.isnan(total)
    return _names(library, off, "water + protein + fat + carbohydrate + ash", total)


def _bounded_by(library: FoodLibrary, parts: tuple[str, ...], whole: str, what: str) -> list[str]:
    total = np.nansum([_column(library, key) for key in parts], axis=0)
    return _names(library, total > _column(library, whole) * 1.02 + ROUNDING_G, what, total)


def _retinol(library: FoodLibrary) -> list[str]:
    """Vitamin A activity is retinol + carotene / 12 (IOM 2001), in flesh nearly all of it retinol."""
    activity, retinol, carotene = (_column(library, k) for k in ("VITA_RAE", "RETOL", "CARTBEQ"))
    parts = retinol + carotene / 12
    off = np.abs(activity - parts) > 1 + 0.02 * activity
    flesh = np.array([f.klass in FLESH and f.id not in WITH_PLANTS for f in library.foods])
    in_flesh = flesh & (carotene / 12 > 2 + 0.1 * activity)
    return [
        *_names(
            library, off, "vitamin A activity is not retinol + carotene / 12", activity - parts
        ),
        *_names(library, in_flesh, "carotene in flesh", carotene),
    ]


def _zeros(library: FoodLibrary) -> list[str]:
    """No flesh and no food with protein is without what every cell holds: such a 0 was not measured."""
    flesh = np.array([f.klass in FLESH for f in library.foods])
    protein = _column(library, "PROCNT") >= PROTEIN_MIN_G
    own = np.array([not f.is_supplement for f in library.foods])
    failures = []
    for keys, rows in ((NEVER_ZERO, protein & own), (NEVER_ZERO_IN_FLESH, flesh & protein)):
        for key in keys:
            column = _column(library, key)
            failures += _names(library, rows & (column == 0), f"{key} is 0", column)
    return failures


def _pairs(library: FoodLibrary, explained: Path) -> list[str]:
    """Cooked flesh holds per g of protein about what the raw one holds; what differs more is explained."""
    with explained.open(newline="", encoding="utf-8") as handle:
        known = {(r["raw"], r["cooked"], r["tag"]) for r in csv.DictReader(handle)}
    by_stem: dict[tuple[str, str], list[int]] = {}
    for row, food in enumerate(library.foods):
        if food.klass in FLESH:
            by_stem.setdefault((food.klass, stem(food)), []).append(row)
    protein, failures, met = _column(library, "PROCNT"), [], set()
    for rows in by_stem.values():
        for raw, cooked in itertools.permutations(rows, 2):
            if (library.foods[raw].form, library.foods[cooked].form) != ("raw", "cooked"):
                continue
            for key, (least, most) in COOKED_PER_RAW.items():
                column = _column(library, key)
                kept = (column[cooked] / protein[cooked]) / (column[raw] / protein[raw])
                if least <= kept <= most or np.isnan(kept):
                    continue
                pair = (library.foods[raw].id[5:], library.foods[cooked].id[5:], key)
                met.add(pair)
                if pair not in known:
                    failures.append(
                        f"{library.foods[cooked].id} {library.foods[cooked].name}: {key} per g protein is "
                        f"{kept:.2g} of the raw food's ({library.foods[raw].id})"
                    )
    return failures + [
        f"pairs_explained.csv: {pair} needs no explaining" for pair in sorted(known - met)
    ]


def _plausible(library: FoodLibrary) -> list[str]:
    failures = []
    for i, nutrient in enumerate(library.catalogue.nutrients):
        column = library.values[:, i]
        failures += _names(library, column < 0, f"{nutrient.key} below 0", column)
        if nutrient.key in PLAUSIBLE:
            fits = np.array([(f.id, nutrient.key) in IS_WHAT_IT_IS for f in library.foods])
            high = (column > PLAUSIBLE[nutrient.key]) & ~fits
            failures += _names(library, high, f"{nutrient.key} beyond any food", column)
    return failures


def _energy(library: FoodLibrary) -> tuple[list[str], int]:
    """Energy within 15 % (or 10 kcal) of Atwater 4/9/4, or of a class with specific factors."""
    protein, fat, carbohydrate = (_column(library, k) for k in ("PROCNT", "FAT", "CHOCDF"))
    atwater = 4 * protein + 9 * fat + 4 * carbohydrate
    energy = _column(library, "ENERC")
    off = np.abs(energy - atwater) > np.maximum(0.15 * atwater, 10)
    explained = np.array([f.klass in SPECIFIC_FACTORS or f.id in EXPLAINED for f in library.foods])
    return (
        _names(library, off & ~explained, "energy more than 15 % from Atwater", energy - atwater),
        int((off & explained).sum()),
    )
