"""A proposal in words: these dataclasses are the wire, the published schema and the types."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..analysis.analyse import recipe_result
from ..analysis.holding import Holding
from ..analysis.results import RecipeResult
from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..figures import figure, listed, rounded
from ..recipe.line import sum_lines
from ..targets.standards import Limit, Origin, Sets
from .alternatives import Alternative
from .costs import LimitCost
from .helpful import Priced
from .impasse import Impasse, Loosening
from .model import BESIDE_PREMIX, PREMIX
from .problem import Problem
from .proposal import Change, Proposal, State, candidate_name
from .rows import Group, GroupKind
from .standing import Standing

# Beyond this share of its value a pass was not finished.
UNFINISHED = 0.5

_STATES = {
    State.MET: "Every limit is met.",
    State.UNPROVEN: "Met as far as known.",
    State.SHORT: "Not every minimum can be reached with what is allowed. This is the closest.",
    State.IMPOSSIBLE: "What is fixed breaks a limit that may not be broken. Nothing is proposed.",
    State.UNDECIDED: "Two limits contradict each other before any recipe is made. Decide which gives way in the targets.",
    State.TIME_LIMIT: "No recipe was found in the time given. Allow more time, or fewer candidates.",
    State.CANCELLED: "Stopped. Nothing is proposed but what was found until then.",
}


def _unit(limit: Limit) -> str:
    return ": 1" if limit.unit == "ratio" else f"{limit.unit}/1000 kcal"


def _bound(problem: Problem, group: Group) -> tuple[float, Limit]:
    limit = problem.requirements.limits[group.key]
    value = (limit.minimum if group.kind is GroupKind.MIN else limit.ceiling) or 0.0
    aimed = group.kind is GroupKind.MIN and limit.unit != "ratio"
    return value * (1 + problem.margin if aimed else 1), limit


def _origin_of(limit: Limit, kind: GroupKind) -> Origin | None:
    """What set a bound: for the upper side, the lower of maximum and safe limit."""
    which = Sets(kind)
    if which is Sets.MAX and limit.safe is not None and limit.ceiling == limit.safe:
        which = Sets.SAFE
    return next((o for o in limit.origins if o.which is which), None)


def number(value: float) -> str:
    """Three significant figures, more for whole numbers."""
    return f"{value:.0f}" if abs(value) >= 1000 else f"{value:.3g}"


def group_words(problem: Problem, group: Group) -> str:
    """A limit or a choice in words."""
    if group.other:
        limit = problem.requirements.limits[group.key]
        rise = next(r for r in limit.rises if r.other == group.other)
        return f"{problem.catalogue.name_of(group.key)}: {rise.words} ({rise.source})"
    if group.kind in {"min", "max"}:
        value, limit = _bound(problem, group)
        side = "at least" if group.kind is GroupKind.MIN else "at most"
        origin = _origin_of(limit, group.kind)
        by = f" ({origin.source})" if origin else ""
        return f"{problem.catalogue.name_of(group.key)} {side} {number(value)} {_unit(limit)}{by}"
    if group.kind is GroupKind.ENERGY:
        share = problem.energy_frame
        return f"energy within {share:.0%} of {problem.kcal:.0f} kcal a batch"
    if group.kind is GroupKind.SUPPLEMENTS:
        return f"at most {problem.max_supplements} supplements"
    if group.kind is GroupKind.CAP:
        return _cap_words(problem, group.key)
    c = problem.candidates[group.candidate]
    name = c.food.name
    return {
        "fixed": f"{name} stays at {number(c.current_grams)} g",
        "excluded": f"{name} is left out: {c.excluded}",
        "most": f"{name} at most {number(c.high_grams)} g",
        "least": f"{name} at least {number(c.low_grams)} g",
        "tie": f"{name} follows another line",
    }[group.kind]


def _cap_words(problem: Problem, key: str) -> str:
    if key == PREMIX:
        return "one all-in-one premix at most"
    if key == BESIDE_PREMIX:
        return f"at most {problem.most_items} added items with a premix"
    cap = next(c for c in problem.caps if c.id == key)
    return f"{cap.words} at most {cap.most:.0%} of the {cap.of} ({cap.source})"


def per_1000_kcal(problem: Problem, key: str, grams: FloatArray) -> float:
    """Amount of a nutrient per 1000 kcal, or value of a ratio, at these grams."""
    if key in problem.catalogue:
        column = problem.catalogue.index(key)
        kcal = float(problem.contents.kcal @ grams)
        return float(problem.contents.low[:, column] @ grams) / kcal * 1000 if kcal > 0 else np.nan
    ratio = next(r for r in problem.catalogue.ratios if r.key == key)
    brought = problem.contents.low.T @ grams
    top, bottom = problem.catalogue.parts_of(
        ratio, lambda k: float(brought[problem.catalogue.index(k)])
    )
    return top / bottom * ratio.scale if bottom else np.nan


def loosening_words(problem: Problem, way: Loosening) -> str:
    """What must give way, and by how much."""
    group = way.group
    if group.other:
        limit = problem.requirements.limits[group.key]
        rise = next(r for r in limit.rises if r.other == group.other)
        name = problem.catalogue.name_of(group.key)
        return f"Let {name} stay under what it rises to ({rise.words}, {rise.source})"
    if group.kind in {"min", "max"}:
        value, limit = _bound(problem, group)
        now = per_1000_kcal(problem, group.key, way.grams)
        verb = "Lower" if group.kind is GroupKind.MIN else "Raise"
        what = "minimum" if group.kind is GroupKind.MIN else "maximum"
        return (
            f"{verb} the {what} of {problem.catalogue.name_of(group.key)} from {number(value)} "
            f"to {number(now)} {_unit(limit)}"
        )
    if group.kind is GroupKind.ENERGY:
        kcal = float(problem.contents.kcal @ way.grams)
        return f"Let the batch bring {kcal:.0f} kcal, {kcal / problem.kcal:.0%} of the target"
    if group.kind is GroupKind.SUPPLEMENTS:
        count = sum(
            1
            for c, g in zip(problem.candidates, way.grams, strict=True)
            if c.is_supplement and g > 0
        )
        return f"Allow {count} supplements"
    if group.kind is GroupKind.CAP:
        return f"Let go: {_cap_words(problem, group.key)}"
    c = problem.candidates[group.candidate]
    after = float(way.grams[group.candidate])
    if group.kind is GroupKind.FIXED:
        if after < 1e-6:
            return f"Take out {c.food.name}"
        return f"Change {c.food.name} from {number(c.current_grams)} g to {number(after)} g"
    return f"Let {c.food.name} be {number(after)} g"


def cost_words(problem: Problem, cost: LimitCost) -> str:
    """What a binding limit costs."""
    value, limit = _bound(problem, cost.group)
    side = "minimum" if cost.group.kind is GroupKind.MIN else "maximum"
    head = f"{problem.catalogue.name_of(cost.group.key)} lies at its {side} of {number(value)} {_unit(limit)}"
    if cost.candidate is None:
        return f"{head}."
    name = candidate_name(problem, cost.candidate)
    more = cost.without_grams > cost.with_grams
    amount = number(abs(cost.without_grams - cost.with_grams))
    verb = "costs" if more else "asks for"
    return f"{head}; it {verb} {amount} g of {name}."


def relief_words(problem: Problem, grams: FloatArray) -> list[str]:
    """Every limit that gives way at these grams, in words."""
    found = []
    for key, limit in problem.requirements.limits.items():
        value = per_1000_kcal(problem, key, grams)
        for kind, bound in ((GroupKind.MIN, limit.minimum), (GroupKind.MAX, limit.ceiling)):
            if bound is None or not np.isfinite(value):
                continue
            broken = value < bound * (1 - 1e-5) if kind == "min" else value > bound * (1 + 1e-5)
            if broken:
                found.append(loosening_words(problem, Loosening(Group(kind, key), grams)))
    return found


@dataclass(frozen=True, kw_only=True)
class Member:
    """A limit or choice of an impasse."""

    kind: GroupKind
    key: str
    words: str


@dataclass(frozen=True, kw_only=True)
class WayOut:
    """One limit or choice that may give way, and to where."""

    kind: GroupKind
    key: str
    text: str


@dataclass(frozen=True, kw_only=True)
class FormulationImpasse:
    """What cannot hold together. minimal: no member can be left out. together: what gives way least
    when no single way out is enough."""

    words: str
    members: tuple[Member, ...]
    minimal: bool
    ways_out: tuple[WayOut, ...]
    together: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class PassResult:
    """What a goal reached. solved_again: the solver's first answer did not add up."""

    goal: str
    name: str
    value: float | None
    proved: bool
    seconds: float
    solved_again: bool


