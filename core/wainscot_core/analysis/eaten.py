"""What a dog eats of a bought diet: its energy a day, and how wet and how fibrous it is."""

from dataclasses import dataclass

import numpy as np

from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.food_energy import given_of
from ..facts.foods import FoodLibrary
from ..figures import figure, rounded
from ..recipe.line import LineText, read_line
from ..recipe.totals import Totals

# Where what a label states and what the case counts with lie within this share of each other, one is told.
SAME_ENERGY = 0.02
# What is not known of a recipe may be this share of what is known.
MATTERS = 0.02


@dataclass(frozen=True, kw_only=True)
class AsFed:
    """How something is to eat; None where a value that it needs is not known. moisture: share of its weight as fed;
    fibre: share of its dry matter; kcal_per_100_g: as fed."""

    moisture: float | None
    fibre: float | None
    kcal_per_100_g: float | None


@dataclass(frozen=True, kw_only=True)
class Eaten:
    """So much of a food a day. basis: how the amount was read; kcal: by the case's method; stated_kcal: as its label or
    table states it, where that is another figure; off_target: by how much kcal lies off the energy target."""

    food: str
    name: str
    grams: float
    basis: str
    sure: bool
    kcal: float
    stated_kcal: float | None
    target_kcal: float
    off_target: float
    as_fed: AsFed


def eaten_of(dossier: Dossier, food_id: str, quantity: str) -> Eaten:
    """What a typed amount a day of a food brings. Raises InputError (food, quantity) for an amount that cannot be read
    and a food whose energy is not known."""
    library = dossier.library
    try:
        text = LineText(food_id, quantity, measures=dossier.measures)
        line = read_line(dossier.reference.methods, library, text)
    except InputError as error:
        where = "food" if error.field == "food" else "quantity"
        raise InputError(where, error.message) from None
    row = library.values[line.row]
    per_100_g = float(row[library.catalogue.index("ENERC")])
    if np.isnan(per_100_g):
        raise InputError(
            "food", f"the energy of {line.food.name} is not known; enter it from its bag first"
        )
    if per_100_g <= 0:
        raise InputError("food", f"{line.food.name} brings no energy")
    grams = line.amount.grams
    kcal = per_100_g * grams / 100
    stated = float(given_of(library)[line.row]) * grams / 100
    same = np.isnan(stated) or abs(stated / kcal - 1) <= SAME_ENERGY
    target = dossier.energy.target_kcal
    return Eaten(
        food=line.food.id, name=line.food.name, grams=rounded(grams), basis=line.amount.basis,
        sure=line.amount.sure, kcal=rounded(kcal), stated_kcal=None if same else rounded(stated),
        target_kcal=rounded(target), off_target=rounded(kcal / target - 1),
        as_fed=as_fed_of_food(library, line.row),
    )  # fmt: skip


def as_fed_of_food(library: FoodLibrary, row: int) -> AsFed:
    """How a food of the library is to eat."""
    water, fibre, kcal = (
        float(library.values[row, library.catalogue.index(k)]) for k in ("WATER", "FIBTG", "ENERC")
    )
    return AsFed(
        moisture=figure(water / 100),
        fibre=figure(fibre / (100 - water)) if water < 100 else None,
        kcal_per_100_g=figure(kcal),
    )


def as_fed_of(sums: Totals) -> AsFed:
    """How a recipe is to eat. What some of its lines may hold beside what is known must not matter."""
    library, fed, dry = sums.library, sums.total_grams, sums.dry_matter_grams

    def known(key: str) -> bool:
        i = library.catalogue.index(key)
        return float(sums.may_hold[i]) <= MATTERS * float(sums.known[i])

    if not (fed > 0 and dry > 0 and known("WATER")):
        return AsFed(moisture=None, fibre=None, kcal_per_100_g=None)
    return AsFed(
        moisture=figure(1 - dry / fed),
        fibre=figure(sums.amount("FIBTG") / dry) if known("FIBTG") else None,
        kcal_per_100_g=figure(sums.kcal / fed * 100) if known("ENERC") else None,
    )
