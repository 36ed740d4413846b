"""On which ME method a recipe's energy stands, and what the others say of the same recipe."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..confidence import Confidence
from ..facts.food_energy import after_cooking, energies, given_of
from ..facts.foods import Food, FoodLibrary
from ..facts.me_methods import DEFAULT_ME, FibreKind, MeFormula, MeMethod, MeRules
from ..figures import rounded
from ..recipe.line import Line
from ..recipe.totals import Totals


@dataclass(frozen=True, kw_only=True)
class OtherEnergy:
    """The recipe's energy a day by another method, and by how much that differs, as a share."""

    id: MeMethod
    name: str
    kcal_per_day: float
    difference: float


@dataclass(frozen=True, kw_only=True)
class WholeDiet:
    """The predictive equation over the recipe as one food: fibre in % of dry matter, digestible % of
    gross energy, kcal ME a day, difference as a share. why: what a large difference comes from, or ""."""

    fibre_dry_matter_pct: float
    digestibility_pct: float
    kcal_per_day: float
    difference: float
    why: str


@dataclass(frozen=True, kw_only=True)
class FoodEnergy:
    """The method that every food and label of a recipe stands on. is_default: it is the one used unless a
    case says otherwise; notes: foods that keep the energy given for them, and what else is not as the
    method wants it."""

    method: MeMethod
    name: str
    words: str
    source: str
    confidence: Confidence
    is_default: bool
    others: tuple[OtherEnergy, ...]
    whole: WholeDiet | None
    notes: tuple[str, ...]


def food_energy(
    library: FoodLibrary, rules: MeRules, lines: Sequence[Line], sums: Totals
) -> FoodEnergy | None:
    """The energy of a recipe by every method; None where its library stands on none."""
    formula = library.me
    if formula is None:
        return None
    per_day = sums.kcal / sums.days
    others = []
    for other in rules.methods.values():
        if other.id is formula.id:
            continue
        kcal = recipe_kcal(library, rules, other, lines) / sums.days
        others.append(
            OtherEnergy(
                id=other.id, name=other.name, kcal_per_day=rounded(kcal),
                difference=rounded(_difference(kcal, per_day)),
            )
        )  # fmt: skip
    return FoodEnergy(
        method=formula.id,
        name=formula.name,
        words=formula.words,
        source=formula.source,
        confidence=formula.confidence,
        is_default=formula.id is DEFAULT_ME,
        others=tuple(others),
        whole=_whole_diet(library, rules, lines, sums),
        notes=tuple(_notes(library, rules, formula, [line.food for line in lines])),
    )


def recipe_kcal(
    library: FoodLibrary, rules: MeRules, formula: MeFormula, lines: Sequence[Line]
) -> float:
    """kcal of lines by a method, with what cooking took."""
    if not lines:
        return 0.0
    rows = np.array([line.row for line in lines], dtype=np.intp)
    by_formula, _ = energies(library, rules, formula, rows)
    per_100g = np.where(np.isnan(by_formula), given_of(library)[rows], by_formula)
    whole = 0.0
    for line, kcal in zip(lines, per_100g, strict=True):
        left = 1.0
        if line.prepared is not None:
            left = after_cooking(library, line.row, line.prepared.retention, float(kcal), formula)
        whole += float(kcal) * line.amount.grams / 100 * left
    return whole


def _difference(kcal: float, of: float) -> float:
    return kcal / of - 1 if of > 0 else 0.0


def _whole_diet(
    library: FoodLibrary, rules: MeRules, lines: Sequence[Line], sums: Totals
) -> WholeDiet | None:
    """None where nothing is fed, or no line has parts to go by."""
    dry = sums.dry_matter_grams
    if not dry > 0 or not sums.kcal > 0:
        return None
    rows = np.array([line.row for line in lines], dtype=np.intp)
    by_formula, _ = energies(library, rules, rules.methods[MeMethod.NRC_PREDICTIVE], rows)
    given = given_of(library)[rows]
    # What has no parts brings the energy given for it.
    apart = float(np.where(np.isnan(by_formula), given, 0.0) @ sums.grams) / 100
    counted = ~np.isnan(by_formula)
    columns = [library.catalogue.index(k) for k in ("PROCNT", "FAT", "CHOCDF", "FIBTG")]
    protein, fat, carbohydrate, fibre = np.nan_to_num(sums.contributions[counted][:, columns]).sum(
        axis=0
    )
    crude = bool(lines) and all(line.food.fibre is FibreKind.CRUDE for line in lines)
    kind = FibreKind.CRUDE if crude else FibreKind.DIETARY
    share = float(rules.predictive.share(kind, fibre, dry))
    kcal = (float(rules.predictive.kcal(protein, fat, carbohydrate, share)) + apart) / sums.days
    difference = _difference(kcal, sums.kcal / sums.days)
    why = ""
    if abs(difference) > rules.explain_above:
        why = (
            f"{kind} fibre is {fibre / dry:.1%} of the dry matter: the equation lets "
            f"{share:.1%} of the gross energy be digested"
        )
    return WholeDiet(
        fibre_dry_matter_pct=rounded(float(fibre) / dry * 100),
        digestibility_pct=rounded(share * 100),
        kcal_per_day=rounded(kcal),
        difference=rounded(difference),
        why=why,
    )


def _notes(
    library: FoodLibrary, rules: MeRules, formula: MeFormula, foods: Sequence[Food]
) -> list[str]:
    if not foods:
        return []
    once = list({food.id: food for food in foods}.values())
    rows = np.array([library.row(food.id) for food in once], dtype=np.intp)
    kcal, at_most = energies(library, rules, formula, rows)
    given = given_of(library)[rows]
    notes = []
    for food, own, said in zip(once, kcal, given, strict=True):
        if food.fibre is FibreKind.CRUDE and not np.isnan(own):
            notes.append(
                f"{food.name}: {own:.0f} kcal per 100 g from its label's analysis, like the other foods; "
                f"its own figure is {said:.0f} and is for feeding it alone"
            )
        elif np.isnan(own) and said > 0 and formula.id is not MeMethod.TABLE:
            why = rules.kept.get(food.id, "its protein, fat and carbohydrate are not all known")
            notes.append(f"{food.name} keeps the {said:.0f} kcal per 100 g given for it: {why}")
    if unsure := [food.name for food, most in zip(once, at_most, strict=True) if most]:
        notes.append(
            f"The fibre of {', '.join(unsure)} is not known: the energy counted for it is the most it can be"
        )
    return notes