@dataclass(frozen=True, kw_only=True)
class BindingLimit:
    """A limit the adjusted recipe lies at, and what it costs."""

    key: str
    bound: GroupKind
    name: str
    words: str
    saving: float
    origin: tuple[Origin, ...]


@dataclass(frozen=True, kw_only=True)
class WouldHelp:
    """A food that would help if it were allowed, and the shortfall that would be left."""

    food: str
    name: str
    grams: float
    text: str
    shortfall_after: float | None


@dataclass(frozen=True, kw_only=True)
class AlternativeResult:
    """An answer beside others. distance: the share of the energy that comes from elsewhere than in the recipe as
    it was. supplements: how many are in it. cost: of a day, None where no price is known; unpriced: how many
    of its lines have none. holds: in which share of batches its limits hold, a quick estimate. levels: what
    it brings by nutrient, per 1000 kcal."""

    id: str
    name: str
    words: str
    state: State
    recipe: RecipeResult
    changes: tuple[Change, ...]
    distance: float
    supplements: int
    cost: float | None
    unpriced: int
    holds: Holding | None
    stands: Standing | None
    levels: Mapping[str, float]


@dataclass(frozen=True, kw_only=True)
class FormulationResult:
    """How an adjusted recipe came about. proved: every pass came as near to its best as is asked. days: what
    the amounts are for; kcal_before, kcal_after: of a day. alternatives: the proposal itself first, and what
    differs from it."""

    state: State
    words: str
    proved: bool
    days: float
    kcal_before: float
    kcal_after: float
    stands: Standing | None
    alternatives: tuple[AlternativeResult, ...]
    changes: tuple[Change, ...]
    passes: tuple[PassResult, ...]
    binding: tuple[BindingLimit, ...]
    help: tuple[WouldHelp, ...]


