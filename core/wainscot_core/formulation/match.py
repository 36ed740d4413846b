"""A food as the target: its split of energy is matched, and what it holds stands beside what came of it."""

from dataclasses import dataclass

import numpy as np

from ..analysis.eaten import AsFed, as_fed_of_food
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import Food
from ..figures import rounded
from .problem import MacroTarget

SPLIT = ("PROCNT", "FAT", "CHOCDF")


@dataclass(frozen=True, kw_only=True)
class Wanted:
    """What a nutrient of the food that is matched comes to; wanted: per 1000 kcal in its unit."""

    key: str
    name: str
    unit: str
    decimals: int
    wanted: float


@dataclass(frozen=True, kw_only=True)
class Matched:
    """The food that is matched, with everything that is known of it; what is not known is not listed. as_fed: how it is
    to eat."""

    food: str
    name: str
    as_fed: AsFed
    wanted: tuple[Wanted, ...]


def split_of(dossier: Dossier, food_id: str) -> MacroTarget:
    """Shares of a food's energy from protein, fat and carbohydrate without its fibre, by the factors of the case's
    ME method. Raises InputError (match_food) for a food that is not there or whose split is not known."""
    food, library = _food(dossier, food_id), dossier.library
    row = library.values[library.row(food.id)]
    grams = {tag: float(row[library.catalogue.index(tag)]) for tag in SPLIT}
    missing = [library.catalogue.name_of(tag) for tag, g in grams.items() if np.isnan(g)]
    if missing:
        what = " and ".join(missing)
        raise InputError("match_food", f"{what} of {food.name} is not known; enter it first")
    fibre = float(np.nan_to_num(row[library.catalogue.index("FIBTG")]))
    kcal = library.factors.of(grams["PROCNT"], grams["FAT"], max(grams["CHOCDF"] - fibre, 0.0))
    whole = sum(kcal.values())
    if whole <= 0:
        raise InputError("match_food", f"{food.name} brings no energy")
    return MacroTarget(*(kcal[tag] / whole for tag in SPLIT))


def matched(dossier: Dossier, food_id: str) -> Matched:
    """What a food holds per 1000 kcal of what stands on the wall. Raises InputError (match_food)."""
    food, library = _food(dossier, food_id), dossier.library
    row = library.values[library.row(food.id)]
    kcal = float(row[library.catalogue.index("ENERC")])
    if not kcal > 0:
        raise InputError("match_food", f"the energy of {food.name} is not known; enter it first")
    return Matched(
        food=food.id,
        name=food.name,
        as_fed=as_fed_of_food(library, library.row(food.id)),
        wanted=tuple(
            Wanted(
                key=n.key, name=n.name, unit=n.unit, decimals=n.decimals,
                wanted=rounded(float(row[i]) / kcal * 1000),
            )
            for i, n in enumerate(library.catalogue.nutrients)
            if n.board and not np.isnan(row[i])
        ),
    )  # fmt: skip


def _food(dossier: Dossier, food_id: str) -> Food:
    if food_id not in dossier.library:
        raise InputError("match_food", f"no food {food_id!r} in the library")
    return dossier.library.food(food_id)
