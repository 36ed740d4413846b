"""What was asked, answered: the first proposal, what differs from it, what would help, in words.

Where there is no recipe, or it is only a list of foods, a draft takes its place and the answer is told against
what was there.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..dossier.dossier import Dossier
from ..dossier.reference import Reference
from ..facts.preparations import method_choices
from ..figures import rounded
from ..recipe.amount import written
from ..recipe.proportions import groups_of
from .alternatives import alternatives_of
from .bounds import bounded
from .candidates import increment_of
from .draft import draft_of, drafted, whole_amount
from .formulate import formulate
from .frontier import frontier, marked
from .helpful import HelpFor, for_all
from .longer import longer_batch, longer_words
from .match import matched, split_of
from .problem import Guide
from .proposal import Change, Happens, Proposal, State
from .question import Settings, default_allowed
from .solution import SAME_G, Progress
from .solver import Cancelled
from .sure import sure, sure_alternative
from .words import ProposalResult, proposal_result, sure_words

DRAFTED = "in the proportions of the way of feeding"
NEAREST_TO_DRAFT = "Nearest to the way of feeding"


@dataclass(frozen=True)
class Answer:
    """The first proposal, and everything that is told of it. start: what it was formulated from."""

    start: Dossier
    proposal: Proposal
    told: ProposalResult


def answer_of(
    dossier: Dossier,
    settings: Settings,
    progress: Progress | None = None,
    cancelled: Cancelled | None = None,
) -> Answer:
    """Adjust a recipe, or make one; the school follows the proportions of the way of feeding, where there is one.
    Raises InputError for settings that make no sense."""
    if settings.match_food:
        settings = replace(settings, macros=split_of(dossier, settings.match_food))
    dossier = bounded(dossier, settings.bounds)
    start = begun(dossier, settings)
    if start.way is not None:
        foods = [line.food for line in start.lines]
        parts = groups_of(start.reference.feeding, start.way, foods)
        settings = replace(settings, guide=Guide(parts, start.way.shares))
    found = formulate(start, settings, progress, cancelled)
    others = alternatives_of(start, settings, found, progress, cancelled)
    if found.lines and others:
        found = others[0].proposal
    own = dossier.reference.formulation.scaled.id
    # What the recipe is as it stands comes last.
    as_it_is = others[-1:] if others and others[-1].rule.id == own else ()
    others = others[: len(others) - len(as_it_is)]
    said = longer_words(dossier.library.catalogue, longer_batch(start, settings, found))
    if settings.steps:
        others = marked((*others, *frontier(start, settings, found, others, progress, cancelled)))
    if settings.sure is not None:
        surely = sure(start, settings, settings.sure, progress, cancelled, found)
        said += sure_words(dossier.library.catalogue, settings.sure, surely)
        if surely is not None and surely.moved:
            others = (*others, sure_alternative(start, surely))
    others = (*others, *as_it_is)
    helps = helps_of(start, found)
    if start is not dossier:
        found = _told_against(dossier, found)
        others = tuple(
            replace(one, proposal=_told_against(dossier, one.proposal))
            for one in others
            if dossier.lines or one.rule.id != own
        )
        if others and not dossier.lines:
            others = (replace(others[0], name=NEAREST_TO_DRAFT), *others[1:])
    told = replace(
        proposal_result(dossier, found, goal_names(dossier.reference), helps, others, said),
        matched=matched(dossier, settings.match_food) if settings.match_food else None,
    )
    return Answer(start, found, told)


def goal_names(reference: Reference) -> dict[str, str]:
    """Names of the goals by id."""
    return {key: name for key, (name, _) in reference.formulation.goals.items()}


def helps_of(dossier: Dossier, proposal: Proposal) -> Sequence[HelpFor]:
    """What would help the proposal where minimums stay short, of what it was not allowed."""
    if proposal.state not in {State.SHORT, State.UNDECIDED} or not proposal.lines:
        return ()
    problem = proposal.model.problem
    found = for_all(dossier.with_lines(proposal.lines), [c.food.id for c in problem.candidates])
    # No food opens a window that is shut.
    return tuple(one for one in found if one.key not in problem.apart)


def begun(dossier: Dossier, settings: Settings) -> Dossier:
    """What a formulation begins from: the recipe; a draft where there is none; the recipe's foods in the proportions of
    a draft where they are only a list. Raises InputError (recipe.lines)."""
    rules, library = dossier.reference.formulation, dossier.library
    if not dossier.lines:
        allowed = settings.allowed
        if allowed is None:
            # A trial's foods are chosen, not found.
            chosen = dossier.avoid.trial is not None
            allowed = () if chosen else default_allowed(dossier, settings.mode)
        known = (library.food(f) for f in allowed if f in library)
        return drafted(dossier, [food.id for food in known if not food.is_supplement])
    mode = rules.modes.get(settings.mode)
    if mode is None or not mode.from_list:
        return dossier
    grams = {food.id: g for food, g in draft_of(dossier, [x.food.id for x in dossier.lines])}
    lines = []
    for line in dossier.lines:
        if line.food.id in grams:
            weight = grams[line.food.id]
            step = increment_of(rules, line.food, batch_grams=weight)
            line = replace(line, amount=whole_amount(step, weight))
        lines.append(line)
    return dossier.with_lines(lines)


def _told_against(dossier: Dossier, proposal: Proposal) -> Proposal:
    """A proposal that began from a draft, told against the recipe that is there."""
    return replace(
        proposal, changes=tuple(c for x in proposal.changes for c in _told(dossier, proposal, x))
    )


def _told(dossier: Dossier, proposal: Proposal, change: Change) -> list[Change]:
    if change.line is None:
        return [change]
    per_gram = float(proposal.model.problem.contents.kcal[change.line])
    # Its share of the draft is no news: the draft was nobody's.
    why = change.why if change.needs else DRAFTED
    if not dossier.lines:
        if change.kind is Happens.REMOVED:
            return []
        methods = method_choices(
            dossier.reference.methods, proposal.model.problem.candidates[change.line].food
        )
        return [
            replace(
                change, line=None, kind=Happens.ADDED, before_grams=0.0, before="", why=why,
                kcal=rounded(per_gram * change.after_grams), methods=methods,
            )
        ]  # fmt: skip
    amount = dossier.lines[change.line].amount
    kind = change.kind
    if kind is not Happens.REMOVED:
        same = abs(change.after_grams - amount.grams) < SAME_G
        kind = Happens.KEPT if same else Happens.CHANGED
    return [
        replace(
            change, kind=kind, before_grams=rounded(amount.grams), why=why,
            before=written(amount, dossier.measures),
            kcal=rounded(per_gram * (change.after_grams - amount.grams)),
        )
    ]  # fmt: skip
