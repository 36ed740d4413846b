"""A finished batch on the scale: what its weight makes of a meal, and whether it is what was expected."""

from dataclasses import dataclass

from ..dossier.reference import Reference
from ..errors import InputError
from ..figures import rounded
from .ask import BatchAsk
from .cooked import CookedBatch
from .portions import Portions, portions
from .results import BatchPlan

_MOST_G = 200_000.0


@dataclass(frozen=True, kw_only=True)
class WeighedIn:
    """What the finished batch weighs, g, without its pot; and one level cup of it: g, and ml of the cup."""

    finished_g: float
    cup_g: float | None = None
    cup_ml: float | None = None


@dataclass(frozen=True, kw_only=True)
class Meal:
    """A dog's meal of a weighed batch. cups: of the weighed cup, None where none was weighed."""

    case: int
    name: str
    grams_per_meal: float
    kcal_per_meal: float
    cups: float | None
    portions: Portions


@dataclass(frozen=True, kw_only=True)
class WeighedBatch:
    """A weighed batch. kcal_per_gram: by what went in, the middle where that is not all known (sure: it is); off: by how much
    it is heavier or lighter than expected of what went in, as a share; ask: what must be asked before it is fed, "" where
    it is as expected; g_per_ml: by the weighed cup."""

    finished_g: float
    kcal_per_gram: float
    sure: bool
    off: float
    ask: str
    g_per_ml: float | None
    meals: tuple[Meal, ...]


def weigh_batch(
    reference: Reference,
    ask: BatchAsk,
    plan: BatchPlan,
    told: WeighedIn,
    cooked: CookedBatch | None = None,
) -> WeighedBatch:
    """What a finished weight makes of the plan: the energy is that of what went in, so a heavier batch is a thinner one.
    cooked: what went in, None where that cannot be told: then it is taken as planned. Raises InputError for weights that
    cannot be."""
    if not 0 < told.finished_g <= _MOST_G:
        raise InputError("finished_g", f"must be above 0 and at most {_MOST_G:.0f} g")
    if (told.cup_g is None) is not (told.cup_ml is None):
        raise InputError(
            "cup_g", "give what the cup holds in ml and what it weighs filled, or neither"
        )
    density = None
    if told.cup_g is not None and told.cup_ml is not None:
        if not 50 <= told.cup_ml <= 2000:
            raise InputError("cup_ml", "must be between 50 and 2000 ml")
        density = told.cup_g / told.cup_ml
        if not 0.2 <= density <= 1.5:
            raise InputError(
                "cup_g", f"makes {density:.2f} g per ml: weigh the cup without its own weight"
            )
    rules = reference.batches
    kcal, sure, expected, days = plan.finished.kcal, False, plan.finished.grams, plan.days
    if cooked is not None and cooked.kcal_least is not None and cooked.kcal_most is not None:
        kcal, sure = (cooked.kcal_least + cooked.kcal_most) / 2, not cooked.unknown
        expected, days = cooked.expected_g or expected, cooked.days_fed or days
    per_gram = kcal / told.finished_g
    off = told.finished_g / expected - 1
    meals = []
    for eater in plan.eaters:
        # The part of the pot that is a dog’s stays; what is fed longer has smaller meals.
        part = eater.share * plan.days
        meal = told.finished_g * part / days / eater.meals_per_day
        meals.append(
            Meal(
                case=eater.case, name=eater.name, grams_per_meal=rounded(meal),
                kcal_per_meal=rounded(meal * per_gram),
                cups=rounded(meal / told.cup_g) if told.cup_g else None,
                portions=portions(rules, told.finished_g * part, meal, ask.coarse_g),
            )
        )  # fmt: skip
    return WeighedBatch(
        finished_g=rounded(told.finished_g), kcal_per_gram=rounded(per_gram), sure=sure, off=rounded(off),
        ask=_question(off) if abs(off) > rules.off_beyond + 1e-9 else "",
        g_per_ml=None if density is None else rounded(density), meals=tuple(meals),
    )  # fmt: skip


def _question(off: float) -> str:
    far = f"{abs(off):.0%} {'heavier' if off > 0 else 'lighter'} than expected"
    if off > 0:
        return (
            f"{far}. Was the pot taken off the scale’s figure, was more water added, or did too much of one "
            "thing go in? Do not portion it before that is clear."
        )
    return (
        f"{far}. Was something left out, did more boil away, or was broth poured off that belongs to it? "
        "Do not portion it before that is clear."
    )
