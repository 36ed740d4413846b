"""Ask and answer: a case with settings in, a proposal in words out.

Nothing here writes: a proposal is a list of changes that someone accepts or leaves.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np

from ..bowl.exclusions import advised_against
from ..dossier.dossier import Dossier
from ..dossier.reference import Reference
from ..errors import InputError
from ..facts.foods import FloatArray
from ..facts.preparations import MethodChoice, method_choices
from ..figures import rounded
from ..recipe.amounts import Amount, written
from ..recipe.line import Line, sum_lines
from ..targets.safe_limits import added_ceilings
from .candidates import (
    LineRule,
    added_candidates,
    amount_text,
    caps_of,
    contents_of,
    line_candidates,
    useful_most,
)
from .costs import LimitCost, limit_costs
from .impasse import Impasse, Loosening, find_impasse, loosenings, together
from .model import INFINITY, Model, build
from .passes import Pass, Progress, Solution, solve
from .problem import Candidate, Contents, Guide, MacroTarget, Problem
from .rows import RESERVE, Group, GroupKind
from .solver import Cancelled

SHORT = 1e-6
# Cooked food of mixed kinds; only a scale for what is added to an empty recipe.
USUAL_KCAL_PER_G = 1.2
EPA_DHA = "EPADHA"
# The batch may bring less energy than its target, so that what stays weighs more.
KEPT_ROOM = 0.10
# 22.990 of 58.44 g (IUPAC 2021).
SODIUM_MG_PER_G_SALT = 393.4


@dataclass(frozen=True)
class Settings:
    """How to adjust. None and () stand for what reference/formulation.yaml says of the mode.

    allowed: ids of foods and supplements that may be added; None for the usual ones.
    line_rules: by position of the line in the recipe.
    """

    mode: str = "rebalance"
    goals: tuple[str, ...] = ()
    max_supplements: int | None = None
    margin_percent: float | None = None
    school: str = "none"
    allowed: tuple[str, ...] | None = None
    line_rules: Mapping[int, LineRule] = field(default_factory=dict)
    macros: MacroTarget | None = None
    guide: Guide | None = None
    time_limit_s: float | None = None


class State(StrEnum):
    """How a formulation ended.

    short: the best that can be had leaves minimums short. undecided: a floor above a ceiling in the
    targets.
    """

    MET = "met"
    SHORT = "short"
    IMPOSSIBLE = "impossible"
    UNDECIDED = "undecided"
    TIME_LIMIT = "time-limit"
    CANCELLED = "cancelled"


class Happens(StrEnum):
    """What a proposal does with a food."""

    KEPT = "kept"
    CHANGED = "changed"
    REMOVED = "removed"
    ADDED = "added"


@dataclass(frozen=True, kw_only=True)
class Change:
    """What happens to one food. line: its position in the recipe, None for an added one; before and
    after: its amounts as they are written; kcal: by how much its energy changes; methods: how an
    added food can be prepared."""

    line: int | None
    food: str
    name: str
    kind: Happens
    before_grams: float
    after_grams: float
    before: str
    after: str
    why: str
    kcal: float
    methods: tuple[MethodChoice, ...]


@dataclass(frozen=True)
class Proposal:
    """The answer. lines: the adjusted recipe, () when there is none."""

    state: State
    model: Model
    solution: Solution
    changes: tuple[Change, ...]
    lines: tuple[Line, ...]
    costs: tuple[LimitCost, ...]
    impasse: Impasse | None
    loosenings: tuple[Loosening, ...]
    # Grams of the recipe in which limits give way least, when no single way out is enough.
    relief: FloatArray | None = None

    @property
    def passes(self) -> tuple[Pass, ...]:
        """What each goal reached."""
        return self.solution.passes


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
        raise InputError("macros", "matching a split needs shares of protein, fat and carbohydrate")
    if settings.macros is not None:
        m = settings.macros
        shares = (m.protein, m.fat, m.carbohydrate)
        if min(shares) < 0 or abs(sum(shares) - 1) > 0.01:
            raise InputError(
                "macros", "the shares of protein, fat and carbohydrate must add up to 100 %"
            )

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


def default_allowed(dossier: Dossier, mode: str) -> tuple[str, ...]:
    """What may be added when nothing is said: what is on the shelf and the usual supplements;
    staples where foods move, but for those a condition advises against."""
    rules, library = dossier.reference.formulation, dossier.library
    shelf = tuple(f.id for f in library.foods if f.handling is not None and f.handling.on_shelf)
    usual = (*shelf, *rules.supplements)
    staples = (f for f in rules.staples if not advised_against(library.food(f), dossier.avoid))
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
    added = added_candidates(dossier, allowed, kcal, _left_out(dossier, mine))
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
    most_kcal = kcal * (1 + rules.defaults["energy_frame"]) * (1 + checked.margin)
    candidates = tuple(
        useful_most(
            candidates, contents, dossier.library.catalogue, dossier.requirements, most_kcal
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
        added_most=_added_most(dossier, candidates, contents, kcal), shape=rules.shape, caps=caps_of(dossier, candidates, contents),
        most_items=int(rules.defaults["most_items_beside_premix"]),
    )  # fmt: skip


def _left_out(dossier: Dossier, lines: Sequence[Candidate]) -> float:
    """The share of the recipe's energy that is taken out: as much may take its place."""
    column = dossier.library.catalogue.index("ENERC")
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    brought = np.nan_to_num(sums.contributions[:, column])
    out = np.array([bool(c.excluded) for c in lines], dtype=bool)
    return float(brought[out].sum() / sums.kcal) if sums.kcal > 0 else 1.0


