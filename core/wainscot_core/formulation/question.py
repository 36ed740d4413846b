"""What is asked: settings with their defaults, and the problem that they and a recipe pose."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..bowl.exclusions import rather_not
from ..dossier.dossier import Dossier
from ..dossier.reference import Reference
from ..errors import InputError
from .apart import apart
from .bounds import OwnBound
from .candidates import LineRule, added_candidates, contents_of, line_candidates
from .most import added_most, caps_of, useful_most
from .problem import Aim, Candidate, Contents, Guide, MacroTarget, Problem

# Cooked food of mixed kinds; only a scale for what is added to an empty recipe.
USUAL_KCAL_PER_G = 1.2
# By how much an aim may raise what a supplement has to bring.
AIMED_ROOM = 0.25


@dataclass(frozen=True)
class Settings:
    """How to adjust. None and () stand for what reference/formulation.yaml says of the mode.

    allowed: ids of foods and supplements that may be added; None for the usual ones.
    margin_percent: how far over every minimum; None for as much as what varies asks, where that costs
    little. surest: much more of that. line_rules: by position of the line in the recipe. match_food: the id of a
    food whose split of energy is wanted, see match. bounds: on nutrients and ratios, see bounds. sure: in which share
    of batches the limits are to hold in one more answer, see sure; None for no such answer. steps: with the answers
    between the nearest and the fewest supplements, see frontier.
    """

    mode: str = "rebalance"
    goals: tuple[str, ...] = ()
    max_supplements: int | None = None
    margin_percent: float | None = None
    surest: bool = False
    school: str = "none"
    allowed: tuple[str, ...] | None = None
    line_rules: Mapping[int, LineRule] = field(default_factory=dict)
    macros: MacroTarget | None = None
    match_food: str = ""
    guide: Guide | None = None
    bounds: Mapping[str, OwnBound] = field(default_factory=dict)
    time_limit_s: float | None = None
    sure: float | None = None
    steps: bool = False


@dataclass(frozen=True)
class Checked:
    """Settings that make sense, with every default filled in. margin: share above a minimum."""

    settings: Settings
    goals: tuple[str, ...]
    max_supplements: int
    margin: float
    time_limit_s: float


def check_settings(reference: Reference, settings: Settings) -> Checked:
    """Fill in defaults. Raises InputError naming the field."""
    rules = reference.formulation
    if settings.mode not in rules.modes:
        raise InputError("mode", f"must be one of: {', '.join(rules.modes)}")
    if settings.school not in rules.schools:
        raise InputError("school", f"must be one of: {', '.join(rules.schools)}")
    goals = settings.goals or rules.modes[settings.mode].goals
    if set(goals) - set(rules.goals) or len(set(goals)) != len(goals):
        raise InputError("goals", f"must be different ones of: {', '.join(rules.goals)}")
    if settings.mode == "match" and settings.macros is None:
        raise InputError(
            "macros",
            "matching needs shares of protein, fat and carbohydrate, or a food that has them",
        )
    if settings.macros is not None:
        m = settings.macros
        shares = (m.protein, m.fat, m.carbohydrate)
        if min(shares) < 0 or abs(sum(shares) - 1) > 0.01:
            raise InputError(
                "macros", "the shares of protein, fat and carbohydrate must add up to 100 %"
            )

    if settings.sure is not None:
        check_sure(settings.sure)

    def within(field: str, given: float | None, least: float, most: float) -> float:
        value = rules.defaults[field] if given is None else given
        if not least <= value <= most:
            raise InputError(field, f"must be from {least:g} to {most:g}")
        return value

    return Checked(
        settings,
        tuple(goals),
        int(within("max_supplements", settings.max_supplements, 0, 40)),
        within("margin_percent", settings.margin_percent, 0, 100) / 100,
        within("time_limit_s", settings.time_limit_s, 0.1, 120),
    )


def check_sure(share: float) -> float:
    """The share of batches that can be aimed at. Raises InputError (sure_percent)."""
    if not 0.5 <= share <= 0.99:
        raise InputError("sure_percent", "must be from 50 to 99 of 100 batches")
    return share


def default_allowed(dossier: Dossier, mode: str) -> tuple[str, ...]:
    """What may be added when nothing is said: what is on the shelf and the usual supplements;
    staples where foods move, but for those a condition advises against and those that must be ordered."""
    rules, library = dossier.reference.formulation, dossier.library
    shelf = tuple(f.id for f in library.foods if f.handling is not None and f.handling.on_shelf)
    usual = (*shelf, *rules.supplements)
    staples = (f for f in rules.staples if not rather_not(library.food(f), dossier.avoid))
    return usual if rules.modes[mode].foods == "fixed" else (*usual, *staples)


def problem_of(dossier: Dossier, checked: Checked) -> Problem:
    """The problem that a recipe and settings pose. Raises InputError."""
    settings = checked.settings
    rules = dossier.reference.formulation
    if not dossier.lines and settings.allowed is None:
        raise InputError("recipe.lines", "add a food first, or say which foods may be used")
    kcal = dossier.energy.target_kcal * dossier.days
    mine = line_candidates(dossier, settings.mode, settings.line_rules, kcal)
    allowed = (
        default_allowed(dossier, settings.mode) if settings.allowed is None else settings.allowed
    )
    added = added_candidates(dossier, allowed, kcal, mine)
    candidates = (*mine, *added)
    contents = contents_of(
        dossier.library, candidates, [x.prepared for x in dossier.lines], dossier.policy
    )
    free = any(not c.fixed and not c.excluded and not c.is_supplement for c in candidates)
    if not free:
        kept = np.array([0.0 if c.excluded else c.current_grams for c in candidates])
        kcal = float(contents.kcal @ kept)
        if kcal <= 0:
            raise InputError("recipe.lines", "the foods that stay bring no energy")
    room = checked.margin if settings.margin_percent is not None else AIMED_ROOM
    most_kcal = kcal * (1 + rules.defaults["energy_frame"]) * (1 + room)
    shut = apart(dossier.requirements, dossier.reference.basis)
    candidates = tuple(
        useful_most(
            candidates, contents, dossier.library.catalogue, dossier.requirements, most_kcal, shut
        )
    )
    guide = settings.guide
    return Problem(
        dossier.library.catalogue, dossier.library.factors, candidates, contents, dossier.requirements, kcal,
        tuple(g for g in checked.goals if free or g != "energy"),
        settings.mode, checked.max_supplements, free,
        rules.defaults["energy_frame"], rules.defaults["energy_band"],
        checked.margin, _batch_grams(candidates, contents, kcal), checked.time_limit_s, rules.schools[settings.school].avoid, settings.macros,
        None if guide is None else replace(guide, parts=(*guide.parts, *(None for _ in added))),
        rules.give, rules.room, days=dossier.days,
        added_most=added_most(dossier, candidates, contents, kcal), shape=rules.shape, caps=caps_of(dossier, candidates, contents),
        most_items=int(rules.defaults["most_items_beside_premix"]),
        aim=None if settings.margin_percent is not None else aim_of(dossier, candidates, contents, settings.surest),
        cost_now=_cost_now(candidates, contents, kcal), noise=rules.steps["noise"],
        apart=shut,
    )  # fmt: skip


def aim_of(
    dossier: Dossier, candidates: Sequence[Candidate], contents: Contents, surest: bool
) -> Aim:
    """What limits are aimed at beside being met: contents less (for a maximum more) a part of what they vary
    by between purchases."""
    rules = dossier.reference.variation
    varies = rules.of(dossier.library, [c.food for c in candidates])
    protein = dossier.library.catalogue.index("PROCNT")
    follows = rules.follows_protein(dossier.library)
    varies[:, follows] = np.hypot(varies[:, follows], varies[:, [protein]])
    times = rules.margin.surest if surest else rules.margin.usual
    part = np.minimum(times * varies, rules.margin.most)
    cost = rules.margin.surest_cost if surest else rules.margin.cost
    low, high = contents.low * (1 - part), contents.high * (1 + part)
    return Aim(replace(contents, low=low, high=high), cost)


def _cost_now(candidates: Sequence[Candidate], contents: Contents, kcal: float) -> float:
    """What the foods of the recipe that have a price would cost at the energy asked."""
    kept = [c.current_grams if c.price_per_kg is not None else 0.0 for c in candidates]
    paid = sum((c.price_per_kg or 0.0) / 1000 * g for c, g in zip(candidates, kept, strict=True))
    brought = float(contents.kcal @ np.array(kept))
    return paid * kcal / brought if brought > 0 else 0.0


def _batch_grams(candidates: Sequence[Candidate], contents: Contents, kcal: float) -> float:
    """What the batch weighs about, as fed: as much as the recipe would at its energy."""
    kept = np.array([0.0 if c.excluded or c.is_supplement else c.current_grams for c in candidates])
    brought = float(contents.kcal @ kept)
    return float(contents.fed @ kept) * kcal / brought if brought > 0 else kcal / USUAL_KCAL_PER_G
