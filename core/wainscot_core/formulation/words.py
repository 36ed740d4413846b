"""A proposal in words: these dataclasses are the wire, the published schema and the types."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..analysis.analyse import recipe_result
from ..analysis.eaten import AsFed, as_fed_of
from ..analysis.results import RecipeResult
from ..dossier.dossier import Dossier
from ..facts.nutrients import Catalogue
from ..figures import figure, listed, rounded
from ..recipe.line import sum_lines
from ..robust.holding import Holding
from ..targets.standards import Origin
from .alternatives import Alternative, SureAim
from .costs import LimitCost
from .helpful import Help, HelpFor
from .impasse_words import (
    FormulationImpasse,
    bound_of,
    group_words,
    impasse_result,
    number,
    unit_of,
)
from .match import Matched
from .problem import Problem
from .proposal import Change, Proposal, State, candidate_name
from .rows import Group, GroupKind
from .solution import GOOD_SHAPE, usual
from .standing import Standing
from .sure import Sure

# Beyond this share of its value a pass was not finished.
UNFINISHED = 0.5

_STATES = {
    State.MET: "Every limit is met.",
    State.UNFINISHED: "Not finished: every limit is met, and a recipe that stays nearer may exist.",
    State.UNPROVEN: "Met as far as known.",
    State.SHORT: "Not every minimum can be reached with what is allowed. This is the closest.",
    State.IMPOSSIBLE: "What is fixed breaks a limit that may not be broken. Nothing is proposed.",
    State.UNDECIDED: "Decide in the targets which gives way; until then what is proposed keeps the maximum, and nothing"
    " is added for the minimum.",
    State.TIME_LIMIT: "No recipe was found in the time given. Allow more time, or fewer candidates.",
    State.CANCELLED: "Stopped. Nothing is proposed but what was found until then.",
}
_NEARER = (
    "Not every minimum can be reached with what is allowed. This stays nearer to the recipe and is a little shorter of"
    " what is short anyhow; the least short stands beside it."
)


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
class WouldHelp(Help):
    """What would help with a nutrient that stays short, if it were allowed."""

    key: str
    nutrient: str


@dataclass(frozen=True, kw_only=True)
class AlternativeResult:
    """An answer beside others. distance: the share of the energy that comes from elsewhere than in the recipe as
    it was. supplements: how many are in it. cost: of a day, None where no price is known; unpriced: how many
    of its lines have none; cost_at_most: with these at the dearest price that is known, which is what is compared. holds: in which share of batches its limits hold, a quick estimate. levels: what
    it brings by nutrient, per 1000 kcal; as_fed: how it is to eat; aim: of the answer
    that aims at a share of batches; unbeaten: whether no other is nearer, with fewer supplements and cheaper at once, None
    where that was not asked."""

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
    as_fed: AsFed
    cost_at_most: float | None
    aim: SureAim | None = None
    unbeaten: bool | None = None


@dataclass(frozen=True, kw_only=True)
class FormulationResult:
    """How an adjusted recipe came about. proved: every pass came as near to its best as is asked. days: what
    the amounts are for; kcal_before, kcal_after: of a day. alternatives: the proposal itself first, and what
    differs from it. matched: the food that was to be matched, with what it holds."""

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
    matched: Matched | None = None


@dataclass(frozen=True, kw_only=True)
class ProposalResult(FormulationResult):
    """A proposal: nothing of it is written until someone accepts it."""

    conflicts: tuple[FormulationImpasse, ...]


def state_of(proposal: Proposal) -> State:
    """How a proposal stands as it is told: what the search left far from proved is not called met."""
    if proposal.state is State.MET and proposal.changes and _is_far(proposal):
        return State.UNFINISHED
    return proposal.state


def _is_far(proposal: Proposal) -> bool:
    # Where something else is asked for first, nearness is what is left over. A part of next to nothing is nothing.
    counts = set(proposal.model.problem.goals) - (set() if usual(proposal.model) else {"near"})
    return any(
        p.goal in counts and not p.proved and p.gap > UNFINISHED and p.value * p.gap > GOOD_SHAPE
        for p in proposal.passes
    )


def cost_words(problem: Problem, cost: LimitCost) -> str:
    """What a binding limit costs."""
    value, limit = bound_of(problem, cost.group)
    side = "minimum" if cost.group.kind is GroupKind.MIN else "maximum"
    head = f"{problem.catalogue.name_of(cost.group.key)} lies at its {side} of {number(value)} {unit_of(limit)}"
    if cost.candidate is None:
        return f"{head}."
    name = candidate_name(problem, cost.candidate)
    more = cost.without_grams > cost.with_grams
    amount = number(abs(cost.without_grams - cost.with_grams))
    verb = "costs" if more else "asks for"
    return f"{head}; it {verb} {amount} g of {name}."


def shut_words(problem: Problem) -> str:
    """The windows in which nothing is left, by their limits."""
    told = []
    for key in problem.apart:
        least, most = (group_words(problem, Group(k, key)) for k in (GroupKind.MIN, GroupKind.MAX))
        name = problem.catalogue.name_of(key)
        told.append(f"{least}, {most.removeprefix(name).strip()}")
    leave = "Limits leave" if len(told) > 1 else "Two limits leave"
    return f"{leave} nothing between them before any recipe is made: {'; '.join(told)}."


def _kcal_a_day(dossier: Dossier) -> float:
    return sum_lines(dossier.library, dossier.lines, dossier.days).kcal / dossier.days


def standing_words(stands: Standing | None) -> str:
    """What is not proven and through what, what lies off an advice, and what rests on estimates; "" for none."""
    if stands is None:
        return ""
    words = ""
    if stands.unproven:
        lines = dict.fromkeys(name for u in stands.unproven for name in u.lines)
        limits = "1 limit is" if len(stands.unproven) == 1 else f"{len(stands.unproven)} limits are"
        because = f", because of {listed(tuple(lines))}" if lines else ""
        names = listed(tuple(u.name for u in stands.unproven))
        words += f" {limits} not proven ({names}){because}."
    if stands.off_advice:
        lies = "1 lies" if len(stands.off_advice) == 1 else f"{len(stands.off_advice)} lie"
        words += f" {lies} off an advice ({listed(stands.off_advice)})."
    if stands.on_estimates:
        count = len(stands.on_estimates)
        rests = "1 minimum rests" if count == 1 else f"{count} minimums rest"
        words += f" {rests} on estimates ({listed(stands.on_estimates)})."
    return words


def sure_words(catalogue: Catalogue, target: float, found: Sure | None) -> str:
    """What came of asking for an answer that holds in so many batches, with a blank before it."""
    asked = f"{round(target * 100, 1):g} of 100 batches"
    if found is None:
        return f" There is nothing that could hold in {asked}."
    if found.moved:
        return ""
    if not found.missed:
        return f" Each limit it meets holds in {asked} as it is, if nothing is left out."
    missed = listed(tuple(catalogue.name_of(key) for key in found.missed))
    return f" No answer was found in which more of its limits hold in {asked} ({missed} do not)."


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
        state=state_of(found.proposal),
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
        as_fed=as_fed_of(sums),
        cost_at_most=None if found.cost is None else round(found.cost_at_most, 2),
        aim=found.aim,
        unbeaten=found.unbeaten,
    )


def proposal_result(
    dossier: Dossier,
    proposal: Proposal,
    goals: Mapping[str, str],
    help_with: Sequence[HelpFor] = (),
    alternatives: Sequence[Alternative] = (),
    said: str = "",
) -> ProposalResult:
    """A proposal in words. `goals`: names by id; `help_with`: what would help, by nutrient; said: what else there is to
    say of it."""
    problem = proposal.model.problem
    state = state_of(proposal)
    head = _STATES[state]
    if proposal.state is State.SHORT and proposal.least_short is not None:
        head = _NEARER
    words = head + standing_words(proposal.stands) + said
    if problem.apart:
        words = f"{shut_words(problem)} {words}"
    unproved = [goals[p.goal] for p in proposal.passes if not p.proved]
    if unproved and proposal.lines and not proposal.changes:
        words += (
            " It is left as it is: whether another would be better in the rest was not looked for."
        )
    elif unproved and proposal.lines:
        words += (
            ""
            if state is State.UNFINISHED
            else " Not finished: a recipe that stays nearer may exist."
            if _is_far(proposal)
            else " The search stopped at its set effort; not proved best: "
            + ", ".join(g.lower() for g in unproved)
            + "."
        )
    asked = problem.goals
    dear = "cost" in asked and ("near" not in asked or asked.index("cost") < asked.index("near"))
    if dear and problem.cost_now <= 0 and proposal.lines:
        words += (
            " No price of a food in it is known, so nothing could be counted as cheaper: enter prices"
            " in the library."
        )
    again = [goals[p.goal].lower() for p in proposal.passes if p.solved_again]
    if again:
        words += (
            f" The solver's first answer did not add up for {', '.join(again)}; that was solved"
            " again the slower, safer way."
        )
    return ProposalResult(
        state=state,
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
        conflicts=tuple(impasse_result(found) for found in proposal.impasses),
        help=tuple(
            WouldHelp(key=of.key, nutrient=of.name, **vars(one))
            for of in help_with
            for one in of.help
        ),
    )