@dataclass(frozen=True, kw_only=True)
class ProposalResult(FormulationResult):
    """A proposal: nothing of it is written until someone accepts it."""

    conflicts: tuple[FormulationImpasse, ...]


def _kcal_a_day(dossier: Dossier) -> float:
    return sum_lines(dossier.library, dossier.lines, dossier.days).kcal / dossier.days


def impasse_result(
    problem: Problem, impasse: Impasse, ways: Sequence[Loosening], relief: FloatArray | None
) -> FormulationImpasse:
    """An impasse with its members and the ways out."""
    members = tuple(
        Member(kind=g.kind, key=g.key, words=group_words(problem, g)) for g in impasse.members
    )
    return FormulationImpasse(
        words="These cannot hold together: " + "; ".join(m.words for m in members) + ".",
        members=members,
        minimal=impasse.minimal,
        ways_out=tuple(
            WayOut(kind=w.group.kind, key=w.group.key, text=loosening_words(problem, w))
            for w in ways
        ),
        together=() if relief is None else tuple(relief_words(problem, relief)),
    )


def standing_words(stands: Standing | None) -> str:
    """What is not proven and through what, and what rests on estimates; "" for neither."""
    if stands is None:
        return ""
    words = ""
    if stands.unproven:
        lines = dict.fromkeys(name for u in stands.unproven for name in u.lines)
        limits = "1 limit is" if len(stands.unproven) == 1 else f"{len(stands.unproven)} limits are"
        because = f", because of {listed(tuple(lines))}" if lines else ""
        names = listed(tuple(u.name for u in stands.unproven))
        words += f" {limits} not proven ({names}){because}."
    if stands.on_estimates:
        count = len(stands.on_estimates)
        rests = "1 minimum rests" if count == 1 else f"{count} minimums rest"
        words += f" {rests} on estimates ({listed(stands.on_estimates)})."
    return words