def _batch_grams(candidates: Sequence[Candidate], contents: Contents, kcal: float) -> float:
    """What the batch weighs about, as fed: as much as the recipe would at its energy."""
    kept = np.array([0.0 if c.excluded or c.is_supplement else c.current_grams for c in candidates])
    brought = float(contents.kcal @ kept)
    return float(contents.fed @ kept) * kcal / brought if brought > 0 else kcal / USUAL_KCAL_PER_G


def _added_most(
    dossier: Dossier, candidates: Sequence[Candidate], contents: Contents, kcal: float
) -> dict[str, float]:
    """What supplements may add at most by tag, in catalogue units per 1000 kcal: safe limits on what is
    added, no more sodium than so much salt holds, and of EPA and DHA little more than is asked for, or
    than the least that can be measured."""
    rules = dossier.reference.formulation
    most = added_ceilings(dossier.targets.safe, dossier.library.catalogue, dossier.targets.facts)
    limit = dossier.requirements.limits.get(EPA_DHA)
    asked = max(limit.minimum or 0.0, limit.advised_min or 0.0) if limit else 0.0
    brought = contents.high[:, dossier.library.catalogue.index(EPA_DHA)]
    least = [
        c.least_grams * float(each) / kcal * 1000 * (1 + RESERVE)
        for c, each in zip(candidates, brought, strict=True)
        if c.least_grams > 0 and c.is_supplement and each > 0
    ]
    useful = rules.useful
    own = {
        EPA_DHA: max(
            useful["epa_dha_of_need"] * asked, useful["epa_dha_g_per_mcal"], min(least, default=0.0)
        ),
        "NA": rules.useful["salt_g_per_mcal"] * SODIUM_MG_PER_G_SALT,
    }
    # What the consultant fixed stays, as long as the safe limits let it.
    stays = np.array(
        [
            (c.current_grams if c.fixed else c.low_grams) if c.is_supplement else 0.0
            for c in candidates
        ]
    )
    for key, value in own.items():
        column = dossier.library.catalogue.index(key)
        fixed = float(contents.high[:, column] @ stays) / kcal * 1000 * (1 + 2 * KEPT_ROOM)
        most[key] = min(max(value, fixed), most.get(key, INFINITY))
    return most


