"""What would help: foods of the whole library that close a gap, and what else they change."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..analysis.adequacy import HELD, TOO_MUCH, Status, status_of
from ..bowl.exclusions import advised_against, why_unfit
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import FloatArray, Food, FoodLibrary, Grade
from ..facts.formulation_rules import FormulationRules
from ..facts.preparations import MethodChoice, method_choices
from ..figures import rounded
from ..recipe.line import sum_lines
from ..recipe.totals import Totals, totals
from ..targets.standards import RequirementSet
from .candidates import amount_text, increment_of, kind_of, open_questions
from .model import INFINITY, Model
from .most import most_dose
from .problem import ItemKind
from .rows import GroupKind, limit_rows, rise_coefficients
from .solver import Solver

MOST_ENERGY = 0.35
MOST_GRAMS = 400.0
# A food helps when it takes at least this share off the shortfall.
HELPS = 0.01


@dataclass(frozen=True, kw_only=True)
class Help:
    """A food that closes the gap: grams to add, kcal they bring, and what they change elsewhere.

    text: the grams as they are given. mends: other nutrients that are short and become met. breaks:
    nutrients that go over or fall short. grade: of the food's value. methods: how it can be prepared.
    caution: why a condition would rather not have it, or "".
    """

    food: str
    name: str
    kind: ItemKind
    grams: float
    text: str
    kcal: float
    value_after: float
    mends: tuple[str, ...]
    breaks: tuple[str, ...]
    grade: Grade
    methods: tuple[MethodChoice, ...]
    caution: str = ""


def for_nutrient(
    dossier: Dossier, key: str, *, foods: int = 10, salts: int = 3
) -> tuple[Help, ...]:
    """The best whole foods and the simplest supplements for one short nutrient.

    Adding g grams of a food with a per gram and e kcal per gram to a batch that holds A and E
    meets a minimum L per 1000 kcal when A + a g >= L (E + e g) / 1000. Ranked by the energy they
    displace, by what they break, by what else they mend. Raises InputError (key) for what has no
    minimum.
    """
    library, requirements, avoid = dossier.library, dossier.requirements, dossier.avoid
    limit = requirements.limits.get(key)
    if key not in library.catalogue or limit is None or limit.minimum is None:
        raise InputError("key", "has no minimum that food could reach")
    rules = dossier.reference.formulation
    sums = sum_lines(library, dossier.lines, dossier.days)
    column = library.catalogue.index(key)
    per_gram = np.nan_to_num(library.values[:, column]) / 100
    energy = np.nan_to_num(library.values[:, library.catalogue.index("ENERC")]) / 100
    gap = limit.minimum * sums.kcal / 1000 - sums.amount(key)
    with np.errstate(divide="ignore", invalid="ignore"):
        grams = gap / (per_gram - limit.minimum * energy / 1000)
    grams[~np.isfinite(grams) | (grams <= 0)] = np.inf
    displaced = np.where(np.isfinite(grams) & (energy > 0), np.minimum(grams, 1e9) * energy, 0.0)
    usable = (displaced <= MOST_ENERGY * sums.kcal) & (grams <= MOST_GRAMS * sums.kcal / 1000)
    caps = most_of_each(rules, library, requirements, sums.kcal, sums.days)
    usable &= grams <= caps
    kept = [
        row
        for row in np.flatnonzero(usable)
        if library.foods[row].proposable
        and not why_unfit(library.foods[row], avoid)
        and not open_questions(library, library.foods[row])
    ]
    order = sorted(
        (_effect(dossier, sums, key, int(row), float(grams[row])) for row in kept),
        key=lambda h: (
            len(h.breaks),
            bool(h.caution),
            -len(h.mends),
            h.kcal / max(sums.kcal, 1.0),
            h.grams,
        ),
    )
    return (
        *[h for h in order if h.kind is ItemKind.FOOD][:foods],
        *sorted(
            (h for h in order if h.kind is ItemKind.SINGLE),
            key=lambda h: (len(h.breaks), h.kcal, h.grams),
        )[:salts],
        *[h for h in order if h.kind is ItemKind.PREMIX][:1],
    )


def _effect(dossier: Dossier, sums: Totals, key: str, row: int, grams: float) -> Help:
    rules, library = dossier.reference.formulation, dossier.library
    requirements = dossier.requirements
    food = library.foods[row]
    increment = increment_of(rules, food)
    whole = float(np.ceil(grams / increment.grams - 1e-9)) * increment.grams
    added = np.nan_to_num(library.values[row]) / 100 * whole
    known = sums.known + added
    may_hold = sums.may_hold + totals(library, [row], [whole]).may_hold
    energy = library.catalogue.index("ENERC")
    before = _statuses(sums.known, sums.may_hold, sums.kcal, requirements, library)
    after = _statuses(known, may_hold, float(known[energy]), requirements, library)
    mends = tuple(
        k
        for k, s in after.items()
        if s in HELD and before[k] in {Status.SHORT, Status.UNPROVEN} and k != key
    )
    breaks = tuple(k for k, s in after.items() if s in TOO_MUCH and before[k] not in TOO_MUCH)
    lost = tuple(k for k, s in after.items() if s is Status.SHORT and before[k] in HELD)
    return Help(
        food=food.id,
        name=food.name,
        kind=kind_of(food),
        grams=rounded(whole),
        text=amount_text(increment, whole),
        kcal=rounded(float(added[energy])),
        value_after=rounded(float(known[library.catalogue.index(key)] / known[energy] * 1000)),
        mends=mends,
        breaks=(*breaks, *lost),
        grade=library.provenance_of(food.id, key).grade,
        methods=method_choices(dossier.reference.methods, food),
        caution=advised_against(food, dossier.avoid),
    )


def _statuses(
    known: FloatArray,
    may_hold: FloatArray,
    kcal: float,
    requirements: RequirementSet,
    library: FoodLibrary,
) -> dict[str, Status]:
    out = {}
    rises = [r for x in requirements.limits.values() for r in x.rises]
    beside = {
        r.other: float((known + may_hold)[library.catalogue.index(r.other)]) / kcal * 1000
        for r in rises
        if kcal > 0
    }
    for key, limit in requirements.limits.items():
        if key in library.catalogue and kcal > 0:
            i = library.catalogue.index(key)
            least = float(known[i]) / kcal * 1000
            out[key] = status_of(
                least, least + float(may_hold[i]) / kcal * 1000, limit.beside(beside)
            )
    return out


def most_of_each(
    rules: FormulationRules,
    library: FoodLibrary,
    requirements: RequirementSet,
    kcal: float,
    days: float,
) -> FloatArray:
    """(F,) the most grams of each food that may be offered for a batch of so much energy.

    Bounded by energy, by weight, and by every upper limit that it would break alone; a supplement
    by its dose too. Where not even its smallest measurable amount fits, it is 0: a pure trace salt
    is not for a kitchen scale.
    """
    catalogue = library.catalogue
    energy = np.nan_to_num(library.values[:, catalogue.index("ENERC")]) / 100
    by_energy = MOST_ENERGY * kcal / np.maximum(energy, 1e-9)
    most: FloatArray = np.minimum(by_energy, MOST_GRAMS * kcal / 1000)
    limited = [(k, x.ceiling) for k, x in requirements.limits.items() if k in catalogue]
    columns = [catalogue.index(k) for k, ceiling in limited if ceiling is not None]
    room = np.array([c for _, c in limited if c is not None]) * kcal / 1000
    per_gram = np.nan_to_num(library.values[:, columns]) / 100
    with np.errstate(divide="ignore", invalid="ignore"):
        alone = np.where(per_gram > 0, room / per_gram, np.inf)
    most = np.minimum(most, alone.min(axis=1, initial=np.inf))
    for row, food in enumerate(library.foods):
        if food.is_supplement:
            least = increment_of(rules, food).grams
            dose = min(float(most[row]), most_dose(rules, food, kcal, days))
            most[row] = np.floor(dose / least + 1e-9) * least
    return most


@dataclass(frozen=True)
class Priced:
    """A food and what a whole main share of it (a tenth of the batch's energy) would take off the
    shortfall at the margin; the least amount that does what its most would, in grams and as it is
    given, and the shortfall that is left."""

    food: Food
    marginal: float
    grams: float
    text: str
    shortfall: float


def price(model: Model, library: FoodLibrary, policy_low: FloatArray | None = None) -> FloatArray:
    """(F,) how fast each food of the library would lower the shortfall of the minimums, per
    tenth of the batch's energy (or per 10 g per 1000 kcal for what has little energy).

    Reduced costs of the continuous problem: minus the food's column times the duals of the limits.
    """
    solver, objective = _elastic(model)
    found = solver.minimise(objective, 2.0)
    count = len(library.foods)
    if found.row_dual is None:
        return np.zeros(count)
    values = np.nan_to_num(library.values if policy_low is None else policy_low) / 100
    energy = values[:, library.catalogue.index("ENERC")]
    problem = model.problem
    scale = 1000.0 / problem.kcal
    worth = np.zeros(count)
    for row, dual in zip(model.rows, found.row_dual, strict=True):
        if dual == 0.0:
            continue
        if row.group is None or row.group.kind not in {"min", "max", "energy"}:
            continue
        if row.group.kind is GroupKind.ENERGY:
            worth += dual * energy / problem.kcal
            continue
        limit = problem.requirements.limits[row.group.key]
        if row.group.key not in problem.catalogue:
            continue
        amount = values[:, library.catalogue.index(row.group.key)]
        if row.group.other:
            rise = next(r for r in limit.rises if r.other == row.group.other)
            other = values[:, library.catalogue.index(rise.other)]
            worth += dual * rise_coefficients(problem, limit, rise, amount, other, energy)
        elif row.group.kind is GroupKind.MIN and limit.minimum:
            worth += dual * (amount / limit.minimum - energy / 1000) * scale
        elif row.group.kind is GroupKind.MAX and limit.ceiling:
            worth += dual * (energy / 1000 - amount / limit.ceiling) * scale
    portion = np.where(
        energy > 0.2, 0.1 * problem.kcal / np.maximum(energy, 0.2), problem.kcal / 100
    )
    priced: FloatArray = worth * portion
    return priced


def _elastic(model: Model) -> tuple[Solver, FloatArray]:
    """The continuous problem in which maximums may give way too, and the whole shortfall."""
    given = list(model.give.values())
    solver = Solver(model, relaxed=True, opened=dict.fromkeys(given, (0.0, INFINITY)))
    objective = model.objectives["minimums"].copy()
    objective[given] = 1.0
    return solver, objective


def would_help(
    dossier: Dossier, model: Model, present: Sequence[str], most: int = 10
) -> tuple[Priced, ...]:
    """Foods whose permission would lower the shortfall most, each tried out within its dose."""
    rules, library, avoid = dossier.reference.formulation, dossier.library, dossier.avoid
    problem = model.problem
    caps = most_of_each(rules, library, problem.requirements, problem.kcal, problem.days)
    solver, objective = _elastic(model)
    without = solver.minimise(objective, 2.0).value
    worth = price(model, library)
    order: NDArray[np.intp] = np.argsort(-worth)
    found: list[Priced] = []
    for row in order:
        if worth[row] <= 1e-6 or len(found) >= 2 * most:
            break
        food = library.foods[int(row)]
        if not food.proposable or food.id in present or caps[row] <= 0:
            continue
        if why_unfit(food, avoid) or open_questions(library, food):
            continue
        grams, shortfall = _try(model, library, int(row), float(caps[row]))
        increment = increment_of(rules, food)
        steps = min(
            np.ceil(grams / increment.grams - 1e-6), np.floor(caps[row] / increment.grams + 1e-9)
        )
        whole = float(steps) * increment.grams
        if whole > 0 and shortfall < without * (1 - HELPS):
            found.append(
                Priced(food, float(worth[row]), whole, amount_text(increment, whole), shortfall)
            )
    found.sort(key=lambda p: (round(p.shortfall, 4), -p.marginal))
    return tuple(found[:most])


def _try(model: Model, library: FoodLibrary, row: int, most: float) -> tuple[float, float]:
    """The continuous problem with this food as a free candidate of at most so many grams: the
    least grams of it that do what `most` would, and the shortfall that is left."""
    values = np.nan_to_num(library.values[row]) / 100
    problem = model.problem
    energy = float(values[library.catalogue.index("ENERC")])
    solver, objective = _elastic(model)
    entries: dict[int, float] = {}
    at = {r.group: i for i, r in enumerate(model.rows) if r.group is not None}
    scale = 1000.0 / problem.kcal
    for limit_row in limit_rows(problem):
        group = limit_row.group
        if group.key not in problem.catalogue:
            continue
        limit = problem.requirements.limits[group.key]
        amount = float(values[library.catalogue.index(group.key)])
        if group.other:
            rise = next(r for r in limit.rises if r.other == group.other)
            each = (
                np.array(x) for x in (amount, values[library.catalogue.index(rise.other)], energy)
            )
            entries[at[group]] = float(rise_coefficients(problem, limit, rise, *each))
        elif group.kind is GroupKind.MIN and limit.minimum:
            least = limit.minimum * (1 + problem.margin)
            entries[at[group]] = (amount / least - energy / 1000) * scale
        elif group.kind is GroupKind.MAX and limit.ceiling:
            entries[at[group]] = (energy / 1000 - amount / limit.ceiling) * scale
    for i, r in enumerate(model.rows):
        if r.group is not None and r.group.kind is GroupKind.ENERGY:
            entries[i] = energy / problem.kcal
    return solver.with_column(objective, entries, most)
