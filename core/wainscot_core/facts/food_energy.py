"""Put every food of a library on one scale of metabolisable energy."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..confidence import Confidence
from .foods import FIRM_GRADES, FloatArray, FoodLibrary, Grade, Provenance
from .me_methods import FibreKind, MeFormula, MeMethod, MeRules

_PARTS = ("PROCNT", "FAT", "CHOCDF")


def on_scale(library: FoodLibrary, rules: MeRules, method: MeMethod) -> FoodLibrary:
    """The library with the energy of every food by one method; what was given for each is kept beside it.

    The last thing done to a library: foods added later would stand on another scale.
    """
    base = library if library.me is None else off_scale(library)
    formula = rules.methods[method]
    kcal, at_most = energies(base, rules, formula)
    column = base.catalogue.index("ENERC")
    values, codes = base.values.copy(), base.codes.copy()
    computed = ~np.isnan(kcal)
    values[computed, column] = kcal[computed]
    first = len(base.provenance)
    soft = computed & ~_firm_parts(base)
    codes[computed, column] = first
    codes[computed & at_most, column] = first + 1
    codes[soft, column] = first + 2
    return replace(
        base, values=values, codes=codes, provenance=(*base.provenance, *_provenance(formula)),
        me=formula, given_kcal=base.values[:, column], given_codes=base.codes[:, column],
    )  # fmt: skip


def off_scale(library: FoodLibrary) -> FoodLibrary:
    """The library with the energy that was given for each food."""
    if library.given_kcal is None or library.given_codes is None:
        return library
    column = library.catalogue.index("ENERC")
    values, codes = library.values.copy(), library.codes.copy()
    values[:, column], codes[:, column] = library.given_kcal, library.given_codes
    return replace(library, values=values, codes=codes, me=None, given_kcal=None, given_codes=None)


def energies(
    library: FoodLibrary,
    rules: MeRules,
    formula: MeFormula,
    rows: NDArray[np.intp] | slice = slice(None),
) -> tuple[FloatArray, NDArray[np.bool_]]:
    """(rows,) kcal per 100 g by a method, NaN for a food that keeps the figure given for it, and where
    that is at most the energy because fibre is not known."""
    values = library.values[rows]
    foods = library.foods if isinstance(rows, slice) else [library.foods[r] for r in rows]
    protein, fat, carbohydrate = (values[:, library.catalogue.index(k)] for k in _PARTS)
    fibre = values[:, library.catalogue.index("FIBTG")]
    dry = 100 - values[:, library.catalogue.index("WATER")]
    counted = np.nan_to_num(fibre)
    bone = np.array([f.bone_protein_g for f in foods])
    protein = protein - (1 - rules.bone_protein) * bone
    crude = np.array([f.fibre is FibreKind.CRUDE for f in foods], dtype=bool)
    kcal = np.where(
        crude,
        formula.kcal(protein, fat, carbohydrate, counted, dry, FibreKind.CRUDE),
        formula.kcal(protein, fat, carbohydrate, counted, dry, FibreKind.DIETARY),
    )
    if formula.id is MeMethod.TABLE:
        # Food tables state no energy for what is on a pet food label.
        kcal[~crude] = np.nan
    # Nothing of what it is made of explains its energy: the parts are not told, only counted as none.
    untold = (protein + fat + carbohydrate == 0) & (given_of(library)[rows] > 0)
    kept = np.array([f.id in rules.kept for f in foods], dtype=bool)
    kcal[untold | kept] = np.nan
    unknown: NDArray[np.bool_] = np.isnan(fibre) & (carbohydrate > 0) & ~np.isnan(kcal)
    return kcal, unknown


def given_of(library: FoodLibrary) -> FloatArray:
    """(foods,) kcal per 100 g as the source of each food gives it."""
    if library.given_kcal is not None:
        return library.given_kcal
    column: FloatArray = library.values[:, library.catalogue.index("ENERC")]
    return column


def after_cooking(
    library: FoodLibrary, row: int, retention: FloatArray, kcal: float, formula: MeFormula | None
) -> float:
    """Share of a food's energy, of `kcal` per 100 g by this method, that is left with what cooking leaves
    of its parts. Where a part is not known, the energy is counted whole."""
    catalogue = library.catalogue
    at = [catalogue.index(k) for k in (*_PARTS, "FIBTG")]
    raw = library.values[row, at]
    if not kcal > 0 or np.isnan(raw[:3]).any():
        return 1.0
    raw = np.nan_to_num(raw)
    kept = raw * retention[at]
    if formula is not None and formula.predictive is not None:
        # Digestibility is that of the food, whatever fat runs off.
        dry = 100 - float(library.values[row, catalogue.index("WATER")])
        share = formula.predictive.share(library.foods[row].fibre, float(raw[3]), dry)
        before, after = (
            float(formula.predictive.kcal(p[0], p[1], p[2], share)) for p in (raw, kept)
        )
    else:
        factors = catalogue.atwater if formula is None else formula.factors
        before, after = (
            sum(factors.of(p[0], p[1], max(0.0, p[2] - p[3])).values()) for p in (raw, kept)
        )
    lost = before - after
    return 1.0 if np.isnan(lost) else float(np.clip(1 - lost / kcal, 0.0, 1.0))


def _firm_parts(library: FoodLibrary) -> NDArray[np.bool_]:
    """(foods,) True where no part that energy is computed from is an estimate."""
    grades = np.array(
        [p.grade in FIRM_GRADES or p.grade is Grade.UNKNOWN for p in library.provenance]
    )
    columns = [library.catalogue.index(k) for k in (*_PARTS, "FIBTG")]
    firm: NDArray[np.bool_] = np.all(grades[library.codes[:, columns]], axis=1)
    return firm


def _provenance(formula: MeFormula) -> tuple[Provenance, ...]:
    said = f"{formula.name}: {formula.words}, from the composition of this food"
    low = Confidence.LOW
    return (
        Provenance(f"me:{formula.id}", Grade.COMPUTED, said, formula.source, formula.confidence),
        Provenance(
            f"me:{formula.id}:at-most", Grade.COMPUTED,
            f"{said}; its fibre is not known, so this is the most its energy can be", formula.source, low,
        ),
        Provenance(
            f"me:{formula.id}:estimated", Grade.DERIVED, f"{said}, part of which is an estimate",
            formula.source, low,
        ),
    )  # fmt: skip