def formulate(
    dossier: Dossier,
    settings: Settings,
    progress: Progress | None = None,
    cancelled: Cancelled | None = None,
) -> Proposal:
    """Adjust a recipe. Raises InputError for settings that make no sense."""
    problem = problem_of(dossier, check_settings(dossier.reference, settings))
    model = build(problem)
    apart = undecided(problem)
    if apart is not None:
        return Proposal(State.UNDECIDED, model, NOTHING, (), (), (), apart, ())
    solution = solve(model, progress, cancelled)
    impossible = solution.state == "impossible"
    short = solution.grams is not None and solution.shortfall > SHORT
    impasse: Impasse | None = None
    ways: list[Loosening] = []
    relief: FloatArray | None = None
    stopped = solution.state in {"cancelled", "time-limit"}
    if (impossible or short) and not stopped:
        if progress is not None:
            progress(0, 1, "what cannot hold together")
        seconds = problem.time_limit_s / 2
        impasse = find_impasse(model, seconds, cancelled, elastic=impossible)
        if impasse is not None:
            ways = loosenings(model, impasse, seconds / 2, elastic=impossible)
            relief = None if ways else together(model, seconds / 2)
    state = State(solution.state) if stopped or impossible else State.SHORT if short else State.MET
    if solution.grams is None:
        return Proposal(state, model, solution, (), (), (), impasse, tuple(ways), relief)
    return Proposal(
        state, model, solution,
        changes_of(dossier, problem, solution.grams),
        lines_of(dossier, problem, solution.grams),
        limit_costs(model, solution.grams) if state is State.MET else (),
        impasse, tuple(ways), relief,
    )  # fmt: skip


NOTHING = Solution("impossible", None, None, (), float("nan"))


def undecided(problem: Problem) -> Impasse | None:
    """A floor above a ceiling in the requirement set itself: decided in the targets, not here."""
    for key, limit in problem.requirements.limits.items():
        if (
            limit.minimum is not None
            and limit.ceiling is not None
            and limit.minimum > limit.ceiling
        ):
            return Impasse((Group(GroupKind.MAX, key), Group(GroupKind.MIN, key)), True)
    return None


def changes_of(dossier: Dossier, problem: Problem, grams: FloatArray) -> tuple[Change, ...]:
    """What happens to every line, and what is added."""
    lines, methods = dossier.lines, dossier.reference.methods
    found = []
    energy = problem.contents.kcal
    for c, after, kcal in zip(problem.candidates, grams, energy, strict=True):
        before = c.current_grams
        if c.line is None and after == 0:
            continue
        same = abs(after - before) < 1e-6
        kind = (
            Happens.ADDED
            if c.line is None
            else Happens.REMOVED
            if after == 0
            else Happens.KEPT
            if same
            else Happens.CHANGED
        )
        original = written(lines[c.line].amount, dossier.measures) if c.line is not None else ""
        found.append(
            Change(
                line=c.line,
                food=c.food.id,
                name=c.food.name,
                kind=kind,
                before_grams=rounded(before),
                after_grams=rounded(float(after)),
                before=original,
                after=original
                if same
                else ""
                if after == 0
                else amount_text(c.increment, float(after)),
                why=c.excluded or c.against,
                kcal=rounded(float(kcal) * (float(after) - before)),
                methods=method_choices(methods, c.food) if kind is Happens.ADDED else (),
            )
        )
    return tuple(found)


def lines_of(dossier: Dossier, problem: Problem, grams: FloatArray) -> tuple[Line, ...]:
    """The adjusted recipe: kept lines in their order, added ones after them."""
    found = []
    for c, after in zip(problem.candidates, grams, strict=True):
        if after == 0:
            continue
        if c.line is None:
            row = dossier.library.row(c.food.id)
            count = float(after) / c.increment.grams * c.increment.count
            found.append(
                Line(c.food, row, Amount(count, c.increment.unit, float(after), "adjusted"), None)
            )
            continue
        line = dossier.lines[c.line]
        if abs(after - c.current_grams) < 1e-6:
            found.append(line)
        else:
            count = float(after) / c.increment.grams * c.increment.count
            amount = Amount(count, c.increment.unit, float(after), "adjusted")
            found.append(replace(line, amount=amount))
    return tuple(found)


def candidate_name(problem: Problem, position: int) -> str:
    """The food's name of a candidate."""
    candidate: Candidate = problem.candidates[position]
    return candidate.food.name
