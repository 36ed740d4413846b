"""The dogs that eat from one pot: how much of it each gets, what is added for one of them alone, and each one's verdict."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..analysis.analyse import analyse
from ..analysis.plan_view import OffTarget
from ..analysis.results import Analysis, NutrientResult, RatioResult
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.preparations import prepare
from ..figures import rounded
from ..findings import Finding, Level, gathered
from ..recipe.line import Line, sum_lines
from ..recipe.plan import scaled


@dataclass(frozen=True, kw_only=True)
class Eater:
    """A dog at the pot. dossier: of its own case; own: what is added at serving for it alone, a day; beside: what it is
    given apart every day; kcal_per_day: what it gets of the pot, None for what its energy leaves; recipes_per_day: how much of the recipe a day, where it was
    made for this dog; open_blocks: what speaks against its
    plan and nobody has settled, None where nothing was decided and all counts that its checks say."""

    case: int
    name: str
    dossier: Dossier
    own: tuple[Line, ...] = ()
    beside: tuple[Line, ...] = ()
    kcal_per_day: float | None = None
    recipes_per_day: float | None = None
    open_blocks: tuple[str, ...] | None = None


@dataclass(frozen=True, kw_only=True)
class Given:
    """What is given beside the pot. grams: a day; grams_per_meal: None for what is given once a day."""

    food: str
    name: str
    grams: float
    grams_per_meal: float | None


@dataclass(frozen=True, kw_only=True)
class EaterResult:
    """A dog's part of the pot and its day. share: of the pot; must_not: why it must not have it, loudest first, empty where
    nothing speaks against it; to_decide: what somebody must decide first; off: limits of its day that do not hold."""

    case: int
    name: str
    lead: bool
    meals_per_day: int
    share: float
    kcal_of_pot: float
    kcal_per_day: float
    target_kcal: float
    grams_per_day: float
    grams_per_meal: float
    added: tuple[Given, ...]
    beside: tuple[Given, ...]
    must_not: tuple[str, ...]
    to_decide: tuple[str, ...]
    off: tuple[OffTarget, ...]


def as_seen(eater: Eater, pot: Sequence[Line]) -> list[Line]:
    """The lines of the pot in the library of a dog's own case: another method of food energy is another energy that
    cooking leaves."""
    dossier = eater.dossier
    methods = dossier.reference.methods
    return [
        line
        if line.prepared is None
        else replace(line, prepared=prepare(methods, dossier.library, line.row, line.prepared.method.id))
        for line in pot
    ]  # fmt: skip


def recipes_a_day(eater: Eater, pot: Sequence[Line]) -> float:
    """How much of the recipe as written, whose lines in the pot are given, a dog eats a day. Raises InputError where there
    is nothing left for the pot."""
    if eater.recipes_per_day is not None and eater.kcal_per_day is None:
        return eater.recipes_per_day
    pot_kcal = sum_lines(eater.dossier.library, as_seen(eater, pot), 1.0).kcal
    if not pot_kcal > 0:
        raise InputError("recipe", "brings no energy: it has no food that goes into the pot")
    wanted = eater.kcal_per_day
    if wanted is None:
        others = sum_lines(eater.dossier.library, (*eater.own, *eater.beside), 1.0).kcal
        wanted = eater.dossier.energy.target_kcal - others
    if not wanted > 0:
        raise InputError(
            "eaters", f"{eater.name} has all its energy from what it is given beside the pot"
        )
    return wanted / pot_kcal


def day_of(eater: Eater, pot: Sequence[Line], share: float) -> Analysis:
    """A dog's day: `share` of the lines in the pot, what is added for it and what it is given beside."""
    seen = as_seen(eater, pot)
    lines = (*(scaled(line, share) for line in seen), *eater.own, *eater.beside)
    return analyse(replace(eater.dossier, lines=tuple(lines), days=1.0))


def eater_result(
    eater: Eater, pot: Sequence[Line], share: float, grams: float, lead: bool
) -> EaterResult:
    """What a dog gets of a pot whose lines are given, `share` of it a day, which weighs so many g finished."""
    day, dossier = day_of(eater, pot, share), eater.dossier
    kcal = sum_lines(dossier.library, as_seen(eater, pot), 1.0).kcal
    told = gathered(day.flags)
    return EaterResult(
        case=eater.case, name=eater.name, lead=lead, meals_per_day=dossier.meals_per_day,
        share=rounded(share), kcal_of_pot=rounded(kcal * share),
        kcal_per_day=day.recipe.kcal_per_day,
        target_kcal=rounded(dossier.energy.target_kcal), grams_per_day=rounded(grams * share),
        grams_per_meal=rounded(grams * share / dossier.meals_per_day),
        added=tuple(_given(line, dossier.meals_per_day) for line in eater.own),
        beside=tuple(_given(line, None) for line in eater.beside),
        must_not=_told(told, Level.BLOCK) if eater.open_blocks is None else eater.open_blocks,
        to_decide=_told(told, Level.DECIDE),
        off=_off(day),
    )  # fmt: skip


def _told(found: Sequence[Finding], level: Level) -> tuple[str, ...]:
    return tuple(f"{f.what}: {f.why}" if f.why else f.what for f in found if f.level is level)


def _given(line: Line, meals: int | None) -> Given:
    grams = line.amount.grams
    return Given(
        food=line.food.id, name=line.food.name, grams=rounded(grams),
        grams_per_meal=None if meals is None else rounded(grams / meals),
    )  # fmt: skip


def _off(day: Analysis) -> tuple[OffTarget, ...]:
    judged: tuple[NutrientResult | RatioResult, ...] = (*day.nutrients, *day.ratios)
    found = [
        OffTarget(key=x.key, name=x.name, status=x.status, urgency=x.urgency)
        for x in judged
        if x.urgency > 0
    ]
    return tuple(sorted(found, key=lambda x: -x.urgency))