def alternative_result(dossier: Dossier, found: Alternative) -> AlternativeResult:
    """An alternative as it is shown."""
    after = dossier.with_lines(found.proposal.lines)
    library = dossier.library
    sums = sum_lines(library, after.lines, after.days)
    kcal = sums.kcal or 1.0
    return AlternativeResult(
        id=found.rule.id,
        name=found.name,
        words=found.rule.words,
        state=found.proposal.state,
        recipe=recipe_result(library, after.lines, sums, dossier.meals_per_day, dossier.measures),
        changes=found.proposal.changes,
        distance=rounded(found.distance),
        supplements=found.supplements,
        cost=None if found.cost is None else round(found.cost, 2),
        unpriced=found.unpriced,
        holds=found.holds,
        stands=found.proposal.stands,
        levels={
            n.key: rounded(float(sums.known[i]) / kcal * 1000)
            for i, n in enumerate(library.catalogue.nutrients)
            if n.board
        },
    )


def proposal_result(
    dossier: Dossier,
    proposal: Proposal,
    goals: Mapping[str, str],
    help_with: Sequence[Priced] = (),
    alternatives: Sequence[Alternative] = (),
) -> ProposalResult:
    """A proposal in words. `goals`: names by id; `help_with`: foods that would help."""
    problem = proposal.model.problem
    words = _STATES[proposal.state] + standing_words(proposal.stands)
    unproved = [goals[p.goal] for p in proposal.passes if not p.proved]
    if unproved and proposal.lines:
        far = any(p.gap > UNFINISHED for p in proposal.passes)
        words += (
            " Not finished: a recipe that stays nearer may exist."
            if far
            else " The search stopped at its set effort; not proved best for "
            + ", ".join(g.lower() for g in unproved)
            + "."
        )
    again = [goals[p.goal].lower() for p in proposal.passes if p.solved_again]
    if again:
        words += (
            f" The solver's first answer did not add up for {', '.join(again)}; that was solved"
            " again the slower, safer way."
        )
    return ProposalResult(
        state=proposal.state,
        words=words,
        proved=not unproved,
        days=dossier.days,
        kcal_before=rounded(_kcal_a_day(dossier)),
        kcal_after=rounded(
            _kcal_a_day(dossier.with_lines(proposal.lines) if proposal.lines else dossier)
        ),
        stands=proposal.stands,
        alternatives=tuple(alternative_result(dossier, a) for a in alternatives),
        changes=proposal.changes,
        passes=tuple(
            PassResult(
                goal=p.goal,
                name=goals[p.goal],
                value=figure(p.value),
                proved=p.proved,
                seconds=round(p.seconds, 3),
                solved_again=p.solved_again,
            )
            for p in proposal.passes
        ),
        binding=tuple(
            BindingLimit(
                key=c.group.key,
                bound=c.group.kind,
                name=problem.catalogue.name_of(c.group.key),
                words=cost_words(problem, c),
                saving=rounded(c.saving),
                origin=problem.requirements.limits[c.group.key].origins,
            )
            for c in proposal.costs
            if c.candidate is not None  # what costs nothing of the recipe needs no words
        ),
        conflicts=(impasse_result(problem, proposal.impasse, proposal.loosenings, proposal.relief),)
        if proposal.impasse
        else (),
        help=tuple(
            WouldHelp(
                food=found.food.id,
                name=found.food.name,
                grams=rounded(found.grams),
                text=found.text,
                shortfall_after=figure(found.shortfall),
            )
            for found in help_with
        ),
    )
